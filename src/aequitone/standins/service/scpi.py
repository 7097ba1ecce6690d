"""Messages of the bench protocol, as an instrument understands them (docs/bench-protocol.md)."""

import re
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass

QUEUE_LENGTH = 20
ERRORS = {
    -102: "Syntax error",
    -104: "Data type error",
    -108: "Parameter not allowed",
    -109: "Missing parameter",
    -113: "Undefined header",
    -161: "Invalid block data",
    -222: "Data out of range",
    -224: "Illegal parameter value",
    -230: "Data corrupt or stale",
    -240: "Hardware error",
    -350: "Queue overflow",
}
_HEADER = re.compile(rb"[:*]?[A-Za-z][A-Za-z0-9:]*\??")
_NUMBER = re.compile(r"[+-]?\d+(\.\d*)?([eE][+-]?\d+)?|[+-]?\.\d+([eE][+-]?\d+)?")
_WORD = re.compile(r"[A-Za-z][A-Za-z0-9-]*")


class ScpiError(Exception):
    """An error of the queue: a code and what it was about."""

    def __init__(self, code: int, about: str) -> None:
        super().__init__(f'{code},"{ERRORS[code]}; {about}"')
        self.code = code


@dataclass(frozen=True)
class Text:
    """An argument in quotes."""

    value: str


Argument = float | str | Text | bytes
"""A number, a word, a text, a block."""


class Arguments:
    """The arguments of one command, taken one after another."""

    def __init__(self, header: str, values: list[Argument]) -> None:
        self._header, self._values = header, values

    def __len__(self) -> int:
        return len(self._values)

    def number(self, low: float, high: float) -> float:
        value = self._next(float, "a number")
        assert isinstance(value, float)
        if not low <= value <= high:
            raise ScpiError(-222, f"{value:g}")
        return value

    def whole(self, low: int, high: int) -> int:
        value = self.number(low, high)
        if value != int(value):
            raise ScpiError(-104, f"{value:g}")
        return int(value)

    def word(self, *known: str) -> str:
        value = self._next(str, "a word")
        assert isinstance(value, str)
        if value.lower() not in known:
            raise ScpiError(-224, value)
        return value.lower()

    def text(self) -> str:
        value = self._next(Text, "a text")
        assert isinstance(value, Text)
        return value.value

    def block(self) -> bytes:
        value = self._next(bytes, "a block")
        assert isinstance(value, bytes)
        return value

    def end(self) -> None:
        """There must be no more."""
        if self._values:
            raise ScpiError(-108, self._header)

    def _next(self, kind: type, what: str) -> Argument:
        if not self._values:
            raise ScpiError(-109, self._header)
        value = self._values.pop(0)
        if not isinstance(value, kind):
            raise ScpiError(-104, f"{what} is needed")
        return value


Handler = Callable[[Arguments], str | None]


class Interpreter:
    """A table of commands and the queue of errors. `carry_out` is for one thread at a time."""

    def __init__(self) -> None:
        self._handlers: list[tuple[re.Pattern[str], Handler]] = []
        self._known: dict[str, Handler] = {}
        self._errors: deque[str] = deque()
        self.add("*CLS", self._clear)
        self.add("SYSTem:ERRor?", self._error)

    def add(self, header: str, handler: Handler) -> None:
        """A command by its long form, capitals being the short form."""
        nodes = []
        for node in header.rstrip("?").split(":"):
            short = "".join(c for c in node if not c.islower())
            nodes.append(node if short == node else f"(?:{short}|{node})")
        query = r"\?" if header.endswith("?") else ""
        pattern = re.compile(":?" + ":".join(nodes).replace("*", r"\*") + query, re.IGNORECASE)
        self._handlers.append((pattern, handler))

    def carry_out(self, message: bytes) -> str | None:
        """The answer to a message without its LF, or None where there is none."""
        answers = []
        try:
            for header, arguments in parse(message):
                answer = self._handler(header)(Arguments(header, arguments))
                if answer is not None:
                    answers.append(answer)
        except ScpiError as error:
            self.queue(str(error))
        return ";".join(answers) if answers else None

    def queue(self, error: str) -> None:
        """Put an error in the queue."""
        if len(self._errors) >= QUEUE_LENGTH:
            self._errors[-1] = f'-350,"{ERRORS[-350]}"'
        else:
            self._errors.append(error)

    def _handler(self, header: str) -> Handler:
        known = self._known.get(header)
        if known is not None:
            return known
        for pattern, handler in self._handlers:
            if pattern.fullmatch(header):
                if len(self._known) < 200:
                    self._known[header] = handler
                return handler
        raise ScpiError(-113, header)

    def _clear(self, arguments: Arguments) -> None:
        arguments.end()
        self._errors.clear()

    def _error(self, arguments: Arguments) -> str:
        arguments.end()
        return self._errors.popleft() if self._errors else '0,"No error"'


