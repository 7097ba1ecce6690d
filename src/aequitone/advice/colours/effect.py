"""What a step of each colour-management control does to colours, learnt from all of them at once.

Colours are held as linear light of red, green and blue in the target's own primaries, white being 1, 1, 1. A
control of a colour acts on others by how much of that colour is in them, and may act otherwise where they are
pale, leak to the neighbours, or tint grey: a few figures for each control, with a prior by its role.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aequitone.advice.colours.oddity import Oddity
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import COLOUR_ORDER, Role
from aequitone.colorimetry.arrays import Array
from aequitone.reference.saturations import MIXED

# Figures of a control: by its colour's share, by the share where the colour is pale, by its neighbours', by grey.
FIGURES = 4
# Linear light that half of the range usually moves, and how unsure each figure is, as shares of that.
_HALF_RANGE = 0.3
_UNSURE = np.array([0.6, 0.45, 0.2, 0.04])
_OTHER_CHANNELS = 0.4
# A step is not quite the same at the next setting, or in the next colour.
_MODEL_SHARE, _MODEL_LEAST = 0.06, 0.0006


def colour_shares(linear: Array) -> Array:
    """How much of each of COLOUR_ORDER is in colours of linear light (n, 3), shape (n, 6).

    A colour is its least channel as grey, the rest of its middle one as a secondary, and the rest as a primary.
    """
    ordered = np.sort(linear, axis=-1)
    middle, most = ordered[..., 1] - ordered[..., 0], ordered[..., 2] - ordered[..., 1]
    shares = []
    for name in COLOUR_ORDER:
        lit = np.array(MIXED[name]) > 0.0
        inside = linear[..., lit].min(axis=-1) >= linear[..., ~lit].max(axis=-1)
        shares.append(np.where(inside, most if lit.sum() == 1 else middle, 0.0))
    return np.stack(shares, axis=-1)


def direction(role: Role) -> Array:
    """What a step up of a control usually adds to a full colour, as a direction in linear light, (3,)."""
    own = np.array(MIXED[role.channel])
    match role.amount:
        case "lightness":
            return own
        case "saturation":
            return np.asarray(own - 1.0)
        case "hue":
            order = list(COLOUR_ORDER)
            following = np.array(MIXED[order[(order.index(role.channel) + 1) % len(order)]])
            return np.asarray(following - own)
    return np.asarray(np.eye(3)["rgb".index(role.amount)])


def basis_of(controls: Sequence[Role], block: Array, linear: Array) -> Array:
    """How much each figure of each control acts on colours (n, 3) that blocks (..., 3, 3) see in their own way.

    Shape (..., n, controls, FIGURES).
    """
    there = linear @ np.swapaxes(block, -1, -2)
    shares = colour_shares(there)
    total = there.max(axis=-1, keepdims=True)
    rows = [COLOUR_ORDER.index(role.channel) for role in controls]
    own = shares[..., rows]
    pale = own * (1.0 - own / np.maximum(total, 1e-6))
    sides = shares[..., [(row - 1) % 6 for row in rows]], shares[..., [(row + 1) % 6 for row in rows]]
    grey = np.repeat(there.min(axis=-1, keepdims=True), len(rows), axis=-1)
    return np.stack([own, pale, 0.5 * (sides[0] + sides[1]), grey], axis=-1)


@dataclass(frozen=True)
class ColourEffect:
    """What the controls do, where the block sees colours as `block` (3, 3) makes them of linear light.

    `mean` (controls, FIGURES, 3) per step; `covariance` (3, figures, figures) of each channel, all flat.
    """

    controls: tuple[Role, ...]
    mean: Array
    covariance: Array
    block: Array

    @classmethod
    def prior(
        cls, controls: Sequence[ControlState], block: Array | None = None, odd: Oddity | None = None
    ) -> "ColourEffect":
        """What is expected before the first move, from each control's role and number of steps."""
        roles = tuple(control.role for control in controls)
        if odd is not None:
            roles = odd.roles(roles)
        mean = np.zeros((len(roles), FIGURES, 3))
        spread = np.zeros_like(mean)
        for i, control in enumerate(controls):
            size = _HALF_RANGE / (control.steps / 2.0)
            along = direction(roles[i])
            mean[i, 0] = size * along
            spread[i] = size * _UNSURE[:, None] * np.where(along != 0.0, 1.0, _OTHER_CHANNELS)
        if odd is not None and not odd.works:
            mean[odd.first], spread[odd.first] = 0.0, 1e-6
        elif odd is not None and odd.is_backwards:
            mean[odd.first] *= -1.0
        flat = spread.reshape(-1, 3)
        covariance = np.stack([np.diag(flat[:, channel] ** 2) for channel in range(3)])
        return cls(roles, mean, covariance, np.eye(3) if block is None else block)

    def basis(self, linear: Array) -> Array:
        """How much each figure of each control acts on colours (n, 3), shape (n, controls, FIGURES)."""
        return basis_of(self.controls, self.block, linear)

    def reach(self, linear: Array) -> "Reach":
        """What the controls do to colours (n, 3) of linear light."""
        return Reach(self, self.basis(linear))

    def learn(
        self, linear: Array, steps: Array, seen: Array, variance: Array
    ) -> tuple["ColourEffect", float, float]:
        """Update from what was seen.

        `seen` (n, 3) was added to colours `linear` (n, 3) by `steps` (n or 1, controls), with noise `variance`.
        Returns what the controls do by now, the logarithm of how likely this made what was seen, and how far that
        lay from what was expected: a sum of squares of which each is about one.
        """
        acting = np.broadcast_to(design(self.basis(linear), steps), (len(linear), self.covariance.shape[-1]))
        mean, covariance, log, far = self.mean.reshape(-1, 3).copy(), self.covariance.copy(), 0.0, 0.0
        noise = variance + _model_variance(acting @ mean)
        for channel in range(3):
            reach = acting @ covariance[channel]
            inner = reach @ acting.T + np.diag(noise[:, channel])
            off = seen[:, channel] - acting @ mean[:, channel]
            solved = np.linalg.solve(inner, np.column_stack([off, reach]))
            square = float(off @ solved[:, 0])
            far += square
            log -= 0.5 * (square + float(np.linalg.slogdet(inner)[1]))
            mean[:, channel] += reach.T @ solved[:, 0]
            covariance[channel] = covariance[channel] - reach.T @ solved[:, 1:]
        return replace(self, mean=mean.reshape(self.mean.shape), covariance=covariance), log, far

    @cached_property
    def doubt(self) -> Array:
        """How unsure the largest part of each control's full effect is, as a share of it, (controls,)."""
        sd = np.sqrt(np.stack([np.diag(each) for each in self.covariance], axis=-1)).reshape(self.mean.shape)[:, 0]
        most = np.abs(self.full).argmax(axis=-1)
        rows = np.arange(len(most))
        return np.asarray(sd[rows, most] / np.maximum(np.abs(self.full[rows, most]), 1e-9))

    @cached_property
    def full(self) -> Array:
        """What a step adds to the control's own full colour, (controls, 3)."""
        return np.asarray(self.mean[:, 0])


