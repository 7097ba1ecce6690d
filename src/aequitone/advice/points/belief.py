"""What a ladder is believed to be, from readings with noise: a level that reads oddest is odd in part by luck.

A ladder is off in part smoothly, neighbours alike, and in part each level by itself; how much, the ladder as a
whole says once its noise is taken out (empirical Bayes over a Gaussian process; Rasmussen and Williams, 2006,
chapter 5). Readings that are noise for the most part are drawn towards what their neighbours say and towards the
target, and what turning them would bring is not counted on.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np

from aequitone.advice.points.goal import PointGoal, Tracked, log_covariance
from aequitone.advice.points.metric import missing_light
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry import Gamut
from aequitone.colorimetry.arrays import Array

# ΔE, a third of it by each channel, that ladders are off by: smoothly, and each level by itself.
_SMOOTH = (0.05, 0.15, 0.3, 0.6, 1.2, 2.4)
_ALONE = (0.1, 0.2, 0.4, 0.8, 1.6, 3.2)
# How far along the signal neighbours are alike: bumps, and a bow of the whole ladder.
_ALIKE = (0.12, 0.4)
# A level that reads off by so many times what is usual is odd by itself, whatever the others are; and how unlikely
# that is, as twice a logarithm.
_NO_LUCK, _AN_ODD_ONE = 2.0, 8.0
# Log light is not known worse than this: where there is hardly any, nobody asks for it.
_MOST_SPREAD = 1.0
_TINY = 1e-9


@dataclass(frozen=True)
class Belief:
    """What is believed of log light: `light` (L, 3), and `root` (3 L, 3 L) of its covariance, level by level.

    `noise` (L, 3, 3): root of the covariance of a reading.
    """

    light: Array
    root: Array
    noise: Array
    gamut: Gamut
    """The primaries that channels are told by."""

    @property
    def xyz(self) -> Array:
        """XYZ (L, 3) as believed, in cd/m²."""
        return self.gamut.xyz(np.exp(self.light))

    @classmethod
    def of(cls, goal: PointGoal, tracked: Tracked, here: Array) -> "Belief":
        """What is believed where XYZ (L, 3) is to be expected from what was read."""
        errors, metrics = missing_light(goal, tracked, here)
        gamut, noise = goal.gamut, _noise(here, tracked.sd, goal.gamut)
        covariance, ladder = _blocks(noise), 3 * (len(here) - tracked.foot)
        missing = errors.ravel().copy()
        # Near black no colour is held to a target, and its light is read with care: that is taken as it reads.
        rows = slice(0, len(here) - tracked.foot)
        told = _posterior(tracked.percents[rows] / 100.0, errors[rows], metrics[rows], noise[rows], gamut)
        missing[:ladder], covariance[:ladder, :ladder] = told
        light = log_light(here, gamut).reshape(-1, 3) + errors - missing.reshape(-1, 3)
        # The light of 100 % is held to nothing, so that nothing tells it better than its reading.
        light[0] += np.log(here[0, 1] / (np.exp(light[0]) @ gamut.xyz_matrix[1]))
        return cls(light, _root(covariance), _root(noise), gamut)


def _posterior(signal: Array, errors: Array, metrics: Array, noise: Array, gamut: Gamut) -> tuple[Array, Array]:
    """What is believed to be missing (3 L,) of what reads so (L, 3), and its covariance."""
    # Log light that is a ΔE at each level, whatever the channel: channels go astray one by one.
    unit = np.sqrt(3.0 / np.trace(metrics, axis1=1, axis2=2))
    off = (errors / unit[:, None]).ravel()
    # All are held to 100 %: the noise of its light moves every other level alike.
    common = np.repeat(np.where(np.arange(len(signal)) > 0, 1.0 / unit, 0.0), 3)
    white = float(gamut.xyz_matrix[1] @ noise[0] @ gamut.xyz_matrix[1])
    read = _blocks(noise / unit[:, None, None] ** 2) + white * np.outer(common, common)
    away = signal[:, None] - signal
    alike = [np.asarray(np.kron(np.exp(-0.5 * (away / far) ** 2), np.eye(3)), dtype=float) for far in _ALIKE]
    mean, covariance = _averaged(off, read, alike)
    scale = np.repeat(unit, 3)
    return scale * mean, np.outer(scale, scale) * covariance


def _averaged(off: Array, noise: Array, alike: Sequence[Array]) -> tuple[Array, Array]:
    """What is believed of `off`, and its covariance, over all that ladders may be, each by how likely it is."""
    squares, by_noise = (each.reshape(-1, 3).sum(axis=1) for each in (off**2, np.diag(noise)))
    ways, doubts = [], []
    for along, smooth, single in product(alike, _SMOOTH, _ALONE):
        usual = by_noise + 3.0 * (smooth**2 + single**2)
        odd = np.where(squares > _NO_LUCK**2 * usual, (squares - usual) / 3.0, 0.0)
        ways.append(smooth**2 * along + single**2 * np.eye(len(off)) + np.diag(np.repeat(odd, 3)))
        doubts.append(_AN_ODD_ONE * np.count_nonzero(odd))
    prior = np.stack(ways)
    whole = prior + noise
    gain = np.swapaxes(np.linalg.solve(whole, prior), -1, -2)
    chi = (off * np.linalg.solve(whole, off[:, None])[..., 0]).sum(axis=1)
    log = -0.5 * (chi + np.linalg.slogdet(whole)[1] + doubts)
    share = np.exp(log - log.max())
    share /= share.sum()
    each = gain @ off
    mean = share @ each
    apart = each - mean
    covariance = np.tensordot(share, gain, axes=1) @ noise + (apart * share[:, None]).T @ apart
    return mean, covariance


def _noise(xyz: Array, sd: Array, gamut: Gamut) -> Array:
    """Covariance (L, 3, 3) of log linear RGB, as far as it is asked for, of readings (L, 3)."""
    covariance = log_covariance(xyz, sd, gamut)
    largest = np.sqrt(np.trace(covariance, axis1=1, axis2=2))
    return np.asarray(covariance * np.minimum(1.0, _MOST_SPREAD / np.maximum(largest, _TINY))[:, None, None] ** 2)


def _blocks(each: Array) -> Array:
    """A matrix (3 L, 3 L) with those of the levels (L, 3, 3) along its diagonal."""
    levels = len(each)
    whole = np.zeros((levels, 3, levels, 3))
    whole[np.arange(levels), :, np.arange(levels)] = each
    return whole.reshape(3 * levels, 3 * levels)


def _root(covariance: Array) -> Array:
    """A matrix (..., n, n) that makes a covariance with its own transpose."""
    values, vectors = np.linalg.eigh((covariance + np.swapaxes(covariance, -1, -2)) / 2.0)
    return np.asarray(vectors * np.sqrt(np.maximum(values, 0.0))[..., None, :])
