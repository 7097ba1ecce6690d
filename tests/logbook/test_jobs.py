"""Jobs of a visit: what belongs to each, and what is the screen's."""

from collections.abc import Callable

import pytest

from aequitone.advice.checklist import MODE, WARM_UP
from aequitone.advice.roles import Role
from aequitone.handover.files.csv import write_readings
from aequitone.handover.summary import summary
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.jobs import JobTakenError
from aequitone.logbook.settings.ledger import FOUND_REASON, CheckState, DebtAnswer, OpenDebtsError
from aequitone.logbook.standin_visit import begin_standin_visit
from aequitone.passes import AS_FOUND, WHITE, NotReadyError, begin, carry_out, load_snapshot
from aequitone.passes import MODE as MODE_PASS
from aequitone.procedures.preparation.presets import ChoicePlan
from aequitone.procedures.runner import NobodyThere
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench
from aequitone.standins.scenario import load_scenario

Benches = Callable[[int], StandInBench]


def control(logbook: Logbook, visit: VisitRecord, role: Role) -> int:
    return next(each.id for each in logbook.controls(visit.screen_id) if each.role == role)


@pytest.fixture
def day(logbook: Logbook, visit: VisitRecord) -> int:
    return logbook.jobs.add(visit.id, input_=visit.input, memory="Day", target="rec709-2.2/added", light=200.0)


def test_an_earlier_visit_has_one_job(logbook: Logbook, visit: VisitRecord) -> None:
    (job,) = logbook.jobs.of(visit.id)
    assert (job.input, job.memory, job.target, job.levels) == (
        visit.input,
        visit.memory,
        visit.target,
        visit.levels,
    )
    assert (job.id, job.done, job.left_out) == (visit.job_id, frozenset(), False)


def test_a_new_job_is_worked_on_and_the_old_one_is_as_it_was(
    logbook: Logbook, visit: VisitRecord, day: int
) -> None:
    logbook.choose_white(visit.id, 1.0, visit.formula, (70.0, 20.0))
    logbook.choose_light(visit.id, 180.0)
    now = logbook.visit(visit.id)
    assert (now.job_id, now.memory, now.target, now.stop_at, now.pair, now.light) == (
        day, "Day", "rec709-2.2/added", 1.0, (70.0, 20.0), 180.0,
    )  # fmt: skip
    logbook.jobs.choose(visit.id, visit.job_id)
    assert logbook.visit(visit.id) == visit
    assert logbook.visit(visit.id, day) == now


def test_passes_settings_and_minutes_belong_to_their_job(
    logbook: Logbook, visit: VisitRecord, bench: Benches
) -> None:
    stand_ins = bench(4)
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), stand_ins.bench(), NobodyThere())
    carry_out(logbook, begin(logbook, visit.id, WHITE), stand_ins.bench(), NobodyThere())
    first = load_snapshot(logbook, visit.id)
    day = logbook.jobs.add(visit.id, input_=visit.input, memory="Day", target="rec709-2.2/added")
    stand_ins.screen.choose_memory(visit.input, "Day")
    fresh = load_snapshot(logbook, visit.id)
    assert fresh.passes == ()
    assert fresh.result(AS_FOUND) is None
    assert not {Role.GAIN_R, Role.CONTRAST, Role.GAMMA} & set(fresh.settings)
    ids = {each.role.key: each.id for each in logbook.controls(visit.screen_id)}
    told = {ids[key]: value for key, value in stand_ins.link.values().items() if key in ids}
    logbook.ledger.note(visit.id, told, FOUND_REASON)
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), stand_ins.bench(), NobodyThere())
    again = load_snapshot(logbook, visit.id, job_id=visit.job_id)
    assert [record.kind for record in again.passes] == ["as found", "white"]
    assert again.settings == first.settings
    assert again.result(WHITE) is not None
    done = {job.id: job.done for job in logbook.jobs.of(visit.id)}
    assert done == {visit.job_id: {"as found", "white"}, day: {"as found"}}


