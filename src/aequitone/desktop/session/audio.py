"""Whether a move that is watched is heard as well; opens the sound device when it is first needed."""

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, Signal

from aequitone.advice.by_hand.pitch import pitch_of
from aequitone.advice.by_hand.watching import Watched
from aequitone.desktop.session.tone_generator import NoSoundError, Stream, ToneGenerator, open_device
from aequitone.desktop.session.worker import Desk


class AudioFeedback(QObject):
    """On or off by a key, and remembered; silent, and said so, where there is nothing to sound on."""

    said = Signal(str)

    def __init__(self, desk: Desk, device: Callable[[Callable[[Any, int], None]], Stream] = open_device) -> None:
        super().__init__()
        self._desk, self._device = desk, device
        self._voice = ToneGenerator()
        self._stream: Stream | None = None
        self._opening = False
        self._closed = False
        self.on = False

    def toggle(self) -> None:
        self.on = not self.on
        if not self.on:
            self._voice.pitch = None

    def hear(self, seen: Watched | None) -> None:
        """A glance, or None where nothing is watched any more."""
        self._voice.pitch = pitch_of(seen) if self.on and seen is not None else None
        if self._voice.pitch is None or self._stream is not None or self._opening:
            return
        self._opening = True
        self._desk.do(self._open, self._opened, self._failed)

    def close(self) -> None:
        self._closed = True
        if self._stream is not None:
            self._stream.close()
            self._stream = None

    def _fill(self, out: Any, frames: int) -> None:
        out[:, 0] = self._voice.block(frames)

    def _open(self) -> Stream:
        stream = self._device(self._fill)
        stream.start()
        return stream

    def _opened(self, stream: Stream) -> None:
        self._opening = False
        if self._closed:
            stream.close()
            return
        self._stream = stream

    def _failed(self, error: Exception) -> None:
        self._opening, self.on = False, False
        self._voice.pitch = None
        reason = error if isinstance(error, NoSoundError) else f"The sound device failed ({error})."
        self.said.emit(str(reason))
