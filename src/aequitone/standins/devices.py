"""The stand-in meter, pattern source and screen link: the three ports, in process."""

from collections.abc import Mapping

import numpy as np

from aequitone.advice.roles import Role
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.ports import Clock, Measurement, MeterNoise
from aequitone.signal import Patch
from aequitone.standins.scenario import HandPart, MeterPart, SourcePart
from aequitone.standins.screen import StandInScreen


class StandInSource:
    """Puts patches on the stand-in screen, after its latency."""

    def __init__(self, part: SourcePart, clock: Clock) -> None:
        self._part = part
        self._clock = clock
        self.shown: Patch | None = None

    @property
    def name(self) -> str:
        return self._part.name

    @property
    def settle_seconds(self) -> float:
        return self._part.settle_seconds

    def show(self, patch: Patch) -> None:
        self._clock.sleep(self._part.latency_seconds)
        self.shown = patch


class StandInMeter:
    """Looks at the stand-in screen, with noise that grows as light falls, and faults on request."""

    repeats = True

    def __init__(
        self, part: MeterPart, screen: StandInScreen, source: StandInSource, clock: Clock, seed: int
    ) -> None:
        self._part, self._screen, self._source, self._clock = part, screen, source, clock
        self._rng = np.random.default_rng([seed, 2])
        # The data sheet promises a typical unit; this one is a little better or worse.
        luck = float(np.exp(self._rng.normal(0.0, 0.15)))
        self._true_noise = MeterNoise(part.shot_noise * luck, part.floor_noise_cd_m2 * luck)
        self._readings = 0

    @property
    def name(self) -> str:
        return self._part.name

    @property
    def noise(self) -> MeterNoise:
        return MeterNoise(self._part.shot_noise, self._part.floor_noise_cd_m2)

    def measure(self, patch: Patch, seconds: float) -> Measurement:  # noqa: ARG002 - it looks at the screen
        self._clock.sleep(seconds + self._part.overhead_seconds)
        self._readings += 1
        silent = self._part.silent_after_readings
        if silent is not None and self._readings > silent:
            raise InstrumentError(self.name, "it does not answer")
        fate = self._rng.random()
        if fate < self._part.timeout_share:
            raise InstrumentError(self.name, "it did not answer in time")
        if fate < self._part.timeout_share + self._part.rubbish_share:
            return Measurement(float("nan"), -1e9, 0.0)
        if self._source.shown is None:
            raise InstrumentError(self.name, "there is no patch to read yet")
        light = self._screen.light(self._source.shown)
        X, Y, Z = light + self._rng.normal(0.0, 1.0, 3) * self._true_noise.sd(light, seconds)
        return Measurement(float(X), float(Y), float(Z))


class StandInLink:
    """Turns the stand-in's controls, at the speed of a person with a remote."""

    def __init__(self, screen: StandInScreen, hand: HandPart, clock: Clock) -> None:
        self._screen, self._hand, self._clock = screen, hand, clock

    @property
    def name(self) -> str:
        return f"{self._screen.part.name}, by link"

    def turn(self, settings: Mapping[str, int]) -> None:
        now = self._screen.settings()
        wanted = {Role(role): value for role, value in settings.items()}
        steps = sum(abs(value - now[role]) for role, value in wanted.items())
        self._clock.sleep(self._hand.trip_seconds + self._hand.step_seconds * steps)
        self._screen.turn(wanted)

    def values(self) -> dict[str, int]:
        return {role.value: value for role, value in self._screen.settings().items()}
