"""A visit to a stand-in without a window: as found, white, proof, and a summary."""

import json
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from aequitone.advice.answers.encoding import transfer_of
from aequitone.advice.roles import TWO_POINT, Role
from aequitone.colorimetry.arrays import Array
from aequitone.handover.incoming.jobs import JobWish
from aequitone.handover.summary import summary
from aequitone.instruments.ports import Clock
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found, nvram_path
from aequitone.logbook.storage.lease import VisitLease
from aequitone.passes import (
    AS_FOUND,
    COPIED,
    LAST_LOOK,
    PASSES,
    PROOF,
    PUT_BACK,
    TRIED,
    VERIFY,
    WATCHED,
    WHAT_IF,
    WHITE,
    NotReadyError,
    PassType,
    carry_out,
    go_on_or_begin,
    load_snapshot,
)
from aequitone.procedures.runner import Event, NobodyThere, StepDone
from aequitone.procedures.steps import Note, Progress, Turn
from aequitone.reference import target_named
from aequitone.signal import Transfer
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.whole_file import write_whole

ADJUSTED = (80.0, 30.0)
LADDER = tuple(float(percent) for percent in range(100, 0, -10))
GREY = (AS_FOUND, WHITE, PROOF)
WHOLE = tuple(
    kind for kind in PASSES if kind not in (WATCHED, PUT_BACK, COPIED, LAST_LOOK, VERIFY, TRIED, WHAT_IF)
)
Say = Callable[[str], None]


def run(
    scenario_name: str,
    out: Path,
    *,
    seed: int = 0,
    target: str | None = None,
    jobs: Sequence[JobWish] = (),
    clock: Clock | None = None,
    whole: bool = False,
    say: Say,
) -> Path:
    """Drive the visit and write `out`/summary.json; returns its path. `whole`: with what comes before grey.

    `jobs`: the memories to bring to a target, one after another; the scenario's own where none are said.

    A run that was killed goes on from its last reading when it is started again with the same
    scenario, seed and folder. Raises ScenarioError, LogbookError, InstrumentError or ValueError.
    """
    scenario = load_scenario(scenario_name)
    if target is not None:
        target_named(target)
    own = scenario.visit
    wishes = tuple(jobs) or (JobWish(input=own.input, memory=own.memory, target=target or own.target),)
    first = {"input": wishes[0].input, "memory": wishes[0].memory, "target": wishes[0].target}
    scenario = scenario.model_copy(update={"visit": own.model_copy(update=first)})
    out.mkdir(parents=True, exist_ok=True)
    logbook = open_logbook(out / "logbook.sqlite")
    visit = _unfinished(logbook, scenario_name, seed, wishes)
    nvram = nvram_path(logbook.path, scenario_name, seed)
    if visit is None:
        nvram.unlink(missing_ok=True)
        visit = begin_standin_visit(logbook, scenario, scenario_name, seed)
        logbook.choose_light(visit.id, wishes[0].light_cd_m2)
        depth, range_ = wishes[0].depth_bit or visit.bench.depth, wishes[0].range or visit.bench.range
        logbook.choose_bench(visit.id, replace(visit.bench, depth=depth, range=range_))
    else:
        say("Going on from the last reading of the run that was interrupted.")
    with VisitLease(logbook.path, visit.id):
        bench = build_bench(scenario, seed, clock=clock, nvram=nvram)
        truths = [
            _job(logbook, visit.id, at, wishes, bench, WHOLE if whole else GREY, say) for at in range(len(wishes))
        ]
        logbook.close_visit(visit.id)
    result = summary(logbook, visit, seed) | {"scenario": scenario_name, "truth": truths[0]}
    for told, truth in zip(result["jobs"], truths, strict=True):
        told["truth"] = truth
    logbook.close()
    path = out / "summary.json"
    write_whole(path, json.dumps(result, indent=1, allow_nan=False) + "\n")
    return path


