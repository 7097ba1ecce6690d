"""A program at the bench, written from docs/bench-protocol.md alone: sockets and nothing of ours."""

import socket
import struct


class PlainClient:
    """One connection to one instrument."""

    def __init__(self, resource: str) -> None:
        _, host, port, _ = resource.split("::")
        self._socket = socket.create_connection((host, int(port)), timeout=5.0)
        self._lines = self._socket.makefile("rb")

    def close(self) -> None:
        self._lines.close()
        self._socket.close()

    def send(self, message: str | bytes) -> None:
        self._socket.sendall(message if isinstance(message, bytes) else message.encode() + b"\n")

    def ask(self, message: str) -> str:
        self.send(message)
        return self.line()

    def line(self) -> str:
        line = self._lines.readline()
        assert line.endswith(b"\n"), "an answer ends with LF"
        return line[:-1].decode()

    def error(self) -> str:
        return self.ask("SYST:ERR?")

    def load(self, header: str, values: list[float]) -> None:
        block = struct.pack(f"<{len(values)}f", *values)
        count = str(len(block))
        self.send(f"{header} #{len(count)}{count}".encode() + block + b"\n")
