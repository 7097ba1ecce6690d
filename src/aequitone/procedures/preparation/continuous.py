"""Reading what is shown again and again, for eyes on a chart."""

from aequitone.procedures.policy import ReadPolicy, policy_for
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


def read_once(patch: Patch) -> Procedure[Reading]:
    """Show a patch and read it as well as a level is read: the test of a bench; returns the Reading."""
    yield Show(patch)
    rough: Reading = yield Read(patch, _UNKNOWN, Purpose.WATCH, once=True)
    light = max(rough.Y, 0.05)
    reading: Reading = yield Read(patch, policy_for(light, light), Purpose.WATCH)
    return reading
