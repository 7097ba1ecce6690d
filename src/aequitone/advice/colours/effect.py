"""What a step of each colour-management control does to colours, learnt from all of them at once.

Colours are held as linear light of red, green and blue in the target's own primaries, white being 1, 1, 1. A
control of a colour acts on others by how much of that colour is in them, and may act otherwise where they are
pale, leak to the neighbours, or tint grey: a few figures for each control, with a prior by its role.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aequitone.advice.moves import ControlState
from aequitone.advice.roles import COLOUR_ORDER, Role
from aequitone.colorimetry.arrays import Array

# Figures of a control: by its colour's share, by the share where the colour is pale, by its neighbours', by grey.
FIGURES = 4
# Linear light that half of the range usually moves, and how unsure each figure is, as shares of that.
_HALF_RANGE = 0.3
_UNSURE = np.array([0.6, 0.45, 0.2, 0.04])
_OTHER_CHANNELS = 0.4
# A step is not quite the same at the next setting, or in the next colour.
_MODEL_SHARE, _MODEL_LEAST = 0.06, 0.0006
_MIXED = {
    "red": (1.0, 0.0, 0.0),
    "yellow": (1.0, 1.0, 0.0),
    "green": (0.0, 1.0, 0.0),
    "cyan": (0.0, 1.0, 1.0),
    "blue": (0.0, 0.0, 1.0),
    "magenta": (1.0, 0.0, 1.0),
}


def colour_shares(linear: Array) -> Array:
    """How much of each of COLOUR_ORDER is in colours of linear light (n, 3), shape (n, 6).

    A colour is its least channel as grey, the rest of its middle one as a secondary, and the rest as a primary.
    """
    ordered = np.sort(linear, axis=-1)
    middle, most = ordered[..., 1] - ordered[..., 0], ordered[..., 2] - ordered[..., 1]
    shares = []
    for name in COLOUR_ORDER:
        lit = np.array(_MIXED[name]) > 0.0
        inside = linear[..., lit].min(axis=-1) >= linear[..., ~lit].max(axis=-1) if lit.any() else False
        shares.append(np.where(inside, most if lit.sum() == 1 else middle, 0.0))
    return np.stack(shares, axis=-1)


def direction(role: Role) -> Array:
    """What a step up of a control usually adds to a full colour, as a direction in linear light, (3,)."""
    own = np.array(_MIXED[role.channel])
    match role.amount:
        case "lightness":
            return own
        case "saturation":
            return np.asarray(own - 1.0)
        case "hue":
            order = list(COLOUR_ORDER)
            following = np.array(_MIXED[order[(order.index(role.channel) + 1) % len(order)]])
            return np.asarray(following - own)
    return np.asarray(np.eye(3)["rgb".index(role.amount)])


@dataclass(frozen=True)
class ColourEffect:
    """`mean` (controls, FIGURES, 3) per step; `covariance` (3, figures, figures) of each channel, all flat."""

    controls: tuple[Role, ...]
    mean: Array
    covariance: Array

    @classmethod
    def prior(cls, controls: Sequence[ControlState]) -> "ColourEffect":
        """What is expected before the first move, from each control's role and number of steps."""
        roles = tuple(control.role for control in controls)
        mean = np.zeros((len(roles), FIGURES, 3))
        spread = np.zeros_like(mean)
        for i, control in enumerate(controls):
            size = _HALF_RANGE / (control.steps / 2.0)
            along = direction(control.role)
            mean[i, 0] = size * along
            spread[i] = size * _UNSURE[:, None] * np.where(along != 0.0, 1.0, _OTHER_CHANNELS)
        flat = spread.reshape(-1, 3)
        return cls(roles, mean, np.stack([np.diag(flat[:, channel] ** 2) for channel in range(3)]))

    def design(self, linear: Array, steps: Array) -> Array:
        """How much of each figure acts on colours (n, 3) when the controls go `steps`: shape (n, figures)."""
        basis = self._basis(linear)
        return np.asarray((basis * steps[None, :, None]).reshape(len(linear), -1))

    def _basis(self, linear: Array) -> Array:
        shares = colour_shares(linear)
        total = linear.max(axis=-1, keepdims=True)
        rows = [COLOUR_ORDER.index(role.channel) for role in self.controls]
        own = shares[:, rows]
        pale = own * (1.0 - own / np.maximum(total, 1e-6))
        beside = 0.5 * (shares[:, [(row - 1) % 6 for row in rows]] + shares[:, [(row + 1) % 6 for row in rows]])
        grey = np.repeat(linear.min(axis=-1, keepdims=True), len(rows), axis=1)
        return np.stack([own, pale, beside, grey], axis=-1)

    def change(self, linear: Array, steps: Array) -> Array:
        """Predict what `steps` (controls,) add to colours (n, 3) of linear light."""
        return np.asarray(self.design(linear, steps) @ self.mean.reshape(-1, 3))

    def variance(self, linear: Array, steps: Array) -> Array:
        """Compute the variance of `change`, (n, 3), what the model cannot know included."""
        design = self.design(linear, steps)
        own = np.einsum("np,cpq,nq->nc", design, self.covariance, design)
        return np.asarray(own + self._model_variance(linear, steps))

    def _model_variance(self, linear: Array, steps: Array) -> Array:
        moved = np.abs(self.change(linear, steps)).max(axis=-1, keepdims=True)
        return np.broadcast_to((_MODEL_SHARE * moved) ** 2 + _MODEL_LEAST**2, linear.shape)

    def learn(self, linear: Array, steps: Array, seen: Array, variance: Array) -> "ColourEffect":
        """Update from one move: `seen` (n, 3) added to colours `linear` (n, 3), with noise `variance` (n, 3)."""
        design = self.design(linear, steps)
        noise = variance + self._model_variance(linear, steps)
        mean, covariance = self.mean.reshape(-1, 3).copy(), self.covariance.copy()
        for channel in range(3):
            reach = design @ covariance[channel]
            inner = reach @ design.T + np.diag(noise[:, channel])
            gain = np.linalg.solve(inner, reach).T
            mean[:, channel] += gain @ (seen[:, channel] - design @ mean[:, channel])
            covariance[channel] = covariance[channel] - gain @ reach
        return replace(self, mean=mean.reshape(self.mean.shape), covariance=covariance)

    @cached_property
    def full(self) -> Array:
        """What a step adds to the control's own full colour, (controls, 3)."""
        return np.asarray(self.mean[:, 0])
