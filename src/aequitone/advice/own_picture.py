"""A client's own picture beside the reference: brighter or darker, warmer or cooler, by so much and on purpose."""

import re
from dataclasses import dataclass

from aequitone.colorimetry.whites import daylight
from aequitone.reference import Target, with_white

_WISH = re.compile(
    r"\s*(?:(?P<light>[+-]?\d{1,3})\s*%)?\s*,?\s*(?:(?P<kelvin>[+-]?\d{1,5})\s*K)?\s*", re.IGNORECASE
)
_DAYLIGHT = 6504.0
_COOLEST, _WARMEST = 12_000.0, 4_000.0
_DARKEST, _BRIGHTEST = -70, 200


@dataclass(frozen=True)
class OwnWish:
    """How far from the reference: light in %, and white in kelvin, more being cooler."""

    light: int = 0
    kelvin: int = 0

    @property
    def words(self) -> str:
        """It in words: "30 % brighter, 1000 K cooler"."""
        told = []
        if self.light:
            told.append(f"{abs(self.light)} % {'brighter' if self.light > 0 else 'darker'}")
        if self.kelvin:
            told.append(f"{abs(self.kelvin)} K {'cooler' if self.kelvin > 0 else 'warmer'}")
        return ", ".join(told)


def own_wish(words: str) -> OwnWish:
    """What was typed, such as "+30 %, +1000 K". Raises ValueError with a sentence."""
    match = _WISH.fullmatch(words)
    if match is None or not (match["light"] or match["kelvin"]):
        raise ValueError("Type how far from the reference, as +30 %, +1000 K: brighter and cooler")
    wish = OwnWish(int(match["light"] or 0), int(match["kelvin"] or 0))
    if not _DARKEST <= wish.light <= _BRIGHTEST:
        raise ValueError(f"Light may be {_DARKEST} to +{_BRIGHTEST} % of the reference's, not {wish.light:+d} %")
    if not _WARMEST <= _DAYLIGHT + wish.kelvin <= _COOLEST:
        raise ValueError(
            f"White may lie from {_WARMEST:g} to {_COOLEST:g} K, not at {_DAYLIGHT + wish.kelvin:g} K"
        )
    return wish


def own_target(reference: Target, wish: OwnWish) -> Target:
    """The reference with the white that is wished for; light is the job's own."""
    if not wish.kelvin:
        return reference
    return with_white(reference, daylight(_DAYLIGHT + wish.kelvin))
