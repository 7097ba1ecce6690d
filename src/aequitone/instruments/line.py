"""One instrument on a line: a socket, a serial port or a program (docs/bench-protocol.md)."""

import math
import threading
import time
from dataclasses import dataclass

from aequitone.instruments.channels import Channel, EndlessError, open_channel
from aequitone.instruments.errors import InstrumentError

PROTOCOLS = ("1", "2")
_USUAL_SECONDS = 2.0
_OPEN_SECONDS = 3.0
# Bytes a second that the slowest line takes of a block.
_SLOWEST = 8_000.0
_MOST_TAG = 999_999
_NOBODY = "nothing answers at {}; is it switched on and connected"


@dataclass(frozen=True)
class Identity:
    """What an instrument says of itself."""

    maker: str
    model: str
    serial: str
    version: str
    kind: str
    """METER, SOURCE or SCREEN."""

    @property
    def name(self) -> str:
        return self.model


class Line:
    """Asks and gets answers; opens the connection when it is needed, and anew after any trouble.

    Calls block, each no longer than its time-out for the whole of it. Every failure is an InstrumentError with a
    sentence, after which the connection is closed: what was on its way cannot be mistaken for the answer to a
    later question.
    """

    def __init__(self, address: str, kind: str | None, *, patience: float = 1.0) -> None:
        """`kind`: METER, SOURCE or SCREEN, None for whatever answers. `patience`: factor on every time-out."""
        self.address, self.kind = address, kind
        self._patience = patience
        self._channel: Channel | None = None
        self._hung_up = False
        self._identity: Identity | None = None
        self._tag = 0
        self.protocol = 1
        """The version that it speaks, once it has answered."""
        self._lock = threading.RLock()

    @property
    def name(self) -> str:
        """The instrument's own name once it has answered, and its address until then."""
        return self._identity.name if self._identity else self.address

    def identity(self) -> Identity:
        """Who answers there; asked once."""
        with self._lock:
            if self._identity is None:
                self._open()
            assert self._identity is not None
            return self._identity

    def ask(self, query: str, seconds: float = _USUAL_SECONDS) -> str:
        """The answer to one query."""
        with self._lock:
            self._open()
            return self._asked(query, seconds)

    def ask_tagged(self, query: str, arguments: str, seconds: float) -> str:
        """The answer to a query that takes a tag, without it. An answer to another question is refused."""
        with self._lock:
            self._tag = self._tag % _MOST_TAG + 1
            answer = self.ask(f"{query} {self._tag}{',' if arguments else ''}{arguments}", seconds)
            tag, _, rest = answer.partition(",")
            if tag.strip() != str(self._tag):
                raise self._failed(
                    f"it answered “{_shown(answer)}” to a different question from the one it was asked"
                )
            if rest.strip() == "ERROR":
                # The connection is sound: the instrument said no.
                raise self._refused(query, self._asked("SYST:ERR?", _USUAL_SECONDS))
            return rest

    def tell(self, command: str, block: bytes = b"") -> None:
        """Send a command, with a block of bytes after it, and make sure that it was understood."""
        with self._lock:
            self._open()
            self._sent(command.encode("utf-8") + _framed(block), _USUAL_SECONDS + len(block) / _SLOWEST)
            told = self._asked("SYST:ERR?", _USUAL_SECONDS)
            if told.partition(",")[0].strip() != "0":
                raise self._refused(command.split(" ")[0], told)

    def close(self) -> None:
        """Hang up; the next question opens the connection anew."""
        with self._lock:
            channel, self._channel = self._channel, None
            if channel is not None:
                channel.close()

    def hang_up(self) -> None:
        """Hang up for good, from any thread: whoever waits for an answer is told so at once."""
        self._hung_up = True
        channel = self._channel
        if channel is not None:
            channel.close()

    # Plumbing

    def _open(self) -> None:
        if self._hung_up:
            raise InstrumentError(self.name, "the connection was ended with the program")
        if self._channel is not None:
            return
        try:
            self._channel = open_channel(self.address, _OPEN_SECONDS * self._patience)
        except Exception as error:
            raise self._failed(_NOBODY.format(self.address)) from error
        try:
            # A socket may open although nobody listens: the first answer tells.
            first = self._asked("*IDN?", _USUAL_SECONDS)
        except InstrumentError as error:
            raise self._failed(_NOBODY.format(self.address)) from error
        found = self._introduced(first)
        if self._identity is not None and found != self._identity:
            raise self._failed(
                f"{found.model} {found.serial} answers at {self.address} where {self._identity.model} "
                f"{self._identity.serial} was; put it back, or choose it at the Bench"
            )
        self._identity = found

    def _introduced(self, identity: str) -> Identity:
        # What an earlier program left in the queue of errors is not ours to report.
        self._sent(b"*CLS", _USUAL_SECONDS)
        parts = [part.strip() for part in identity.split(",")]
        kind = self._asked("SYST:KIND?", _USUAL_SECONDS).strip().upper()
        version = self._asked("SYST:PROT?", _USUAL_SECONDS).strip()
        if len(parts) != 4:
            raise self._failed(
                f"it introduced itself as “{_shown(','.join(parts))}”, which is no instrument's name"
            )
        if self.kind is not None and kind != self.kind:
            raise self._failed(f"a {kind.lower()} answers at {self.address}, not a {self.kind.lower()}")
        if version not in PROTOCOLS:
            known = " and ".join(PROTOCOLS)
            raise self._failed(f"it speaks version {version} of the bench protocol, this program {known}")
        self.protocol = int(version)
        maker, model, serial, firmware = parts
        return Identity(maker, model, serial, firmware, kind)

    def _asked(self, query: str, seconds: float) -> str:
        """The answer to a query; `seconds` are for sending it and for all of its answer."""
        until = self._sent(query.encode("utf-8"), seconds)
        assert self._channel is not None
        try:
            return self._channel.read_line(until).decode("utf-8").rstrip("\r")
        except (OSError, UnicodeDecodeError) as error:
            raise self._trouble(error, seconds * self._patience) from error

    def _sent(self, message: bytes, seconds: float) -> float:
        """Send a message; returns until when there is time."""
        until = time.monotonic() + seconds * self._patience
        assert self._channel is not None
        try:
            self._channel.write(message + b"\n", until)
        except OSError as error:
            raise self._trouble(error, seconds * self._patience) from error
        return until

    def _trouble(self, error: Exception, seconds: float) -> InstrumentError:
        if isinstance(error, TimeoutError):
            return self._failed(f"it did not answer within {seconds:.1f} s")
        if isinstance(error, EndlessError):
            return self._failed("its answer had no end")
        if isinstance(error, UnicodeDecodeError):
            return self._failed("its answer was not text")
        return self._failed("the connection was lost")

    def _refused(self, header: str, error: str) -> InstrumentError:
        reason = error.partition(",")[2].strip().strip('"')
        return InstrumentError(self.name, f"it refused {header}: {reason}")

    def _failed(self, what: str) -> InstrumentError:
        self.close()
        return InstrumentError(self.name, what)


