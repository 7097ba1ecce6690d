"""Levels by eye in the window: one question at a time, and the moves that the answers lead to."""

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from aequitone.advice.by_eye import NOT_BY_EYE, EyeSearch, questions_for
from aequitone.advice.moves import Move
from aequitone.advice.roles import Role
from aequitone.desktop.session.instruments import BenchKeeper
from aequitone.desktop.session.worker import Desk
from aequitone.desktop.states import ANSWERS, Act, BigLine, KeyHint, PanelState
from aequitone.logbook import Logbook
from aequitone.passes import Snapshot, load_snapshot
from aequitone.signal.pictures import PICTURES, Picture

ACTS = (*ANSWERS, Act.EYE_TURNED, Act.EYE_SKIP, Act.LEAVE_EYE, Act.BLINK)
_REASON = "by eye"


class EyeRoom(QObject):
    """Asks; what is turned goes into the ledger at once."""

    changed = Signal()
    said = Signal(str)
    written = Signal(object)
    """The Snapshot after something was turned."""
    picture_wanted = Signal(str)
    """The key of a test picture to show."""

    def __init__(self, logbook: Logbook, desk: Desk, benches: BenchKeeper) -> None:
        super().__init__()
        self._logbook, self._desk, self._benches = logbook, desk, benches
        self._searches: list[EyeSearch] = []
        self._at = 0
        self._move: Move | None = None
        self._before: EyeSearch | None = None
        self._turning = False
        """The move is being made, by link, or noted."""
        self._message = ""
        self._blink = False

    @property
    def open(self) -> bool:
        return bool(self._searches)

    @property
    def picture(self) -> str:
        """The key of the picture that the question is about: still, unless a blinking one was asked for."""
        blinking = self._blinking
        return blinking.key if blinking is not None and self._blink else self._still

    @property
    def _still(self) -> str:
        return self._searches[self._at].question.picture if self.open else ""

    @property
    def _blinking(self) -> Picture | None:
        """The picture that shows the same as the still one, and blinks or moves."""
        return next((picture for picture in PICTURES if picture.still == self._still and self._still), None)

    @property
    def role(self) -> Role | None:
        """The control that the question is about."""
        return self._searches[self._at].question.role if self.open else None

    def enter(self, facts: Snapshot) -> None:
        """Begin with the first question."""
        controls = {
            control.role: control.state(facts.settings[control.role])
            for control in facts.controls
            if control.role in facts.settings
        }
        self._searches, self._at, self._move = list(questions_for(controls)), 0, None
        self._message = ""
        self.changed.emit()

    def leave(self) -> None:
        """Back to the station; what was turned stays noted."""
        self._searches, self._move = [], None
        self.changed.emit()

    def act(self, act: Act, facts: Snapshot) -> None:
        """Carry out a key."""
        if act is Act.LEAVE_EYE:
            self.leave()
        elif act is Act.BLINK:
            self._blink = not self._blink
            self.picture_wanted.emit(self.picture)
        elif act is Act.EYE_SKIP and not self._turning:
            self._next("")
        elif act is Act.EYE_TURNED and self._move is not None and not self._turning:
            self._turned(facts, self._move)
        elif act in ANSWERS and self._move is None:
            self._answer(facts, ANSWERS.index(act))

    def _answer(self, facts: Snapshot, index: int) -> None:
        search = self._searches[self._at]
        if index >= len(search.question.answers):
            return
        self._before = search
        search, move = search.answered(search.question.answers[index])
        self._searches[self._at], self._move, self._message = search, move, search.words
        if move is None and search.done:
            self._next(search.words)
        elif move is not None and facts.visit.bench.link != "by hand":
            self._turned(facts, move)
        self.changed.emit()

    def _turned(self, facts: Snapshot, move: Move) -> None:
        (change,) = move.changes
        control = next(control for control in facts.controls if control.role is change.role)
        visit, bench = facts.visit, facts.visit.bench

        def work() -> Snapshot:
            self._benches.turn(bench, {change.role: change.to_value})
            self._logbook.ledger.note(visit.id, {control.id: change.to_value}, _REASON)
            return load_snapshot(self._logbook, visit.id)

        def done(fresh: Snapshot) -> None:
            self._move, self._turning = None, False
            search = self._searches[self._at] if self.open else None
            if search is not None and search.done:
                self._next(search.words)
            self.written.emit(fresh)

        def failed(error: Exception) -> None:
            self._turning = False
            # The person may have left meanwhile.
            if self.open and self._before is not None:
                self._searches[self._at], self._move = self._before, None
            self.said.emit(f"{str(error).rstrip('.')}. What was noted before is kept.")

        self._turning = True
        self._desk.do(work, done, failed)

    def _next(self, words: str) -> None:
        self._move, self._message = None, words
        self._at += 1
        if self._at >= len(self._searches):
            self.leave()
            self.said.emit(f"{words} Every question was asked. {NOT_BY_EYE}".strip())
        self.changed.emit()

    def panel(self, extra: Callable[[], tuple[KeyHint, ...]]) -> PanelState:
        """The question, or the move that an answer led to."""
        search = self._searches[self._at]
        skip = KeyHint("N", "skip this question", Act.EYE_SKIP)
        leave = KeyHint("Esc", "back to Levels", Act.LEAVE_EYE)
        show = KeyHint("W", "test picture", Act.PICTURE)
        blinking = self._blinking
        other = KeyHint("V", "still picture" if self._blink else "moving picture", Act.BLINK)
        tail = (skip, show, *((other,) if blinking else ()), leave, *extra(), KeyHint("D", "darken", Act.DARKEN))
        where = f"Question {self._at + 1} of {len(self._searches)}."
        if self._move is not None:
            (change,) = self._move.changes
            lines = (BigLine(change.name, f"to {change.to_value}"),)
            if self._turning:
                return PanelState("Turning", False, lines, keys=(leave,), outlook=where)
            return PanelState(
                "Your move",
                True,
                lines,
                f"It stands at {change.from_value}. Turn it, then look at the same picture again.",
                keys=(KeyHint("Space", "turned, look again", Act.EYE_TURNED, main=True), *tail),
                outlook=where,
            )
        question = search.question
        keys = tuple(
            KeyHint(str(i + 1), answer.words, act, main=i == 0, wide=True)
            for i, (answer, act) in enumerate(zip(question.answers, ANSWERS, strict=False))
        )
        warning = blinking.warning if blinking is not None and self._blink else ""
        stands = f"{search.control.name} stands at {search.control.value}. " if search.control else ""
        return PanelState(
            "By eye",
            True,
            (BigLine(search.control.name if search.control else "Geometry"),),
            " ".join(part for part in (self._message, warning, question.before, question.ask) if part),
            keys=(*keys, *tail),
            outlook=f"{stands}{where}",
        )
