"""What goes wrong with an instrument, in words for the person in the room."""

from aequitone.errors import AequitoneError


class InstrumentError(AequitoneError):
    """An instrument failed. The message is a sentence: which instrument, what happened."""

    def __init__(self, instrument: str, what: str) -> None:
        super().__init__(f"{instrument}: {what}")
        self.instrument = instrument
        self.what = what

    def __reduce__(self) -> tuple[type["InstrumentError"], tuple[str, str]]:
        # Errors cross from one process to another by what they were made of.
        return type(self), (self.instrument, self.what)


class CancelledError(Exception):
    """A person asked to stop while an instrument was waiting for one."""
