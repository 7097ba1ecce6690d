"""What is said of a hand that seems to have slipped in a sweep."""

from aequitone.advice.levels import Position
from aequitone.advice.moves import ControlState
from aequitone.figures import light_words


def slip_words(control: ControlState, position: Position, stood: int) -> str:
    """A position does not fit the ones before."""
    light = light_words(float(position.xyz[-1, 1]))
    return (
        f"{control.name} at {control.value} gave {light}, which does not fit what was read before: it looks as if "
        f"it stood at {stood}. It is turned to {control.value} and read once more."
    )


def odd_words(control: ControlState, position: Position) -> str:
    """A position that the others contradict."""
    light = light_words(float(position.xyz[0, 1]))
    return (
        f"{control.name} at {position.setting} gave {light}, which the other readings contradict: it seems to "
        "have stood elsewhere, and is left out."
    )


def noted_wrong_words(name: str, noted: int, stands: int) -> str:
    """A control was asked for twice, and what it reads still does not fit what was read where it was found."""
    return (
        f"It seems that {name} was noted wrong: what was read at {stands}, twice, does not fit "
        f"{noted} as found. It goes on from {stands}."
    )


def unlike_words(name: str, setting: int) -> str:
    """A control is back where it was found, and reads otherwise."""
    return f"{name} at {setting} does not read as it did as found, so what was read then is left out."
