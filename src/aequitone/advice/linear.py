"""A linear response with doubt: what controls do, how sure that is, and what a move tells of it.

Bayesian linear regression with a Gaussian prior (Bishop, Pattern Recognition and Machine Learning, 2006, 3.3), one
observation at a time, for any number of rows that are seen and of controls that are turned. Rows are independent.
"""

from dataclasses import dataclass, replace
from typing import Self

import numpy as np

from aequitone.colorimetry.arrays import Array


def updated(effect: Array, covariance: Array, steps: Array, change: Array, variance: Array) -> tuple[Array, Array]:
    """Update effects by one observation.

    Parameters
    ----------
    effect
        What a step of each control is believed to do, shape (..., controls).
    covariance
        How unsure that is, shape (..., controls, controls).
    steps
        What was turned, shape (controls,).
    change
        What was seen, shape (...), in the unit of `effect` times steps.
    variance
        Of the noise in `change`, shape (...).

    Returns
    -------
    Effects and covariance after it, of the same shapes.
    """
    surprise = change - effect @ steps
    reach = covariance @ steps
    gain = reach / (reach @ steps + variance)[..., None]
    return effect + gain * surprise[..., None], covariance - gain[..., :, None] * reach[..., None, :]


@dataclass(frozen=True)
class LinearResponse:
    """`effect` (rows, controls) per step, and `covariance` (rows, controls, controls) of each row."""

    effect: Array
    covariance: Array

    def predict(self, steps: Array) -> Array:
        """Predict the change of each row, shape (..., rows), for steps of shape (..., controls)."""
        return np.asarray(steps @ self.effect.T)

    def variance(self, steps: Array) -> Array:
        """Compute the variance of `predict`, shape (..., rows)."""
        return np.asarray(np.einsum("...i,rij,...j->...r", steps, self.covariance, steps))

    def learn(self, steps: Array, change: Array, variance: Array) -> Self:
        """Update from one move: `change` (rows,) seen after `steps` (controls,), with its noise `variance`."""
        effect, covariance = updated(self.effect, self.covariance, steps, change, variance)
        return replace(self, effect=effect, covariance=covariance)
