"""The grey ladder as figures and as text; no Qt."""

from aequitone.desktop.widgets.ladder_state import LadderRow, LadderState, short_light
from aequitone.figures import signed

_DELTA = "ΔE"
HEADS = ("Level %", "X", "Y cd/m²", "Z", "Light %", "Cast", "u'v' off", _DELTA, "±", "Found ΔE", "Left out")
MEANT = "Meant cd/m²"


def heads(state: LadderState) -> tuple[str, ...]:
    """The heads of the table, with the formula by its name; one more where the signal means cd/m²."""
    named = tuple(state.formula.value if head == _DELTA else head for head in HEADS)
    return (*named, MEANT) if any(row.meant is not None for row in state.rows) else named


def cells_of(row: LadderRow) -> tuple[str, ...]:
    """A row's figures as text, "" where there is none."""
    X, Y, Z = (f"{value:.4g}" for value in row.xyz) if row.xyz else ("", "", "")
    size = f"{(row.cast[0] ** 2 + row.cast[1] ** 2) ** 0.5:.4f}" if row.cast else ""
    return (
        f"{row.percent:g}",
        X,
        Y,
        Z,
        "" if row.light is None else signed(row.light),
        row.word,
        size,
        "" if row.delta is None else f"{row.delta:.2f}",
        "" if row.delta is None else f"{row.sd:.2f}",
        "" if row.ghost is None else f"{row.ghost:.2f}",
        str(row.left_out) if row.left_out else "",
        *_meant(row),
    )


def _meant(row: LadderRow) -> tuple[str, ...]:
    if row.meant is None:
        return ()
    return (f"{short_light(row.meant)} (beyond)" if row.beyond else short_light(row.meant),)


def row_words(state: LadderState, row: LadderRow) -> str:
    """A row in words, a figure a line, and what its mark says."""
    figures = [f"{head}: {cell}" for head, cell in zip(heads(state), cells_of(row), strict=True) if cell]
    mark = [] if row.verdict is None else [f"To the eye: {row.verdict.value}"]
    return "\n".join([*figures, *mark])


def ladder_text(state: LadderState) -> str:
    """The table as tab-separated text, for a spreadsheet or a message."""
    rows = [heads(state), *(cells_of(row) for row in state.rows)]
    return "\n".join("\t".join(row) for row in rows) + "\n"
