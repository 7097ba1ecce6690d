"""Reading what is shown again and again, for eyes on a chart."""

from aequitone.colorimetry import D65
from aequitone.procedures.policy import ReadPolicy, policy_for, policy_for_colour
from aequitone.procedures.steps import Procedure, Progress, Purpose, Read, Reading, Show
from aequitone.signal import Patch

# A glance: quick enough to follow, exact enough to see a control move.
_GLANCE_DE = 0.15
_UNKNOWN = ReadPolicy(0.5)


def live(patch: Patch) -> Procedure[None]:
    """Show a patch and read it until somebody stops it; each Progress carries the Reading."""
    yield Show(patch)
    count, light = 0, 0.0
    while True:
        policy = policy_for(light, light, _GLANCE_DE) if light > 0.0 else _UNKNOWN
        reading: Reading = yield Read(patch, policy, Purpose.WATCH, once=True)
        light, count = max(reading.Y, 0.0), count + 1
        yield Progress(count, 0, reading)


def read_once(patch: Patch, white: float = 0.0) -> Procedure[Reading]:
    """Show a patch and read it as well as a level or colour of a pass is read; returns the Reading.

    `white`: luminance of 100 % grey in cd/m² where it is known, beside which the patch is seen.
    """
    yield Show(patch)
    rough: Reading = yield Read(patch, _UNKNOWN, Purpose.WATCH, once=True)
    light = max(rough.Y, 0.05)
    beside = max(white, light)
    policy = policy_for(light, beside) if patch.is_grey else policy_for_colour(rough.xyz, D65.xyz(beside))
    reading: Reading = yield Read(patch, policy, Purpose.WATCH)
    return reading
