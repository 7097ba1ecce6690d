"""What the move panel and the page say at Hand over: pure functions, no Qt."""

from aequitone.advice.preparing import usual_answer
from aequitone.desktop.states import Act, BigLine, KeyHint, PanelState
from aequitone.handover import words
from aequitone.logbook.ledger import DebtRecord
from aequitone.passes import AS_FOUND, PROOF, PUT_BACK, Snapshot

_LEDGER = KeyHint("Ctrl+K", "controls, put back", Act.LEDGER)


def hand_over(facts: Snapshot, message: str, *, made: bool, busy: bool) -> PanelState:
    """At Hand over."""
    if facts.visit.closed is not None:
        keys = (
            KeyHint("Ctrl+N", "another visit", Act.NEW_VISIT, main=True),
            KeyHint("O", "open the report", Act.OPEN_REPORT),
        )
        return PanelState(
            "Your move",
            True,
            (BigLine("Visit closed"),),
            message,
            keys=keys if made else (*keys[:1], KeyHint("Enter", "make the report", Act.MAKE_REPORT)),
        )
    if facts.passes and facts.passes[-1].kind == PUT_BACK.key:
        message = f"{message} {facts.passes[-1].outcome}".strip()
    if facts.result(AS_FOUND) is None:
        return PanelState(
            "Hand over",
            False,
            (BigLine("Nothing to report"),),
            f"{message} Grey as found has not been read yet; Ctrl+3 goes there.".strip(),
            keys=(_LEDGER,),
        )
    owed = [debt for debt in facts.debts if debt.answer is None]
    undo = (KeyHint("Z", "undo the last answer", Act.DEBT_UNDO),) if len(owed) < len(facts.debts) else ()
    if owed:
        return _owed(owed[0], len(owed), message, undo)
    if busy:
        return PanelState("Writing", False, (BigLine("Making the report"),), message)
    close = KeyHint("Ctrl+Enter", "close the visit", Act.CLOSE_VISIT, main=made)
    again = KeyHint("Enter", "make it again" if made else "make the report", Act.MAKE_REPORT, main=not made)
    open_ = (KeyHint("O", "open the report", Act.OPEN_REPORT),) if made else ()
    unproven = "" if facts.result(PROOF) else "There is no proof: the report will claim nothing of the result."
    return PanelState(
        "Your move",
        True,
        (BigLine("Report made"),) if made else (BigLine("Make the report"),),
        f"{message} {unproven}".strip(),
        keys=(again, *open_, close, *undo, _LEDGER) if not made else (close, *open_, again, *undo, _LEDGER),
        outlook="A page for the client, a page of readings, and the readings as CSV.",
    )


def _owed(debt: DebtRecord, left: int, message: str, undo: tuple[KeyHint, ...]) -> PanelState:
    return PanelState(
        "Your move",
        True,
        (BigLine(debt.name), BigLine("was switched off")),
        f"{message} {usual_answer(debt.role)} The visit cannot be closed before this is answered.".strip(),
        keys=(
            KeyHint("1", "on again", Act.DEBT_ON_AGAIN, main=True),
            KeyHint("2", "leave off", Act.DEBT_LEAVE_OFF),
            KeyHint("3", "client's choice", Act.DEBT_CLIENT),
            *undo,
            _LEDGER,
        ),
        outlook=f"{left} to answer." if left > 1 else "The last one.",
    )


def paragraphs(facts: Snapshot | None) -> tuple[tuple[str, str], ...]:
    """Hand over in words: heading and text; settings as tab-separated lines."""
    before = facts.result(AS_FOUND) if facts is not None else None
    if facts is None or before is None:
        return (("Nothing to hand over yet", "Grey as found has not been read to its end."),)
    told = [("What was found", words.found_words(before)), ("What was done", words.done_words(facts))]
    after = facts.result(PROOF)
    if after is not None:
        compared = words.compared_words(before, after)
        told.append(("How it is now", f"{words.found_words(after)} {compared}"))
    if facts.debts:
        answers = [(debt.name, debt.answer.value if debt.answer else "not answered") for debt in facts.debts]
        owed = "\n".join(f"{name}\t{answer}" for name, answer in answers)
        told.append(("Switched off for measuring", owed))
    told.append(("How it was measured", words.measured_words(facts)))
    told.append(
        (
            "Settings, as found → as left",
            "\n".join(
                f"{name}\t{found}\t{'as found' if found == left else f'→ {left}'}"
                for name, found, left in words.settings_rows(facts)
            ),
        )
    )
    return tuple(told)
