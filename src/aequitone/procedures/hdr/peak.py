"""What a screen can give in HDR: peak by window, light that it holds, its shoulder, and its darkest grey."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.answers.shoulder import Shoulder, ShoulderKind, fit_shoulder
from aequitone.colorimetry.arrays import Array
from aequitone.figures import light_words
from aequitone.procedures.grey.first_look import bent_greys, look_at_mapping, moves_words
from aequitone.procedures.policy import ReadPolicy, policy_for, seen_black, target_policy
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
    Wait,
)
from aequitone.reference import Target
from aequitone.signal import MasteringLight, SignalFormat, grey_patch

WINDOWS = (0.01, 0.02, 0.04, 0.10, 0.18, 0.25, 0.50, 1.0)
"""Shares of the picture's area in which white is read, small ones first: a large one warms a panel up."""
_COARSE = tuple(float(percent) for percent in range(95, 15, -5))
# Greys around the knee, in % of the signal from where the coarse ones put it.
_FINE = (-4.0, -2.0, -1.0, 0.0, 1.0, 2.0, 4.0)
# More of them where a roll-off that begins gently leaves the knee in doubt, in signal.
_FINER, _IN_DOUBT = (-6.0, -5.0, -3.0, 3.0, 5.0, 6.0), 0.004
DARK = (0.5, 1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 7.0)
"""Greys, in %, of which the darkest that is brighter than black is looked for."""
# White that stands still is read at these seconds.
_STANDS = (0.0, 10.0, 20.0, 30.0)
# Of the most that any window gives: what is as good as all of it, and what a panel has lost by standing.
_ALL, _LOST = 0.97, 0.02
READINGS = len(WINDOWS) + 1 + len(_STANDS) + 1 + len(_COARSE) + len(_FINE) + len(DARK) // 2 + 8
"""How many it takes, about."""
_WHITE_SHARE, _DARK_SECONDS = 0.002, 6.0
_USUAL_WINDOW, _UNKNOWN = 0.10, 500.0
_SIGMAS, _HEEDED = 3.0, 0.02


@dataclass(frozen=True)
class PeakPlan:
    """What is sent, and what it is meant for."""

    target: Target
    format: SignalFormat

    def __post_init__(self) -> None:
        if not self.target.tone.absolute:
            raise ValueError("a peak is looked for under PQ, which says how many cd/m² a signal means")


@dataclass(frozen=True)
class PeakPass:
    """What was found; light in cd/m²."""

    windows: tuple[tuple[float, float, float], ...] = ()
    """Share of the area, white's light in it, and its standard deviation."""
    recovered: float = 1.0
    """White in the usual window after the full field, as a share of before."""
    held: tuple[tuple[float, float], ...] = ()
    """Seconds that white stood, and its light as a share of the first."""
    window: float = 0.1
    """Share of the area in which all that follows was read."""
    percents: tuple[float, ...] = ()
    """Greys from 100 % down."""
    light: tuple[float, ...] = ()
    sd: tuple[float, ...] = ()
    black: float = 0.0
    shoulder: Shoulder | None = None
    darkest: float = 0.0
    """The darkest grey, in %, that is brighter than black; 0 where none of DARK is, or none was read yet."""
    darkest_light: float = 0.0
    moves: float = 0.0
    """How much more light a bright grey gives in a dark picture, as a share; 0 where it is the same."""
    heeds: float = 0.0
    """How much less light it gives where 4,000 instead of 1,000 cd/m² are named, as a share; 0 for the same."""

    @property
    def full_field(self) -> float:
        """White's light in a full field; 0 where it was not read."""
        return next((light for share, light, _ in self.windows if share == 1.0), 0.0)

    @property
    def most(self) -> float:
        """The most light that white gives in any window."""
        return max((light for _, light, _ in self.windows), default=0.0)

    @property
    def usual(self) -> float:
        """White's light in a window of a tenth."""
        return next((light for share, light, _ in self.windows if share == _USUAL_WINDOW), 0.0)

    @property
    def lost(self) -> float:
        """The share of its light that white loses by standing still."""
        return max(0.0, 1.0 - self.held[-1][1]) if self.held else 0.0

    @property
    def advised(self) -> tuple[float, str]:
        """The window to measure in, as a share of the area, and why."""
        free = [share for share, light, _ in self.windows if light >= _ALL * self.most]
        if not free:
            return _USUAL_WINDOW, "nothing was read yet"
        if _USUAL_WINDOW in free:
            return _USUAL_WINDOW, "white has all its light in it, and a smaller one gives the meter less to see"
        largest = max((share for share in free if share <= _USUAL_WINDOW), default=min(free))
        return largest, f"in a larger one white is held back to {100.0 * self.usual / self.most:.0f} %"

    @property
    def to_enter(self) -> tuple[tuple[str, str], ...]:
        """The figures to enter in a screen's tone mapping, or in a source that maps tones itself."""
        told = [("Peak, 10 % window", light_words(self.usual))]
        if self.full_field:
            told.append(("Peak, full field", light_words(self.full_field)))
        if self.darkest_light:
            told.append(("Darkest grey seen", f"{self.darkest_light:.4f} cd/m²"))
        return tuple(told)

    @property
    def words(self) -> str:
        """What there is to say of it."""
        share, why = self.advised
        told = [
            f"White gives {light_words(self.usual)} in a 10 % window and {light_words(self.full_field)} in a full "
            f"field. Measure in a {share * 100:g} % window: {why}."
        ]
        if self.lost > _LOST:
            told.append(f"White that stands for 30 s loses {self.lost * 100:.0f} %: use refresh fields.")
        if self.recovered < 1.0 - _LOST:
            told.append(f"After a full field it has {self.recovered * 100:.0f} % of its light at first.")
        if self.moves:
            told.append(moves_words(self.moves))
        elif self.shoulder is not None:
            told.append(shoulder_words(self.shoulder))
        if self.heeds:
            told.append(
                f"It goes by the metadata: a bright grey has {abs(self.heeds) * 100:.0f} % "
                f"{'less' if self.heeds > 0.0 else 'more'} light where 4 000 cd/m² are named instead of 1 000. "
                "Name at the Bench what films have."
            )
        return " ".join(told)


