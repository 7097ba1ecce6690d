"""Names and sentences as a page shows them."""

from collections.abc import Sequence


def listed(names: Sequence[str], most: int) -> str:
    """Names in words, of which at most so many are told and the others counted: "R gain, G gain and 4 more"."""
    told = ", ".join(names[:most])
    return f"{told} and {len(names) - most} more" if len(names) > most else told


def and_listed(names: Sequence[str]) -> str:
    """Names in words, the last after an "and": "light, gamma and colours"; "" for none."""
    return f"{', '.join(names[:-1])} and {names[-1]}" if len(names) > 1 else "".join(names)


def sentence(words: str) -> str:
    """Words without a full stop, as those of an error, as a sentence: "Type a figure."; "" for none."""
    return f"{words[:1].upper()}{words[1:]}." if words else ""
