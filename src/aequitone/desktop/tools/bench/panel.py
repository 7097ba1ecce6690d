"""What the move panel says at the Bench: pure functions, no Qt."""

from aequitone.desktop.session.operator import AskPatch, AskReady, Question
from aequitone.desktop.states import Act, BigLine, DialState, KeyHint, PanelState, ReadingFigure
from aequitone.desktop.tools.bench.state import BenchState
from aequitone.procedures.steps import Reading
from aequitone.procedures.warm_up import Warmth

_BACK = KeyHint("Esc", "back to the station", Act.BENCH)
_STOP = KeyHint("Esc", "stop", Act.STOP_BENCH)
_DARKEN = KeyHint("D", "darken", Act.DARKEN)
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
        reading=ReadingFigure("White, as last read", reading.Y, None) if reading else None,
        dial=_dial(state),
        keys=(
            KeyHint("O", "read once", Act.READ_ONCE, main=True),
            KeyHint("L", "read live", Act.LIVE),
            KeyHint("U", "watch the warm-up", Act.WARM_UP),
            KeyHint("Y", "measure the delay", Act.DELAY),
            KeyHint("F", "find the refresh", Act.FIND_REFRESH),
            KeyHint("K", "correct the meter", Act.CORRECT),
            KeyHint("P", "check its mode", Act.CHECK_MODE),
            KeyHint("A", "add an instrument", Act.ADD_INSTRUMENT),
            *([KeyHint("X", "want this white", Act.MATCH_WHITE)] if reading and matches else []),
            _BACK,
        ),
        outlook="Everything chosen here is kept with the visit. Ctrl+B opens and leaves the Bench.",
    )


def busy(state: BenchState, title: str, reading: Reading | None, warmth: Warmth | None, note: str) -> PanelState:
    """Something is being read at the Bench."""
    words = warmth.words if warmth else note
    return PanelState(
        "Measuring",
        False,
        (BigLine(title),),
        words,
        reading=ReadingFigure("Read now", reading.Y, None) if reading else None,
        dial=_dial(state),
        keys=(_STOP, _DARKEN),
        outlook="White is on the screen. What is read here is for your eyes; it goes into no pass.",
    )


def asked(question: Question) -> PanelState | None:
    """A question that only hands can answer, at the Bench or in a pass; None for the other kinds."""
    if isinstance(question, AskReady):
        return PanelState(
            "Your move",
            True,
            tuple(BigLine(line) for line in question.lines),
            question.sentence,
            keys=(KeyHint("Space", "done, read it", Act.TURNED, main=True), _STOP),
        )
    if isinstance(question, AskPatch):
        patch = question.patch
        codes = " ".join(str(code) for code in patch.codes)
        return PanelState(
            "Your move",
            True,
            (BigLine("Show the patch"), BigLine(patch.name)),
            f"On the disc, stick or app: {patch.format.label}, codes {codes}. Press when it is on the screen.",
            keys=(
                KeyHint("Space", "it is shown", Act.TURNED, main=True),
                KeyHint("Esc", "stop; go on later", Act.LEAVE),
            ),
        )
    return None


def elsewhere(station: str, number: int) -> PanelState:
    """A pass is running while the Bench is looked at."""
    return PanelState(
        "A pass is running",
        False,
        (BigLine(station),),
        f"It has the instruments; nothing can be chosen until it ends. Ctrl+{number} goes back to it.",
        keys=(KeyHint("P", "pause or go on", Act.PAUSE), _BACK, _DARKEN),
    )


def _dial(state: BenchState) -> DialState | None:
    if not state.samples:
        return None
    return DialState(tuple((sample.warm, sample.green) for sample in state.samples[-_TRAIL:]))
