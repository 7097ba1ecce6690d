"""The stand-in meter, pattern source and screen link: the three ports, in process."""

from collections.abc import Mapping
from dataclasses import replace
from enum import Enum

import numpy as np

from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.ports import Clock, Measurement, MeterNoise
from aequitone.signal import Container, Patch, Range, SignalFormat, Transfer, code_value, signal_of
from aequitone.standins.bench_parts import MeterPart, SourcePart
from aequitone.standins.scenario import HandPart
from aequitone.standins.screen import StandInScreen
from aequitone.standins.sensor import Sensor
from aequitone.standins.signal_path.colours import mixed_wrongly

# Light, as a share of the peak, up to which a plasma makes its greys by dither.
_DITHERED = 0.03
# Shares of R', G' and B' in luma (ITU-R BT.709-6, 3.2).
_LUMA = np.array([0.2126, 0.7152, 0.0722])
_PLACING_SECONDS = 8.0
# A pressed soft panel: what X and Z gain and lose under the foot of a meter.
_PRESSED = np.array([1.006, 1.0, 0.988])


class Fault(Enum):
    """What a scenario may have go wrong with an answer."""

    SILENT = "it does not answer"
    LATE = "it did not answer in time"
    HALF = "only half of its answer came"
    LOST = "the connection was lost"
    RUBBISH = "its answer made no sense"


class StandInSource:
    """Puts patches on the stand-in screen, after its latency, or wrongly where the scenario says so."""

    def __init__(self, part: SourcePart, screen: StandInScreen, clock: Clock, seed: int) -> None:
        self._part, self._screen, self._clock = part, screen, clock
        self._rng = np.random.default_rng([seed, 3])
        self.shown: Patch | None = None

    @property
    def name(self) -> str:
        return self._part.name

    @property
    def settle_seconds(self) -> float:
        return self._part.settle_seconds

    def show(self, patch: Patch) -> None:
        """What the port promises; the scenario's faults included."""
        fault = self.fault()
        if fault is not None:
            raise InstrumentError(self.name, fault.value)
        self.send(patch)

    def fault(self) -> "Fault | None":
        """What goes wrong with the answer that is due now, by the scenario."""
        part = self._part
        if not (part.timeout_share or part.disconnect_share):
            return None
        fate = float(self._rng.random())
        if fate < part.timeout_share:
            return Fault.LATE
        return Fault.LOST if fate < part.timeout_share + part.disconnect_share else None

    def forget(self) -> None:
        """As after it was switched off and on: nothing is sent."""
        self.shown = None

    def send(self, patch: Patch) -> None:
        """Send a patch, after the latency."""
        part = self._part
        latency = part.latency_seconds
        if part.latency_spread_seconds:
            latency += part.latency_spread_seconds * float(self._rng.random())
        self._clock.sleep(latency)
        late = part.late_share and self._rng.random() < part.late_share
        self.shown = patch
        self._screen.show(sent(patch, part), self._clock.now() + part.late_seconds if late else None)

    def shows(self, patch: Patch) -> bool:
        """What it would say of itself: a late or wrongly sent patch is not noticed by its sender."""
        return self.shown == patch


def sent(patch: Patch, part: SourcePart) -> Patch:
    """The patch as it leaves a source that is set as `part` says."""
    asked = (part.sends_range, part.sends_transfer, part.sends_container, part.sends_matrix)
    if set(asked) == {"as asked"} and not (part.contrast_share or part.colour_share):
        return patch
    format_, codes = patch.format, patch.codes
    if part.contrast_share or part.colour_share:
        codes = _coded(_enhanced(np.array(patch.signal), part), format_)
    if part.sends_matrix != "as asked":
        codes = _coded(mixed_wrongly(np.array(patch.signal), part.sends_matrix), format_)
    if part.sends_range != "as asked" and part.sends_range != format_.range:
        # The source stretches or squeezes the codes, and the screen goes on reading them as before.
        signal = signal_of(codes, format_.depth, format_.range)
        r, g, b = (int(code) for code in code_value(signal, format_.depth, Range(part.sends_range)))
        codes = (r, g, b)
    transfer = format_.transfer if part.sends_transfer == "as asked" else Transfer(part.sends_transfer)
    container = format_.container if part.sends_container == "as asked" else Container(part.sends_container)
    return replace(patch, codes=codes, format=replace(format_, transfer=transfer, container=container))


