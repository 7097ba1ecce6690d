"""Levels by meter: where to put light output, contrast, black level, colour and tint, from a few readings."""

from aequitone.advice.levels.black import BlackSweep
from aequitone.advice.levels.clipping import ClippingSweep
from aequitone.advice.levels.crossing import ColourSweep, TintSweep
from aequitone.advice.levels.light import LightSweep
from aequitone.advice.levels.slips import (
    contradicted,
    seems_noted_wrong,
    setting_of_light,
    slipped,
    unlike_as_found,
)
from aequitone.advice.levels.sweep import Ask, Curve, Finding, Look, Position, Sweep

__all__ = [
    "Ask",
    "BlackSweep",
    "ClippingSweep",
    "ColourSweep",
    "Curve",
    "Finding",
    "LightSweep",
    "Look",
    "Position",
    "Sweep",
    "TintSweep",
    "contradicted",
    "seems_noted_wrong",
    "setting_of_light",
    "slipped",
    "unlike_as_found",
]
