"""What of a job is not done, and what spoils a verdict on it: told wherever the job is handed over."""

from collections.abc import Mapping
from typing import Any

from aequitone.advice.roles import FEATURES, ROLE_WORDS, Role, point_of
from aequitone.advice.two_point.guards import WAS_NOTED_WRONG
from aequitone.figures import light_words
from aequitone.logbook.records import PassRecord, PassState
from aequitone.logbook.settings.ledger import DebtAnswer, standing
from aequitone.passes import (
    AS_FOUND,
    LEVELS,
    MANAGEMENT,
    PEAK,
    PROOF,
    TONE,
    TRIED,
    WATCHED,
    WHITE,
    PassType,
    Snapshot,
    copy_sheets,
    pass_type,
)
from aequitone.passes.levels import wanted_light
from aequitone.passes.preparation import is_warm
from aequitone.procedures.levels.session import LEVEL_ROLES
from aequitone.signal import Transfer
from aequitone.wording import listed

# Of the light that was wanted: white that is off by more was not reached.
_NOT_REACHED = 0.1
# What moves picture and sharpness spoils no grey.
_NO_HARM = (Role.MOTION, Role.NOISE_REDUCTION, Role.EDGE_ENHANCEMENT, Role.SUPER_RESOLUTION)
_SPOILING = tuple(role for role in FEATURES if role not in _NO_HARM)
# A list in words names so many before it counts.
_NAMED = 3


def open_points(snapshot: Snapshot) -> tuple[str, ...]:
    """Sentences, the weightiest first; empty where all is done and nothing stood in its way."""
    told = [_not_done(snapshot), _light(snapshot), *_of_proof(snapshot), _as_found(snapshot)]
    told += [_left_on(snapshot, kind) for kind in (AS_FOUND, PROOF)]
    told += [
        _noted_wrong(snapshot),
        _interrupted(snapshot),
        _cold(snapshot),
        *_inputs(snapshot),
        *_on_again(snapshot),
    ]
    return tuple(dict.fromkeys(sentence for sentence in told if sentence))


def proof_heading(snapshot: Snapshot) -> str:
    """What the proof's verdict stands under: it is only how it is now where nothing was turned since."""
    return "What the proof measured" if _of_proof(snapshot) else "How it is now"


def _not_done(snapshot: Snapshot) -> str:
    """The passes that this screen and job could have, and have not had."""
    noted = snapshot.settings
    wanted: list[PassType[Any, Any]] = []
    if snapshot.visit.bench.transfer is Transfer.PQ:
        wanted.append(PEAK)
    elif any(role in noted for role in LEVEL_ROLES):
        wanted.append(LEVELS)
    wanted.append(WHITE)
    if any(point_of(role) for role in noted):
        wanted.append(TONE)
    wanted.append(PROOF)
    lacking = [kind.title for kind in wanted if kind.fits(snapshot) and not snapshot.done(kind)]
    return f"Not done: {', '.join(lacking)}." if lacking else ""


def _light(snapshot: Snapshot) -> str:
    """White that is not as bright as it was wanted, as far as the newest reading tells."""
    last = snapshot.result(PROOF) or snapshot.result(AS_FOUND)
    if last is None or snapshot.hdr or Role.LIGHT_OUTPUT not in snapshot.settings:
        return ""
    wanted = wanted_light(snapshot)
    if abs(last.white / wanted - 1.0) <= _NOT_REACHED:
        return ""
    return f"White gives {light_words(last.white)}; {light_words(wanted)} were wanted."


def _of_proof(snapshot: Snapshot) -> list[str]:
    """A proof that is older than what it is to prove."""
    proof, found = snapshot.latest_done(PROOF), snapshot.latest_done(AS_FOUND)
    if proof is None:
        return []
    told = []
    if found is not None and proof.id < found.id:
        told.append("The proof was measured before grey as found, so it proves nothing of what was done since.")
    then = standing([each for each in snapshot.history if each.at <= proof.started])
    if since := _apart(snapshot, then, snapshot.settings):
        told.append(f"Turned after the proof, so not proven: {since}.")
    return told


