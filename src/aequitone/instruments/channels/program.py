"""A program that speaks the bench protocol on its standard input and output."""

import contextlib
import logging
import os
import select
import shlex
import signal
import subprocess
import threading
import time
import weakref
from pathlib import Path
from typing import IO

from aequitone.instruments.channels.channel import LONGEST_ANSWER, EndlessError, Lines
from aequitone.instruments.channels.sockets import remaining

_CHUNK = 4096
_LOGGED = 500
_PATIENCE_SECONDS = 1.0
_WAKE_SECONDS = 0.1

_log = logging.getLogger(__name__)


def arguments_of(command: str) -> list[str]:
    """The arguments of a command as a person types it; no shell sees it. Raises ValueError with a sentence."""
    try:
        arguments = shlex.split(command)
    except ValueError as error:
        raise ValueError(f"the command has a quote without its end: {command}") from error
    if not arguments:
        raise ValueError("there is no command")
    return arguments


def started(arguments: list[str]) -> "subprocess.Popen[bytes]":
    """Start a program in a group of its own, what it says on standard error going to the log.

    Raises OSError where it cannot be started.
    """
    process = subprocess.Popen(
        arguments,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        start_new_session=True,
        bufsize=0,
    )
    assert process.stderr is not None
    threading.Thread(target=_logged, args=(arguments[0], process.stderr), daemon=True).start()
    return process


def ended(process: "subprocess.Popen[bytes]") -> None:
    """End a program and all that it has started: asked first, then by force."""
    if process.stdin is not None:
        with contextlib.suppress(OSError):
            process.stdin.close()
    for ask in (signal.SIGTERM, signal.SIGKILL):
        with contextlib.suppress(ProcessLookupError, PermissionError):
            os.killpg(process.pid, ask)
        try:
            process.wait(_PATIENCE_SECONDS)
        except subprocess.TimeoutExpired:
            continue
        if ask is signal.SIGTERM:
            # What it has started may not have heard.
            with contextlib.suppress(ProcessLookupError, PermissionError):
                os.killpg(process.pid, signal.SIGKILL)
        break
    # Last, so that whoever waits for an answer sees its end first.
    if process.stdout is not None:
        with contextlib.suppress(OSError):
            process.stdout.close()


class Run:
    """One run of a command to its end; what it prints is bounded, and it can be ended from another thread."""

    def __init__(self, arguments: list[str]) -> None:
        """Raises OSError where it cannot be started."""
        self._process = started(arguments)
        self.end = weakref.finalize(self, ended, self._process)

    def output(self, seconds: float) -> tuple[int, bytes]:
        """The exit code, and what was printed. Raises TimeoutError, EndlessError, OSError."""
        until, printed = time.monotonic() + seconds, bytearray()
        assert self._process.stdin is not None
        assert self._process.stdout is not None
        self._process.stdin.close()
        out = self._process.stdout.fileno()
        try:
            while self.end.alive:
                if not select.select([out], [], [], min(remaining(until), _WAKE_SECONDS))[0]:
                    if self._process.poll() is None:
                        continue
                    data = b""
                else:
                    data = os.read(out, _CHUNK)
                if not data:
                    return self._process.wait(remaining(until)), bytes(printed)
                printed += data
                if len(printed) > LONGEST_ANSWER:
                    raise EndlessError("it prints without an end")
            raise ConnectionError("the program was ended")
        except subprocess.TimeoutExpired as error:
            raise TimeoutError(str(error)) from error
        finally:
            self.end()


class ProgramChannel:
    """A child that reads messages from its standard input and answers on its standard output."""

    def __init__(self, command: str) -> None:
        """Raises ValueError where it is no command, OSError where it cannot be started."""
        self._process = started(arguments_of(command))
        assert self._process.stdin is not None
        assert self._process.stdout is not None
        self._in, self._out = self._process.stdin.fileno(), self._process.stdout.fileno()
        os.set_blocking(self._in, False)
        os.set_blocking(self._out, False)
        self._lines = Lines()
        # A program that is let go of is ended, and none outlives ours.
        self._end = weakref.finalize(self, ended, self._process)

    def write(self, data: bytes, until: float) -> None:
        """Send all of it; a program that does not read is not waited for longer than that."""
        left = memoryview(data)
        while left:
            self._wait(until, to_write=True)
            with contextlib.suppress(BlockingIOError):
                left = left[os.write(self._in, left[:_CHUNK]) :]

    def read_line(self, until: float) -> bytes:
        """The next line without its LF."""
        while (line := self._lines.take()) is None:
            self._wait(until, to_write=False)
            with contextlib.suppress(BlockingIOError):
                data = os.read(self._out, _CHUNK)
                if not data:
                    raise ConnectionError("the program has ended")
                self._lines.feed(data)
        return line

    def close(self) -> None:
        """End the program and its children."""
        self._end()

    def _wait(self, until: float, *, to_write: bool) -> None:
        """Wait until the program reads or has written; in short turns, as it may be ended meanwhile."""
        while self._end.alive:
            seconds = min(remaining(until), _WAKE_SECONDS)
            read, write = ([], [self._in]) if to_write else ([self._out], [])
            if any(select.select(read, write, [], seconds)):
                return
            # What it has started may hold the pipe open longer than it lives itself.
            if self._process.poll() is not None:
                break
        raise ConnectionError("the program has ended")


def _logged(name: str, stream: IO[bytes]) -> None:
    """Put what a program says on standard error into the log, line by line, as long as it lives."""
    with contextlib.suppress(OSError, ValueError), stream:
        while line := stream.readline(_LOGGED):
            _log.info("%s: %s", Path(name).name, line.decode("utf-8", "replace").rstrip())