def numbers(line: Line, answer: str, *bounds: tuple[float, float]) -> list[float]:
    """An answer of as many numbers as there are bounds. Raises InstrumentError on anything else.

    A figure that is not a number, or that no such thing can be, is no answer: what it would spoil shows late.
    """
    try:
        values = [float(part) for part in answer.split(",")]
    except ValueError:
        values = []
    if len(values) != len(bounds):
        line.close()
        raise InstrumentError(line.name, f"it answered “{_shown(answer)}” where {len(bounds)} numbers belong")
    for value, (low, high) in zip(values, bounds, strict=True):
        if not math.isfinite(value) or not low <= value <= high:
            line.close()
            raise InstrumentError(
                line.name, f"it answered “{_shown(answer)}”: {value:g} is not between {low:g} and {high:g}"
            )
    return values


def texts(answer: str) -> list[str]:
    """The texts in quotes, words and numbers of an answer, quotes taken off."""
    parts: list[str] = []
    word, quoted = "", False
    for character in answer:
        if character == '"':
            quoted = not quoted
        elif character == "," and not quoted:
            parts.append(word)
            word = ""
            continue
        word += character
    return [part.strip().removeprefix('"').removesuffix('"').replace('""', '"') for part in (*parts, word)]


def _framed(block: bytes) -> bytes:
    if not block:
        return b""
    count = str(len(block))
    return f" #{len(count)}{count}".encode("ascii") + block


def _shown(answer: str) -> str:
    kept = "".join(character if character.isprintable() else "·" for character in answer)
    return kept if len(kept) <= 40 else f"{kept[:39]}…"
