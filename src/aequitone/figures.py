"""Figures as a page shows them."""


def grouped(figure: float) -> str:
    """A figure without decimals, its thousands apart: "12 400", which no line breaks."""
    return f"{figure:,.0f}".replace(",", "\N{NO-BREAK SPACE}")


def ratio_words(ratio: float) -> str:
    """A contrast: "1 083 : 1", which no line breaks."""
    return f"{grouped(ratio)}\N{NO-BREAK SPACE}:\N{NO-BREAK SPACE}1"


def light_words(cd_m2: float) -> str:
    """Light with its unit: "1 240 cd/m²", "62.5 cd/m²"."""
    return f"{grouped(cd_m2)} cd/m²" if cd_m2 >= 100.0 else f"{cd_m2:.1f} cd/m²"
