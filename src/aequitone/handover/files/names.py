"""Names of files that are put where a person wants: telling, and never a way out of a folder."""

import re
import unicodedata
from collections.abc import Iterable

_MOST = 100
# Control and format characters (those that turn the direction of writing among them), surrogates, and what has
# none of its own meaning on a disk.
_UNSEEN = ("Cc", "Cf", "Cs", "Co", "Cn", "Zl", "Zp")
_NOT_IN_A_NAME = re.compile(r'[\\/:*?"<>|%\s]+')
# Names that some systems keep for devices.
_DEVICES = re.compile(r"(con|prn|aux|nul|com\d|lpt\d)$", re.IGNORECASE)


def file_name(words: Iterable[str], suffix: str) -> str:
    """The name of a file after some words: "Fernhollow-Hall-Norvane-K55-2026-11-29.zip"."""
    cleaned = "-".join(filter(None, map(_cleaned, words)))[:_MOST].strip("-. ")
    if not cleaned or _DEVICES.match(cleaned):
        cleaned = f"visit-{cleaned}".strip("-")
    return f"{cleaned}{suffix}"


def _cleaned(words: str) -> str:
    seen = "".join(letter for letter in words if unicodedata.category(letter) not in _UNSEEN)
    return _NOT_IN_A_NAME.sub("-", seen).strip("-.")
