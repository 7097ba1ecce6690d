"""Two tones on the sound device, if there is one: the reference, and the one that comes to meet it."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Protocol, cast

import numpy as np

from aequitone.advice.by_hand.pitch import REFERENCE_HZ
from aequitone.colorimetry.arrays import Array
from aequitone.errors import AequitoneError

RATE = 44_100
_LOUD = 0.12
# A tone glides to another, and comes and goes, in so many seconds: a jump would crack.
_GLIDE, _FADE = 0.06, 0.05


class NoSoundError(AequitoneError):
    """There is nothing to sound on; the sentence says why."""


class Stream(Protocol):
    """A sound device that asks for what it plays."""

    def start(self) -> Any: ...

    def close(self) -> Any: ...


@dataclass
class ToneGenerator:
    """What is to be heard: set by one thread, played block by block by the device's own."""

    pitch: float | None = None
    """Hz; None for silence."""
    _heard: float = REFERENCE_HZ
    _loud: float = 0.0
    _phases: tuple[float, float] = (0.0, 0.0)

    def block(self, frames: int) -> Array:
        """The next so many samples at RATE, shape (frames,), between -1 and 1."""
        wanted = self.pitch
        t = np.arange(1, frames + 1) / RATE
        goal = self._heard if wanted is None else wanted
        pitch = goal + (self._heard - goal) * np.exp(-t / _GLIDE)
        full = 0.0 if wanted is None else 1.0
        loud = full + (self._loud - full) * np.exp(-t / _FADE)
        own = self._phases[0] + 2.0 * np.pi * np.cumsum(pitch) / RATE
        reference = self._phases[1] + 2.0 * np.pi * REFERENCE_HZ * t
        if frames:
            self._heard, self._loud = float(pitch[-1]), float(loud[-1])
            self._phases = (float(own[-1] % (2.0 * np.pi)), float(reference[-1] % (2.0 * np.pi)))
        return np.asarray(_LOUD * loud * (np.sin(own) + np.sin(reference)))


def open_device(fill: Callable[[Any, int], None]) -> Stream:
    """The sound device, silent until it is started; `fill` writes frames into a buffer (frames, 1).

    Takes its time: not for the window's thread. Raises NoSoundError where there is none.
    """
    try:
        import sounddevice
    except (ImportError, OSError) as error:
        raise NoSoundError(f"There is no sound library here ({error}), so the panel alone tells.") from None
    try:
        stream = sounddevice.OutputStream(
            samplerate=RATE,
            channels=1,
            dtype="float32",
            callback=lambda out, frames, _time, _status: fill(out, frames),
        )
    except (sounddevice.PortAudioError, ValueError, OSError):
        raise NoSoundError("There is no sound device here, so the panel alone tells.") from None
    return cast(Stream, stream)
