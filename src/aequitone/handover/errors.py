"""What can stand in the way of a report."""

from aequitone.errors import AequitoneError


class NothingToReportError(AequitoneError):
    """The visit has no pass to report on; the message says so."""


class ImportFailedError(AequitoneError):
    """A file of readings that cannot be taken; the message says what, where, and that nothing was taken."""


class NoEncoderError(AequitoneError):
    """The computer cannot make such a video; the message says what is made all the same."""
