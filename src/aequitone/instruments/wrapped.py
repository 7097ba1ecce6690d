"""A meter around another meter: everything is the inner one's until a wrapper says otherwise."""

from aequitone.instruments.ports import Meter, MeterNoise


class WrappedMeter:
    """Base of meters that do something with the answers of another."""

    def __init__(self, meter: Meter) -> None:
        self._meter = meter

    @property
    def name(self) -> str:
        return self._meter.name

    @property
    def noise(self) -> MeterNoise:
        return self._meter.noise

    @property
    def repeats(self) -> bool:
        return self._meter.repeats
