"""One instrument on a line: a socket or a serial port, through PyVISA (docs/bench-protocol.md)."""

import threading
import warnings
from dataclasses import dataclass
from typing import Any

from aequitone.instruments.errors import InstrumentError

PROTOCOL = "1"
_USUAL_SECONDS = 2.0
_OPEN_SECONDS = 3.0
_BAUD = 115_200
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

    Calls block. Every failure is an InstrumentError with a sentence, after which the connection is
    closed: what was on its way cannot be mistaken for the answer to a later question.
    """

    def __init__(self, address: str, kind: str | None, *, patience: float = 1.0) -> None:
        """`kind`: METER, SOURCE or SCREEN, None for whatever answers. `patience`: factor on every time-out."""
        self.address, self.kind = address, kind
        self._patience = patience
        self._resource: Any = None
        self._identity: Identity | None = None
        self._tag = 0
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
            try:
                self._resource.write_raw(command.encode("utf-8") + _framed(block) + b"\n")
            except Exception as error:
                raise self._trouble(error, _USUAL_SECONDS) from error
            told = self._asked("SYST:ERR?", _USUAL_SECONDS)
            if told.partition(",")[0].strip() != "0":
                raise self._refused(command.split(" ")[0], told)

    def close(self) -> None:
        with self._lock:
            resource, self._resource = self._resource, None
            if resource is not None:
                _quietly(resource.close)

    # Plumbing

    def _open(self) -> None:
        if self._resource is not None:
            return
        try:
            self._resource = _opened(self.address, self._patience)
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
        self._write("*CLS")
        parts = [part.strip() for part in identity.split(",")]
        kind = self._asked("SYST:KIND?", _USUAL_SECONDS).strip().upper()
        version = self._asked("SYST:PROT?", _USUAL_SECONDS).strip()
        if len(parts) != 4:
            raise self._failed(
                f"it introduced itself as “{_shown(','.join(parts))}”, which is no instrument's name"
            )
        if self.kind is not None and kind != self.kind:
            raise self._failed(f"a {kind.lower()} answers at {self.address}, not a {self.kind.lower()}")
        if version != PROTOCOL:
            raise self._failed(f"it speaks version {version} of the bench protocol, this program {PROTOCOL}")
        maker, model, serial, firmware = parts
        return Identity(maker, model, serial, firmware, kind)

    def _asked(self, query: str, seconds: float) -> str:
        timeout = seconds * self._patience
        try:
            self._resource.timeout = timeout * 1000.0
            self._resource.write(query)
            return str(self._resource.read())
        except Exception as error:
            raise self._trouble(error, timeout) from error

    def _write(self, command: str) -> None:
        try:
            self._resource.write(command)
        except Exception as error:
            raise self._trouble(error, _USUAL_SECONDS) from error

    def _trouble(self, error: Exception, seconds: float) -> InstrumentError:
        from pyvisa.constants import StatusCode
        from pyvisa.errors import VisaIOError

        if isinstance(error, VisaIOError) and error.error_code == StatusCode.error_timeout:
            return self._failed(f"it did not answer within {seconds:.1f} s")
        if isinstance(error, UnicodeDecodeError):
            return self._failed("its answer was not text")
        return self._failed("the connection was lost")

    def _refused(self, header: str, error: str) -> InstrumentError:
        reason = error.partition(",")[2].strip().strip('"')
        return InstrumentError(self.name, f"it refused {header}: {reason}")

    def _failed(self, what: str) -> InstrumentError:
        self.close()
        return InstrumentError(self.name, what)


def numbers(line: Line, answer: str, count: int) -> list[float]:
    """An answer of `count` numbers. Raises InstrumentError on anything else."""
    try:
        values = [float(part) for part in answer.split(",")]
    except ValueError:
        values = []
    if len(values) != count:
        line.close()
        raise InstrumentError(line.name, f"it answered “{_shown(answer)}” where {count} numbers belong")
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


def _opened(address: str, patience: float) -> Any:
    import pyvisa

    manager = pyvisa.ResourceManager("@py")
    with warnings.catch_warnings():
        # It warns of drivers for USB and GPIB that it looked for and did not find.
        warnings.simplefilter("ignore")
        resource: Any = manager.open_resource(address, open_timeout=int(_OPEN_SECONDS * patience * 1000))
    resource.read_termination = resource.write_termination = "\n"
    resource.encoding = "utf-8"
    if address.upper().startswith("ASRL"):
        resource.baud_rate = _BAUD
        resource.flush(pyvisa.constants.BufferOperation.discard_read_buffer)
    return resource


def _framed(block: bytes) -> bytes:
    if not block:
        return b""
    count = str(len(block))
    return f" #{len(count)}{count}".encode("ascii") + block


def _quietly(what: Any) -> None:
    try:
        what()
    except Exception:
        # Closing what is broken may break again; it is gone either way.
        return


def _shown(answer: str) -> str:
    kept = "".join(character if character.isprintable() else "·" for character in answer)
    return kept if len(kept) <= 40 else f"{kept[:39]}…"
