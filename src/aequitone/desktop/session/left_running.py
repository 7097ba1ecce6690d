"""Threads that did not end in time when the window closed.

Qt ends the whole process with a crash where a thread is destroyed while it runs: one that an instrument or the
machine holds up is kept here, and the program leaves without waiting for it.
"""

from PySide6.QtCore import QThread

_KEPT: list[QThread] = []


def wait_for(thread: QThread, milliseconds: int) -> bool:
    """Wait until a thread has ended, at most so long; one that has not is kept from being destroyed."""
    if thread.wait(milliseconds):
        return True
    if thread not in _KEPT:
        _KEPT.append(thread)
    return False


def left_running() -> tuple[QThread, ...]:
    """Those that were waited for in vain, and run still."""
    _KEPT[:] = [thread for thread in _KEPT if thread.isRunning()]
    return tuple(_KEPT)
