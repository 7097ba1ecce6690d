"""How a screen answers to a signal: power gamma, PQ or HLG; range right or wrong; which primaries.

Each explanation predicts the whole curve of grey from what is sent, with the few figures that nobody can
know (gamma, peak, the screen's own roll-off) left free; the one that misses least is the answer.
"""

from dataclasses import dataclass
from enum import StrEnum
from itertools import product

import numpy as np

from aequitone.advice.answers.encoding import CONTAINER_GAMUTS
from aequitone.colorimetry import uv_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import hlg_gamma, hlg_scene, pq_light, rolled_off
from aequitone.signal import Container, Range, Transfer

# Greys of the first look, in % of the signal. The first two anchor everything else; the third lies below
# black, where a screen that takes the range rightly has nothing more to take away.
LOOK_PERCENTS = (100.0, 0.0, -5.0, 5.0, 25.0, 50.0, 65.0, 80.0, 95.0)
# Muted red, green and blue: inside every gamut, so that the container shows and not the panel's edge.
MUTED = ((65.0, 50.0, 50.0), (50.0, 65.0, 50.0), (50.0, 50.0, 65.0))
BLACK_ROW, DARKEST_ROW = LOOK_PERCENTS.index(0.0), LOOK_PERCENTS.index(5.0)
_BRIGHTEST = LOOK_PERCENTS.index(95.0)
# Of white: what 5 % gives at most, above black, and 95 % lacks at most, where a scale ends early on both sides.
_FLAT_DARK, _FLAT_BRIGHT = 2e-4, 0.02
# The largest code as a signal in the limited range.
_ABOVE_WHITE = 239.0 / 219.0
_HIGH, _LOW = LOOK_PERCENTS.index(65.0), LOOK_PERCENTS.index(50.0)
CORNERS_PERCENT = 50.0
"""The grey, in %, that is read once more beside white corners: it must not care for them."""
# Light that follows the rest of the picture by less is glare, or nothing that spoils a setting.
_FOLLOWS, _FOLLOWS_SIGMAS = 0.02, 4.0

_GAMMAS = np.linspace(1.7, 2.9, 25)
_PEAKS = np.geomspace(40.0, 4000.0, 21)
_KNEES = (0.25, 0.4, 0.6, 0.8, 1.0)
_TOPS = (1000.0, 4000.0, 10_000.0)
# Misses are counted in cube roots of relative light, about as the eye counts them.
_FAR = 0.03
_TOE = 3e-4
_SIGMAS = 3.0
# Three muted colours cannot be told apart by less than this, in u'v' over all three.
_DOUBT_UV = 0.0008
_MUCH_BETTER = 2.0
# What speaks against an explanation beyond its curve, in the same unit.
_REFUTED = 0.02
# Most ranges are right.
_SELDOM = 0.001
# A source that changes the range by itself is rarer than an input that is set wrongly.
_RARE, _LESS_RARE = 0.01, 0.002
# Of white: hardly a screen in a dark room has so bright a black.
_GREY_BLACK = 1.0 / 700.0


class RangeAnswer(StrEnum):
    """How the screen takes the range of what it is sent."""

    RIGHT = "right"
    STRETCHED = "limited codes taken as full"
    CLIPPED = "full codes taken as limited"


@dataclass(frozen=True)
class Answer:
    """What the first readings look like."""

    transfer: Transfer
    range: RangeAnswer
    container: Container
    miss: float
    """Root mean square miss of the best explanation, in cube roots of relative light."""
    follows: float = 0.0
    """How much more light a grey gives beside white corners, as a share; 0 where it is the same."""
    moves: float = 0.0
    """How much more light a bright grey gives in a dark picture, as a share, white being the same; 0 for none."""

    @property
    def clear(self) -> bool:
        """Whether it explains the readings at all."""
        return self.miss < _FAR