def shoulder_words(shoulder: Shoulder) -> str:
    """How the screen comes to its peak, in a sentence."""
    if shoulder.kind is ShoulderKind.NONE:
        return "It reaches all that is sent."
    where = f"from {100.0 * shoulder.knee:.1f} % of the signal ({light_words(shoulder.knee_light)}) on"
    if shoulder.kind is ShoulderKind.CLIP:
        return f"It follows PQ to its peak and cuts off hard, {where}."
    if shoulder.kind is ShoulderKind.SPLINE:
        return f"It rolls off as BT.2390 does from {light_words(shoulder.mastering)}, {where}."
    return f"It has a roll-off of its own, {where}."


def peak_pass(plan: PeakPlan) -> Procedure[PeakPass]:
    """Read what the screen can give under PQ; returns a PeakPass.

    Understands PutBack and ReadAgain: the part under way begins again.
    """
    found = PeakPass(window=plan.format.window)
    for part in (_windows, _stands, _dark, _shoulder, _moving):
        while True:
            try:
                found = yield from part(plan, found)
                break
            except (PutBack, ReadAgain):
                continue
    yield Note(found.words)
    return found


def _windows(plan: PeakPlan, found: PeakPass) -> Procedure[PeakPass]:
    """White in every window, and once more in the usual one."""
    rows: list[tuple[float, float, float]] = []
    for share in WINDOWS:
        reading = yield from _read(plan, 100.0, rows[-1][1] if rows else _UNKNOWN, share)
        rows.append((share, reading.Y, reading.sd_Y))
        found = replace(found, windows=tuple(rows))
        yield Progress(len(rows), READINGS, found)
    again = yield from _read(plan, 100.0, found.usual, _USUAL_WINDOW)
    return replace(found, recovered=again.Y / found.usual if found.usual else 1.0)


def _stands(plan: PeakPlan, found: PeakPass) -> Procedure[PeakPass]:
    """White as long as it stands still, in the window of the bench."""
    patch = grey_patch(100.0, plan.format)
    yield Show(patch)
    first = yield Read(patch, _white_policy(found.usual), Purpose.SWEEP)
    held = [(_STANDS[0], 1.0)]
    waited = first.took
    for seconds in _STANDS[1:]:
        if seconds > waited:
            yield Wait(seconds - waited, "White stands still: does its light fall?")
        reading = yield Read(patch, _white_policy(found.usual), Purpose.SWEEP)
        waited = max(waited, seconds) + reading.took
        held.append((seconds, reading.Y / first.Y if first.Y > 0 else 1.0))
        found = replace(found, held=tuple(held))
        yield Progress(len(WINDOWS) + len(held), READINGS, found)
    return found


def _dark(plan: PeakPlan, found: PeakPass) -> Procedure[PeakPass]:
    """Black, and the darkest grey that is brighter."""
    black = yield from _read_dark(plan, 0.0, 0.0)
    found = replace(found, black=seen_black(black.Y, black.sd_Y))
    for percent in DARK:
        wanted = float(plan.target.grey(percent, found.usual, found.black)[1])
        reading = yield from _read_dark(plan, percent, wanted)
        yield Progress(len(WINDOWS) + len(_STANDS) + 3, READINGS, found)
        if _SIGMAS * float(np.hypot(reading.sd_Y, black.sd_Y)) < reading.Y - black.Y:
            return replace(found, darkest=percent, darkest_light=reading.Y)
    return found


