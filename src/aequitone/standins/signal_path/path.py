"""The signal path: from the signal to the drive of the panel, in the order of docs/stand-ins.md."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from aequitone.advice.roles import BIASES, GAINS, Role
from aequitone.colorimetry.arrays import Array
from aequitone.signal import Container, Transfer
from aequitone.standins.parts import ControlPart
from aequitone.standins.screen_part import ScreenPart
from aequitone.standins.signal_path.colours import (
    banded,
    colour_and_tint,
    colour_shares,
    content_to_panel,
    in_bands,
    management,
)
from aequitone.standins.signal_path.points import point_curves
from aequitone.standins.signal_path.tables import Tables
from aequitone.standins.signal_path.tone import hdr_light, shaped
from aequitone.standins.unit import Unit

_CURVE_AT = np.linspace(0.0, 1.0, 1025)
# A bias that multiplies does about as much at a third of the signal as one that lifts; one on light, near black.
_SHADOWS, _LIGHT_OF_BIAS = 3.0, 0.1


@dataclass(frozen=True)
class Settled:
    """What a set of settings comes to: worked out once, used for every patch until one is turned."""

    contrast: float
    lift: float
    gamma: float
    preset: Array
    bend: Array
    gains: Array
    biases: Array
    curves: Array | None
    gamut: Array | None
    colour: Array | None
    management: Array | None
    banded: Array | None
    light_output: float


class SignalPath:
    """One unit's signal path; pure apart from the tables that were loaded."""

    def __init__(self, part: ScreenPart, unit: Unit) -> None:
        self._part, self._unit = part, unit
        self._controls: dict[str, ControlPart] = {control.role: control for control in part.control}
        self._has_fault = bool(np.any(unit.colour_fault) or np.any(unit.pale_fault))
        self.tables = Tables(part.table_1d_size, part.table_3d_size)
        self._hdr_matrices = {container: content_to_panel(unit.gamut, container.value) for container in Container}

    def settled(self, at: Mapping[str, int]) -> Settled:
        """Work out what settings do."""
        part, unit, effect = self._part, self._unit, self._part.effect
        gammas, presets, gamuts = part.gammas, unit.presets, part.gamut
        preset = at.get(Role.TEMPERATURE.key, 0)
        return Settled(
            contrast=1.0 + effect.contrast_per_step * self._from_neutral(Role.CONTRAST, at),
            lift=effect.black_level_per_step * self._from_neutral(Role.BLACK_LEVEL, at),
            gamma=gammas[at[Role.GAMMA.key]] if Role.GAMMA.key in at else gammas[0],
            preset=presets[preset],
            bend=unit.preset_bends[preset],
            gains=1.0 + effect.gain_per_step * unit.gain_effect * self._steps(GAINS, at),
            biases=effect.bias_per_step * unit.bias_effect * self._steps(BIASES, at),
            curves=point_curves(part.multi_point, at, _CURVE_AT, unit.level_errors) if part.multi_point else None,
            gamut=content_to_panel(unit.gamut, gamuts[at.get(Role.GAMUT.key, 0)].shows) if gamuts else None,
            colour=colour_and_tint(effect, self._from_neutral(Role.COLOUR, at), self._from_neutral(Role.TINT, at)),
            management=management(part, at),
            banded=banded(part, at),
            light_output=self._light_output(at),
        )

    def linear(
        self, signal: Array, at: Settled, transfer: Transfer, container: Container, maps_from: float = 0.0
    ) -> Array:
        """Linear RGB of the panel, 0 to 1, shape (..., 3), for signals (0 black, 1 white).

        `maps_from`: light in cd/m² that HDR's roll-off brings down to the peak; 0 for the scenario's own.
        """
        part, unit = self._part, self._unit
        v = np.minimum(np.maximum(signal * at.contrast + at.lift, 0.0), 1.0 + part.headroom_share)
        if at.colour is not None:
            v = np.minimum(np.maximum(v @ at.colour.T, 0.0), 1.0 + part.headroom_share)
        path = part.path
        if path.tone != "power":
            v = shaped(v, path)
        # Multi-point knows its levels by the signal as it came.
        level = v
        if path.gains_on == "signal":
            v = _unit(self._balanced(v, at))
        hdr = part.hdr if transfer is not Transfer.GAMMA else None
        if hdr is None:
            drive = v ** (at.gamma / part.native_gamma)
        else:
            drive = hdr_light(v, transfer, hdr, part.peak_cd_m2, maps_from or hdr.maps_from_cd_m2) ** (
                1.0 / part.native_gamma
            )
        is_before = part.colour_management is not None and part.colour_management.place == "before-gains"
        is_managed = at.management is not None or self._has_fault
        if is_managed and is_before:
            drive = self._in_light(_unit(drive), None, at)
        drive = drive * at.preset
        if at.bend.any():
            drive = drive * (1.0 + at.bend * (1.0 - np.minimum(drive, 1.0)))
        if path.gains_on == "drive":
            drive = _unit(self._balanced(drive, at))
        elif path.gains_on == "light":
            drive = self._balanced_in_light(drive, at)
        if min(path.clips_share) < 1.0:
            drive = np.minimum(drive, np.asarray(path.clips_share))
        if part.fault.sag:
            drive = drive * (1.0 - unit.sag * 4.0 * drive * (1.0 - drive))
        if at.curves is not None:
            drive = drive + _looked_up(level, at.curves)
        matrix = at.gamut if hdr is None else self._hdr_matrices[container]
        if matrix is not None or (is_managed and not is_before):
            drive = self._in_light(_unit(drive), matrix, None if is_before else at)
        drive = self.tables.apply(_unit(drive))
        return self._panel(drive)

    def _balanced(self, drive: Array, at: Settled) -> Array:
        """After gains and biases."""
        match self._part.path.biases:
            case "add":
                return drive * at.gains + at.biases
            case "multiply":
                return drive * at.gains * (1.0 + _SHADOWS * at.biases * (1.0 - drive))
        return drive * at.gains + at.biases * (1.0 - drive)

    def _balanced_in_light(self, drive: Array, at: Settled) -> Array:
        """Gains and biases that act on light: a gain does as much as it would in drive, a bias what it can."""
        gamma = self._part.native_gamma
        light = drive**gamma
        light = light * at.gains**gamma + _LIGHT_OF_BIAS * at.biases * (1.0 - light)
        return np.asarray(_unit(light) ** (1.0 / gamma))

    def _in_light(self, drive: Array, matrix: Array | None, at: Settled | None) -> Array:
        """What is done to linear light: the gamut's matrix, and (with settings) the colour management."""
        linear = drive**self._part.native_gamma
        if matrix is not None:
            linear = _unit(linear @ matrix.T)
        if at is not None:
            linear = self._managed(linear, at)
        return np.asarray(linear ** (1.0 / self._part.native_gamma))

    def _managed(self, linear: Array, at: Settled) -> Array:
        """After the unit's own faults and the colour management: they act by how much of each colour is there."""
        shares, added = colour_shares(linear), np.zeros_like(linear)
        if self._has_fault:
            most = np.maximum(linear.max(axis=-1, keepdims=True), 1e-9)
            added = shares @ self._unit.colour_fault
            added = added + 4.0 * shares * (1.0 - np.minimum(shares / most, 1.0)) @ self._unit.pale_fault
        if at.management is not None:
            added = added + (shares if at.banded is None else in_bands(shares, at.banded)) @ at.management
        return _unit(linear + added)

    def _panel(self, drive: Array) -> Array:
        """The panel's own doings: its steps, its gammas, its dark end, its leaks between channels."""
        part = self._part
        steps = 2**part.panel_bit - 1
        drive = np.rint(drive * steps) / steps
        if any(part.gun_offset):
            offset = np.asarray(part.gun_offset)
            drive = np.clip((drive + offset) / (1.0 + np.abs(offset)), 0.0, 1.0)
        linear = drive**self._unit.gamma
        dark = part.near_black
        if any(dark.tint):
            linear = linear * (1.0 + np.asarray(dark.tint) * np.exp(-linear / dark.fades_share))
        if dark.step_share:
            linear = np.where(linear < dark.step_share, 0.0, linear)
        if part.crosstalk:
            mean = linear.sum(axis=-1, keepdims=True) / 3.0
            linear = linear * (1.0 - part.crosstalk) + part.crosstalk * mean
        return np.asarray(linear)

    def _from_neutral(self, role: Role, at: Mapping[str, int]) -> int:
        if role.key not in self._controls:
            return 0
        control = self._controls[role.key]
        return at[role.key] - control.factory - self._unit.neutral[role.key] * control.step

    def _setting(self, role: Role, at: Mapping[str, int]) -> tuple[ControlPart, int] | None:
        """The control that does what a role is called, and where it stands; None where nothing does."""
        path, key = self._part.path, role.key
        if path.swapped and key in path.swapped:
            first, second = path.swapped
            key = second if key == first else first
        if key not in self._controls or key in path.dead:
            return None
        return self._controls[key], at[key]

    def _steps(self, roles: tuple[Role, ...], at: Mapping[str, int]) -> Array:
        weakness = self._part.fault.end_weakness
        steps = []
        for role in roles:
            found = self._setting(role, at)
            if found is None:
                steps.append(0.0)
                continue
            control, value = found
            span = (control.highest - control.lowest) / 2.0
            offset = value - control.factory
            dead = self._part.path.dead_zone_steps * control.step
            offset = offset - dead if offset > dead else offset + dead if offset < -dead else 0
            # A control that weakens towards its stop: the hidden nonlinearity that a fixed step size misses.
            steps.append(offset * (1.0 - weakness * (abs(offset) / span) ** 2))
        return np.array(steps)

    def _light_output(self, at: Mapping[str, int]) -> float:
        control = self._controls.get(Role.LIGHT_OUTPUT.key)
        if control is None:
            return 1.0
        share = (at[Role.LIGHT_OUTPUT.key] - control.lowest) / (control.highest - control.lowest)
        lowest = self._part.lowest_light_share
        return lowest + (1.0 - lowest) * share


def _unit(values: Array) -> Array:
    """Values kept between 0 and 1; for three numbers at a time several times as fast as numpy's own clip."""
    return np.asarray(np.minimum(np.maximum(values, 0.0), 1.0))


def _looked_up(v: Array, curves: Array) -> Array:
    return np.stack([np.interp(v[..., i], _CURVE_AT, curves[i]) for i in range(3)], axis=-1)
