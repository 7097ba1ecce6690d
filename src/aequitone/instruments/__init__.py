"""Ports to the devices of a bench, and drivers for them."""

from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.ports import (
    Bench,
    Clock,
    Measurement,
    Meter,
    MeterNoise,
    PatternSource,
    ScreenLink,
)

__all__ = [
    "Bench",
    "Clock",
    "InstrumentError",
    "Measurement",
    "Meter",
    "MeterNoise",
    "PatternSource",
    "ScreenLink",
]
