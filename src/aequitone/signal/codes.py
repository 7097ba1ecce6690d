"""Code values for RGB signals, by ITU-R BT.709-6 item 4.6 and BT.2100-2 table 9."""

from enum import StrEnum

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike, Codes

DEPTHS = (8, 10, 12)


class Range(StrEnum):
    """How black and white lie in the codes."""

    LIMITED = "limited"
    FULL = "full"


def _bounds(depth: int, range_: Range) -> tuple[int, int]:
    if depth not in DEPTHS:
        raise ValueError(f"depth must be one of {DEPTHS} bit, got {depth}")
    if range_ is Range.FULL:
        return 0, 2**depth - 1
    return 16 << (depth - 8), 235 << (depth - 8)


def code_value(signal: ArrayLike, depth: int, range_: Range) -> Codes:
    """Integer codes, shape of `signal`; 0 is black and 1 is white.

    Signals outside 0..1 use the room that limited range has, up to the codes that carry no
    timing (1 to 254 in 8 bit), and are clipped there; full range clips at its ends.
    """
    low, high = _bounds(depth, range_)
    codes = np.floor(low + (high - low) * np.asarray(signal, dtype=np.float64) + 0.5).astype(np.int64)
    guard = 0 if range_ is Range.FULL else 1 << (depth - 8)
    return np.asarray(np.clip(codes, guard, 2**depth - 1 - guard))


def signal_of(code: ArrayLike, depth: int, range_: Range) -> Array:
    """The signal (0 black, 1 white) that codes stand for, shape of `code`."""
    low, high = _bounds(depth, range_)
    return (np.asarray(code, dtype=np.float64) - low) / (high - low)