def parse(message: bytes) -> list[tuple[str, list[Argument]]]:
    """The commands of a message, each a header and its arguments. Raises ScpiError."""
    commands: list[tuple[str, list[Argument]]] = []
    at = 0
    while at < len(message):
        if message[at] in b" ;\r\t":
            at += 1
            continue
        match = _HEADER.match(message, at)
        if match is None:
            raise ScpiError(-102, _shown(message[at:]))
        header, at = match.group().decode("ascii"), match.end()
        arguments: list[Argument] = []
        at = _blank(message, at)
        while at < len(message) and message[at] not in b";":
            argument, at = _argument(message, at)
            arguments.append(argument)
            at = _blank(message, at)
            if at < len(message) and message[at] in b",":
                at = _blank(message, at + 1)
                if at >= len(message) or message[at] in b";,":
                    raise ScpiError(-109, header)
            elif at < len(message) and message[at] not in b";":
                raise ScpiError(-102, _shown(message[at:]))
        commands.append((header, arguments))
    return commands


def block_end(buffer: bytes, start: int) -> int | None:
    """Where the block that begins at `start` ends, None where its count is not there yet. Raises ScpiError."""
    if len(buffer) < start + 2:
        return None
    digits = buffer[start + 1] - ord("0")
    if not 1 <= digits <= 9:
        raise ScpiError(-161, "no count")
    head = start + 2 + digits
    if len(buffer) < head:
        return None
    count = buffer[start + 2 : head]
    if not count.isdigit():
        raise ScpiError(-161, "no count")
    return head + int(count)


def quoted(text: str) -> str:
    """A text as it is sent."""
    return '"' + text.replace('"', '""') + '"'


def _argument(message: bytes, at: int) -> tuple[Argument, int]:
    if message[at] == ord("#"):
        end = block_end(message, at)
        if end is None or end > len(message):
            raise ScpiError(-161, "too short")
        return message[at + 2 + message[at + 1] - ord("0") : end], end
    if message[at] == ord('"'):
        end = at + 1
        while True:
            end = message.find(b'"', end)
            if end < 0:
                raise ScpiError(-102, "a text without its end")
            if message[end + 1 : end + 2] != b'"':
                break
            end += 2
        return Text(message[at + 1 : end].decode("utf-8", "replace").replace('""', '"')), end + 1
    end = at
    while end < len(message) and message[end] not in b",;":
        end += 1
    words = message[at:end].decode("utf-8", "replace").strip()
    if _NUMBER.fullmatch(words):
        return float(words), end
    if _WORD.fullmatch(words):
        return words, end
    raise ScpiError(-102, words[:40])


def _blank(message: bytes, at: int) -> int:
    while at < len(message) and message[at] in b" \t\r":
        at += 1
    return at


def _shown(message: bytes) -> str:
    return message[:40].decode("ascii", "replace").replace('"', "'")
