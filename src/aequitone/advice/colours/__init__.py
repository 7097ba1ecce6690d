"""Colour management: what its controls do to every colour, and how far to turn them."""

from aequitone.advice.colours.effect import ColourEffect
from aequitone.advice.colours.planner import ColourPlanner, Seen

__all__ = ["ColourEffect", "ColourPlanner", "Seen"]
