"""The parts that ship with the program, and the licences that they come under."""

import re
from dataclasses import dataclass
from importlib.metadata import PackageNotFoundError, distribution

from aequitone import __version__

_NAME = re.compile(r"[A-Za-z0-9][A-Za-z0-9._-]*")
_CLASSIFIER = "License :: "
_FONTS = (
    ("B612", "SIL Open Font License 1.1"),
    ("DejaVu Sans", "Bitstream Vera licence; changes in the public domain"),
)
# A classifier that names no licence.
_NO_NAME = "OSI Approved"


@dataclass(frozen=True)
class Part:
    """Something that the program is made of."""

    name: str
    version: str
    licence: str

    @property
    def line(self) -> str:
        """As one line."""
        return f"{self.name} {self.version}".strip() + f": {self.licence}"


def parts() -> tuple[Part, ...]:
    """The program itself, what it needs and what that needs, as installed, and its fonts."""
    found: dict[str, Part] = {}
    _gather("aequitone", found)
    found.pop("aequitone")
    libraries = sorted(found.values(), key=lambda part: part.name.lower())
    fonts = (Part(name, "", licence) for name, licence in _FONTS)
    return (Part("Aequitone", __version__, "all rights reserved"), *libraries, *fonts)


def _gather(name: str, found: dict[str, Part]) -> None:
    key = re.sub(r"[-_.]+", "-", name).lower()
    if key in found:
        return
    try:
        installed = distribution(name)
    except PackageNotFoundError:
        # Needed on other systems alone.
        return
    told = installed.metadata
    found[key] = Part(told["Name"], installed.version, _licence(told))
    for needed in installed.requires or ():
        wanted, _, marker = needed.partition(";")
        match = _NAME.match(wanted.strip())
        if match and "extra ==" not in marker:
            _gather(match[0], found)


def _licence(told: object) -> str:
    """What a package's metadata say: the expression, else its classifiers, else the first line of its text."""
    get, get_all = told.get, told.get_all  # type: ignore[attr-defined]
    if get("License-Expression"):
        return str(get("License-Expression"))
    classified = [each for each in get_all("Classifier") or () if each.startswith(_CLASSIFIER)]
    names = [each.rpartition(" :: ")[2] for each in classified]
    if names and names != [_NO_NAME]:
        return ", ".join(names)
    words = str(get("License") or "").strip().splitlines()
    return words[0] if words else "see its own files"