def recognise(
    grey: Array, muted: Array, sent: Range, sd: Array | None = None, believed: Container | None = None
) -> Answer:
    """The answer that explains the first look.

    `grey`: XYZ in cd/m² at LOOK_PERCENTS, shape (9, 3). `muted`: XYZ at MUTED, shape (3, 3).
    `sent`: the range that the codes were sent in. `sd`: standard deviation of Y of the greys.
    `believed`: the primaries that were sent, which have the benefit of a doubt within the readings' noise.
    Raises ValueError where white gives no light.
    """
    light = grey[:, 1]
    if light[0] <= 0.0 or light[0] <= light[1]:
        raise ValueError("white is no brighter than black")
    seen = _counted((light - light[1]) / (light[0] - light[1]))[2:]
    signal = np.array(LOOK_PERCENTS) / 100.0
    if sent is Range.FULL:
        # Full codes have none below black.
        signal = np.maximum(signal, 0.0)
    # What an input takes wrongly; the other way round it takes a source that changes the range by itself.
    usual = RangeAnswer.STRETCHED if sent is Range.LIMITED else RangeAnswer.CLIPPED
    best: tuple[float, Transfer, RangeAnswer] | None = None
    both_end = _both_end(light)
    for transfer, range_, top in product(Transfer, RangeAnswer, (1.0, _ABOVE_WHITE)):
        if top > 1.0 and range_ is not RangeAnswer.CLIPPED:
            continue
        v = taken(signal, range_, top)
        curves = _curves(transfer, v)
        shares = (curves - curves[:, 1:2]) / (curves[:, :1] - curves[:, 1:2])
        roots = _counted(shares)[:, 2:]
        black_share = curves[:, 1] / curves[:, 0]
        # A black that the range itself lifts must be there in the light as well.
        lifted = np.clip(_counted(black_share) - _counted(light[1] / light[0]), 0.0, None)
        misses = np.sqrt((((roots - seen) ** 2).sum(axis=1) + lifted**2) / (len(seen) + 1))
        miss = float(misses.min())
        if range_ is RangeAnswer.CLIPPED and sd is not None and _rises(light, sd):
            miss += _REFUTED
        if range_ is not RangeAnswer.RIGHT:
            miss += _SELDOM
        if range_ not in (RangeAnswer.RIGHT, usual):
            # So grey a black tells of a range by itself, and so does a scale that ends early on both sides.
            grey_black = range_ is RangeAnswer.STRETCHED and light[1] > _GREY_BLACK * light[0]
            told = grey_black or (range_ is RangeAnswer.CLIPPED and both_end)
            miss += _LESS_RARE if told else _RARE
        if best is None or miss < best[0]:
            best = (miss, transfer, range_)
    assert best is not None
    return Answer(best[1], best[2], _container(grey, muted, best[1], best[2], believed), best[0])


def followed(alone: tuple[float, float], beside: tuple[float, float]) -> float:
    """How much more light a grey gives beside white than alone, as a share; 0 where that may be glare or noise.

    Both: luminance and its standard deviation, cd/m².
    """
    (light, sd), (other, other_sd) = alone, beside
    if light <= 0.0:
        return 0.0
    share = other / light - 1.0
    noise = np.hypot(sd, other_sd) / light
    return share if abs(share) > max(_FOLLOWS, _FOLLOWS_SIGMAS * noise) else 0.0


def mapped(bright: Array, dark: Array, sd: Array) -> tuple[float, int]:
    """How much more light bright greys give in a dark picture than in a bright one, beyond what white does.

    `bright`, `dark` (n,): luminance of white, then of the greys, cd/m²; `sd` (n,): of their ratio, as a share. 0
    where it may be noise, or a limit of power, which holds a grey back at most as much as it does white: nothing
    that maps tones goes by the picture. The grey that differs most decides; its row is returned too.
    """
    if bright.min() <= 0.0 or dark.min() <= 0.0:
        return 0.0, 0
    limit = bright[0] / dark[0] - 1.0
    shares = (1.0 + limit) * dark[1:] / bright[1:] - 1.0
    shares = shares - np.clip(shares, min(limit, 0.0), max(limit, 0.0))
    doubt = np.maximum(_FOLLOWS, _FOLLOWS_SIGMAS * np.hypot(sd[1:], sd[0]))
    seen = np.where(np.abs(shares) > doubt, shares, 0.0)
    row = int(np.abs(seen).argmax())
    return float(seen[row]), row + 1


def _rises(light: Array, sd: Array) -> bool:
    """Whether the darkest grey above black is brighter than black, which a clipped range does not let it be."""
    return bool(light[DARKEST_ROW] - light[1] > _SIGMAS * np.hypot(sd[DARKEST_ROW], sd[1]))