def _as_found(snapshot: Snapshot) -> str:
    """Controls that had been turned before grey as found was read."""
    found = snapshot.latest_done(AS_FOUND)
    if found is None or snapshot.done(WATCHED):
        # The picture as it was watched had been measured before anything was turned.
        return ""
    then = standing([each for each in snapshot.history if each.at < found.started])
    turned = _apart(snapshot, snapshot.found_settings, then)
    if not turned:
        return ""
    return f"Grey as found was measured after {turned} had been changed: the picture before that was not."


def _left_on(snapshot: Snapshot, kind: PassType[Any, Any]) -> str:
    """What acts by itself and was on while grey was measured."""
    record = snapshot.latest_done(kind)
    if record is None:
        return ""
    at = standing([each for each in snapshot.history if each.at <= record.started])
    names = {control.role: control.name for control in snapshot.controls}
    on = [names.get(role, ROLE_WORDS[role]) for role in _SPOILING if at.get(role, 0) > 0]
    if not on:
        return ""
    which = f"{listed(on, _NAMED)} {'was' if len(on) == 1 else 'were'}"
    return f"{which} on while {kind.title} was measured: what is said of grey holds with it alone."


def _noted_wrong(snapshot: Snapshot) -> str:
    """Controls whose figure as found seems to be wrong: what is put back would go there."""
    kinds: tuple[PassType[Any, Any], ...] = (WHITE, TONE, MANAGEMENT)
    said = " ".join(note for kind in kinds for note in snapshot.notes(kind))
    names = [each.name for each in snapshot.controls if f"{each.name} {WAS_NOTED_WRONG}" in said]
    if not names:
        return ""
    seem, it = ("seems", "it") if len(names) == 1 else ("seem", "them")
    return f"{listed(names, _NAMED)} {seem} to have been noted wrong as found: putting {it} back may go elsewhere."


def _interrupted(snapshot: Snapshot) -> str:
    running = [record for record in snapshot.passes if record.state is PassState.RUNNING]
    stopped = [pass_type(record.kind).title for record in running if not _made_good(snapshot, record)]
    return f"Begun and not ended: {', '.join(stopped)}." if stopped else ""


def _made_good(snapshot: Snapshot, record: PassRecord) -> bool:
    done = snapshot.latest_done(pass_type(record.kind))
    return done is not None and done.id > record.id


def _cold(snapshot: Snapshot) -> str:
    """A sentence where no note says that the screen was warm; "" where one does."""
    if snapshot.result(AS_FOUND) is None or is_warm(snapshot):
        return ""
    return "Whether the screen was warm was not noted."


def _on_again(snapshot: Snapshot) -> list[str]:
    """What is on again though it makes grey worse, as it was measured to do."""
    tried = snapshot.result(TRIED)
    on = {debt.name for debt in snapshot.debts if debt.answer is DebtAnswer.ON_AGAIN}
    if tried is None or tried.name not in on or not tried.costs:
        return []
    mean = tried.on.grey.mean
    return [f"{tried.name} is on again: with it grey has an error of {mean:.1f}, and not what Proof says."]


def _inputs(snapshot: Snapshot) -> list[str]:
    """What memories of other inputs still need to be as this one."""
    told = []
    for sheet in copy_sheets(snapshot):
        if sheet.left:
            names = listed([line.name for line in sheet.left], _NAMED)
            told.append(f"Not entered for {sheet.copy.name}: {names}.")
        if not sheet.looked:
            told.append(f"{sheet.copy.name} was not looked at through its own device.")
        elif sheet.wrong:
            told.append(sheet.looked)
    return told


def _apart(snapshot: Snapshot, then: Mapping[Role, int], now: Mapping[Role, int]) -> str:
    """Names of the controls, features left out, that stand otherwise than then; "" for none."""
    names = {control.role: control.name for control in snapshot.controls}
    moved = [role for role, value in then.items() if now.get(role, value) != value and role not in FEATURES]
    return listed([names.get(role, role.key) for role in moved], _NAMED)
