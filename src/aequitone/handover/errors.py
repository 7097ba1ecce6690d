"""What can stand in the way of a report."""


class NothingToReport(Exception):  # noqa: N818
    """The visit has no pass to report on; the message says so."""
