"""Where the colour management sits: what white is to it, weighed by how well each answer explains what was seen.

Behind the gains white may reach it with less blue than red. Then grey has a little red and yellow to it, which
their controls move along. Each such mixture is held as a possibility of its own (Bayes' rule over a list, made
finer around the likeliest), and the controls are learnt under each of them.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aequitone.advice.colours.effect import ColourEffect, basis_of, design
from aequitone.advice.colours.oddity import Oddity, oddities
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

# Logarithms of red and blue against green, of white as it reaches the block, and how far off they usually are.
_SPACING, _PLACES, _USUAL_OFF = 0.12, 4, 0.2
_FINER = (0.06, 0.03, 0.015)
# Half of all blocks see white as grey: they come before the gains, or the gains stand at the middle.
_SEES_GREY = 0.5
# What a list explains worse than this, against the best, is dropped.
_DROPPED = 1e-3
# Colours share their faults, so they prove less than as many that do not.
_EVIDENCE = 0.5


@dataclass(frozen=True)
class Observation:
    """What steps (n, controls) added to colours (n, 3) of linear light, (n, 3), and the variance of its noise."""

    linear: Array
    steps: Array
    seen: Array
    variance: Array


@dataclass(frozen=True)
class Possibility:
    """One mixture that white may be to the block, by `red` and `blue`, and the controls as learnt under it."""

    red: float
    blue: float
    effect: ColourEffect
    weight: float
    """Logarithm of how likely it is."""
    far: float = 0.0
    """How far what was seen lay from what was expected: a sum of squares of which each is about one."""
    surprise: float = 0.0
    """The same of what was seen last, on average."""

    @classmethod
    def prior(
        cls, controls: Sequence[ControlState], red: float, blue: float, odd: Oddity | None = None
    ) -> "Possibility":
        """Before anything was turned."""
        cells = 2.0 * np.pi * (_USUAL_OFF / _SPACING) ** 2
        usual = (1.0 - _SEES_GREY) / cells * np.exp(-0.5 * (red**2 + blue**2) / _USUAL_OFF**2)
        white = np.exp([red, 0.0, blue])
        effect = ColourEffect.prior(controls, np.diag(white / white.max()), odd)
        return cls(red, blue, effect, float(np.log(usual + (_SEES_GREY if red == blue == 0.0 else 0.0))))

    def learn(self, told: Observation) -> "Possibility":
        """Update from what was seen."""
        effect, log, far = self.effect.learn(told.linear, told.steps, told.seen, told.variance)
        weight, surprise = self.weight + _EVIDENCE * log, far / told.seen.size
        return replace(self, effect=effect, weight=weight, far=self.far + far, surprise=surprise)


@dataclass(frozen=True)
class Belief:
    """What is possible, and what was seen so far."""

    controls: tuple[ControlState, ...]
    possible: tuple[Possibility, ...]
    told: tuple[Observation, ...] = ()
    odd: Oddity | None = None
    """What is taken to be not as named."""

    @classmethod
    def prior(cls, controls: Sequence[ControlState]) -> "Belief":
        """Before anything was turned: white is most likely grey to the block."""
        offs = [place * _SPACING for place in range(-_PLACES, _PLACES + 1)]
        return cls(tuple(controls), tuple(Possibility.prior(controls, red, blue) for red in offs for blue in offs))

    @cached_property
    def best(self) -> ColourEffect:
        """The likeliest effect."""
        return self._likeliest.effect

    @property
    def surprise(self) -> float:
        """How far what was seen last lay from what was expected: about 1, and more where something is odd."""
        return self._likeliest.surprise

    @property
    def _likeliest(self) -> Possibility:
        return max(self.possible, key=lambda each: each.weight)

    def change(self, linear: Array, steps: Array) -> Array:
        """Predict what `steps` (n or 1, controls) add to colours (n, 3) of linear light."""
        return self.best.reach(linear).change(steps)

    def variance(self, linear: Array, steps: Array) -> Array:
        """Compute the variance of `change`, (n, 3), the doubt about where the block sits included."""
        reached = self.best.reach(linear)
        # What each possibility makes of it, in one go.
        effects = [each.effect for each in self.possible]
        blocks, means = (np.array([each.block for each in effects]), np.array([each.mean for each in effects]))
        acting = design(basis_of(self.best.controls, blocks, linear), steps)
        apart = (acting @ means.reshape(len(means), -1, 3) - reached.change(steps)) ** 2
        chance = np.exp(np.array([each.weight for each in self.possible]) - self._likeliest.weight)
        return np.asarray(reached.variance(steps) + np.tensordot(chance / chance.sum(), apart, axes=(0, 0)))

    def learn(self, told: Observation) -> "Belief":
        """Update from what was seen, drop what explains it badly, and look closer around what explains it best."""
        learnt = [each.learn(told) for each in self.possible]
        least = max(each.weight for each in learnt) + np.log(_DROPPED)
        kept = tuple(each for each in learnt if each.weight >= least)
        return replace(self, possible=kept, told=(*self.told, told))._finer()

    def _finer(self) -> "Belief":
        now = self
        for by in _FINER:
            at, known = now._likeliest, {(each.red, each.blue) for each in now.possible}
            around = [
                (round(at.red + by * across, 4), round(at.blue + by * up, 4))
                for across in (-1, 0, 1)
                for up in (-1, 0, 1)
            ]
            now = replace(now, possible=(*now.possible, *map(now._replayed, set(around) - known)))
        return now

    def _replayed(self, at: tuple[float, float]) -> Possibility:
        """A possibility that was not held so far, with all that was seen."""
        possibility = Possibility.prior(self.controls, *at, self.odd)
        for told in self.told:
            possibility = possibility.learn(told)
        return possibility

    def likelihood(self, told: Sequence[Observation]) -> tuple[float, float]:
        """Logarithm of how likely observations are, where the block sits as is likeliest; and how far off.

        How far: a mean of squares of which each is about one.
        """
        at = self._likeliest
        replayed = replace(self, told=tuple(told))._replayed((at.red, at.blue))
        return replayed.weight / _EVIDENCE, replayed.far / sum(each.seen.size for each in told)

    def suspected(self) -> tuple[Oddity | None, float]:
        """The likeliest oddity and its odds against all being as named; None where that is likelier."""
        told = [each for each in self.told if each.steps.any()]
        turned = [int(i) for i in np.flatnonzero(np.any([each.steps.any(axis=0) for each in told], axis=0))]
        at = self._likeliest
        named = replace(self, odd=None)._replayed((at.red, at.blue))
        ways = {
            odd: replace(self, odd=odd)._replayed((at.red, at.blue))
            for odd in oddities(turned, len(self.controls))
        }
        best = max(ways, key=lambda odd: ways[odd].weight + np.log(odd.odds))
        # Where nothing explains well what was seen, a difference between two bad answers proves as much less.
        seen = sum(each.seen.size for each in self.told)
        badly = max(1.0, ways[best].far / max(seen, 1))
        log = (ways[best].weight - named.weight) / badly + float(np.log(best.odds))
        odds = float(np.exp(min(log, 50.0)))
        return (best, odds) if odds > 1.0 else (None, odds)

    def under(self, odd: Oddity | None) -> "Belief":
        """The same with a control that is not as named, all that was seen learnt anew."""
        now = replace(self, odd=odd)
        return replace(now, possible=tuple(now._replayed((each.red, each.blue)) for each in self.possible))
