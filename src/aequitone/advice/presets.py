"""Which picture mode or preset to start from: the one that stays closest from dark to light.

Two-point controls take out a cast that is the same everywhere, at the price of some light; what wanders from
dark to light they do not. So wandering weighs in full, and an even cast by a part.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry import delta_e_2000
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.spaces import uv_from_xyz
from aequitone.reference import Target

LEVELS = (100.0, 80.0, 60.0, 40.0, 20.0)
PROBES = (60.0,)
"""What tells of a temperature preset that it is out of reach, in %."""
TONE_PROBES = (100.0, 40.0)
"""What tells it of a gamma preset."""
_EVEN_SHARE, _GAMUT_SHARE = 0.35, 0.25
# So many spreads above the best, or so much ΔE of light and so many times the best's, nothing more is read.
_SPREADS, _TONE_MORE, _TONE_TIMES = 4.0, 1.0, 2.0
# ΔE of light, and of primaries and secondaries without a fault, at which no other preset is tried.
_TONE_ENOUGH, _COLOURS_ENOUGH = 0.6, 2.0
# The same of presets of white, in thousandths of u'v': they stand eight or more apart, and wander alike.
_EVEN_ENOUGH, _WANDER_ENOUGH = 3.0, 1.5
# A gain of less, in thousandths of u'v', is no reason to leave the setting that was found.
_NO_REASON = 0.1
# Two that differ by no more than their noise and this share on any level are read as one and the same.
_ALIKE_SPREADS, _ALIKE, _ALIKE_COLOURS = 4.0, 0.005, 0.02
# u'v' distances are told in thousandths.
_SCALE = 1000.0
_DE_OF_LIGHT = 25.0


@dataclass(frozen=True)
class Track:
    """What was read in one mode or preset: greys from bright to dark, and red, green and blue where asked."""

    value: int
    name: str
    percents: Array
    xyz: Array
    """(levels, 3), cd/m²."""
    sd: Array
    primaries: Array | None = None
    """(3, 3): a row for each of red, green, blue."""
    colours: Array | None = None
    """(6, 3): the primaries and secondaries that a gamut preset is judged by (`advice.gamuts`)."""


@dataclass(frozen=True)
class Judged:
    """A track against its target; distances in thousandths of u'v'."""

    track: Track
    even: float
    """The cast that all levels share."""
    wander: float
    """How far the levels stray from it."""
    gamut: float | None
    score: float
    """Less is better."""
    sd: float
    tone: float | None = None
    """Average ΔE 2000 of light alone, where the tone is what is chosen by."""
    gamma: float = 0.0
    """The power that light follows from dark to light, where the tone is what is chosen by."""
    colour: float | None = None
    """Average ΔE 2000 of primaries and secondaries against the preset's own white, where that is chosen by."""
    fault: str = ""
    """What is wrong with its colours, in words."""

    @property
    def words(self) -> str:
        """What there is to say of it."""
        if self.tone is not None:
            return (
                f"{self.track.name}: tone like gamma {self.gamma:.2f}, light off by ΔE {self.tone:.1f} on average"
            )
        if self.colour is not None:
            fault = f", {self.fault}" if self.fault else ""
            return f"{self.track.name}: colours off by ΔE {self.colour:.1f} on average{fault}"
        if len(self.track.percents) == 1:
            return (
                f"{self.track.name}: cast {self.even / _SCALE:.4f} u'v' at {self.track.percents[0]:g} %, too much"
            )
        cast = f"cast {self.even / _SCALE:.4f} u'v' on average, uneven by {self.wander / _SCALE:.4f}"
        gamut = "" if self.gamut is None else f", primaries off by {self.gamut / _SCALE:.3f}"
        return f"{self.track.name}: {cast}{gamut}, {self.track.xyz[0, 1]:.0f} cd/m²"


def judged(track: Track, white: Array, primaries: Array | None = None) -> Judged:
    """Judge a track by the target's white, XYZ (3,), and its primaries, XYZ rows (3, 3)."""
    casts = (uv_from_xyz(track.xyz) - uv_from_xyz(white)) * _SCALE
    even, wander = _even_and_wander(casts)
    gamut = None
    if track.primaries is not None and primaries is not None:
        off = uv_from_xyz(track.primaries) - uv_from_xyz(primaries)
        gamut = float(np.linalg.norm(off, axis=-1).mean()) * _SCALE
    score = wander + _EVEN_SHARE * even + (_GAMUT_SHARE * gamut if gamut is not None else 0.0)
    return Judged(track, even, wander, gamut, score, _spread(track))


def judged_by_tone(track: Track, target: Target) -> Judged:
    """Judge a track by its light at each level alone: cast is not what a gamma preset is for."""
    light, white = track.xyz[:, 1], float(track.xyz[0, 1])
    aim = target.grey(track.percents, white)
    seen = aim * (light / aim[:, 1])[:, None]
    tone = float(delta_e_2000(seen, aim, target.white.xyz(white))[1:].mean())
    signal = np.log(track.percents[1:] / 100.0)
    gamma = float((signal @ np.log(np.maximum(light[1:], 1e-6) / white)) / (signal @ signal))
    even, wander = _even_and_wander((uv_from_xyz(track.xyz) - uv_from_xyz(target.white.xyz())) * _SCALE)
    # A percent of light is about a quarter of ΔE.
    spread = float((track.sd[1:, 1] / np.maximum(light[1:], 1e-6)).mean()) * _DE_OF_LIGHT
    return Judged(track, even, wander, None, tone, spread, tone, gamma)


