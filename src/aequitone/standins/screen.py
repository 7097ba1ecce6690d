"""The stand-in screen: its menu and memories, its signal path, its panel, its life, and a hidden truth."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from aequitone.advice.roles import TWO_POINT, Role, role_of
from aequitone.colorimetry.arrays import Array
from aequitone.instruments.ports import Clock
from aequitone.signal import (
    BOARD_SQUARES,
    CORNER_AREA,
    Container,
    Patch,
    Range,
    Shape,
    SignalFormat,
    Transfer,
    signal_of,
)
from aequitone.standins.automatic import Automatic
from aequitone.standins.living import DARK, Frame, Life, power_limit
from aequitone.standins.nvram import Nvram
from aequitone.standins.parts import ControlPart
from aequitone.standins.scenario import Scenario
from aequitone.standins.signal_path.path import Settled, SignalPath
from aequitone.standins.tone_mapping import ToneMapping
from aequitone.standins.unit import Unit

_KEPT_FRAMES = 4096
# Least channel over most, in linear light, below which a picture is colour and above which it is grey.
_COLOUR, _GREY = 0.1, 0.55
# Of the least channel's light, what the fourth subpixel gives.
_SHARE_OF_WHITE = 0.5


@dataclass(frozen=True)
class Light:
    """XYZ in cd/m² by what it comes from, each of shape (3,): their spectra differ."""

    panel: Array
    white_pixel: Array | None = None

    @property
    def xyz(self) -> Array:
        return self.panel if self.white_pixel is None else self.panel + self.white_pixel


# Between input and memory in what is kept; no name has it.
_PARTED = "\t"


class StandInScreen:
    """One unit of the scenario's screen; the seed makes it differ from its model."""

    def __init__(self, scenario: Scenario, seed: int, clock: Clock, nvram: Nvram | None = None) -> None:
        self.part = scenario.screen
        self._window = scenario.source.window_share
        self._clock = clock
        self._controls = {control.role: control for control in self.part.menu}
        self._nvram = nvram or Nvram(None)
        rng = np.random.default_rng([seed, 1])
        self.unit = Unit(self.part, rng)
        self.path = SignalPath(self.part, self.unit)
        self.found_settings = {control.role: self._found(control, rng) for control in self.part.menu}
        self._modes = {mode.name: i for i, mode in enumerate(self.part.mode)}
        self.memory = (scenario.visit.input, scenario.visit.memory)
        if Role.PICTURE_MODE.key in self._controls:
            self.found_settings[Role.PICTURE_MODE.key] = self._modes.get(self.memory[1], 0)
        self._memories: dict[tuple[str, str], dict[str, int]] = {self.memory: dict(self.found_settings)}
        self._remember(self._nvram.load())
        self._life = Life(self.part, clock.now())
        self._automatic = Automatic(self.part.feature, clock.now())
        hdr = self.part.hdr
        self._mapping = ToneMapping(hdr, self.part.peak_cd_m2, clock.now()) if hdr is not None else None
        self._pending: tuple[float, Patch] | None = None
        self._picture: Patch | None = None
        self._frame = DARK
        self._frames: dict[tuple[Patch, float], Frame] = {}
        self._settle()

    # The menu

    @property
    def _settings(self) -> dict[str, int]:
        return self._memories[self.memory]

    def controls(self) -> tuple[ControlPart, ...]:
        """The menu, in the screen's own words."""
        return tuple(self._controls.values())

    def settings(self) -> dict[str, int]:
        return dict(self._settings)

    def turn(self, settings: Mapping[str, int]) -> None:
        """Set controls; a value beyond an end stop stays at the stop, as a real menu does."""
        mode = settings.get(Role.PICTURE_MODE.key)
        if mode is not None and mode != self._settings.get(Role.PICTURE_MODE.key):
            self._go_to(self.memory[0], self.part.mode[min(max(mode, 0), len(self.part.mode) - 1)].name)
        for role, value in settings.items():
            if role == Role.PICTURE_MODE.key:
                continue
            if role == Role.POWER.key:
                # Of the screen, not of a memory.
                for of_memory in self._memories.values():
                    of_memory[role] = min(max(value, 0), 1)
                continue
            control = self._controls[role]
            clipped = min(max(value, control.lowest), control.highest)
            steps = round((clipped - control.lowest) / control.step)
            for of_memory in self._sharing(role):
                of_memory[role] = control.lowest + steps * control.step
        self._nvram.save(self._kept())
        self._settle()

    def _sharing(self, role: str) -> list[dict[str, int]]:
        """The memories that a control is turned in: the present one, or all."""
        hdr = self.part.hdr
        if hdr is not None and hdr.shares_white and role_of(role) in TWO_POINT:
            return list(self._memories.values())
        return [self._settings]

    def _kept(self) -> dict[str, int]:
        """Every memory's settings, those of other inputs, or without a mode, by input and name."""
        first = next(iter(self._memories))
        kept: dict[str, int] = {}
        for (input_, name), settings in self._memories.items():
            of_mode = name in self._modes and input_ == first[0]
            where = name if of_mode else f"{input_}{_PARTED}{name}"
            kept |= {f"{where}/{role}": value for role, value in settings.items()}
        here = self.memory if self._modes and self.memory[0] == first[0] else first
        return kept | self._memories[here]

    def quieten(self) -> None:
        """Switch off all that acts by itself, in every mode, as Prepare has it."""
        features = [control.role for control in self.part.menu if control.role.startswith("feature-")]
        here = self.memory
        for mode in self._modes:
            self._go_to(here[0], mode)
        self.memory = here
        for settings in self._memories.values():
            settings.update(dict.fromkeys(features, 0))
        self._settle()

    @property
    def first_memory(self) -> tuple[str, str]:
        """Input and name of the memory that it was found in."""
        return next(iter(self._memories))

    def has_memory(self, input_: str, memory: str) -> bool:
        """Whether it was in that memory before, or has a mode of that name."""
        return (input_, memory) in self._memories or memory in self._modes

    def choose_memory(self, input_: str, memory: str) -> None:
        """Go to another picture memory; one that was never used stands as its mode does, or at the factory's."""
        self._go_to(input_, memory)
        self._settle()

    def _go_to(self, input_: str, memory: str) -> None:
        self.memory = (input_, memory)
        if self.memory in self._memories:
            return
        settings = {control.role: control.factory for control in self.part.menu}
        if memory in self._modes:
            settings |= self.part.mode[self._modes[memory]].settings | {Role.PICTURE_MODE.key: self._modes[memory]}
        power = next(iter(self._memories.values()))[Role.POWER.key] if self._memories else 1
        self._memories[self.memory] = settings | {Role.POWER.key: power}

    def _remember(self, kept: Mapping[str, int]) -> None:
        """Go back to what was kept when the program ended."""
        first = self.memory
        for key, value in kept.items():
            name, _, role = key.rpartition("/")
            if role not in self._controls or not self._is_setting(self._controls[role], value):
                continue
            input_, parted, of_input = name.partition(_PARTED)
            if parted:
                self._go_to(input_, of_input)
                self._settings[role] = value
            elif name in self._modes:
                self._go_to(first[0], name)
                self._settings[role] = value
        self.memory = first
        mode = kept.get(Role.PICTURE_MODE.key)
        if mode is not None and mode in self._modes.values():
            self._go_to(self.memory[0], self.part.mode[mode].name)
        elif self._modes:
            self._go_to(*next(iter(self._memories)))
        for role, value in kept.items():
            if role in self._controls and self._is_setting(self._controls[role], value):
                self._settings[role] = value

    def switch_on(self) -> None:
        """Back to the memory it was found in, without tables."""
        self.memory = next(iter(self._memories))
        self.path.tables.load_1d(None)
        self.load_3d(None)

    def load_1d(self, table: Array | None) -> None:
        """Load a 1D table, or take it out; ValueError where it does not fit."""
        self.path.tables.load_1d(table)
        self._settle()

    def load_3d(self, table: Array | None) -> None:
        """Load a 3D table, or take it out; ValueError where it does not fit."""
        self.path.tables.load_3d(table)
        self._settle()

    def _settle(self) -> None:
        self._now = self.path.settled(self._settings)
        self._on = [part for part in self.part.feature if self._settings[f"feature-{part.kind}"]]
        if self._mapping is not None:
            self._mapping.follows = next((part for part in self._on if part.kind == "tone-mapping"), None)
        self._frames.clear()
        if self._picture is not None:
            self._frame = self._frame_of(self._picture)

    # The picture

    def show(self, patch: Patch, at: float | None = None) -> None:
        """A picture as it arrives at the input; `at`: seconds on the clock, later than now for a late one."""
        self._arrive()
        if at is not None and at > self._clock.now():
            self._pending = (at, patch)
            return
        self._pending = None
        self._put(patch, self._clock.now())

    @property
    def picture(self) -> Patch | None:
        """What is on the screen now."""
        self._arrive()
        return self._picture

    @property
    def expecting(self) -> bool:
        """Whether a late picture is on its way."""
        return self._pending is not None

    def _arrive(self) -> None:
        if self._pending is not None and self._pending[0] <= self._clock.now():
            at, patch = self._pending
            self._pending = None
            self._put(patch, at)

    def _put(self, patch: Patch, at: float) -> None:
        self._picture = patch
        self._frame = self._frame_of(patch)
        self._life.show(self._frame, at)
        self._automatic.show(self._frame, at)
        if self._mapping is not None:
            self._mapping.show(self._frame.average, _named(patch), at)

    # Light

    def light_now(self, spot: tuple[float, float] = (0.0, 0.0), angle: float = 0.0) -> Light:
        """What is given off at this moment at a spot (0, 0 the middle, 1, 1 a corner), seen at an angle."""
        self._arrive()
        if not self._settings[Role.POWER.key]:
            return Light(np.zeros(3))
        now = self._clock.now()
        frame = self._frame
        if self._picture is not None and self._mapping is not None and self._mapping.moves:
            frame = self._frame_of(self._picture, self._mapping.maps_from(now))
        factor = self._life.light(now)
        if self._on:
            factor *= self._automatic.factor(self._on, now)
        cast = self._life.cast(now)
        even = self.part.uniformity
        off = (spot[0] ** 2 + spot[1] ** 2) / 2.0
        if off > 0.0:
            factor *= 1.0 + even.corner_light_share * off
            uneven = 1.0 + np.array(even.corner_cast_share) * off
            cast = uneven if cast is None else cast * uneven
        factor *= max(0.0, 1.0 - even.off_axis_share_per_degree * angle)
        return self._given(frame, self._now, factor, cast)

    def steady(self, patch: Patch) -> Array:
        """XYZ in cd/m², shape (3,), for a patch on a warm, undimmed screen with nothing automatic on."""
        return self.steady_light(patch).xyz

    def steady_light(self, patch: Patch) -> Light:
        """The same, by what it comes from."""
        frame = self._frame_of(patch)
        if self._mapping is not None and self._mapping.moves:
            frame = self._frame_of(patch, self._mapping.steady(frame.average, _named(patch)))
        return self._given(frame, self._now, 1.0, None)

    def light_of_signal(
        self,
        signal: Array,
        settings: Mapping[str, int] | None = None,
        transfer: Transfer = Transfer.GAMMA,
        container: Container = Container.REC709,
    ) -> Array:
        """XYZ in cd/m², shape (..., 3), for signals (0 black, 1 white) of shape (..., 3), steady."""
        at = self._now if settings is None else self.path.settled(settings)
        linear = self.path.linear(np.asarray(signal, dtype=float), at, transfer, container)
        flat = linear.reshape(-1, 3)
        window = SignalFormat(10, Range.LIMITED, self._window)
        xyz = [self._given(self._framed(row, window), at, 1.0, None).xyz for row in flat]
        return np.array(xyz).reshape(linear.shape)

    def _frame_of(self, patch: Patch, maps_from: float = 0.0) -> Frame:
        if not maps_from and self._mapping is not None:
            maps_from = self._mapping.steady(1.0, _named(patch))
        kept = self._frames.get((patch, maps_from))
        if kept is None:
            if len(self._frames) >= _KEPT_FRAMES:
                self._frames.clear()
            format_ = patch.format
            expects = self.part.expects_range
            range_ = format_.range if expects == "as sent" else Range(expects)
            signal = signal_of(patch.codes, format_.depth, range_)
            linear = self.path.linear(signal, self._now, format_.transfer, format_.container, maps_from)
            frame = self._framed(linear, format_)
            if patch.shape is not Shape.WINDOW:
                frame = self._boarded(frame) if patch.shape is Shape.BOARD else self._cornered(frame)
            kept = self._frames[patch, maps_from] = frame
        return kept

    def _framed(self, linear: Array, format_: SignalFormat) -> Frame:
        light = float(linear @ self.unit.luminance)
        return Frame(linear, light, light * format_.window, peak=light)

    def _boarded(self, middle: Frame) -> Frame:
        """A checkerboard whose middle is like this: about half of the squares are the other colour."""
        like = (BOARD_SQUARES**2 + 1) / 2 / BOARD_SQUARES**2
        white = float(self.unit.luminance.sum())
        around = (white - middle.light) * (1.0 - like)
        return Frame(middle.linear, middle.light, middle.light * like + around, around, white)

    def _cornered(self, middle: Frame) -> Frame:
        """A window with white in the corners of the picture."""
        white = float(self.unit.luminance.sum())
        around = 4 * CORNER_AREA * white
        return Frame(middle.linear, middle.light, middle.average + around, around, white)

    def _given(self, frame: Frame, at: Settled, factor: float, cast: Array | None) -> Light:
        part, unit = self.part, self.unit
        linear = frame.linear if cast is None else frame.linear * cast
        scale = part.peak_cd_m2 * at.light_output * factor
        lit = scale * power_limit(part, frame.average)
        # A backlight that dims takes its leakage along; black that floats follows the average level.
        black = unit.leakage * scale
        if part.power.floating_black_cd_m2:
            black = black + unit.gamut.white.xyz(part.power.floating_black_cd_m2 * frame.average)
        panel = unit.gamut.xyz_matrix @ linear * lit
        if frame.around and part.uniformity.glare_share:
            panel = panel + unit.gamut.white.xyz(part.uniformity.glare_share * frame.around * lit)
        light = self._helped(panel, linear, lit) if part.white_pixel.boost else Light(panel)
        return Light(light.panel + black, light.white_pixel)

    def _helped(self, panel: Array, linear: Array, lit: float) -> Light:
        """With a fourth subpixel: greys get brighter than their colours add up to, and keep their hue."""
        boost, amounts = self.part.white_pixel.boost, linear.tolist()
        least, most = min(amounts), max(amounts)
        if most <= 0.0:
            return Light(panel)
        whole = panel * (1.0 + boost * _help(least / most)) / (1.0 + boost)
        # What the fourth one gives has a spectrum of its own, and the other three give that much less.
        white = self.unit.white_pixel * (_SHARE_OF_WHITE * least * lit)
        return Light(whole - white, white)

    def _found(self, control: ControlPart, rng: np.random.Generator) -> int:
        found = control.found + self.unit.neutral.get(control.role, 0) * control.step
        if control.found_spread:
            found += int(rng.integers(-control.found_spread, control.found_spread + 1)) * control.step
        return min(max(found, control.lowest), control.highest)

    @staticmethod
    def _is_setting(control: ControlPart, value: int) -> bool:
        return control.lowest <= value <= control.highest and (value - control.lowest) % control.step == 0


def _named(patch: Patch) -> float:
    """The mastering peak that is named with a patch, cd/m²; 0 where none is."""
    return patch.format.mastering.peak if patch.format.mastering is not None else 0.0


def _help(neutrality: float) -> float:
    """How much of the fourth subpixel helps: all of it for greys, none for colours, evenly between."""
    along = min(max((neutrality - _COLOUR) / (_GREY - _COLOUR), 0.0), 1.0)
    return along * along * (3.0 - 2.0 * along)
