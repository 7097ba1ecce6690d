"""Names as a person types them, before they are kept: one line, without control characters, of bounded length."""

import unicodedata

LONGEST_NAME = 120


def checked_name(words: str, what: str = "a name") -> str:
    """The name as it is kept. Raises ValueError with a sentence where it is too long."""
    seen = "".join(" " if unicodedata.category(letter) in ("Cc", "Zl", "Zp", "Cs") else letter for letter in words)
    name = " ".join(seen.split())
    if len(name) > LONGEST_NAME:
        raise ValueError(f"{what} has {len(name):,} letters; {LONGEST_NAME} are the most")
    return name
