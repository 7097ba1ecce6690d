"""The grey ladder as figures and as text; no Qt."""

from aequitone.desktop.widgets.ladder_state import LadderRow, LadderState

HEADS = ("Level %", "X", "Y cd/m²", "Z", "Light %", "Cast", "u'v' off", "ΔE 2000", "±", "Found ΔE", "Left out")


def cells_of(row: LadderRow) -> tuple[str, ...]:
    """A row's figures as text, "" where there is none."""
    X, Y, Z = (f"{value:.4g}" for value in row.xyz) if row.xyz else ("", "", "")
    size = f"{(row.cast[0] ** 2 + row.cast[1] ** 2) ** 0.5:.4f}" if row.cast else ""
    return (
        f"{row.percent:g}",
        X,
        Y,
        Z,
        "" if row.light is None else f"{row.light:+.1f}",
        row.word,
        size,
        "" if row.delta is None else f"{row.delta:.2f}",
        "" if row.delta is None else f"{row.sd:.2f}",
        "" if row.ghost is None else f"{row.ghost:.2f}",
        str(row.left_out) if row.left_out else "",
    )


def ladder_text(state: LadderState) -> str:
    """The table as tab-separated text, for a spreadsheet or a message."""
    rows = [HEADS, *(cells_of(row) for row in state.rows)]
    return "\n".join("\t".join(row) for row in rows) + "\n"
