"""Figures as a page shows them."""

# A unit stays on the line of its figure.
_TIED = (
    (" %", "\N{NO-BREAK SPACE}%"),
    (" : 1", "\N{NO-BREAK SPACE}:\N{NO-BREAK SPACE}1"),
    (" cd/m²", "\N{NO-BREAK SPACE}cd/m²"),
)


def tied(words: str) -> str:
    """Words in which no line breaks between a figure and its unit."""
    for loose, fast in _TIED:
        words = words.replace(loose, fast)
    return words


def signed(figure: float) -> str:
    """A difference to a tenth, with its sign: "+1.2", "-0.4"; "0.0" where none is left; "" for nan."""
    told = f"{figure:+.1f}"
    return "" if figure != figure else told[1:] if told in ("+0.0", "-0.0") else told


def grouped(figure: float) -> str:
    """A figure without decimals, its thousands apart: "12 400", which no line breaks."""
    return f"{figure:,.0f}".replace(",", "\N{NO-BREAK SPACE}")


def ratio_words(ratio: float) -> str:
    """A contrast: "1 083 : 1", which no line breaks."""
    return f"{grouped(ratio)}\N{NO-BREAK SPACE}:\N{NO-BREAK SPACE}1"


def light_words(cd_m2: float) -> str:
    """Light with its unit: "1 240 cd/m²", "62.5 cd/m²"."""
    return f"{grouped(cd_m2)} cd/m²" if cd_m2 >= 100.0 else f"{cd_m2:.1f} cd/m²"
