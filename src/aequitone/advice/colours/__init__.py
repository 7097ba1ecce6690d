"""Colour management: what its controls do to every colour, how far to turn them, and what was really turned."""

from aequitone.advice.colours.belief import Belief, Observation
from aequitone.advice.colours.boosted_white import boosted_words, missing_light
from aequitone.advice.colours.effect import ColourEffect
from aequitone.advice.colours.explanation import explain
from aequitone.advice.colours.oddity import Oddity
from aequitone.advice.colours.planner import ColourPlanner, Seen
from aequitone.advice.colours.stood_elsewhere import stood_elsewhere
from aequitone.advice.colours.turning import Asked, judge_turning, stood_so

__all__ = [
    "Asked",
    "Belief",
    "ColourEffect",
    "ColourPlanner",
    "Observation",
    "Oddity",
    "Seen",
    "boosted_words",
    "explain",
    "judge_turning",
    "missing_light",
    "stood_elsewhere",
    "stood_so",
]
