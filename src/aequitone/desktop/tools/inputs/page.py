"""The sheet of a memory as it is drawn, and as text: pure functions, no Qt."""

from collections.abc import Sequence

from aequitone.advice.copying import to_do
from aequitone.desktop.tools.inputs.state import InputsPage, SheetRow
from aequitone.passes import CopySheet

HEADS = ("Control", "Setting", "How it gets there", "Done")


def inputs_page(sheets: Sequence[CopySheet], number: int, row: int) -> InputsPage:
    """The sheet that is looked at, beside the list of all."""
    if not sheets:
        return InputsPage()
    sheet = sheets[number]
    needed = set(to_do(sheet.lines))
    rows = tuple(
        SheetRow(
            line.name,
            line.setting,
            line.carried.value,
            (line.role.key in sheet.copy.ticked) if line in needed else None,
        )
        for line in sheet.lines
    )
    others = tuple((each.copy.name, standing_words(each), each is sheet) for each in sheets)
    device = f", {sheet.copy.device}" if sheet.copy.device else ""
    return InputsPage(f"{sheet.copy.name}{device}", sheet.looked, rows, min(row, max(0, len(rows) - 1)), others)


def standing_words(sheet: CopySheet) -> str:
    """How far a memory is, in a few words."""
    entered = f"{len(sheet.left)} to enter" if sheet.left else "all entered"
    if not sheet.looked:
        return f"{entered}, not looked at"
    return f"{entered}, {'not the same' if sheet.wrong else 'the same'}"


def inputs_text(page: InputsPage) -> str:
    """The sheet as tab-separated text."""
    done = {True: "yes", False: "no", None: ""}
    rows = [HEADS, *((row.name, row.setting, row.how, done[row.done]) for row in page.rows)]
    table = "\n".join("\t".join(row) for row in rows)
    return "\n".join(part for part in (page.title, page.looked, table) if part) + "\n"
