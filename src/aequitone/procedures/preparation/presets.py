"""Reading each mode or preset from dark to light, and going to the best."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.gamuts import GAMUT_GREYS, gamut_signals, ranked_by_colour
from aequitone.advice.moves import ControlState, Move
from aequitone.advice.presets import (
    LEVELS,
    PROBES,
    TONE_PROBES,
    Judged,
    Track,
    alike,
    is_enough,
    is_out_of_reach,
    ranked,
    ranked_by_tone,
    why,
)
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.journal import Recorded, Turned
from aequitone.procedures.known_level import KnownLevel, known_at
from aequitone.procedures.policy import ReadPolicy, policy_for
from aequitone.procedures.preparation.watching import unseen_words, watch
from aequitone.procedures.steps import (
    Note,
    PassOver,
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
    Watch,
)
from aequitone.procedures.uninterrupted import insist, insist_on_turning
from aequitone.reference import Target
from aequitone.reference.saturations import SIX
from aequitone.signal import Patch, SignalFormat, colour_patch, grey_patch

_PRIMARIES = (("red", (100.0, 0.0, 0.0)), ("green", (0.0, 100.0, 0.0)), ("blue", (0.0, 0.0, 100.0)))
_WANTED_DE = 0.05
# A reading that is taken once is made longer, as nothing confirms it.
_SINGLE = 0.4
_UNKNOWN_LIGHT, _ROUGH = 50.0, 0.004
# A grey that presets of white, tone and mode all change, in %.
_WATCHED_GREY = 60.0
# A grey that tells whether what is known of a setting still holds, in %.
_KNOWN_GREY = 40.0


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
    colour: bool = False
    """Whether primaries and secondaries are what they are compared by: gamut presets."""
    by_hand: bool = False
    """Whether a person turns, who may slip: what reads like another one is asked for once more."""
    known: tuple[KnownLevel, ...] = ()
    """Greys of the setting that is on, from the pass before: taken where one of them still reads the same."""

    def __post_init__(self) -> None:
        if len(self.values) != len(self.names) or not self.values:
            raise ValueError(f"{len(self.values)} settings to compare, but {len(self.names)} names for them")

    @property
    def readings(self) -> int:
        """How many readings it takes at most."""
        if self.colour:
            return len(self.values) * (len(GAMUT_GREYS) + len(SIX))
        return len(self.values) * (len(LEVELS) + (len(_PRIMARIES) if self.primaries else 0))


@dataclass(frozen=True)
class ChoiceState:
    """What was compared so far, best first."""

    control: ControlState
    order: tuple[Judged, ...]
    words: str = ""
    """Why the first is the best, once all were read."""
    on: str = ""
    """The name of the setting that is on."""
    last: Judged | None = None
    """The one that was read last."""
    unseen: bool = False
    """Whether the choice that is asked for was watched, and nothing was seen to change."""


def choose(plan: ChoicePlan) -> Procedure[ChoiceState]:
    """Read every setting and turn to the best; returns a ChoiceState.

    Understands StopHere (choose among those that were read), PutBack (back to the setting it was found at) and
    PassOver (the one that is read, or that is to be turned to, is not to be had).
    """
    now = _Choice(plan, plan.control, known=plan.known)
    # The one that is on comes first: it costs no trip.
    order = sorted(zip(plan.values, plan.names, strict=True), key=lambda each: each[0] != plan.control.value)
    try:
        for value, name in order:
            yield from _compared(now, value, name)
            now.enough = bool(now.tracks) and is_enough(now.state().order[0])
            if now.enough:
                break
    except StopHere:
        if not now.tracks:
            return ChoiceState(now.control, ())
    except PutBack:
        return (yield from _back(now))
    while now.tracks:
        state = now.state()
        state = replace(state, words=why(state.order) + now.left_words + now.passed_words)
        best, stood = state.order[0].track, now.control.value
        try:
            yield Note(state.words)
            yield from _turned(now, best.value)
            if plan.by_hand and best.value != stood:
                yield from _confirmed(now, best, stood)
        except PutBack:
            return (yield from _back(now))
        except PassOver:
            now.pass_over(best.value, best.name)
            continue
        except (StopHere, ReadAgain):
            pass
        return replace(state, control=now.control)
    yield from insist(Note(f"None is left to choose among.{now.passed_words}"))
    return (yield from _back(now))


def recovered(plan: ChoicePlan, record: Sequence[Recorded], words: str) -> ChoiceState | None:
    """A choice as its record has it: what was read of each setting, and the one that was left on."""
    now, names = _Choice(plan, plan.control), dict(zip(plan.values, plan.names, strict=True))
    read: dict[int, dict[str, Reading]] = {}
    anew = True
    for kept in record:
        if isinstance(kept, Turned):
            value = next((c.to_value for c in kept.move.changes if c.role == plan.control.role), now.control.value)
            now.control = replace(now.control, value=value)
            anew = True
        elif isinstance(kept, Reading) and kept.purpose is not Purpose.WATCH:
            # One that was asked for twice is what was read the second time.
            if anew:
                read[now.control.value], anew = {}, False
            read[now.control.value][kept.patch.name] = kept
    for value, readings in read.items():
        levels = GAMUT_GREYS if plan.colour else LEVELS
        greys: dict[float, Reading | KnownLevel] = {
            r.patch.percent: r for r in readings.values() if r.patch.percent in levels and r.patch.is_grey
        }
        if value == plan.control.value and plan.known and set(greys) == {_KNOWN_GREY}:
            greys = {level.percent: level for level in plan.known}
        six = [readings[colour].xyz for colour in SIX if colour in readings]
        coloured = [readings[colour].xyz for colour, _ in _PRIMARIES if colour in readings]
        if value in names and greys:
            primaries = np.array(coloured) if len(coloured) == len(_PRIMARIES) else None
            track = _track_of(value, names[value], greys, primaries)
            if plan.colour and (len(six) < len(SIX) or len(greys) < len(GAMUT_GREYS)):
                continue
            now.tracks.append(replace(track, colours=np.array(six)) if plan.colour else track)
    return replace(now.state(), words=words) if now.tracks else None


@dataclass
class _Choice:
    """Where choosing stands; private to the generator."""

    plan: ChoicePlan
    control: ControlState
    tracks: list[Track] = field(default_factory=list)
    passed: list[str] = field(default_factory=list)
    enough: bool = False
    """Whether the best is so good that no other is tried."""
    known: tuple[KnownLevel, ...] = ()
    """What is known of the setting that is on, until it was read."""

    @property
    def left_words(self) -> str:
        """That some were not tried, as a further sentence."""
        left = len(self.plan.values) - len(self.tracks) - len(self.passed)
        return " That is near enough: no other was tried." if self.enough and left > 0 else ""

    @property
    def passed_words(self) -> str:
        """Which were not to be had, as a further sentence."""
        return f" Passed over, as greyed out: {', '.join(self.passed)}." if self.passed else ""

    def pass_over(self, value: int, name: str) -> None:
        self.tracks = [track for track in self.tracks if track.value != value]
        self.passed.append(name)

    def progress(self) -> Progress:
        return Progress(len(self.tracks) + len(self.passed), len(self.plan.values), self.state())

    def like(self, track: Track) -> Track | None:
        """Another one that reads the same, the newest first."""
        others = (each for each in reversed(self.tracks) if each.value != track.value)
        return next((each for each in others if alike(track, each, light=not self.plan.once)), None)

    def judge(self, track: Track) -> Judged:
        """A track by itself."""
        return self._ranked([track])[0]

    def _ranked(self, tracks: Sequence[Track]) -> tuple[Judged, ...]:
        plan = self.plan
        if plan.colour:
            return ranked_by_colour(tracks, plan.target, plan.control.value)
        if plan.tone:
            return ranked_by_tone(tracks, plan.target, plan.control.value)
        primaries = plan.target.gamut.xyz_matrix.T if plan.primaries else None
        return ranked(tracks, np.asarray(plan.target.white.xyz()), primaries, plan.control.value)

    def state(self) -> ChoiceState:
        plan, order = self.plan, self._ranked(self.tracks)
        names = dict(zip(plan.values, plan.names, strict=True))
        newest = self.tracks[-1] if self.tracks else None
        last = next((judged for judged in order if judged.track is newest), None)
        return ChoiceState(self.control, order, on=names.get(self.control.value, ""), last=last)


def _compared(now: _Choice, value: int, name: str) -> Procedure[None]:
    """Turn to a setting and read it, unless it is not to be had."""
    try:
        while True:
            try:
                yield from _turned(now, value)
                yield now.progress()
                track = yield from _track(now, value, name)
                twin = now.like(track) if now.plan.by_hand else None
                if twin is not None:
                    yield from _chosen_again(now, track, twin)
                    track = yield from _track(now, value, name)
                now.tracks.append(track)
                break
            except ReadAgain:
                continue
        # A wish that comes with the last reading of this one is told here, and is about this one.
        yield now.progress()
    except PassOver:
        now.pass_over(value, name)


def _turned(now: _Choice, value: int) -> Procedure[None]:
    if value != now.control.value:
        yield from _asked(now, now.control.moved_to(value))
        now.control = replace(now.control, value=value)


def _asked(now: _Choice, move: Move) -> Procedure[None]:
    """Have a setting chosen; a person may watch meanwhile, and is asked again where nothing was seen to change."""
    made = False
    while True:
        try:
            yield Turn(move, made)
            return
        except Watch:
            patch, expected = _watched_patch(now)
            made = yield from watch(move, patch, expected)
            if not made:
                yield from insist(Note(unseen_words(now.control.name)))
            told = now.progress()
            yield from insist(replace(told, value=replace(now.state(), unseen=not made)))


def _watched_patch(now: _Choice) -> tuple[Patch, float]:
    """A patch that any other setting changes, and about its luminance, cd/m²: a gamut leaves greys alone."""
    track = now.tracks[-1] if now.tracks else None
    light = _UNKNOWN_LIGHT if track is None else float(track.xyz[:, 1].min())
    if now.plan.colour:
        return colour_patch("green", (0.0, 100.0, 0.0), now.plan.format), light
    return grey_patch(_WATCHED_GREY, now.plan.format), light


def _chosen_again(now: _Choice, track: Track, twin: Track) -> Procedure[None]:
    """Have a setting chosen once more that reads like another one; what it then reads like is taken as it is."""
    yield Note(f"{track.name} reads like {twin.name}: it may not have been chosen. Look at the menu.")
    yield from _asked(now, replace(now.control, value=twin.value).moved_to(track.value))


def _confirmed(now: _Choice, best: Track, stood: int) -> Procedure[None]:
    """See by a glance that the best is on, and ask for it once more where something else seems to be."""
    for told in (False, True):
        percent = float(best.percents[len(best.percents) // 2])
        reading = yield from _grey(now.plan, percent, {}, Purpose.WATCH)
        seen = _track_of(best.value, best.name, {percent: reading})
        if alike(seen, best, light=not now.plan.once):
            return
        if told:
            yield Note(f"This still does not read like {best.name}: look whether it is on.")
            return
        twin = now.like(seen)
        but = f", but like {twin.name}" if twin is not None else ""
        yield Note(f"This does not read like {best.name}{but}: it may not have been chosen. Look at the menu.")
        from_ = replace(now.control, value=twin.value if twin is not None else stood)
        yield from _asked(now, from_.moved_to(best.value))


def _back(now: _Choice) -> Procedure[ChoiceState]:
    yield from insist_on_turning(Turn(now.control.moved_to(now.plan.control.value)))
    now.control = now.plan.control
    return now.state()


def _track(now: _Choice, value: int, name: str) -> Procedure[Track]:
    """Read a setting; only as far as it takes to see that it cannot be the best."""
    plan = now.plan
    if plan.colour:
        return (yield from _gamut_track(plan, value, name))
    readings: dict[float, Reading | KnownLevel] = yield from _still_known(now)
    probes = () if plan.primaries or not now.tracks else TONE_PROBES if plan.tone else PROBES
    for percent in probes:
        readings[percent] = yield from _grey(plan, percent, readings)
    if probes:
        probe = _track_of(value, name, readings)
        if is_out_of_reach(now.judge(probe), now.state().order[0]):
            return probe
    for percent in LEVELS:
        if percent not in readings:
            readings[percent] = yield from _grey(plan, percent, readings)
    primaries: Array | None = None
    if plan.primaries:
        rows = []
        for colour, percents in _PRIMARIES:
            patch = colour_patch(colour, percents, plan.format)
            yield Show(patch)
            reading: Reading = yield Read(
                patch, ReadPolicy(_ROUGH * max(float(readings[100.0].xyz[1]), 1e-3)), Purpose.SWEEP, once=plan.once
            )
            rows.append(reading.xyz)
        primaries = np.array(rows)
    return _track_of(value, name, readings, primaries)


def _still_known(now: _Choice) -> Procedure[dict[float, Reading | KnownLevel]]:
    """Read one grey that is known once more; returns all that are known where it reads the same, else that one."""
    known, now.known = now.known, ()
    level = known_at(known, _KNOWN_GREY)
    if level is None:
        return {}
    readings: dict[float, Reading | KnownLevel] = {each.percent: each for each in known}
    reading = yield from _grey(now.plan, _KNOWN_GREY, readings)
    return readings if level.is_as(reading) else {_KNOWN_GREY: reading}


def _gamut_track(plan: ChoicePlan, value: int, name: str) -> Procedure[Track]:
    """Read white, a grey, and the primaries and secondaries of that signal."""
    greys: dict[float, Reading] = {}
    for percent in GAMUT_GREYS:
        greys[percent] = yield from _grey(plan, percent, greys)
    rows = []
    for colour, signal in zip(SIX, gamut_signals(), strict=True):
        patch = colour_patch(colour, signal * 100.0, plan.format)
        yield Show(patch)
        reading: Reading = yield Read(patch, ReadPolicy(_ROUGH * max(greys[100.0].Y, 1e-3)), Purpose.SWEEP)
        rows.append(reading.xyz)
    return replace(_track_of(value, name, greys), colours=np.array(rows))


def _track_of(
    value: int, name: str, readings: Mapping[float, Reading | KnownLevel], primaries: Array | None = None
) -> Track:
    levels = sorted(readings, reverse=True)
    return Track(
        value,
        name,
        np.array(levels),
        np.array([readings[percent].xyz for percent in levels]),
        np.array([readings[percent].sd for percent in levels]),
        primaries,
    )


def _grey(
    plan: ChoicePlan,
    percent: float,
    readings: Mapping[float, Reading | KnownLevel],
    purpose: Purpose = Purpose.SWEEP,
) -> Procedure[Reading]:
    patch = grey_patch(percent, plan.format)
    white = float(readings[100.0].xyz[1]) if 100.0 in readings else None
    if white is None:
        policy = ReadPolicy(0.001 * _UNKNOWN_LIGHT)
    else:
        expected = float(plan.target.grey(percent, max(white, 1e-3))[1])
        policy = policy_for(expected, max(white, 1e-3), _WANTED_DE * (_SINGLE if plan.once else 1.0))
    yield Show(patch)
    reading: Reading = yield Read(patch, policy, purpose, once=plan.once)
    return reading
