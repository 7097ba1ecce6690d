"""What every way to an instrument can do."""

from typing import Protocol

# Longer than any answer of the bench protocol, and short enough to keep.
LONGEST_ANSWER = 262_144


class EndlessError(OSError):
    """An answer is longer than any answer can be."""


class Channel(Protocol):
    """A stream of bytes to an instrument and back; times are of `time.monotonic`."""

    def write(self, data: bytes, until: float) -> None:
        """Send all of it. Raises TimeoutError where that takes longer, OSError where nobody is there any more."""
        ...

    def read_line(self, until: float) -> bytes:
        """The next line without its LF. Raises TimeoutError, EndlessError, OSError."""
        ...

    def close(self) -> None:
        """Hang up; from any thread, and whoever waits is woken with an OSError."""
        ...


class Lines:
    """Cuts what arrives into lines; a line without an end is bounded."""

    def __init__(self) -> None:
        self._buffer = bytearray()
        self._seen = 0

    def take(self) -> bytes | None:
        """The next line without its LF, or None while it has not come to its end. Raises EndlessError."""
        end = self._buffer.find(b"\n", self._seen)
        if end < 0:
            self._seen = len(self._buffer)
            if self._seen > LONGEST_ANSWER:
                raise EndlessError("an answer without an end")
            return None
        line = bytes(self._buffer[:end])
        del self._buffer[: end + 1]
        self._seen = 0
        return line

    def feed(self, data: bytes) -> None:
        """Add what arrived."""
        self._buffer += data