def _read_dark(plan: PeakPlan, percent: float, wanted: float) -> Procedure[Reading]:
    patch = grey_patch(percent, plan.format)
    policy = replace(policy_for(wanted, 1.0, absolute=True), most_seconds=_DARK_SECONDS)
    yield Show(patch)
    reading: Reading = yield Read(patch, policy, Purpose.SWEEP)
    return reading


def _shoulder(plan: PeakPlan, found: PeakPass) -> Procedure[PeakPass]:
    """Greys from white down, and closer ones where the knee is."""
    read: dict[float, Reading] = {}
    for wanted in (_coarse, _fine, _finer):
        for percent in wanted(found.shoulder):
            if percent in read:
                continue
            white = read[100.0].Y if 100.0 in read else found.usual
            read[percent] = yield from _read(plan, percent, white, plan.format.window)
            found = _with_greys(found, list(read.values()))
            yield Progress(len(WINDOWS) + len(_STANDS) + 3 + len(read), READINGS, found)
        found = replace(found, shoulder=_fitted(plan, found))
    return found


def _moving(plan: PeakPlan, found: PeakPass) -> Procedure[PeakPass]:
    """A grey of the shoulder in a dark and a bright picture, and under other metadata: has it the same light?"""
    white, *bent = bent_greys(list(zip(found.percents, found.light, strict=True)))
    if not bent:
        return found
    moves = yield from look_at_mapping(plan.format, (white, *bent))
    found = replace(found, moves=moves)
    # The middle one lies well inside the shoulder.
    percent, seen = bent[len(bent) // 2][0], list[Reading]()
    for peak in (1_000.0, 4_000.0):
        named = replace(plan.format, mastering=MasteringLight.usual(peak))
        patch = replace(grey_patch(percent, named), name=f"{percent:g} % grey, mastered to {peak:.0f}")
        yield Show(patch)
        seen.append((yield Read(patch, _white_policy(found.usual), Purpose.SWEEP)))
    less, doubt = 1.0 - seen[1].Y / seen[0].Y, np.hypot(seen[0].sd_Y, seen[1].sd_Y) / seen[0].Y
    return replace(found, heeds=less if abs(less) > max(_HEEDED, _SIGMAS * doubt) else 0.0)


def _coarse(_shoulder: Shoulder | None) -> tuple[float, ...]:
    return (100.0, *_COARSE)


def _fine(shoulder: Shoulder | None) -> tuple[float, ...]:
    return _around(shoulder, _FINE)


def _finer(shoulder: Shoulder | None) -> tuple[float, ...]:
    return _around(shoulder, _FINER) if shoulder is not None and shoulder.knee_sd > _IN_DOUBT else ()


def _around(shoulder: Shoulder | None, by: Sequence[float]) -> tuple[float, ...]:
    """Greys around the knee in %, of those that can be sent."""
    if shoulder is None or shoulder.kind is ShoulderKind.NONE:
        return ()
    at = round(200.0 * shoulder.knee) / 2.0
    return tuple(at + each for each in by if 5.0 < at + each < 100.0)


def _with_greys(found: PeakPass, readings: Sequence[Reading]) -> PeakPass:
    ordered = sorted(readings, key=lambda reading: -reading.patch.percent)
    return replace(
        found,
        percents=tuple(reading.patch.percent for reading in ordered),
        light=tuple(reading.Y for reading in ordered),
        sd=tuple(reading.sd_Y for reading in ordered),
    )


def _fitted(plan: PeakPlan, found: PeakPass) -> Shoulder | None:
    light, sd = np.array(found.light), np.array(found.sd)
    signal, named = _sent(plan, found.percents), plan.format.mastering
    try:
        return fit_shoulder(signal, light, sd, found.black, named.peak if named is not None else 0.0)
    except ValueError:
        return None


def _sent(plan: PeakPlan, percents: Sequence[float]) -> Array:
    """Signals (n,) that the codes of these greys really stand for."""
    return np.array([grey_patch(percent, plan.format).signal[0] for percent in percents])


def _read(plan: PeakPlan, percent: float, white: float, window: float) -> Procedure[Reading]:
    patch = grey_patch(percent, replace(plan.format, window=window))
    if percent == 100.0:
        patch, policy = replace(patch, name=f"white, {window * 100:g} % window"), _white_policy(white)
    else:
        policy = target_policy(plan.target, float(plan.target.grey(percent, white)[1]), white)
    yield Show(patch)
    reading: Reading = yield Read(patch, policy, Purpose.SWEEP)
    return reading


def _white_policy(white: float) -> ReadPolicy:
    return ReadPolicy(_WHITE_SHARE * max(white, 1.0), max(white, 1.0))
