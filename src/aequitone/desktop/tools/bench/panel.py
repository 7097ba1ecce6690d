"""What the move panel says at the Bench: pure functions, no Qt."""

from aequitone.desktop import commands
from aequitone.desktop.commands import hint
from aequitone.desktop.frame.key_hints import DARKEN
from aequitone.desktop.frame.panel_state import BigLine, DialState, PanelState, ReadingFigure
from aequitone.desktop.tools.bench.commands import (
    ADD_INSTRUMENT,
    CHECK_MODE,
    CHOOSE_PATCH,
    CORRECT,
    FIND_REFRESH,
    MATCH_WHITE,
    MEASURE_DELAY,
    WATCH_WARM_UP,
)
from aequitone.desktop.tools.bench.state import BenchState
from aequitone.procedures.preparation.warm_up import Warmth
from aequitone.procedures.steps import Reading

_BACK = hint(commands.CLOSE_TOOL, "back to the station")
# Enough of the trail to see where a cast is going.
_TRAIL = 6


def idle(state: BenchState, message: str, reading: Reading | None, *, matches: bool) -> PanelState:
    """Nothing is being read; `matches`: there is a visit whose white may be the one that was read."""
    if message:
        sentence = message
    elif state.ailments:
        sentence = " ".join(state.ailments[0])
    else:
        sentence = "Choose the instruments, read once to test them, and let the screen warm up."
    return PanelState(
        "Bench",
        False,
        (BigLine("Instruments"),),
        sentence,
        reading=ReadingFigure(f"{reading.patch.name}, last reading", reading.Y, None) if reading else None,
        dial=_dial(state),
        keys=(
            hint(commands.READ, "read once", main=True),
            hint(commands.WATCH, "read continuously"),
            hint(CHOOSE_PATCH, "choose the patch"),
            hint(commands.TABLE, "the chart" if state.as_table else "single readings"),
            hint(WATCH_WARM_UP, "watch the warm-up"),
            hint(MEASURE_DELAY, "measure the delay"),
            hint(FIND_REFRESH, "find the refresh rate"),
            hint(CORRECT, "correct the meter"),
            hint(CHECK_MODE, "check its mode"),
            *(
                (hint(MATCH_WHITE, "make this the target"),)
                if matches and reading and reading.patch.is_grey
                else ()
            ),
            hint(ADD_INSTRUMENT, "add an instrument"),
            _BACK,
        ),
        outlook="Everything chosen here is kept with the visit.",
    )


def busy(state: BenchState, title: str, reading: Reading | None, warmth: Warmth | None, note: str) -> PanelState:
    """Something is being read at the Bench."""
    words = warmth.words if warmth else note
    return PanelState(
        "Measuring",
        False,
        (BigLine(title),),
        words,
        reading=ReadingFigure("Reading now", reading.Y, None) if reading else None,
        dial=_dial(state),
        keys=(hint(commands.STOP, "stop"), DARKEN),
        outlook="What is read here is for you to see; it goes into no pass.",
    )


def elsewhere(station: str, key: str) -> PanelState:
    """A pass is running while the Bench is looked at; `key`: the one that goes to its station."""
    return PanelState(
        "A pass is running",
        False,
        (BigLine(station),),
        f"It is using the instruments; nothing can be chosen until it ends. {key} goes back to it.",
        keys=(hint(commands.PAUSE, "pause or continue"), _BACK, DARKEN),
    )


def _dial(state: BenchState) -> DialState | None:
    if not state.samples:
        return None
    return DialState(tuple((sample.warm, sample.green) for sample in state.samples[-_TRAIL:]))
