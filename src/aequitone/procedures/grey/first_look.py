"""The first look: whether the screen answers to what is sent as the target says, before time is spent."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.answers.answer import (
    CORNERS_PERCENT,
    LOOK_PERCENTS,
    MUTED,
    Answer,
    RangeAnswer,
    followed,
    mapped,
    recognise,
)
from aequitone.advice.answers.dark_end import DarkEnd, dark_end
from aequitone.colorimetry.arrays import Array
from aequitone.errors import AequitoneError
from aequitone.procedures.policy import ReadPolicy, policy_for
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, Read, Reading, Show
from aequitone.reference import Target
from aequitone.signal import Patch, Range, SignalFormat, Transfer, colour_patch, corners_patch, grey_patch

FIRST_LOOK_READINGS = len(LOOK_PERCENTS) + len(MUTED) + 1
# Under PQ also white and three bright greys at most, in a dark picture and in a bright one: a small window, and
# white corners.
_MAPPED_READINGS, _SMALL = 8, 0.02
# Of white's light: the brightest grey below each is one that a roll-off moves, wherever its knee is.
_NOT_YET_ALL = (0.97, 0.75)
# A larger window would leave no room for the corners.
_ROOM_FOR_CORNERS = 0.18
# Enough to tell one kind of curve from another; a look takes seconds.
_ROUGH_DE = 0.2
# The greys and colours whose chromaticities are compared must be exact.
_FINE_DE = 0.04
_COMPARED = {percent for rgb in MUTED for percent in rgb}
# What a range lifts or swallows is a few thousandths of white.
_DARK_DE, _DARK_PERCENT = 0.03, 5.0
_A_GAMMA = 2.2
# A share of white's light that a panel which dims under a still picture does not lose within a look.
_CHANGES, _SIGMAS = 0.03, 4.0
_MUTED_NAMES = ("muted red", "muted green", "muted blue")
_TRANSFER_WORDS = {Transfer.GAMMA: "a power gamma (SDR)", Transfer.PQ: "PQ", Transfer.HLG: "HLG"}


@dataclass(frozen=True)
class FirstLook:
    """What the first readings look like, and the first of them: 100 %, before anything was waited for."""

    answer: Answer
    white: Reading
    dark_end: DarkEnd | None = None
    """What stays in doubt where the range seems right."""


class WrongSignalError(AequitoneError):
    """The screen does not answer as the target says; the message says how, and the likely cause."""


def look_readings(format_: SignalFormat) -> int:
    """Count the readings that a first look at such a signal takes."""
    return FIRST_LOOK_READINGS + (_MAPPED_READINGS if _may_map(format_) else 0)


def _may_map(format_: SignalFormat) -> bool:
    """Whether tones may be mapped by the picture, and a small window tells."""
    return format_.transfer is Transfer.PQ and format_.window > 2.0 * _SMALL


def first_look(format_: SignalFormat, target: Target, total: int = 0) -> Procedure[FirstLook]:
    """Read a few greys and muted colours; returns a FirstLook. Raises WrongSignalError on a mismatch.

    `total`: readings of the whole of which this is the beginning, for the progress; 0 for none beside it.
    """
    look = yield from look_at_signal(format_, total)
    answer = look.answer
    words = mismatch_words(answer, format_)
    if words:
        words = (yield from _unsteady(look.white)) or words
        yield Note(words)
        raise WrongSignalError(words)
    if look.dark_end is not None and not answer.follows:
        yield Note(_dark_end_words(look.dark_end))
    if answer.follows:
        yield Note(_follows_words(answer.follows))
    if answer.moves:
        yield Note(moves_words(answer.moves))
    if answer.container is not format_.container:
        yield Note(_primaries_words(answer, format_, target))
    return look


def look_at_signal(format_: SignalFormat, total: int = 0) -> Procedure[FirstLook]:
    """Read the greys and muted colours, and say what they look like."""
    total = total or look_readings(format_)
    patches = [grey_patch(percent, format_) for percent in LOOK_PERCENTS]
    patches = [replace(patch, name="below black") if patch.percent < 0 else patch for patch in patches]
    patches += [colour_patch(name, rgb, format_) for name, rgb in zip(_MUTED_NAMES, MUTED, strict=True)]
    patches.append(corners_patch(CORNERS_PERCENT, replace(format_, window=min(format_.window, _ROOM_FOR_CORNERS))))
    seen: list[Reading] = []
    for patch in patches:
        seen.append((yield from _read(patch, seen[0].Y if seen else 0.0)))
        yield Progress(len(seen), total)
    xyz = np.array([reading.xyz for reading in seen])
    greys, beside, alone = len(LOOK_PERCENTS), seen[-1], seen[LOOK_PERCENTS.index(CORNERS_PERCENT)]
    try:
        sd = np.array([reading.sd_Y for reading in seen[:greys]])
        answer = recognise(xyz[:greys], xyz[greys:-1], format_.range, sd, format_.container)
    except ValueError as error:
        raise WrongSignalError(
            f"The first look found that {error}. Is the pattern on the screen, the meter on the pattern, and "
            "its cap off? Nothing was measured."
        ) from error
    follows = followed((alone.Y, alone.sd_Y), (beside.Y, beside.sd_Y))
    if follows < 0.0:
        # A panel that dims under a still picture has less light by now whatever stands beside.
        alone = yield from _read(alone.patch, seen[0].Y)
        follows = min(followed((alone.Y, alone.sd_Y), (beside.Y, beside.sd_Y)), 0.0)
    moves = 0.0
    if _may_map(format_):
        moves = yield from look_at_mapping(format_, bent_greys([(g.patch.percent, g.Y) for g in seen[:greys]]))
        yield Progress(look_readings(format_), total)
    doubt = dark_end(xyz[:greys, 1], sd) if format_.transfer is Transfer.GAMMA else None
    return FirstLook(replace(answer, follows=follows, moves=moves), seen[0], doubt)


def bent_greys(greys: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
    """White, and of the greys, in % and cd/m², those that a roll-off moves most; white must be among them."""
    white = max(greys)
    high, low = (
        max((each for each in greys if each[1] < share * white[1]), default=white) for share in _NOT_YET_ALL
    )
    # Greys of a first look lie far apart: what is moved most may lie between.
    if high != low:
        return white, high, _between(low, high, 0.5), low
    above = min((each for each in greys if each > high), default=white)
    return tuple(dict.fromkeys((white, _between(low, above, 0.6), _between(low, above, 0.3), low)))


def _between(low: tuple[float, float], high: tuple[float, float], share: float) -> tuple[float, float]:
    """A grey at a share of the way between two, in whole % and about its cd/m²."""
    return float(round(low[0] + share * (high[0] - low[0]))), low[1] + share * (high[1] - low[1])


def look_at_mapping(format_: SignalFormat, greys: Sequence[tuple[float, float]]) -> Procedure[float]:
    """Read white and greys, in % and cd/m², in a bright and in a dark picture.

    Returns how much more light a grey gives in the dark one, as a share; 0 where all are the same. White tells
    what the picture does to all light alike, as a limit of power does.
    """
    white = greys[0][1]
    bright, dark, sd = yield from _in_both(format_, greys, white)
    moves, row = mapped(bright, dark, sd)
    if not moves:
        return 0.0
    # A panel that loses light meanwhile looks like it: once more, the other way round.
    pair = [0, row]
    later = yield from _in_both(format_, [greys[each] for each in pair], white, dark_first=True)
    both = np.hypot(sd[pair], later[2]) / 2.0
    return mapped(np.sqrt(bright[pair] * later[0]), np.sqrt(dark[pair] * later[1]), both)[0]


def _in_both(
    format_: SignalFormat, greys: Sequence[tuple[float, float]], white: float, *, dark_first: bool = False
) -> Procedure[tuple[Array, Array, Array]]:
    """Read greys in a bright picture and in a dark one: the light in each, and the spread of its ratio, (n,)."""
    seen: list[tuple[Reading, Reading]] = []
    for each, _ in greys:
        small = grey_patch(each, replace(format_, window=_SMALL))
        dark = replace(small, name=f"{small.name}, {_SMALL * 100:g} % window")
        bright = corners_patch(each, replace(format_, window=min(format_.window, _ROOM_FOR_CORNERS)))
        first = yield from _read(dark if dark_first else bright, white)
        second = yield from _read(bright if dark_first else dark, white)
        seen.append((second, first) if dark_first else (first, second))
    light = np.array([[reading.Y for reading in pair] for pair in seen])
    spread = np.array([[reading.sd_Y for reading in pair] for pair in seen]) / np.maximum(light, 1e-9)
    return light[:, 0], light[:, 1], np.hypot(spread[:, 0], spread[:, 1])


def _unsteady(white: Reading) -> Procedure[str]:
    """Read white once more before something is called wrong: what is to be said where the light itself changed."""
    again = yield from _read(white.patch, white.Y)
    share = again.Y / white.Y - 1.0
    if abs(share) <= max(_CHANGES, _SIGMAS * float(np.hypot(white.sd_Y, again.sd_Y)) / white.Y):
        return ""
    return (
        f"White changed by {share * 100:+.0f} % within a minute, with nothing turned: the light changes by itself "
        "(a room sensor, dynamic contrast, a lamp that warms up), and nothing can be told from it. Switch off "
        "what is automatic, wait until the light is steady, and begin again."
    )


def _read(patch: Patch, white: float) -> Procedure[Reading]:
    """Show and read a patch as exactly as the look needs it; `white`: luminance of 100 %, 0 where not known."""
    policy = ReadPolicy(0.5)
    if white > 0.0:
        share = max(patch.percent, 0.0) / 100.0
        policy = policy_for(share**_A_GAMMA * white, white, _wanted_de(patch.percent))
    yield Show(patch)
    reading: Reading = yield Read(patch, policy, Purpose.FIRST_LOOK)
    return reading


def _wanted_de(percent: float) -> float:
    if percent <= _DARK_PERCENT:
        return _DARK_DE
    return _FINE_DE if percent in _COMPARED else _ROUGH_DE


def mismatch_words(answer: Answer, format_: SignalFormat) -> str:
    """What is wrong and the likely cause, or nothing where tone and range are right."""
    sent = _TRANSFER_WORDS[format_.transfer]
    right = answer.clear and answer.transfer is format_.transfer and answer.range is RangeAnswer.RIGHT
    if answer.follows and not right:
        # It bends the curve from which anything else would be told.
        return f"{_follows_words(answer.follows)} Range and curve can be told only then. Begin again."
    if not answer.clear:
        return (
            "The first readings fit no curve that a screen has: not a power gamma, not PQ, not HLG. Likely: "
            "something automatic is on (dynamic contrast, a sensor, tone mapping), or the meter does not see "
            "the patch alone. Switch it off, look at the picture, and begin again."
        )
    if answer.transfer is not format_.transfer:
        likely = (
            "the source sends no HDR flag, or the input does not accept it"
            if format_.transfer is not Transfer.GAMMA
            else "the screen or the source is still in HDR"
        )
        return (
            f"The screen answers as {_TRANSFER_WORDS[answer.transfer]}, but what is sent is meant as {sent}. "
            f"Likely: {likely}. Put both in the same mode, then begin again."
        )
    return "" if answer.range is RangeAnswer.RIGHT else _range_words(answer.range, format_.range)


def _follows_words(share: float) -> str:
    more = "more" if share > 0.0 else "less"
    return (
        f"The same grey gives {abs(share) * 100:.0f} % {more} light beside white corners: something follows the "
        "picture (dynamic contrast, an iris, local dimming) or the room (a sensor), and while it is on no two "
        "readings belong together. Switch it off."
    )


def moves_words(share: float) -> str:
    """What there is to say of tone mapping that moves with the picture."""
    more = "more" if share > 0.0 else "less"
    return (
        f"A bright grey gives {abs(share) * 100:.0f} % {more} light in a dark picture, and white the same: tones "
        "are mapped by the picture, and no curve can be measured meanwhile. Switch dynamic tone mapping off, or "
        "set it to a hard cut."
    )


def _range_words(seen: RangeAnswer, sent: Range) -> str:
    """What is wrong with the range, what may be the cause, and how the causes are told apart."""
    grey = seen is RangeAnswer.STRETCHED
    told = "Black is grey and white is dull" if grey else "Dark steps are black and bright ones are one white"
    by_itself = f"the source {'squeezes' if grey else 'stretches'} what it sends"
    if (sent is Range.LIMITED) is not grey:
        # The screen cannot do that to what is sent, whatever its input is set to.
        return (
            f"{told}, though {sent.value} range is sent. Likely: {by_itself}. Look for its range setting, then "
            "begin again."
        )
    wrong, right = ("full", "limited") if grey else ("limited", "full")
    return (
        f"{told}: {right} codes are taken as {wrong} ones. Likely: the input's range (or “HDMI black level”) is "
        f"set to {wrong}, or {by_itself}. Set the input to {right}: if that puts it right it was the screen; if "
        "nothing changes, look at the source's own range setting. Then begin again."
    )


def _dark_end_words(doubt: DarkEnd) -> str:
    grey = doubt is DarkEnd.GREY
    told = "Black is grey for a dark room" if grey else "Dark steps are black: 5 % gives no more light than 0 %"
    causes = "light falls on the screen, black level is set too high" if grey else "black level is set too low"
    return (
        f"{told}. Likely: {causes}, or the source {'squeezes' if grey else 'stretches'} what it sends. Change the "
        "source's range setting: if black changes with it, that was it; otherwise Levels sets black."
    )


def _primaries_words(answer: Answer, format_: SignalFormat, target: Target) -> str:
    really, meant = answer.container.label, format_.container.label
    return (
        f"Colours are mixed as in {really}, but {meant} is sent for {target.label}. Likely: the gamut preset is "
        "set wide or to the panel's own. Grey can be set all the same; choose the right gamut before colour."
    )
