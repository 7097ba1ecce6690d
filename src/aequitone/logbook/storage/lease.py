"""One owner of a visit at a time: a lock that the system lets go of when its program ends, however it ends."""

import fcntl
import getpass
import json
import os
import socket
from dataclasses import asdict, dataclass
from datetime import datetime
from pathlib import Path
from types import TracebackType
from typing import Self, TextIO

from aequitone.errors import AequitoneError


@dataclass(frozen=True)
class Holder:
    """Who has a visit."""

    user: str = ""
    host: str = ""
    process: int = 0
    since: str = ""

    @property
    def words(self) -> str:
        """In a sentence."""
        if not self.process:
            return "Another Aequitone has this visit open."
        where = "" if self.host == socket.gethostname() else f" on {self.host}"
        return f"{self.user} has this visit open{where} since {self.since} (process {self.process})."


class VisitHeldError(AequitoneError):
    """Somebody else has the visit; the message says who."""

    def __init__(self, holder: Holder) -> None:
        super().__init__(holder.words)
        self.holder = holder


class VisitLease:
    """The right to write into a visit.

    Raises VisitHeldError where another program has it, and OSError where the disk does not let it be taken.
    """

    def __init__(self, logbook: Path, visit_id: int) -> None:
        self.visit_id = visit_id
        self._path = logbook.with_name(f".{logbook.name}.visit-{visit_id}.lock")
        self._file = self._taken()

    def release(self) -> None:
        """Let go of it."""
        if not self._file.closed:
            # Removed while it is still held: who comes next finds no file, or sees that its file is gone.
            self._path.unlink(missing_ok=True)
            self._file.close()

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, _kind: type[BaseException] | None, _error: BaseException | None, _trace: TracebackType | None
    ) -> None:
        self.release()

    def _taken(self) -> TextIO:
        while True:
            file = self._path.open("a+")
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError:
                holder = _read(file)
                file.close()
                raise VisitHeldError(holder) from None
            if _is(file, self._path):
                break
            file.close()
        file.truncate(0)
        since = f"{datetime.now():%d %B, %H:%M}"
        json.dump(asdict(Holder(getpass.getuser(), socket.gethostname(), os.getpid(), since)), file)
        file.flush()
        return file


def _is(file: TextIO, path: Path) -> bool:
    """Whether a file that was opened is still the one of that name."""
    try:
        return os.path.samestat(os.fstat(file.fileno()), path.stat())
    except FileNotFoundError:
        return False


def _read(file: TextIO) -> Holder:
    file.seek(0)
    try:
        return Holder(**json.loads(file.read()))
    except (ValueError, TypeError):
        # It was taken at this very moment.
        return Holder()
