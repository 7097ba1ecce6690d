"""Serves the stand-ins of a bench on loopback, one socket each."""

import contextlib
import re
import socket
import socketserver
import threading

from aequitone.standins.bench import StandInBench
from aequitone.standins.devices import Fault
from aequitone.standins.service.scpi import ScpiError, block_end
from aequitone.standins.service.served import Failing, Served, served_meter, served_screen, served_source

HOST = "127.0.0.1"
# Longer than any table of this protocol: a cube of 65 points a side.
_LONGEST_MESSAGE = 65**3 * 12 + 4096
_CHUNK = 65_536
# What ends a message, begins a text or a block; and the longest head of a block.
_SPECIAL, _HEAD = re.compile(rb'[\n"#]'), 11


class Messages:
    """Cuts a stream of bytes into messages; an LF inside a block or a text ends none."""

    def __init__(self) -> None:
        self._buffer = bytearray()
        self._at, self._quoted = 0, False
        """How far the first message has been looked through, and whether that is within a text."""

    def feed(self, chunk: bytes) -> list[bytes]:
        """The messages that are whole now. Raises ScpiError on a stream that cannot be cut; it is then empty."""
        self._buffer += chunk
        messages, start = [], 0
        try:
            while (end := self._end()) is not None:
                messages.append(bytes(self._buffer[start:end]).rstrip(b"\r"))
                start = self._at = end + 1
                self._quoted = False
            if max(len(self._buffer), self._at) - start > _LONGEST_MESSAGE:
                raise ScpiError(-102, "a message without its end")
        except ScpiError:
            self._buffer.clear()
            self._at, self._quoted = 0, False
            raise
        # Cut off once for all of them: each would move all that follows.
        del self._buffer[:start]
        self._at -= start
        return messages

    def _end(self) -> int | None:
        """Where the LF of the next message is; what was looked through is not looked through again."""
        while True:
            found = _SPECIAL.search(self._buffer, self._at)
            if found is None:
                self._at = max(self._at, len(self._buffer))
                return None
            self._at = found.start()
            byte = self._buffer[self._at]
            if byte == ord("\n"):
                # A text never runs over a line: one that does was begun by mistake, and ends here.
                return self._at
            if byte == ord('"'):
                self._quoted = not self._quoted
            elif not self._quoted:
                end = block_end(bytes(self._buffer[self._at : self._at + _HEAD]), 0)
                if end is None:
                    return None
                self._at += end
                continue
            self._at += 1


class _Connection(socketserver.BaseRequestHandler):
    """One program at one instrument."""

    server: "_Server"

    def handle(self) -> None:
        self.request.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        self.server.connections.add(self.request)
        if self.server.closed:
            # Taken in the moment the bench went away, and too late to be cut with the others.
            self.server.connections.discard(self.request)
            return
        messages = Messages()
        try:
            while chunk := self.request.recv(_CHUNK):
                try:
                    whole = messages.feed(chunk)
                except ScpiError as error:
                    self.server.served.commands.queue(str(error))
                    continue
                for message in whole:
                    if not self._answer(message):
                        return
        except OSError:
            # The program went away; what it had told the instrument stays.
            return
        finally:
            self.server.connections.discard(self.request)

    def _answer(self, message: bytes) -> bool:
        """Carry out and answer; False to hang up."""
        try:
            answer = self.server.served.carry_out(message)
        except Failing as failing:
            return self._fail(failing.fault)
        if answer is not None:
            self.request.sendall(answer.encode("utf-8") + b"\n")
        return True

    def _fail(self, fault: Fault) -> bool:
        match fault:
            case Fault.HALF:
                self.request.sendall(b"17,93.1")
            case Fault.RUBBISH:
                self.request.sendall(b"\x00\xff?!,nan,,\n")
            case Fault.LOST:
                return False
        return True


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, served: Served, port: int) -> None:
        self.served = served
        self.connections: set[socket.socket] = set()
        self.closed = False
        super().__init__((HOST, port), _Connection)


class BenchServer:
    """The meter, the source and the screen of a bench, each on a port of its own; a context manager."""

    def __init__(self, bench: StandInBench, ports: tuple[int, int, int] = (0, 0, 0)) -> None:
        """Port 0: whichever is free. Raises OSError where a port is taken."""
        self._servers: list[_Server] = []
        made = (served_meter(bench), served_source(bench), served_screen(bench))
        try:
            for served, port in zip(made, ports, strict=True):
                server = _Server(served, port)
                self._servers.append(server)
                threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True).start()
        except OSError:
            self.close()
            raise

    @property
    def addresses(self) -> tuple[str, str, str]:
        """VISA resources of the meter, the source and the screen."""
        meter, source, screen = (f"TCPIP::{HOST}::{server.server_address[1]}::SOCKET" for server in self._servers)
        return meter, source, screen

    def hang_up(self) -> None:
        """Cut every connection, as a switch that is turned off and on again does."""
        for server in self._servers:
            for connection in list(server.connections):
                with contextlib.suppress(OSError):
                    connection.shutdown(socket.SHUT_RDWR)

    def close(self) -> None:
        # No new connection before the old ones are cut: a program that reconnects at once finds nobody.
        for server in self._servers:
            server.closed = True
            server.shutdown()
            server.server_close()
        self.hang_up()

    def __enter__(self) -> "BenchServer":
        return self

    def __exit__(self, *_: object) -> None:
        self.close()
