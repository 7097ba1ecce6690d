"""Levels by eye: one question at a time, and the moves that the answers lead to; no Qt."""

from functools import partial
from typing import TYPE_CHECKING

from aequitone.advice.by_eye import NOT_BY_EYE, EyeSearch, questions_for
from aequitone.advice.moves import Move
from aequitone.advice.roles import Role
from aequitone.desktop import commands
from aequitone.desktop.commands import CHOICES, KeyHint, hint
from aequitone.desktop.frame.key_hints import DARKEN, PATTERNS
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.station import Commands
from aequitone.desktop.stations.levels.commands import BLINK, EYE_TURNED, LEAVE_EYE
from aequitone.passes import Snapshot, load_snapshot
from aequitone.signal.pictures import PICTURES, Picture

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session

_REASON = "by eye"


class ByEye:
    """Asks; what is turned goes into the ledger at once."""

    def __init__(self, session: "Session") -> None:
        self._session = session
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
        """Whether questions are being asked."""
        return bool(self._searches)

    @property
    def picture(self) -> str:
        """The key of the picture that the question is about: still, unless a moving one was asked for."""
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

    def enter(self) -> None:
        """Begin with the first question."""
        snapshot = self._session.visit
        controls = {
            control.role: control.state(snapshot.settings[control.role])
            for control in snapshot.controls
            if control.role in snapshot.settings
        }
        self._searches, self._at, self._move = list(questions_for(controls)), 0, None
        self._message = ""
        self._session.changed.emit()

    def leave(self) -> None:
        """Back to the station; what was turned stays noted."""
        self._searches, self._move = [], None
        self._session.changed.emit()

    def commands(self) -> Commands:
        """What keys do while questions are asked."""
        return {
            LEAVE_EYE: self.leave,
            BLINK: self._change_picture,
            commands.SHOW: lambda: self._session.picture_wanted.emit(self.picture),
            commands.SKIP: lambda: None if self._turning else self._next(""),
            EYE_TURNED: self._confirm_turned,
            **{choice: partial(self._answer, index) for index, choice in enumerate(CHOICES)},
        }

    def _change_picture(self) -> None:
        self._blink = not self._blink
        self._session.picture_wanted.emit(self.picture)

    def _confirm_turned(self) -> None:
        if self._move is not None and not self._turning:
            self._turned(self._move)

    def _answer(self, index: int) -> None:
        search = self._searches[self._at]
        if self._move is not None or index >= len(search.question.answers):
            return
        self._before = search
        search, move = search.answered(search.question.answers[index])
        self._searches[self._at], self._move, self._message = search, move, search.words
        if move is None and search.done:
            self._next(search.words)
        elif move is not None and self._session.bench.by_link:
            self._turned(move)
        self._session.changed.emit()

    def _turned(self, move: Move) -> None:
        (change,) = move.changes
        session, snapshot = self._session, self._session.visit
        control = next(control for control in snapshot.controls if control.role == change.role)
        visit, bench = snapshot.visit, snapshot.visit.bench

        def work() -> Snapshot:
            session.instruments.turn(bench, {change.role.key: change.to_value})
            session.logbook.ledger.note(visit.id, {control.id: change.to_value}, _REASON)
            return load_snapshot(session.logbook, visit.id)

        def done(fresh: Snapshot) -> None:
            self._move, self._turning = None, False
            search = self._searches[self._at] if self.open else None
            if search is not None and search.done:
                self._next(search.words)
            session.take(fresh)

        def failed() -> None:
            self._turning = False
            # The person may have left meanwhile.
            if self.open and self._before is not None:
                self._searches[self._at], self._move = self._before, None

        self._turning = True
        session.write(work, done, failed=failed, kept="What was noted before is kept.")

    def _next(self, words: str) -> None:
        self._move, self._message = None, words
        self._at += 1
        if self._at >= len(self._searches):
            self.leave()
            self._session.say(f"{words} Every question was asked. {NOT_BY_EYE}".strip())
        self._session.changed.emit()

    def panel(self, extra: tuple[KeyHint, ...]) -> PanelState:
        """The question, or the move that an answer led to; `extra`: keys of the windows beside this one."""
        search = self._searches[self._at]
        leave = hint(LEAVE_EYE, "back to Levels")
        blinking = self._blinking
        other = (hint(BLINK, "still picture" if self._blink else "moving picture"),) if blinking else ()
        extra = tuple(each for each in extra if each != PATTERNS)
        tail = (
            hint(commands.SKIP, "skip this question"),
            hint(commands.SHOW, "test picture"),
            *other,
            leave,
            *extra,
            DARKEN,
        )
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
                f"It is at {change.from_value} now. Turn it, then look at the same picture again.",
                keys=(hint(EYE_TURNED, "turned, look again", main=True), *tail),
                outlook=where,
            )
        question = search.question
        keys = tuple(
            hint(choice, answer.words, main=i == 0, wide=True)
            for i, (answer, choice) in enumerate(zip(question.answers, CHOICES, strict=False))
        )
        warning = blinking.warning if blinking is not None and self._blink else ""
        stands = f"{search.control.name} is at {search.control.value}. " if search.control else ""
        return PanelState(
            "By eye",
            True,
            (BigLine(search.control.name if search.control else "Geometry"),),
            " ".join(part for part in (self._message, warning, question.before, question.ask) if part),
            keys=(*keys, *tail),
            outlook=f"{stands}{where}",
        )
