"""Which controls to turn next, how far, what to expect, and when to stop.

Pure: it is given what was read and where the controls stand, and returns a move or a reason to stop.
The search is over whole steps between the end stops; what it minimises is the expected square of
ΔE at the two adjusted levels, doubt about the controls included, so that it is bold where it
has learnt and careful where it has not.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from enum import Enum
from itertools import combinations
from typing import Any

import numpy as np

from aequitone.advice.moves import ControlState, Expectation, Move, moved, trip_between
from aequitone.advice.two_point.level_readings import WANDER, Seen, log_light
from aequitone.advice.two_point.responses import Responses
from aequitone.advice.two_point.surprises import Surprises
from aequitone.colorimetry import Formula, Gamut
from aequitone.colorimetry.arrays import Array
from aequitone.reference import Target

# A control is worth naming when it takes this much off ΔE; below, it only costs the visitor time.
WORTH_NAMING = 0.04
# A trip is worth trying, when its outcome is in doubt, for this much.
WORTH_TRYING = 0.12
# Light is held where grey does not ask for it: a tenth more or less counts like this much ΔE.
_TENTH_OF_LIGHT = 0.3
_HOLD_LIGHT = _TENTH_OF_LIGHT / 0.1
# Of two moves that do nearly the same the one with fewer steps to press is taken: each counts like this much
# of squared ΔE.
_STEP = 0.002
# A move that is better by less than this is not worth looking for.
_HARDLY = 0.001
# The share of the doubt about the controls that a move takes into account. A move is read before the next, so
# that little is lost by trusting; where trusting brings nothing, a bolder one may.
_CAUTION, _BOLD = 0.2, 0.1
# What was read as just good enough was luck in part: so many of its spreads count against it.
_LUCK = 0.45
# A control is not quite even along its range: of what it is expected to do, this share is in doubt.
_UNEVEN = 0.05
# The doubt about a control is kept wide, so that it is learnt soon; this much of its variance is likely to come.
_LIKELY = 0.7
# What is foretold is held to screens of all kinds, whose controls differ more and are less even; and its ± to
# those that do what nobody expects.
_TOLD_LIKELY, _TOLD_UNEVEN = 1.1, 0.1
_DOUBTED_LIKELY, _DOUBTED_UNEVEN = 2.4, 0.2
# 100 % may be off by this much more than the adjusted levels: it has no control of its own.
WHITE_LENIENCE = 1.0
_LENIENCE = np.array([WHITE_LENIENCE, 0.0, 0.0])
_GAINS_ALONE = np.repeat([1.0, 0.0], 3)


class Stop(Enum):
    """Why adjusting ends."""

    MET = "met"
    CANNOT_TELL = "cannot tell"
    CANNOT_REACH = "cannot reach"
    LONG_ENOUGH = "long enough"
    WISHED = "wished"


@dataclass(frozen=True)
class Mover:
    """What the two adjusted levels are, and what is wanted there."""

    target: Target
    bright: float
    dark: float
    black: float
    """Measured luminance of 0 %, cd/m²."""
    stop_at: float = 0.5
    formula: Formula = Formula.DE2000
    """What ΔE means here, as the person wants it."""
    surprises: Surprises = field(default_factory=Surprises)
    """How the screen has kept to what was foretold."""

    def errors(self, xyz: Array) -> Array:
        """ΔE at 100 %, bright and dark, shape (..., 3), from their XYZ (..., 3, 3).

        Where the target is relative, the luminance of 100 % is what the others are held to, and only cast
        counts there.
        """
        white = self.target.white_luminance(np.maximum(xyz[..., 0, 1], 1e-6))
        signal = np.array([100.0, self.bright, self.dark]) / 100.0
        black = np.minimum(self.black, white * 0.5)
        luminance = self.target.luminance(signal, white[..., None], black[..., None])
        wanted = luminance[..., None] * self.target.white.xyz()
        return self.formula.between(xyz, wanted, (white[..., None] * self.target.white.xyz())[..., None, :])

    @property
    def _gamut(self) -> Gamut:
        """The primaries that channels are told by: those of what is sent, which the controls act on."""
        return self.target.container

    def worst(self, seen: Seen) -> float:
        """ΔE of the level that most asks for a move (see `decisive`)."""
        de = self.errors(seen.xyz)
        return float(de[decisive(de)])

    def worst_sd(self, seen: Seen) -> float:
        """Standard deviation of `worst` from the readings' noise: what it takes to tell two looks apart."""
        drawn = seen.xyz + _DRAWS * seen.sd
        return float(_score(self.errors(drawn)).std())

    def doubt(self, seen: Seen) -> float:
        """Standard deviation of ΔE at the worse of the two adjusted levels, of the screen itself.

        Its light wanders by more than a reading tells: half of that in all channels alike, half in each.
        """
        light = self._gamut.rgb(seen.xyz + _DRAWS * seen.sd)
        own, alike = _LOG_DRAWS.reshape(light.shape), _LIGHT_DRAWS[..., None]
        wanders = np.exp(_WANDER_OF_ONE / np.sqrt(2.0) * (own + alike))
        return float(self.errors(self._gamut.xyz(light * wanders))[..., 1:].max(axis=-1).std())

    def score(self, seen: Seen) -> float:
        """What is brought down: the worst ΔE, 100 % being allowed a little more (it is not adjusted itself)."""
        return float(_score(self.errors(seen.xyz)))

    def propose(self, seen: Seen, responses: Responses, controls: tuple[ControlState, ...]) -> Move | Stop:
        """Propose the next move, or say why there is none.

        Parameters
        ----------
        seen
            The three levels as they are believed to be now, XYZ in cd/m² with their spread.
        responses
            What a step of each control does to log light, with its doubt.
        controls
            The six controls as they stand: red, green and blue gain, then bias.

        Returns
        -------
        The move of whole steps between the end stops with the least expected square of ΔE, doubt included, and
        what it should bring; `Stop.MET` where the target is met; `Stop.CANNOT_TELL` where the meter's noise
        hides what could be gained; `Stop.CANNOT_REACH` where no step is worth a trip.
        """
        now = self.score(seen)
        noise = self.worst_sd(seen)
        if now + _LUCK * noise <= self.stop_at:
            return Stop.MET
        ended = Stop.CANNOT_TELL if now - self.stop_at < 2.0 * noise else Stop.CANNOT_REACH
        best = self._search(seen, responses, controls, caution=_CAUTION)
        after = self._likely_score(seen, responses, best)
        if now - after < max(noise, WORTH_NAMING):
            # Doubt alone should not end it: try what the controls would do if they are as believed.
            best = self._search(seen, responses, controls, caution=_BOLD)
            after = float(_score(self._expected(seen, responses, best)))
            if not best.any() or now - after < WORTH_TRYING:
                return ended
            if now - after < noise:
                return Stop.CANNOT_TELL
        if not best.any():
            # A channel that clips at 100 % is expected to do so no more, and that is nothing that a turn brings.
            return ended
        told, doubt = self.foretold(seen, responses, best)
        if told > self.worst(seen):
            # What the whole move could gain is hidden by doubt about the controls; a part of it may not be.
            best, told, doubt = self._surest_part(seen, responses, best)
            if told > self.worst(seen) - WORTH_NAMING:
                return ended
        light = float(self._xyz(seen, responses, best)[0, 1] / seen.xyz[0, 1] - 1.0) * 100.0
        changes = trip_between(controls, moved(controls, best)).changes
        return Move(changes, Expectation(self.worst(seen), told, doubt, light, self.formula.short))

    def _surest_part(self, seen: Seen, responses: Responses, steps: Array) -> tuple[Array, float, float]:
        """The part of a move that is foretold to come out best, and what is foretold of it."""
        parts = [np.trunc(steps / 2.0), steps * _GAINS_ALONE, steps * (1.0 - _GAINS_ALONE)]
        parts += [steps * unit for unit in np.eye(len(steps))]
        told = [(part, *self.foretold(seen, responses, part)) for part in parts if part.any()]
        return min(told, key=lambda each: each[1])

    def _search(
        self, seen: Seen, responses: Responses, controls: tuple[ControlState, ...], caution: float
    ) -> Array:
        low = np.array([(c.lowest - c.value) / c.step for c in controls])
        high = np.array([(c.highest - c.value) / c.step for c in controls])
        weights = self._weights(seen)

        def cost(steps: Array) -> Array:
            return self._cost(seen, responses, weights * caution**0.5, steps)

        felt = np.rint(self._least_squares(seen, responses, weights, caution))
        point = np.clip(np.rint(responses.idle.turned(felt)), low, high)
        value = float(cost(point[None])[0])
        for _ in range(200):
            # Pairs are many and seldom needed: they are tried where single controls are at an end.
            for neighbours in (_SINGLES, _PAIRS):
                around = np.clip(point + neighbours, low, high)
                costs = cost(around)
                best = int(costs.argmin())
                if costs[best] < value - _HARDLY:
                    point, value = around[best], float(costs[best])
                    break
            else:
                break
        return self._without_idle(point, cost)

    def _least_squares(self, seen: Seen, responses: Responses, weights: Array, caution: float) -> Array:
        """The continuous answer, damped by the doubt about each control."""
        white = float(seen.xyz[0, 1])
        signal = np.array([self.bright, self.dark]) / 100.0
        luminance = self.target.luminance(signal, white, min(self.black, white * 0.5))
        wanted = log_light(luminance[:, None] * self.target.white.xyz(), self._gamut)
        rows = slice(3, 9)
        J = responses.effect[rows] - responses.effect[1] * np.ones((6, 1))
        w2 = weights[rows] ** 2
        doubt = caution * np.einsum("r,rij->ij", w2, responses.covariance[rows])
        held = _HOLD_LIGHT**2 * np.outer(responses.effect[1], responses.effect[1])
        normal = J.T @ (w2[:, None] * J) + doubt + held + 1e-9 * np.eye(J.shape[1])
        return np.asarray(np.linalg.solve(normal, J.T @ (w2 * (wanted - seen.unclipped_light[rows]))))

    def _weights(self, seen: Seen) -> Array:
        """ΔE that a unit of log light makes at each row, shape (9,), from a 1 % nudge at the target."""
        white = float(seen.xyz[0, 1])
        aim = self.target.grey([100.0, self.bright, self.dark], white, min(self.black, white * 0.5))
        nudged = log_light(aim, self._gamut) + 0.01 * np.eye(9)
        xyz = self._gamut.xyz(np.exp(nudged).reshape(9, 3, 3))
        return np.asarray(self.errors(xyz).sum(axis=-1) / 0.01)

    def _xyz(self, seen: Seen, responses: Responses, steps: Array) -> Array:
        """XYZ at the three levels, shape (..., 3, 3), if the controls do what is believed of them."""
        return _xyz_of(seen.unclipped_light + responses.predict(steps), seen.ceilings, self._gamut)

    def _expected(self, seen: Seen, responses: Responses, steps: Array) -> Array:
        """ΔE at the three levels, shape (..., 3), if the controls do what is believed of them."""
        return self.errors(self._xyz(seen, responses, steps))

    def _cost(self, seen: Seen, responses: Responses, weights: Array, steps: Array) -> Array:
        xyz = self._xyz(seen, responses, steps)
        de = self.errors(xyz)
        moved = _HOLD_LIGHT * np.log(xyz[..., 0, 1] / seen.xyz[0, 1])
        doubt = (weights**2 * responses.variance(steps))[..., 3:].sum(axis=-1)
        white = np.maximum(de[..., 0] - WHITE_LENIENCE, 0.0)
        pressed = _STEP * np.abs(steps).sum(axis=-1)
        # Half the sum of squares and half the worst: neither level is given up for the other.
        return np.asarray(
            0.5 * (de[..., 1:] ** 2).sum(axis=-1) + white**2 + _score(de) ** 2 + moved**2 + doubt + pressed
        )

    @staticmethod
    def _without_idle(point: Array, cost: Callable[[Array], Array]) -> Array:
        for column in np.flatnonzero(point):
            without = point.copy()
            without[column] = 0.0
            pair = np.sqrt(cost(np.stack([without, point])))
            if pair[0] - pair[1] < WORTH_NAMING:
                point = without
        return point

    def foretold(self, seen: Seen, responses: Responses, steps: Array) -> tuple[float, float]:
        """What `worst` is likely to be after a move, and the spread of reading that: noise of both looks."""
        spread, uneven = responses.variance(steps), responses.predict(steps) ** 2
        told = _TOLD_LIKELY * spread + _TOLD_UNEVEN**2 * uneven
        doubted = _DOUBTED_LIKELY * spread + _DOUBTED_UNEVEN**2 * uneven + 2.0 * seen.variance
        likely = self._drawn_worst(seen, responses, steps, told)
        read = self._drawn_worst(seen, responses, steps, doubted)
        # ΔE has no other side of nothing: its middle, and half of what lies between 16 and 84 % around it, or a
        # quarter of what lies between 2.5 and 97.5 % where its tails are long.
        lowest, low, high, highest = np.percentile(read, (2.5, 16.0, 84.0, 97.5))
        doubt = max((high - low) / 2.0, (highest - lowest) / 4.0) * self.surprises.factor
        return float(np.median(likely)), float(doubt)

    def _drawn_worst(self, seen: Seen, responses: Responses, steps: Array, doubt: Array) -> Array:
        """Draws of `worst` after a move whose change of log light is in doubt by a variance (9,)."""
        drawn = seen.unclipped_light + responses.predict(steps) + _LOG_DRAWS * np.sqrt(doubt + WANDER**2)
        de = self.errors(_xyz_of(drawn, seen.ceilings, self._gamut))
        return np.take_along_axis(de, (de - _LENIENCE).argmax(axis=-1)[..., None], axis=-1)

    def _likely_score(self, seen: Seen, responses: Responses, steps: Array) -> float:
        """Expected score after a move, from draws of what the controls may do."""
        mean = seen.unclipped_light + responses.predict(steps)
        drawn = mean + _LOG_DRAWS * np.sqrt(responses.variance(steps))
        return float(_score(self.errors(_xyz_of(drawn, seen.ceilings, self._gamut))).mean())


