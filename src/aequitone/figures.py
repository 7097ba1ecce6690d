"""Figures as a page shows them."""


def grouped(figure: float) -> str:
    """A figure without decimals, its thousands apart: "12 400"."""
    return f"{figure:,.0f}".replace(",", " ")
