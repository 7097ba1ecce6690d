"""A socket."""

import contextlib
import socket
import time
import weakref

from aequitone.instruments.channels.channel import Lines

_CHUNK = 4096


class SocketChannel:
    """A TCP connection to one instrument."""

    def __init__(self, host: str, port: int, seconds: float) -> None:
        """Raises OSError where nobody listens."""
        self._socket = socket.create_connection((host, port), timeout=seconds)
        self._socket.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        self._lines = Lines()
        # A connection that is let go of is closed.
        self._end = weakref.finalize(self, _hung_up, self._socket)

    def write(self, data: bytes, until: float) -> None:
        """Send all of it; each part may take what is left of the time."""
        left = memoryview(data)
        while left:
            self._socket.settimeout(remaining(until))
            left = left[self._socket.send(left[:_CHUNK]) :]

    def read_line(self, until: float) -> bytes:
        """The next line without its LF."""
        while (line := self._lines.take()) is None:
            self._socket.settimeout(remaining(until))
            data = self._socket.recv(_CHUNK)
            if not data:
                raise ConnectionError("the other end hung up")
            self._lines.feed(data)
        return line

    def close(self) -> None:
        """Hang up."""
        self._end()


def _hung_up(connection: socket.socket) -> None:
    """Close a connection; shutting it down first wakes whoever waits in another thread."""
    with contextlib.suppress(OSError):
        connection.shutdown(socket.SHUT_RDWR)
    connection.close()


def remaining(until: float) -> float:
    """Seconds that are left; TimeoutError where none are."""
    left = until - time.monotonic()
    if left <= 0.0:
        raise TimeoutError("no time is left")
    return left
