"""The page to keep: settings, what was switched off, how to put it back, when to come again."""

from collections.abc import Sequence
from typing import Any

from aequitone.handover import words
from aequitone.handover.coming_again import visit_comes_again
from aequitone.handover.report.part import Part
from aequitone.handover.report.sheet import Sheet
from aequitone.logbook.settings.ledger import DebtAnswer
from aequitone.passes import PEAK, copy_sheets

_ANSWERS = {
    DebtAnswer.ON_AGAIN: "on again",
    DebtAnswer.LEAVE_OFF: "left off",
    DebtAnswer.CLIENT: "as you like it",
    None: "not settled",
}


def keep_page(sheet: Sheet, parts: Sequence[Part]) -> list[Any]:
    """Everything that one needs to have the screen as it was left, or as it was."""
    visit = parts[0].snapshot.visit
    story = [sheet.heading("To keep", title=True)]
    for part in parts:
        snapshot = part.snapshot
        rows = words.settings_rows(snapshot)
        story.append(sheet.heading(f"Settings: {part.name}"))
        story.append(
            sheet.columns(("Control", "As found", "As left"), rows)
            if rows
            else sheet.words("No control was turned.")
        )
        if (peak := snapshot.result(PEAK)) is not None:
            entered = [("To enter in a tone mapping", ""), *peak.to_enter]
            story += [sheet.heading(f"Figures for HDR: {part.name}"), sheet.table(entered, (0.6, 0.4))]
    for part in parts:
        story += _copies(sheet, part)
    story += _switched_off(sheet, parts)
    again = visit_comes_again(visit)
    if any(words.settings_rows(part.snapshot) for part in parts):
        story += [
            sheet.heading("How to put it back"),
            sheet.words(
                "In the screen's menu, choose the memory, and enter what stands under “As found”. A reset of the "
                "screen by its own menu goes back to the maker's settings, not to these; enter them again then."
            ),
        ]
    story += [
        sheet.heading("When to come again"),
        sheet.words(f"About {again.day:%B %Y}: {again.why}. {again.sooner_words}"),
    ]
    return story


def _copies(sheet: Sheet, part: Part) -> list[Any]:
    """The memories of other inputs that were made like this one, and whether each is."""
    rows = [("Memory", "Device", "Entered", "Looked at")]
    for copied in copy_sheets(part.snapshot):
        entered = "everything" if not copied.left else f"{copied.done} of {copied.done + len(copied.left)}"
        looked = "no" if not copied.looked else "not the same" if copied.wrong else "the same"
        rows.append((copied.copy.name, copied.copy.device, entered, looked))
    if len(rows) == 1:
        return []
    return [
        sheet.heading(f"Other inputs, as {part.name}"),
        sheet.table(rows, (0.36, 0.28, 0.18, 0.18), names=(0, 1)),
    ]


def _switched_off(sheet: Sheet, parts: Sequence[Part]) -> list[Any]:
    """What was switched off for measuring, each once, and what became of it."""
    told: dict[int, tuple[str, str, str]] = {}
    for part in parts:
        for debt in part.snapshot.debts:
            told.setdefault(debt.id, (debt.name, debt.memory or part.name, _ANSWERS[debt.answer]))
    if not told:
        return []
    table = sheet.table(
        [("Switched off for measuring", "In", "Now"), *told.values()], (0.4, 0.35, 0.25), names=(0, 1)
    )
    return [sheet.heading("Switched off, and on again"), table]
