"""Reading each mode or preset from dark to light, and going to the best."""

from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.choosing import LEVELS, Judged, Track, ranked, ranked_by_tone, why
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.insisting import insist_on_turning
from aequitone.procedures.policy import ReadPolicy, policy_for
from aequitone.procedures.steps import (
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    Read,
    ReadAgain,
    Reading,
    Show,
    StopHere,
    Turn,
)
from aequitone.reference import Target
from aequitone.signal import SignalFormat, colour_patch, grey_patch

_PRIMARIES = (("red", (100.0, 0.0, 0.0)), ("green", (0.0, 100.0, 0.0)), ("blue", (0.0, 0.0, 100.0)))
_WANTED_DE = 0.05
# A reading that is taken once is made longer, as nothing confirms it.
_SINGLE = 0.4
_UNKNOWN_LIGHT, _ROUGH = 50.0, 0.004


@dataclass(frozen=True)
class ChoicePlan:
    """The control whose settings are compared, and which of them; `names` as the menu has them."""

    target: Target
    format: SignalFormat
    control: ControlState
    values: tuple[int, ...]
    names: tuple[str, ...]
    primaries: bool = False
    """Whether red, green and blue are read too: modes differ in them, temperature presets hardly."""
    once: bool = False
    """Take each reading as it comes: what acts by itself is still on and moves the light, but not its colour."""
    tone: bool = False
    """Whether light is what they are compared by, and not colour: gamma presets."""

    def __post_init__(self) -> None:
        if len(self.values) != len(self.names) or not self.values:
            raise ValueError(f"{len(self.values)} settings to compare, but {len(self.names)} names for them")

    @property
    def readings(self) -> int:
        """How many readings it takes."""
        return len(self.values) * (len(LEVELS) + (len(_PRIMARIES) if self.primaries else 0))


@dataclass(frozen=True)
class ChoiceState:
    """What was compared so far, best first."""

    control: ControlState
    order: tuple[Judged, ...]
    words: str = ""
    """Why the first is the best, once all were read."""


def choose(plan: ChoicePlan) -> Procedure[ChoiceState]:
    """Read every setting and turn to the best; returns a ChoiceState.

    Understands StopHere (choose among those that were read) and PutBack (back to the setting it was found at).
    """
    control, tracks = plan.control, list[Track]()
    found_at = control.value
    # The one that is on comes first: it costs no trip.
    order = sorted(zip(plan.values, plan.names, strict=True), key=lambda each: each[0] != found_at)
    try:
        for value, name in order:
            while True:
                try:
                    if value != control.value:
                        yield Turn(control.moved_to(value))
                        control = replace(control, value=value)
                    tracks.append((yield from _track(plan, value, name)))
                    break
                except ReadAgain:
                    continue
            yield Progress(len(tracks), len(order), _state(plan, control, tracks))
    except StopHere:
        if not tracks:
            return ChoiceState(control, ())
    except PutBack:
        return (yield from _back(plan, control, tracks, found_at))
    state = replace(_state(plan, control, tracks), words=why(_state(plan, control, tracks).order))
    best = state.order[0].track.value
    yield Note(state.words)
    try:
        if best != control.value:
            yield Turn(control.moved_to(best))
            control = replace(control, value=best)
    except PutBack:
        return (yield from _back(plan, control, tracks, found_at))
    except (StopHere, ReadAgain):
        pass
    return replace(state, control=control)


def _back(plan: ChoicePlan, control: ControlState, tracks: list[Track], to: int) -> Procedure[ChoiceState]:
    yield from insist_on_turning(Turn(control.moved_to(to)))
    return _state(plan, replace(control, value=to), tracks)


def _state(plan: ChoicePlan, control: ControlState, tracks: list[Track]) -> ChoiceState:
    if plan.tone:
        return ChoiceState(control, ranked_by_tone(tracks, plan.target, plan.control.value))
    primaries = plan.target.gamut.xyz_matrix.T if plan.primaries else None
    return ChoiceState(control, ranked(tracks, np.asarray(plan.target.white.xyz()), primaries, plan.control.value))


def _track(plan: ChoicePlan, value: int, name: str) -> Procedure[Track]:
    readings: list[Reading] = []
    for percent in LEVELS:
        patch = grey_patch(percent, plan.format)
        white = readings[0].Y if readings else _UNKNOWN_LIGHT
        expected = float(plan.target.grey(percent, max(white, 1e-3))[1])
        policy = (
            policy_for(expected, max(white, 1e-3), _WANTED_DE * (_SINGLE if plan.once else 1.0))
            if readings
            else ReadPolicy(0.001 * _UNKNOWN_LIGHT)
        )
        yield Show(patch)
        readings.append((yield Read(patch, policy, Purpose.SWEEP, once=plan.once)))
    primaries: Array | None = None
    if plan.primaries:
        rows = []
        for colour, percents in _PRIMARIES:
            patch = colour_patch(colour, percents, plan.format)
            yield Show(patch)
            reading: Reading = yield Read(
                patch, ReadPolicy(_ROUGH * max(readings[0].Y, 1e-3)), Purpose.SWEEP, once=plan.once
            )
            rows.append(reading.xyz)
        primaries = np.array(rows)
    return Track(
        value,
        name,
        np.array(LEVELS),
        np.array([reading.xyz for reading in readings]),
        np.array([reading.sd for reading in readings]),
        primaries,
    )
