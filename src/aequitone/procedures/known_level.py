"""Greys that were read just before, as everything still stands: they are taken where one reading shows it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.procedures.steps import Reading

# What is read once more agrees with what is known within so many spreads of both, or this share.
_SIGMAS, _SHARE = 4.0, 0.005


@dataclass(frozen=True)
class KnownLevel:
    """A level, in %, its XYZ in cd/m² and their standard deviations, (3,) each."""

    percent: float
    xyz: Array
    sd: Array

    @classmethod
    def of(cls, reading: Reading) -> "KnownLevel":
        """What a reading says of its level."""
        return cls(reading.patch.percent, reading.xyz, reading.sd)

    def is_as(self, reading: Reading) -> bool:
        """Whether a reading of the same level agrees with it in light and colour."""
        apart = np.abs(reading.xyz - self.xyz)
        return bool((apart <= np.maximum(_SIGMAS * np.hypot(self.sd, reading.sd), _SHARE * self.xyz)).all())


def known_at(levels: Sequence[KnownLevel], percent: float) -> KnownLevel | None:
    """What is known at a level, in %; None where nothing is."""
    return next((level for level in levels if level.percent == percent), None)
