"""A patch from what a person types: a name, a level of grey, or the signals of red, green and blue."""

from aequitone.signal.patch import Patch, SignalFormat, colour_patch, grey_patch

NAMED_COLOURS: dict[str, tuple[float, float, float]] = {
    "white": (1.0, 1.0, 1.0),
    "black": (0.0, 0.0, 0.0),
    "red": (1.0, 0.0, 0.0),
    "green": (0.0, 1.0, 0.0),
    "blue": (0.0, 0.0, 1.0),
    "cyan": (0.0, 1.0, 1.0),
    "magenta": (1.0, 0.0, 1.0),
    "yellow": (1.0, 1.0, 0.0),
}
"""Colours that have a name: shares of red, green and blue."""
_FORMS = "a name such as red or red 75, a grey such as 50, or red, green and blue in % such as 75 20 20"


def patch_typed(words: str, format_: SignalFormat) -> Patch:
    """The patch that was typed. ValueError says what is wrong with it."""
    parts = words.replace("%", " ").replace(",", " ").replace(";", " ").lower().split()
    name = parts[0] if parts else ""
    if name in NAMED_COLOURS and len(parts) <= 2:
        percent = _figures(parts[1:], words)[0] if len(parts) == 2 else 100.0
        if len(set(NAMED_COLOURS[name])) == 1:
            return grey_patch(percent * NAMED_COLOURS[name][0], format_)
        shown = name if percent == 100.0 else f"{name} {percent:g} %"
        return colour_patch(shown, [share * percent for share in NAMED_COLOURS[name]], format_)
    figures = _figures(parts, words)
    if len(figures) == 1 or (len(figures) == 3 and len(set(figures)) == 1):
        return grey_patch(figures[0], format_)
    if len(figures) != 3:
        raise ValueError(f"“{words.strip()}” is no patch: type {_FORMS}")
    return colour_patch("R {:g}, G {:g}, B {:g} %".format(*figures), figures, format_)


def _figures(parts: list[str], words: str) -> list[float]:
    try:
        figures = [float(part) for part in parts]
    except ValueError:
        raise ValueError(f"“{words.strip()}” is no patch: type {_FORMS}") from None
    beyond = [figure for figure in figures if not 0.0 <= figure <= 100.0]
    if beyond:
        raise ValueError(f"a signal lies between 0 and 100 %, and {beyond[0]:g} does not")
    return figures
