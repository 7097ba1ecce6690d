"""Everything that PyVISA reaches beside sockets: serial lines first of all."""

import contextlib
import warnings
from typing import Any

from aequitone.instruments.channels.channel import LONGEST_ANSWER, EndlessError
from aequitone.instruments.channels.sockets import remaining

_BAUD = 115_200
_CHUNK = 1024
_LEAST_MS = 1.0


class VisaChannel:
    """A resource of PyVISA's, read byte by byte: only so does a deadline hold for a whole answer."""

    def __init__(self, address: str, seconds: float) -> None:
        """Raises what PyVISA raises where it cannot be opened."""
        import pyvisa

        manager = pyvisa.ResourceManager("@py")
        with warnings.catch_warnings():
            # It warns of drivers for USB and GPIB that it looked for and did not find.
            warnings.simplefilter("ignore")
            # What a resource can do depends on its kind, which typing cannot know.
            opened: Any = manager.open_resource(address, open_timeout=int(seconds * 1000))
        self._resource = opened
        self._resource.read_termination = "\n"
        if address.upper().startswith("ASRL"):
            self._resource.baud_rate = _BAUD
            self._resource.flush(pyvisa.constants.BufferOperation.discard_read_buffer)

    def write(self, data: bytes, until: float) -> None:
        """Send all of it, in parts that each may take what is left of the time."""
        for start in range(0, len(data), _CHUNK):
            self._until(until)
            self._guarded(self._resource.write_raw, data[start : start + _CHUNK])

    def read_line(self, until: float) -> bytes:
        """The next line without its LF."""
        from pyvisa.constants import StatusCode

        line = bytearray()
        # That there may be more than the byte that was asked for is no warning here.
        with self._resource.ignore_warning(StatusCode.success_max_count_read):
            while True:
                self._until(until)
                byte = self._guarded(self._resource.visalib.read, self._resource.session, 1)[0]
                if byte == b"\n":
                    return bytes(line)
                line += byte
                if len(line) > LONGEST_ANSWER:
                    raise EndlessError("an answer without an end")

    def close(self) -> None:
        """Hang up."""
        with contextlib.suppress(Exception):
            # Closing what is broken may break again; it is gone either way.
            self._resource.close()

    def _until(self, until: float) -> None:
        self._resource.timeout = max(remaining(until) * 1000.0, _LEAST_MS)

    def _guarded(self, work: Any, *arguments: Any) -> Any:
        """Do some of PyVISA's work; its errors come out as TimeoutError or OSError."""
        from pyvisa.constants import StatusCode
        from pyvisa.errors import VisaIOError

        try:
            return work(*arguments)
        except VisaIOError as error:
            if error.error_code == StatusCode.error_timeout:
                raise TimeoutError(str(error)) from error
            raise OSError(str(error)) from error
        except OSError:
            raise
        except Exception as error:
            # A resource that another thread closed fails in ways of its own.
            raise OSError(str(error)) from error
