"""The last small step of light output, which restores the light that white balance took."""

import numpy as np

from aequitone.advice.levels import LightSweep
from aequitone.advice.levels.sweep import WHITE, Position
from aequitone.procedures.levels.believed import Believed
from aequitone.procedures.levels.sweep import carry_out
from aequitone.procedures.levels.trips import Trips
from aequitone.procedures.steps import Note, Procedure
from aequitone.procedures.white.plan import LightStep
from aequitone.procedures.white.session import WhiteSession, looked_whatever_comes

# Light that is off by less, as a share, is left alone; and what is near enough once it is set by link. A person
# does not walk again for what would have been left alone.
_OFF, _CLOSE = 0.012, 0.006


def set_light(session: WhiteSession, step: LightStep) -> Procedure[None]:
    """Bring 100 % to the wanted light, and read the levels of white balance again where that was turned."""
    assert session.seen is not None
    white, sd = session.seen.xyz[0], session.seen.sd[0]
    at_end = step.control.highest if white[1] < step.wanted else step.control.lowest
    if abs(white[1] / step.wanted - 1.0) <= _OFF or step.control.value == at_end:
        return
    here = Position(step.control.value, np.array([white]), np.array([sd]), (WHITE,))
    near_enough = _OFF if session.plan.by_hand else _CLOSE
    sweep = LightSweep(step.control, step.wanted, step.shape, near_enough)
    swept = yield from carry_out(
        sweep,
        session.plan.format,
        lambda _: session.state(),
        Trips(together=False),
        Believed(step.control.value, (here,)),
        by_hand=session.plan.by_hand,
    )
    if swept.finding is not None and not swept.kept:
        yield Note(f"White balance has changed the light. {swept.finding.words}")
    if len(swept.positions) > 1:
        yield from looked_whatever_comes(session)
