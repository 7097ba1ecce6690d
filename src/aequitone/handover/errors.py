"""What can stand in the way of a report."""


class NothingToReport(Exception):  # noqa: N818
    """The visit has no pass to report on; the message says so."""


class ImportFailed(Exception):  # noqa: N818
    """A file of readings that cannot be taken; the message says what, where, and that nothing was taken."""


class NoEncoder(Exception):  # noqa: N818
    """This computer cannot make such a video; the message says what is made all the same."""