# Of the wandering between two looks, each has its half.
_WANDER_OF_ONE = WANDER / np.sqrt(2.0)
_DRAWS = np.random.default_rng(30).standard_normal((120, 3, 3))
_LOG_DRAWS = np.random.default_rng(31).standard_normal((120, 9))
_LIGHT_DRAWS = np.random.default_rng(32).standard_normal((120, 3))


def _singles() -> Array:
    """Every change of one control by up to three steps, and of two or three gains, or biases, together.

    Together they keep the cast and move the light, which one at a time could not.
    """
    rows: list[Any] = [n * unit for unit in np.eye(6) for n in (-3, -2, -1, 1, 2, 3)]
    for mask in ((1, 1, 1), (1, 1, 0), (1, 0, 1), (0, 1, 1)):
        for level in ((1.0, 0.0), (0.0, 1.0)):
            rows += [n * np.kron(level, mask) for n in (-5, -2, -1, 1, 2, 5)]
    return np.array(rows)


def _pairs() -> Array:
    """Every change of two controls by a step each, and of a channel's two by up to two."""
    rows = [
        a * first + b * second for first, second in combinations(np.eye(6), 2) for a in (-1, 1) for b in (-1, 1)
    ]
    gains, biases = np.eye(6)[:3], np.eye(6)[3:]
    for gain, bias in zip(gains, biases, strict=True):
        rows += [a * gain + b * bias for a in (-2, -1, 1, 2) for b in (-2, -1, 1, 2) if abs(a * b) > 1]
    return np.array(rows)


_SINGLES, _PAIRS = _singles(), _pairs()


def doubt_of(responses: Responses, steps: Array) -> Array:
    """Variance of the change of log light (9,) that a move is likely to bring, its readings' noise left out."""
    return _LIKELY * responses.variance(steps) + (_UNEVEN * responses.predict(steps)) ** 2 + WANDER**2


def decisive(de: Array) -> int:
    """Which of 100 %, bright and dark most asks for a move: the largest ΔE once 100 % has its lenience."""
    return int((np.asarray(de) - _LENIENCE).argmax())


def _score(de: Array) -> Array:
    return np.asarray((de - _LENIENCE).max(axis=-1))


def _xyz_of(light: Array, ceilings: Array, gamut: Gamut) -> Array:
    """XYZ (..., 3, 3) of log light (..., 9), of which 100 % does not rise above its ceilings."""
    capped = np.concatenate([np.minimum(light[..., :3], ceilings), light[..., 3:]], axis=-1)
    return gamut.xyz(np.exp(capped).reshape(*capped.shape[:-1], 3, 3))
