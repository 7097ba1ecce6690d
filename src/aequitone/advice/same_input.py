"""Whether another input shows what the finished job shows: a few greys and colours against those of its proof."""

import numpy as np

from aequitone.advice.answers.answer import RangeAnswer, taken
from aequitone.advice.last_look import Moved, moved, uv_spread
from aequitone.colorimetry import uv_from_xyz
from aequitone.colorimetry.arrays import Array

# Root mean square miss, in cube roots of relative light, from which a wrong range is thought of at all; and how
# much better it must explain the greys.
_MISSED, _BETTER = 0.012, 2.5
# A power law between two levels that were read.
_LAW = 2.2
# What a colour wanders by between two looks, in u'v'; its light, as a share; and spreads that are none by chance.
_COLOUR, _COLOUR_LIGHT, _SIGMAS = 0.0025, 0.06, 4.0
# Colours that all went out, or in, from white by so much are stronger or weaker, and not of another hue.
_STRONGER = 0.04
_RANGES = {
    RangeAnswer.STRETCHED: Moved(
        "Black is grey and white is dull: limited codes arrive where full ones are expected.",
        "the range that this input is set to, and the range that the player sends: both limited for video",
    ),
    RangeAnswer.CLIPPED: Moved(
        "Dark steps are black and bright ones are one white: full codes arrive where limited ones are expected.",
        "the range that the player sends, and the range that this input is set to: both limited for video",
    ),
}
_PLAYER = "; or the picture settings of the player"


def input_differences(
    percents: Array,
    then: Array,
    now: Array,
    sd: Array,
    colours: tuple[Array, Array, Array],
    ladder: tuple[Array, Array],
) -> tuple[Moved, ...]:
    """What differs on an input from the finished job; empty where it is the same.

    `percents` (n,), from 100 % down; `then` and `now` (n, 3): XYZ in cd/m²; `sd` (n, 3): of their difference.
    `colours`: the same three arrays of colours, (m, 3) each. `ladder`: levels in %, rising, and their Y in cd/m²,
    as proven: from them it is told what a wrong range would give.
    """
    wrong = _range(percents, now, ladder)
    if wrong is not None:
        return (_RANGES[wrong],)
    told = moved(percents, then, now, sd)
    if any("gone" in each.what for each in told):
        # With another white every colour is another, and says nothing of its own.
        return _of_player(told)
    bent = any(each.what.startswith("Against white") for each in told)
    return (*_of_player(told), *_colours(*colours, white=then[0], bent=bent))


def _of_player(told: tuple[Moved, ...]) -> tuple[Moved, ...]:
    """Tone and light may also be the player's doing; it has no gains."""
    return tuple(Moved(each.what, f"{each.likely}{_PLAYER}") for each in told)


def _range(percents: Array, now: Array, ladder: tuple[Array, Array]) -> RangeAnswer | None:
    """The wrong range that explains the greys much better than the right one; None where none does."""
    levels, light = ladder
    white = light[-1]
    roots = np.cbrt(np.maximum(light, 0.0) / white) ** (3.0 / _LAW)
    seen = np.cbrt(np.maximum(now[:, 1], 0.0) / white)

    def miss(range_: RangeAnswer) -> float:
        signal = np.minimum(taken(percents / 100.0, range_), 1.0)
        wanted = np.interp(signal, levels / 100.0, roots) ** (_LAW / 3.0)
        return float(np.sqrt(((seen - wanted) ** 2).mean()))

    right = miss(RangeAnswer.RIGHT)
    wrong = min(_RANGES, key=miss)
    return wrong if right > _MISSED and miss(wrong) * _BETTER < right else None


def _colours(then: Array, now: Array, sd: Array, *, white: Array, bent: bool) -> tuple[Moved, ...]:
    """What colours have become; `bent`: with another tone, whose light is no fault of theirs."""
    if not len(then):
        return ()
    middle, was, is_ = (uv_from_xyz(each) for each in (white, then, now))
    doubt = uv_spread(then, sd)
    off = np.hypot(*(is_ - was).T)
    seen = off > np.maximum(_COLOUR, _SIGMAS * doubt)
    light = now[:, 1] / np.maximum(then[:, 1], 1e-9) - 1.0
    lit = np.abs(light) > np.maximum(_COLOUR_LIGHT, _SIGMAS * sd[:, 1] / np.maximum(then[:, 1], 1e-9))
    if bent or not (seen.any() or lit.any()):
        return ()
    out = np.hypot(*(is_ - middle).T) / np.maximum(np.hypot(*(was - middle).T), 1e-9) - 1.0
    likely = f"colour management, the gamut preset or colour in this memory{_PLAYER}"
    if (np.abs(out) > _STRONGER).all() and (np.sign(out) == np.sign(out[0])).all():
        word = "stronger" if out[0] > 0 else "weaker"
        return (Moved(f"Colours are {word} by {abs(float(out.mean())) * 100:.0f} %.", likely),)
    if seen.any():
        return (Moved(f"A colour has moved by {float(off.max()):.4f} in u'v'.", likely),)
    at = int(np.abs(light).argmax())
    return (Moved(f"A colour gives {float(light[at]) * 100:+.0f} % light.", likely),)
