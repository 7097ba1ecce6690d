"""A small bench of our own, written from docs/bench-protocol.md alone: it shares no code with the stand-ins.

A meter, a source and a screen that answer from a dictionary; light is a pure power law. `mishaps` says what
goes wrong with the next answers, one after another.
"""

import socket
import threading
from collections.abc import Callable
from typing import Any


class LittleInstrument:
    """One instrument on a port of its own; understands short headers only, one command a message."""

    def __init__(self, kind: str, model: str, answers: dict[str, Callable[[list[str]], str | None]]) -> None:
        self.kind, self.model, self.answers = kind, model, answers
        self.errors: list[str] = []
        self.mishaps: list[str] = []
        self.heard: list[str] = []
        self.protocol = "1"
        self._listener = socket.create_server(("127.0.0.1", 0))
        self.address = f"TCPIP::127.0.0.1::{self._listener.getsockname()[1]}::SOCKET"
        self._open: list[socket.socket] = []
        threading.Thread(target=self._listen, daemon=True).start()

    def close(self) -> None:
        self._listener.close()
        for connection in self._open:
            connection.close()

    def _listen(self) -> None:
        while True:
            try:
                connection, _ = self._listener.accept()
            except OSError:
                return
            self._open.append(connection)
            threading.Thread(target=self._serve, args=(connection,), daemon=True).start()

    def _serve(self, connection: socket.socket) -> None:
        try:
            with connection, connection.makefile("rb") as lines:
                for line in lines:
                    answer = self._answer(line.decode().strip())
                    if answer is not None and not self._mishap(connection, answer):
                        return
        except OSError:
            return

    def _answer(self, line: str) -> str | None:
        self.heard.append(line)
        header, _, rest = line.partition(" ")
        header = header.upper()
        if header == "*CLS":
            self.errors.clear()
            return None
        fixed = {
            "*IDN?": f"Smallworks,{self.model},S7,0.9",
            "SYST:KIND?": self.kind,
            "SYST:PROT?": self.protocol,
            "SYST:ERR?": self.errors.pop(0) if header == "SYST:ERR?" and self.errors else '0,"No error"',
        }
        if header in fixed:
            return fixed[header]
        if header not in self.answers:
            self.errors.append(f'-113,"Undefined header; {header}"')
            return None
        return self.answers[header](rest.split(","))

    def _mishap(self, connection: socket.socket, answer: str) -> bool:
        """Send the answer, or what goes wrong with it; False to hang up."""
        match self.mishaps.pop(0) if self.mishaps else "":
            case "silent":
                return True
            case "half":
                connection.sendall(answer[: len(answer) // 2].encode())
                return True
            case "rubbish":
                connection.sendall(b"\xfe\xff garbage\n")
                return True
            case "gone":
                return False
            case "old":
                connection.sendall(b"999999,1.0,2.0,3.0\n")
                return True
        connection.sendall(answer.encode() + b"\n")
        return True


class LittleBench:
    """The three together."""

    def __init__(self) -> None:
        self.shown: list[str] | None = None
        self.settings = {"gain-r": 50, "gain-b": 52}
        self.mode = "led-lcd"
        self.block = b""
        self.meter = LittleInstrument(
            "METER",
            "Little meter",
            {
                "MEAS:XYZ?": self._measure,
                "SENS:NOIS?": lambda _: "1E-2,2.0e-3,0",
                "SENS:LIM?": lambda _: "0.001,3000,0.1,10",
                "SENS:MODE:CAT?": lambda _: '"led-lcd","white-oled"',
                "SENS:MODE?": lambda _: f'"{self.mode}"',
                "SENS:MODE": self._choose,
                "SENS:REFR?": lambda _: "59.94",
                "SENS:SYNC": lambda _: None,
            },
        )
        self.source = LittleInstrument(
            "SOURCE",
            "Little source",
            {
                "PATT:SHOW?": self._show,
                "PATT:CURR?": lambda _: ",".join(self.shown) if self.shown else "NONE",
                "PATT:SETT?": lambda _: "0.05",
                "PATT:DEPT:CAT?": lambda _: "8,10",
            },
        )
        self.screen = LittleInstrument(
            "SCREEN",
            "Little screen",
            {
                "CONT:ALL?": lambda _: ",".join(f'"{role}",{value}' for role, value in self.settings.items()),
                "CONT:SET?": self._set,
                "CONT:COUN?": lambda _: "1",
                "CONT:DESC?": lambda _: '"gain-r","Red, bright end",0,100,1,50,"Low|High"',
                "TABL:ONED:SIZE?": lambda _: "0",
                "TABL:THRE:SIZE?": lambda _: "0",
            },
        )

    def __enter__(self) -> "LittleBench":
        return self

    def __exit__(self, *_: Any) -> None:
        for instrument in (self.meter, self.source, self.screen):
            instrument.close()

    def light(self, code: int, depth: int, range_: str) -> float:
        low, high = (0, 2**depth - 1) if range_ == "FULL" else (16 << (depth - 8), 235 << (depth - 8))
        return 100.0 * max(0.0, (code - low) / (high - low)) ** 2.2 + 0.05

    def _measure(self, arguments: list[str]) -> str:
        if self.shown is None:
            self.meter.errors.append('-230,"Data corrupt or stale"')
            return f"{arguments[0]},ERROR"
        Y = self.light(int(self.shown[-1]), int(self.shown[0]), self.shown[1])
        return f"{arguments[0]},{0.9505 * Y:.6E},{Y:.6E},{1.089 * Y:.6E}"

    def _choose(self, arguments: list[str]) -> None:
        mode = arguments[0].strip('"')
        if mode not in ("led-lcd", "white-oled"):
            self.meter.errors.append(f'-224,"Illegal parameter value; {mode}"')
            return
        self.mode = mode

    def _show(self, arguments: list[str]) -> str:
        self.shown = arguments[1:]
        return arguments[0]

    def _set(self, arguments: list[str]) -> str:
        roles = [role.strip('"') for role in arguments[1::2]]
        if any(role not in self.settings for role in roles):
            self.screen.errors.append('-224,"Illegal parameter value"')
            return f"{arguments[0]},ERROR"
        self.settings |= {role: int(value) for role, value in zip(roles, arguments[2::2], strict=True)}
        return arguments[0]
