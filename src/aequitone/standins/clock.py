"""Clocks for a bench: one that only counts, and one that runs faster than the wall's."""

import threading
import time


class VirtualClock:
    """Counts the seconds slept and waits for none: a four-hour visit in seconds, its minutes true."""

    def __init__(self) -> None:
        self._now = 0.0

    def now(self) -> float:
        return self._now

    def sleep(self, seconds: float) -> None:
        self._now += max(0.0, seconds)


class PacedClock:
    """Real time, `pace` times as fast (1 is the wall clock)."""

    def __init__(self, pace: float = 1.0) -> None:
        if not pace > 0:
            raise ValueError(f"a clock's pace is above 0, got {pace:g}")
        self.pace = pace
        self._start = time.monotonic()
        self._hurried = threading.Event()

    def now(self) -> float:
        return (time.monotonic() - self._start) * self.pace

    def sleep(self, seconds: float) -> None:
        self._hurried.wait(max(0.0, seconds) / self.pace)

    def hurry(self) -> None:
        """Sleep no more, now and later: the program closes, and nobody is to wait for a simulated person."""
        self._hurried.set()