def alike(one: Track, other: Track, *, light: bool = True) -> bool:
    """Whether two tracks differ on no level and in no colour that both have: one may never have been chosen.

    `light`: whether light counts too; it does not where the screen moves it by itself.
    """
    common = np.isin(one.percents, other.percents), np.isin(other.percents, one.percents)
    if not common[0].any():
        return False
    a, b = one.xyz[common[0]], other.xyz[common[1]]
    spread = np.hypot(one.sd[common[0]], other.sd[common[1]])
    if not light:
        a, b, spread = (each / np.maximum(per[:, 1:2], 1e-9) for each, per in ((a, a), (b, b), (spread, a)))
    if np.any(np.abs(a - b) > _ALIKE_SPREADS * spread + _ALIKE * np.maximum(a, b)):
        return False
    for mine, its in ((one.primaries, other.primaries), (one.colours, other.colours)):
        if mine is None or its is None:
            continue
        off = uv_from_xyz(mine) - uv_from_xyz(its)
        if np.any(np.hypot(off[:, 0], off[:, 1]) > _ALIKE_COLOURS / 4.0):
            return False
        if light and np.any(np.abs(mine[:, 1] / its[:, 1] - 1.0) > _ALIKE_COLOURS):
            return False
    return True


def is_out_of_reach(probe: Judged, best: Judged) -> bool:
    """Whether what was read of a preset at a level or two shows that it cannot be better than the best so far.

    An even cast is what it is at one level, and wandering only adds to the score.
    """
    if probe.tone is not None and best.tone is not None:
        return probe.tone > _TONE_TIMES * best.tone + _TONE_MORE
    return probe.score > best.score + _SPREADS * float(np.hypot(probe.sd, best.sd)) + _NO_REASON


def is_enough(told: Judged) -> bool:
    """Whether a preset is so near to its target that no other one of its kind can be nearer by more than is seen.

    Gamma presets stand a tenth or two apart, a ΔE of one or two; gamut presets differ in how wide they are. Modes
    differ in more than what is read of them.
    """
    if told.tone is not None:
        return told.tone <= _TONE_ENOUGH
    if told.colour is None:
        whole = len(told.track.percents) == len(LEVELS) and told.gamut is None
        return whole and told.even <= _EVEN_ENOUGH and told.wander <= _WANDER_ENOUGH
    return not told.fault and told.colour <= _COLOURS_ENOUGH


def ranked_by_tone(tracks: Sequence[Track], target: Target, found: int | None = None) -> tuple[Judged, ...]:
    """The tracks, the one whose light is nearest to the target's first; see `ranked` for `found`."""
    return in_order([judged_by_tone(track, target) for track in tracks], found)


def ranked(
    tracks: Sequence[Track], white: Array, primaries: Array | None = None, found: int | None = None
) -> tuple[Judged, ...]:
    """The tracks, best first; the one that was `found` on stays where leaving it would bring nothing."""
    return in_order([judged(t, white, primaries) for t in tracks], found)


def in_order(told: Sequence[Judged], found: int | None) -> tuple[Judged, ...]:
    """The best first; the one that was `found` on stays where leaving it would bring nothing."""
    order = sorted(told, key=lambda each: each.score)
    here = next((each for each in order if each.track.value == found), None)
    if here is not None and here.score - order[0].score < _NO_REASON:
        order.remove(here)
        order.insert(0, here)
    return tuple(order)


def why(order: Sequence[Judged]) -> str:
    """Why the first is the best, in a sentence or two."""
    best = order[0]
    if len(order) == 1:
        return f"{best.words}."
    second = order[1]
    noise = float(np.hypot(best.sd, second.sd))
    if abs(second.score - best.score) < max(2.0 * noise, _NO_REASON):
        return f"{best.track.name} and {second.track.name} cannot be told apart by these readings: {best.words}."
    if best.tone is not None:
        return f"{best.track.name} follows the target tone more closely than {second.track.name}. {best.words}."
    if best.colour is not None:
        nearer = f"{best.track.name} shows colours nearer to the target than {second.track.name}"
        return f"{nearer}. {best.words}; {second.words}."
    reasons = []
    if best.wander < second.wander - noise:
        reasons.append("stays more even from dark to light")
    if best.even < second.even - noise:
        reasons.append("is closer to the target white")
    if best.gamut is not None and second.gamut is not None and best.gamut < second.gamut - 1.0:
        reasons.append("has primaries closer to the target")
    told = " and ".join(reasons) or "is the better of the two overall"
    return f"{best.track.name} {told} than {second.track.name}. {best.words}; {second.words}."


def _even_and_wander(casts: Array) -> tuple[float, float]:
    mean = casts.mean(axis=0)
    return float(np.linalg.norm(mean)), float(np.sqrt(((casts - mean) ** 2).sum(axis=-1).mean()))


def _spread(track: Track) -> float:
    """Standard deviation of the score from the readings' noise, in thousandths of u'v'."""
    relative = track.sd / np.maximum(track.xyz, 1e-6)
    # A relative error of X, Y or Z moves u' or v' by about a third of it.
    each = np.sqrt((relative**2).sum(axis=-1)) / 3.0 * 0.47 * _SCALE
    return float(np.sqrt((each**2).mean() / len(each)) * (1.0 + _EVEN_SHARE))