def _both_end(light: Array) -> bool:
    """Whether the darkest grey is as black as black, and the brightest as bright as white."""
    white, black = light[0], light[1]
    dark, bright = light[DARKEST_ROW], light[_BRIGHTEST]
    return bool(dark - black < _FLAT_DARK * white and bright > (1.0 - _FLAT_BRIGHT) * white)


def taken(signal: Array, range_: RangeAnswer, top: float = 1.0) -> Array:
    """The signal as a screen takes it: right, or in the wrong range (8-bit codes of ITU-R BT.709-6).

    `top`: where codes that are taken for limited ones end; many screens show what lies above white.
    """
    match range_:
        case RangeAnswer.STRETCHED:
            return np.asarray((16.0 + 219.0 * signal) / 255.0)
        case RangeAnswer.CLIPPED:
            return np.clip((255.0 * signal - 16.0) / 219.0, 0.0, top)
    return np.maximum(signal, 0.0)


def _counted(share: Array) -> Array:
    """Relative light as misses are counted: its cube root, straightened where the meter's noise begins."""
    return np.asarray(np.cbrt(np.maximum(share, -_TOE) + _TOE) - np.cbrt(_TOE))


def _curves(transfer: Transfer, v: Array) -> Array:
    """Light at signals `v` for every setting of what is unknown, shape (settings, n)."""
    if transfer is Transfer.GAMMA:
        return np.asarray(v ** _GAMMAS[:, None])
    if transfer is Transfer.HLG:
        scene = hlg_scene(v)
        return np.array([scene ** hlg_gamma(float(peak)) for peak in _PEAKS])
    light = pq_light(v)
    rows = [_rolled(light / peak, knee, top / peak) for peak, knee, top in product(_PEAKS, _KNEES, _TOPS)]
    rows += [
        rolled_off(np.minimum(v, 1.0), top, peak) / peak for peak, top in product(_PEAKS, _TOPS) if peak < top
    ]
    return np.array(rows)


def _rolled(light: Array, knee: float, top: float) -> Array:
    """Light in shares of a peak, bent above a knee so that `top` reaches the peak (a form of BT.2390's idea)."""
    if top <= 1.0 or knee >= 1.0:
        return np.asarray(np.minimum(light, 1.0))
    along = np.clip((light - knee) / (top - knee), 0.0, 1.0)
    slope = (top - knee) / (1.0 - knee)
    # A cubic that leaves the knee with slope 1 and arrives flat, or as flat as it can.
    bent = knee + (1.0 - knee) * (1.0 - (1.0 - along) ** min(slope, 3.0))
    return np.where(light <= knee, light, bent)


def _container(
    grey: Array, muted: Array, transfer: Transfer, range_: RangeAnswer, believed: Container | None
) -> Container:
    """The primaries of which the muted colours that were read are mixed.

    Under each, the two greys tell how much light every channel gives at both signals; a muted colour is
    one channel at the higher and two at the lower.
    """
    seen = uv_from_xyz(np.clip(muted - grey[1], 1e-9, None))
    rise = None
    if transfer is Transfer.HLG:
        # The system gamma of HLG works on the luminance of the whole colour and leaves its mixture alone.
        high, low = hlg_scene(taken(np.array([LOOK_PERCENTS[_HIGH], LOOK_PERCENTS[_LOW]]) / 100.0, range_))
        rise = float(high / low)
    misses = {}
    for container, gamut in CONTAINER_GAMUTS.items():
        low_rgb, high_rgb = gamut.rgb(grey[_LOW] - grey[1]), gamut.rgb(grey[_HIGH] - grey[1])
        if rise is not None:
            high_rgb = low_rgb * rise
        mixtures = np.tile(low_rgb, (3, 1)) + np.diag(high_rgb - low_rgb)
        wanted = uv_from_xyz(np.clip(gamut.xyz(mixtures), 1e-9, None))
        misses[container] = float(np.sqrt(((seen - wanted) ** 2).sum()))
    best = min(misses, key=lambda container: misses[container])
    # Others are named only where they explain it much better: a screen that bends its colours fits none.
    if believed is not None and misses[believed] <= max(misses[best] + _DOUBT_UV, _MUCH_BETTER * misses[best]):
        return believed
    return best