def _unfinished(logbook: Logbook, scenario: str, seed: int, wishes: Sequence[JobWish]) -> VisitRecord | None:
    """The open visit, where it is of the same scenario and of these jobs, as far as it came."""
    visit = logbook.open_visit()
    if visit is None or (visit.bench.scenario, visit.bench.seed) != (scenario, seed):
        return None
    jobs = [(job.input, job.target) for job in logbook.jobs.of(visit.id)]
    return visit if jobs == [(wish.input, wish.target) for wish in wishes[: len(jobs)]] else None


def _job(
    logbook: Logbook,
    visit_id: int,
    at: int,
    wishes: Sequence[JobWish],
    bench: StandInBench,
    kinds: Sequence[PassType[Any, Any]],
    say: Say,
) -> dict[str, Any]:
    """Do one job of the visit, or what is left of it; returns how the screen really stood before and after."""
    # Made in the order of the list: a choice of mode may have moved one to another memory meanwhile.
    jobs, wish = logbook.jobs.of(visit_id), wishes[at]
    own = jobs[0]
    if at == len(jobs):
        logbook.jobs.add(
            visit_id,
            input_=wish.input,
            memory=wish.memory,
            target=wish.target,
            light=wish.light_cd_m2,
            depth=wish.depth_bit or own.depth,
            range_=wish.range or own.range,
        )
    else:
        logbook.jobs.choose(visit_id, jobs[at].id)
    visit = logbook.visit(visit_id)
    bench.screen.choose_memory(visit.input, visit.memory)
    say(f"{visit.input}, {visit.memory}: {target_named(visit.target).label}.")
    if not logbook.ledger.at(visit_id, as_found=True).keys() - {Role.PICTURE_MODE} & set(TWO_POINT):
        note_as_found(logbook, visit, bench.link.values())
    for kind in kinds:
        _pass(logbook, visit, kind, bench, say)
    left = logbook.visit(visit_id)
    bench.screen.choose_memory(left.input, left.memory)
    found = {role.key: value for role, value in logbook.ledger.at(visit_id, as_found=True).items()}
    return _truth(bench, left.target, bench.screen.settings() | found)


def _pass(logbook: Logbook, visit: VisitRecord, kind: PassType[Any, Any], bench: StandInBench, say: Say) -> None:
    if logbook.latest_done(visit.id, kind.key):
        return
    try:
        prepared = go_on_or_begin(logbook, visit.id, kind)
    except NotReadyError as error:
        if kind in GREY and not load_snapshot(logbook, visit.id, advice=False).hdr:
            raise
        # Not every screen has a control for it.
        say(f"{kind.title} is left out: {error}")
        return
    say(f"{kind.title}.")

    def tell(event: Event) -> None:
        if not isinstance(event, StepDone) or event.replayed:
            return
        match event.step:
            case Progress(done, total, None):
                say(f"  reading {done} of {total}")
            case Turn(move):
                say(f"  {move.summary}. {move.expected.words if move.expected else ''}")
            case Note(text):
                say(f"  {text}")

    carry_out(logbook, prepared, bench.bench(), NobodyThere(), tell, care=visit.bench.care)


def _mean_of(errors: Array) -> float | None:
    """The average of those levels that have an error; None where none has."""
    return float(np.nanmean(errors)) if not np.isnan(errors).all() else None


def _truth(bench: StandInBench, target_name: str, found: dict[str, int]) -> dict[str, Any]:
    target, left = target_named(target_name), bench.screen.settings()
    if transfer_of(target) is not Transfer.GAMMA:
        before, after = (bench.true_errors(LADDER, target, at).deitp for at in (found, left))
        return {"ladder_mean_deitp_before": _mean_of(before), "ladder_mean_deitp_after": _mean_of(after)}
    true = bench.true_de2000
    return {
        "adjusted_levels_percent": list(ADJUSTED),
        "adjusted_worst_de2000_before": max(true(ADJUSTED, target, found)),
        "adjusted_worst_de2000_after": max(true(ADJUSTED, target, left)),
        "ladder_mean_de2000_before": sum(true(LADDER, target, found)) / len(LADDER),
        "ladder_mean_de2000_after": sum(true(LADDER, target, left)) / len(LADDER),
    }
