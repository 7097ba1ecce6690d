"""Where controls stood when they were last read, after a person has said that they stood elsewhere than noted.

It may be said before a turn, of an earlier slip, or in the middle of the turn itself. Only in the first case was
the last reading taken elsewhere than it is noted; the change of light tells which it was.
"""

from itertools import product

import numpy as np

from aequitone.advice.two_point.guards import Predicts, foretold
from aequitone.colorimetry.arrays import Array

# Who says where a control stands, has most often found a slip.
_OF_BEFORE = 0.8
# Of so many controls every combination is weighed; of more, all or none.
_FEW = 4


def stood_before(responses: Predicts, asked: Array, off: Array, change: Array, variance: Array) -> Array:
    """Tell by how many steps (controls,) each control stood elsewhere when it was last read.

    `asked` steps of each as the move was noted, `off` as a person said; `change` (rows,) of log light over the
    turn, with `variance` of its noise.
    """
    said = np.flatnonzero(off)
    few = len(said) <= _FEW
    choices = (
        np.array(list(product((0.0, 1.0), repeat=len(said)))) if few else np.outer((0.0, 1.0), off[said] != 0.0)
    )
    tried = np.zeros((len(choices), len(off)))
    tried[:, said] = choices * off[said]
    predicted, spread = foretold(responses, asked - tried, variance)
    fit = -0.5 * ((change - predicted) ** 2 / spread + np.log(spread)).sum(axis=1)
    prior = np.log(np.where(choices, _OF_BEFORE, 1.0 - _OF_BEFORE)).sum(axis=1)
    return np.asarray(tried[int((fit + prior).argmax())])