def _enhanced(signal: np.ndarray, part: SourcePart) -> np.ndarray:
    """What a player that means well makes of a signal: more contrast, stronger colours."""
    bent = signal - part.contrast_share * np.sin(2.0 * np.pi * np.clip(signal, 0.0, 1.0)) / (2.0 * np.pi)
    grey = float(bent @ _LUMA)
    return np.asarray(np.maximum(grey + (1.0 + part.colour_share) * (bent - grey), 0.0))


def _coded(signal: np.ndarray, format_: SignalFormat) -> tuple[int, int, int]:
    """The codes of a signal, at most the largest there is."""
    most = float(signal_of(2**format_.depth - 1, format_.depth, format_.range))
    r, g, b = (int(code) for code in code_value(np.minimum(signal, most), format_.depth, format_.range))
    return r, g, b


class StandInMeter:
    """Looks at the stand-in screen, with noise that grows as light falls, and faults on request."""

    repeats = True

    def __init__(self, part: MeterPart, screen: StandInScreen, clock: Clock, seed: int) -> None:
        self._part, self._screen, self._clock = part, screen, clock
        self.spot = part.spot
        """Where it hangs: across and up, 0 the middle, 1 an edge."""
        self._rng = np.random.default_rng([seed, 2])
        # The data sheet promises a typical unit; this one is a little better or worse.
        luck = float(np.exp(self._rng.normal(0.0, 0.15)))
        self.true_noise = MeterNoise(
            part.shot_noise * luck, part.floor_noise_cd_m2 * luck, part.read_noise_cd_m2 * luck
        )
        self.sensor = Sensor(part, screen.part, screen.unit, self._rng)
        self._start = clock.now()
        self._readings = 0
        flicker = screen.part.flicker
        self.synchronised_hz = flicker.hz if part.synchronised and flicker.depth else None
        """The refresh over whose whole periods it integrates; None for none."""

    @property
    def name(self) -> str:
        return self._part.name

    @property
    def noise(self) -> MeterNoise:
        part = self._part
        return MeterNoise(part.shot_noise, part.floor_noise_cd_m2, part.read_noise_cd_m2)

    def measure(self, patch: Patch, seconds: float) -> Measurement:  # noqa: ARG002 - it looks at the screen
        """What the port promises; the scenario's faults included."""
        light = self.integrate(seconds)
        fault = self.fault()
        if fault is Fault.RUBBISH:
            return Measurement(float("nan"), -1e9, 0.0)
        if fault is not None:
            raise InstrumentError(self.name, fault.value)
        return self.told(light, seconds)

    def integrate(self, seconds: float) -> np.ndarray:
        """Take the time that a measurement takes; what came in meanwhile, without the meter's own noise.

        A picture that changes meanwhile is half in.
        """
        self._clock.sleep(self._part.overhead_seconds)
        if self._screen.expecting:
            first = self._light()
            self._clock.sleep(seconds)
            return np.asarray((first + self._light()) / 2.0)
        self._clock.sleep(seconds)
        return self._light()

    def fault(self) -> "Fault | None":
        """What goes wrong with the answer that is due now, by the scenario."""
        part = self._part
        self._readings += 1
        if part.silent_after_readings is not None and self._readings > part.silent_after_readings:
            return Fault.SILENT
        if not (part.timeout_share or part.rubbish_share or part.half_answer_share or part.disconnect_share):
            return None
        fate = float(self._rng.random())
        for share, fault in (
            (part.timeout_share, Fault.LATE),
            (part.half_answer_share, Fault.HALF),
            (part.disconnect_share, Fault.LOST),
            (part.rubbish_share, Fault.RUBBISH),
        ):
            if fate < share:
                return fault
            fate -= share
        return None

    def told(self, light: np.ndarray, seconds: float) -> Measurement:
        """What it makes of the light of `seconds`."""
        if self._screen.picture is None:
            raise InstrumentError(self.name, "there is no patch to read yet")
        X, Y, Z = self._answer(light, seconds).tolist()
        return Measurement(X, Y, Z)

    def place(self, spot: tuple[float, float]) -> None:
        """Hang it at another place, which takes a person a while."""
        self._clock.sleep(_PLACING_SECONDS)
        self.spot = spot

    def synchronise(self, hz: float | None) -> None:
        """Integrate over whole periods of so many Hz; None for not."""
        self.synchronised_hz = hz

    def _light(self) -> np.ndarray:
        part, screen = self._part, self._screen
        xyz = self.sensor.seen(screen.light_now(self.spot, part.angle_degree))
        if part.placement == "pressed" and screen.part.soft_surface:
            xyz = xyz * _PRESSED
        elif part.placement == "distance" and screen.part.ambient.cd_m2:
            xyz = xyz + self.sensor.ambient(screen.part.ambient)
        return xyz

    def _answer(self, xyz: np.ndarray, seconds: float) -> np.ndarray:
        part, screen = self._part, self._screen
        sd = self.true_noise.sd(xyz, seconds)
        flicker = screen.part.flicker
        if flicker.depth and self.synchronised_hz != flicker.hz:
            # Part of a pulse more or less is caught, as chance has it.
            pulses = flicker.hz * seconds
            xyz = xyz * (1.0 + flicker.depth * float(np.sin(2.0 * np.pi * self._rng.random())) / pulses)
        if screen.part.dither_share:
            # Dither is coarse in the dark; bright greys have steps enough without it.
            dark = np.minimum(xyz, _DITHERED * screen.part.peak_cd_m2)
            sd = sd + dark * screen.part.dither_share / np.sqrt(seconds)
        if part.dark_drift_cd_m2:
            minutes = (self._clock.now() - self._start) / 60.0
            xyz = xyz + part.dark_drift_cd_m2 * float(np.exp(-minutes / part.dark_drift_minutes))
        xyz = xyz + self._rng.standard_normal(3) * sd
        if part.outlier_share and self._rng.random() < part.outlier_share:
            size = part.outlier_size * (0.3 + 0.7 * float(self._rng.random()))
            xyz = xyz * (1.0 + size * (1.0 if self._rng.random() < 0.5 else -1.0))
        if part.darkest_cd_m2 and xyz[1] < part.darkest_cd_m2:
            return np.zeros(3)
        return np.asarray(xyz)


class StandInLink:
    """Turns the stand-in's controls, at the speed of a person with a remote."""

    def __init__(self, screen: StandInScreen, hand: HandPart, clock: Clock) -> None:
        self._screen, self._hand, self._clock = screen, hand, clock

    @property
    def name(self) -> str:
        return f"{self._screen.part.name}, by link"

    def turn(self, settings: Mapping[str, int]) -> None:
        now, limits = self._screen.settings(), {control.role: control for control in self._screen.controls()}
        # What lies beyond an end stop is not turned, and takes no time.
        settings = {
            role: max(limits[role].lowest, min(limits[role].highest, value)) for role, value in settings.items()
        }
        steps = sum(abs(value - now[role]) for role, value in settings.items())
        self._clock.sleep(self._hand.trip_seconds + self._hand.step_seconds * steps)
        self._screen.turn(settings)

    def values(self) -> dict[str, int]:
        return self._screen.settings()