def test_debts_and_checks_hold_where_their_controls_act(logbook: Logbook) -> None:
    visit = begin_standin_visit(logbook, load_scenario("wide-lcd"), "wide-lcd", 1)
    ledger = logbook.ledger
    contrast, ambient = (control(logbook, visit, role) for role in (Role.DYNAMIC_CONTRAST, Role.AMBIENT_SENSOR))
    ledger.switch_off(visit.id, contrast, 2, 0)
    ledger.switch_off(visit.id, ambient, 1, 0)
    off, sensing = f"off-{Role.DYNAMIC_CONTRAST.key}", f"off-{Role.AMBIENT_SENSOR.key}"
    keys = (off, sensing, WARM_UP, MODE, "range")
    for key in keys:
        ledger.check(visit.id, key, CheckState.DONE)
    day = logbook.jobs.add(visit.id, input_=visit.input, memory="Day", target="rec709-2.4/added")
    assert [debt.role for debt in ledger.debts(visit.id)] == [Role.AMBIENT_SENSOR]
    assert set(keys) & set(ledger.checks(visit.id)) == {sensing, WARM_UP, "range"}
    # What acts on the whole screen is known there; what acts on a memory alone is not.
    settings = ledger.at(visit.id)
    assert settings[Role.AMBIENT_SENSOR] == 0
    assert Role.DYNAMIC_CONTRAST not in settings
    logbook.jobs.add(visit.id, input_="HDMI 9", memory="Film", target="rec709-2.4/added")
    assert set(keys) & set(ledger.checks(visit.id)) == {sensing, WARM_UP}
    # Switched on again in Day, it is still owed in the memory it was switched off in.
    logbook.jobs.choose(visit.id, day)
    ledger.note(visit.id, {contrast: 2}, "by hand")
    ledger.answer(ledger.debts(visit.id)[0].id, DebtAnswer.LEAVE_OFF)
    with pytest.raises(OpenDebtsError, match=f"in {visit.memory} was switched off"):
        logbook.close_visit(visit.id)
    logbook.jobs.choose(visit.id, visit.job_id)
    ledger.answer(ledger.debts(visit.id)[0].id, DebtAnswer.ON_AGAIN)
    assert ledger.at(visit.id)[Role.DYNAMIC_CONTRAST] == 2
    logbook.close_visit(visit.id)


def test_a_memory_has_one_job_and_a_job_belongs_to_its_visit(
    logbook: Logbook, visit: VisitRecord, day: int
) -> None:
    with pytest.raises(JobTakenError, match="Day has a job on this visit already"):
        logbook.jobs.add(visit.id, input_=visit.input, memory="Day", target="rec709-2.4/added")
    with pytest.raises(LookupError, match="has no job 99"):
        logbook.jobs.choose(visit.id, 99)
    logbook.jobs.leave_out(day, left_out=True)
    assert [job.left_out for job in logbook.jobs.of(visit.id)] == [False, True]


def test_another_mode_moves_the_job_and_not_the_others(logbook: Logbook, visit: VisitRecord, day: int) -> None:
    logbook.work_in(visit.id, "Cinema")
    assert [job.memory for job in logbook.jobs.of(visit.id)] == [visit.memory, "Cinema"]


def test_summary_and_csv_tell_of_every_job(logbook: Logbook, visit: VisitRecord, bench: Benches, tmp_path) -> None:
    stand_ins = bench(4)
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), stand_ins.bench(), NobodyThere())
    logbook.jobs.add(visit.id, input_="HDMI 3", memory="Day", target="rec709-2.4/added")
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), stand_ins.bench(), NobodyThere())
    told = summary(logbook, visit, 4)
    assert [(job["input"], job["memory"], job["target"]) for job in told["jobs"]] == [
        (visit.input, visit.memory, visit.target),
        ("HDMI 3", "Day", "rec709-2.4/added"),
    ]
    # What was there before jobs is that of the first.
    assert told["target"] == visit.target
    assert told["as_found"] == told["jobs"][0]["as_found"] != told["jobs"][1]["as_found"]
    path = tmp_path / "readings.csv"
    write_readings(logbook, visit, path)
    lines = path.read_text().splitlines()
    assert lines[0].endswith("job,input,memory")
    assert lines[1].endswith(f"{visit.job_id},{visit.input},{visit.memory}")
    assert lines[-1].endswith("HDMI 3,Day")
    assert target_named(told["jobs"][1]["target"]).tone.label == "gamma 2.4"


def test_a_job_does_not_move_to_a_mode_that_another_has(
    logbook: Logbook, visit: VisitRecord, bench: Benches
) -> None:
    names = [mode.name for mode in bench(4).screen.part.mode]
    here = {control(logbook, visit, Role.PICTURE_MODE): names.index(visit.memory)}
    logbook.ledger.note(visit.id, here, FOUND_REASON)

    def modes() -> tuple[str, ...]:
        plan = begin(logbook, visit.id, MODE_PASS).plan
        assert isinstance(plan, ChoicePlan)
        return plan.names

    assert modes() == tuple(names)
    first, *rest = (name for name in names if name != visit.memory)
    logbook.jobs.add(visit.id, input_=visit.input, memory=first, target=visit.target)
    logbook.jobs.choose(visit.id, visit.job_id)
    assert set(modes()) == {visit.memory, *rest}
    for name in rest:
        logbook.jobs.add(visit.id, input_=visit.input, memory=name, target=visit.target)
    logbook.jobs.choose(visit.id, visit.job_id)
    with pytest.raises(NotReadyError, match="has a job of its own"):
        begin(logbook, visit.id, MODE_PASS)