@dataclass(frozen=True)
class Reach:
    """What the controls do to some colours, worked out once: a search asks for thousands of moves of them."""

    effect: ColourEffect
    basis: Array
    """How much each figure of each control acts on each colour, (n, controls, FIGURES)."""

    def change(self, steps: Array) -> Array:
        """Predict what `steps` add to the linear light of the colours, (..., n, 3).

        `steps`: (..., n, controls), or (..., 1, controls) where all colours felt the same.
        """
        if steps.shape[-2] == 1:
            return np.asarray(np.tensordot(steps[..., 0, :], self.each, axes=(-1, -1)))
        return np.asarray(design(self.basis, steps) @ self.effect.mean.reshape(-1, 3))

    def variance(self, steps: Array) -> Array:
        """Compute the variance of `change`, (..., n, 3), what the model cannot know included."""
        if steps.shape[-2] == 1:
            told = steps[..., 0, :]
            squares = told[..., :, None] * told[..., None, :]
            own = np.tensordot(squares, self.doubts, axes=((-2, -1), (-2, -1)))
        else:
            own = np.einsum("...nk,nckl,...nl->...nc", steps, self.doubts, steps)
        return np.asarray(np.maximum(own, 0.0) + _model_variance(self.change(steps)))

    @cached_property
    def each(self) -> Array:
        """What one step of each control adds, (n, 3, controls)."""
        return np.asarray(np.einsum("nkf,kfc->nck", self.basis, self.effect.mean))

    @cached_property
    def doubts(self) -> Array:
        """How unsure that is, two by two: (n, 3, controls, controls)."""
        controls = self.basis.shape[1]
        covariance = self.effect.covariance.reshape(3, controls, FIGURES, controls, FIGURES)
        half = np.einsum("cjfkg,nkg->ncjfk", covariance, self.basis)
        return np.asarray(np.einsum("njf,ncjfk->ncjk", self.basis, half))


def design(basis: Array, steps: Array) -> Array:
    """How much of each figure acts, (..., n, figures)."""
    turned = basis * steps[..., None]
    return np.asarray(turned.reshape(*turned.shape[:-2], -1))


def _model_variance(change: Array) -> Array:
    moved = np.abs(change).max(axis=-1, keepdims=True)
    still = np.where(moved > 0.0, _MODEL_LEAST, 0.0)
    return np.broadcast_to((_MODEL_SHARE * moved) ** 2 + still**2, change.shape)
