"""Multi-point adjustment: what its controls do, and which level to turn next."""

from aequitone.advice.points.effect import PointEffect
from aequitone.advice.points.goal import Tracked, log_variance
from aequitone.advice.points.grid import Grid, ladder_of
from aequitone.advice.points.planner import PointPlanner, TripLimit
from aequitone.advice.points.ramp import BEND, is_smooth, most_bent, smoothed, smoothing, ways_back

__all__ = [
    "BEND",
    "Grid",
    "PointEffect",
    "PointPlanner",
    "Tracked",
    "TripLimit",
    "is_smooth",
    "ladder_of",
    "log_variance",
    "most_bent",
    "smoothed",
    "smoothing",
    "ways_back",
]
