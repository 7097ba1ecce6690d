"""The first look: whether the screen answers to what is sent as the target says, before time is spent."""

from dataclasses import replace

import numpy as np

from aequitone.advice.answer import LOOK_PERCENTS, MUTED, Answer, RangeAnswer, recognise
from aequitone.errors import AequitoneError
from aequitone.procedures.policy import ReadPolicy, policy_for
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, Read, Reading, Show
from aequitone.reference import Target
from aequitone.signal import Range, SignalFormat, Transfer, colour_patch, grey_patch

FIRST_LOOK_READINGS = len(LOOK_PERCENTS) + len(MUTED)
# Enough to tell one kind of curve from another; a look takes seconds.
_ROUGH_DE = 0.2
# The greys and colours whose chromaticities are compared must be exact.
_FINE_DE = 0.04
_COMPARED = {percent for rgb in MUTED for percent in rgb}
# What a range lifts or swallows is a few thousandths of white.
_DARK_DE, _DARK_PERCENT = 0.03, 5.0
_A_GAMMA = 2.2
_MUTED_NAMES = ("muted red", "muted green", "muted blue")
_TRANSFER_WORDS = {Transfer.GAMMA: "a power gamma (SDR)", Transfer.PQ: "PQ", Transfer.HLG: "HLG"}


class WrongSignalError(AequitoneError):
    """The screen does not answer as the target says; the message says how, and the likely cause."""


def first_look(format_: SignalFormat, target: Target, total: int = FIRST_LOOK_READINGS) -> Procedure[Answer]:
    """Read a few greys and muted colours; returns the Answer. Raises WrongSignalError on a mismatch.

    `total`: readings of the whole of which this is the beginning, for the progress.
    """
    answer = yield from look_at_signal(format_, total)
    words = mismatch_words(answer, format_)
    if words:
        yield Note(words)
        raise WrongSignalError(words)
    if answer.container is not format_.container:
        yield Note(_primaries_words(answer, format_, target))
    return answer


def look_at_signal(format_: SignalFormat, total: int = FIRST_LOOK_READINGS) -> Procedure[Answer]:
    """Read the greys and muted colours, and say what they look like."""
    patches = [grey_patch(percent, format_) for percent in LOOK_PERCENTS]
    patches = [replace(patch, name="below black") if patch.percent < 0 else patch for patch in patches]
    patches += [colour_patch(name, rgb, format_) for name, rgb in zip(_MUTED_NAMES, MUTED, strict=True)]
    seen: list[Reading] = []
    for patch in patches:
        white = seen[0].Y if seen and seen[0].Y > 0 else None
        policy = ReadPolicy(0.5)
        if white is not None:
            share = max(patch.percent, 0.0) / 100.0
            policy = policy_for(share**_A_GAMMA * white, white, _wanted_de(patch.percent))
        yield Show(patch)
        seen.append((yield Read(patch, policy, Purpose.FIRST_LOOK)))
        yield Progress(len(seen), total)
    xyz = np.array([reading.xyz for reading in seen])
    greys = len(LOOK_PERCENTS)
    try:
        sd = np.array([reading.sd_Y for reading in seen[:greys]])
        return recognise(xyz[:greys], xyz[greys:], format_.range, sd, format_.container)
    except ValueError as error:
        raise WrongSignalError(
            f"The first look found that {error}. Is the pattern on the screen, the meter on the pattern, and "
            "its cap off? Nothing was measured."
        ) from error


def _wanted_de(percent: float) -> float:
    if percent <= _DARK_PERCENT:
        return _DARK_DE
    return _FINE_DE if percent in _COMPARED else _ROUGH_DE


def mismatch_words(answer: Answer, format_: SignalFormat) -> str:
    """What is wrong and the likely cause, or nothing where tone and range are right."""
    sent = _TRANSFER_WORDS[format_.transfer]
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


def _primaries_words(answer: Answer, format_: SignalFormat, target: Target) -> str:
    really, meant = answer.container.label, format_.container.label
    return (
        f"Colours are mixed as in {really}, but {meant} is sent for {target.label}. Likely: the gamut preset is "
        "set wide or to the panel's own. Grey can be set all the same; choose the right gamut before colour."
    )
