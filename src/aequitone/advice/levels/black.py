"""Black level: the setting above which black begins to rise.

Dark greys are read where the control stands. Above the edge their light is a power of the distance, so that the
edge is found by going back along the curve from where the meter sees well to where it sees nothing; what a step of
the control is worth is seen where it was turned. What is known of the edge is worked out by `edge`.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.levels.edge import RANGE_SIGNAL, Edge, edge_of
from aequitone.advice.levels.sweep import (
    BLACK,
    Ask,
    Curve,
    Finding,
    Look,
    Position,
    first_unread,
    grey_look,
    greys,
    in_order,
    share_of_range,
)
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

RAMP = (BLACK, *(grey_look(percent) for percent in (2.5, 4.0, 7.0)))
DISC_RAMP = (BLACK, *(grey_look(percent) for percent in (5.0, 10.0)))
"""Black first; the last is so bright that every step of the control is felt there. What a disc has are fives."""
_ENOUGH_STEPS, _MOST_SETTINGS = 0.5, 4
# A setting as found that is so near is left as it is, however much more exactly the edge were known.
_NEARLY_STEPS, _NEAR = 1.0, 0.7
_DARKEST_SD = 8e-6
# Spreads of the edge within which a setting as found is left alone, as it is within a step.
_LEFT_ALONE = 1.3
# Light that rises by less over the ramp, as a share of white, is none: then the setting lies far below.
_NONE = 1e-4
_FAR = 0.2
# Spreads beyond which light has changed, and beyond which a usual change is not overlooked: some do half of it.
_CHANGED, _PLAIN = 4.0, 8.0
# A second setting lies at least so far from the first, so that what a step is worth can be told.
_APART_STEPS = 3


@dataclass(frozen=True)
class BlackSweep:
    """Finds the edge of black from XYZ; `channels` tells red, green and blue apart where they were read."""

    control: ControlState
    white: float
    """Luminance of 100 %, cd/m²."""
    foot: float = 0.0
    """Share of the signal that such a panel gives no light for."""
    channels: Array | None = None
    """Turns XYZ into the light of red, green and blue, each 1 at 100 %, (3, 3)."""
    by_hand: bool = False
    """Whether a person walks to the menu for every position: then what stands about right is left as found."""
    from_disc: bool = False
    """Whether only greys can be shown that discs have."""

    @property
    def ramp(self) -> tuple[Look, ...]:
        """The greys that are read at a setting."""
        return DISC_RAMP if self.from_disc else RAMP

    def precision(self, look: Look, expected: float | None) -> float:  # noqa: ARG002 - all alike
        return max(0.0007, _DARKEST_SD * self.white, 0.015 * (expected or 0.0))

    def next(self, positions: Sequence[Position]) -> Ask | None:
        control = self.control
        if not positions:
            return Ask(control.value, self.ramp)
        settings = {position.setting for position in positions}
        if len(settings) >= _MOST_SETTINGS:
            return None
        if self._rise(positions) < _NONE * self.white:
            return self._asked(positions, max(settings) + share_of_range(control, _FAR))
        edge = self._edge(positions)
        if self._is_right(positions, edge):
            return None
        stands, wanted = positions[-1].setting, self._wanted(edge)
        if len(settings) == 1:
            by = wanted - stands
            least = _APART_STEPS * control.step
            return self._asked(positions, stands + np.copysign(max(abs(by), least), by or 1.0), stands + least)
        near = (_NEARLY_STEPS if self.by_hand else _ENOUGH_STEPS) * control.step
        if edge.setting_sd <= _ENOUGH_STEPS * control.step or abs(wanted - stands) <= near:
            return None
        return self._asked(positions, wanted)

    def _asked(self, positions: Sequence[Position], *wanted: float) -> Ask | None:
        setting = first_unread(self.control, positions, *wanted)
        return Ask(setting, self.ramp) if setting is not None else None

    def worth(self, positions: Sequence[Position]) -> float:
        """The signal that a setting adds, 0 to 1."""
        return self._edge(positions).per_setting

    def shift(self, before: Sequence[Position], newest: Position) -> tuple[float, float]:
        """How many settings the edge has moved since, and its spread, by the greys of one position each.

        What such greys get wrong of the edge is alike in both. The position that was read nearest to where the
        control stands is taken.
        """
        worth = self.worth(before)
        near = min(reversed(before), key=lambda each: abs(each.setting - newest.setting))
        then, now = self._edge([near]), self._edge([newest])
        apart = worth * (newest.setting - near.setting)
        return (now.signal - then.signal + apart) / worth, now.signal_sd / worth

    def moved_as_if(self, before: Position, newest: Position) -> tuple[float, float]:
        """By how many settings dark greys have moved from one position to another, and its spread.

        By what a setting is usually worth, and by the greys of each alone.
        """
        usual = RANGE_SIGNAL / (self.control.highest - self.control.lowest)
        then, now = self._edge([before]), self._edge([newest])
        return (then.signal - now.signal) / usual, float(np.hypot(then.signal_sd, now.signal_sd)) / usual

    def found(self, positions: Sequence[Position]) -> Finding:
        control = self.control
        if self._rise(positions) < _NONE * self.white:
            words = (
                f"Nothing up to {self.ramp[-1].percents[0]:g} % gives light, up to {control.name} at "
                f"{max(position.setting for position in positions)}: it goes back to where it was; set it by eye"
            )
            curve = self._curve(positions, RANGE_SIGNAL / (control.highest - control.lowest))
            return Finding(control.value, float(control.value), float(control.steps), f"{words}.", (curve,), True)
        edge = self._edge(positions)
        curve = self._curve(positions, edge.per_setting)
        exact, sd = self._wanted(edge), edge.setting_sd
        if self._is_unmoved(positions):
            low, *_, high = in_order(positions)
            words = (
                f"Dark greys did not change from {low.setting} to {high.setting}: either "
                f"{control.name} was not turned, or it is not the black level. It goes back to where it was; set "
                "it by eye"
            )
            return Finding(control.value, float(control.value), float(control.steps), f"{words}.", (curve,), True)
        setting = control.snapped(exact)
        told = f"Black begins to rise at {exact:.1f} ± {sd:.1f}."
        allowed = max(_LEFT_ALONE * sd, float(control.step))
        if setting != control.value and abs(control.value - exact) <= allowed:
            # What may be right is not turned: a step of black is a tenth of the light in the shadows.
            words = f"{told} {control.name} at {control.value}, as found, is right as far as that can be told"
            return Finding(control.value, exact, sd, f"{words}.", (curve,))
        if setting == control.value:
            words = f"{told} {control.name} is right at {setting}"
        else:
            words = f"{told} {control.name} belongs at {setting}: it swallows nothing, and lifts no black"
        return Finding(setting, exact, sd, f"{words}.", (curve,), setting in (control.lowest, control.highest))

    def _wanted(self, edge: Edge) -> float:
        """Where black belongs: what is read begins at the panel's first light, and nothing below is swallowed."""
        return edge.setting - self.foot / RANGE_SIGNAL * (self.control.highest - self.control.lowest)

    def _is_right(self, positions: Sequence[Position], edge: Edge) -> bool:
        """Whether the setting as found would be left alone, however much more exactly the edge were known."""
        off, step = abs(self.control.value - self._wanted(edge)), self.control.step
        patient = not self.by_hand and len({position.setting for position in positions}) > 1
        return edge.setting_sd <= _NEARLY_STEPS * step and off <= (_NEAR if patient else _NEARLY_STEPS) * step

    def _is_unmoved(self, positions: Sequence[Position]) -> bool:
        """Whether the control was turned, nothing came of it, and what usually does would have been seen."""
        ordered = in_order(positions)
        first, last = ordered[0], ordered[-1]
        if first.setting == last.setting:
            return False
        shared = [look for look in first.looks if look in last.looks]
        (low, low_sd), (high, high_sd) = first.of(*shared), last.of(*shared)
        lit = first.white / last.white if first.white and last.white else 1.0
        spread = np.hypot(low_sd[:, 1], lit * high_sd[:, 1])
        # Black's level adds to the signal: each grey would give what a lighter one does.
        signal = np.array([look.percents[0] for look in shared]) / 100.0
        usual = RANGE_SIGNAL / (self.control.highest - self.control.lowest) * (last.setting - first.setting)
        expected = np.interp(signal + usual, signal, low[:, 1]) - low[:, 1]
        moved = np.abs(lit * high[:, 1] - low[:, 1])
        return bool(np.all(moved < _CHANGED * spread) and np.any(expected > _PLAIN * spread))

    def _edge(self, positions: Sequence[Position]) -> Edge:
        settings, signals, light, spread = self._lights(positions)
        lifts = np.repeat([float(each.fresh) for each in positions], [len(each.looks) for each in positions])
        return edge_of(settings, signals, light, spread, self.control, float(positions[-1].setting), lifts)

    def _lights(self, positions: Sequence[Position]) -> tuple[Array, Array, Array, Array]:
        """Settings and signals, each (n,), lights as shares of white's, and their spread, each (n, channels)."""
        settings, signals, xyz, sd = greys(positions)
        # A position that was read while light output stood elsewhere is brought to the light of the others.
        scale = np.repeat(
            [self.white / position.white if position.white else 1.0 for position in positions],
            [len(position.looks) for position in positions],
        )[:, None]
        if self.channels is None:
            return settings, signals, scale * xyz[:, 1:2] / self.white, scale * sd[:, 1:2] / self.white
        spread = np.sqrt(sd**2 @ (self.channels**2).T)
        return settings, signals, scale * (xyz @ self.channels.T), scale * spread

    def _rise(self, positions: Sequence[Position]) -> float:
        """How far the light of all greys goes up from the darkest, cd/m²."""
        _, _, xyz, _ = greys(positions)
        return float(np.ptp(xyz[:, 1]))

    def _curve(self, positions: Sequence[Position], per_setting: float) -> Curve:
        """Light against the setting at which black itself would have it."""
        settings, signals, xyz, sd = greys(positions)
        across = settings + signals / per_setting
        order = np.argsort(across)
        return Curve("black", across[order], xyz[order, 1], sd[order, 1])
