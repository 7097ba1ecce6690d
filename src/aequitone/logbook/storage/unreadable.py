"""What could not be read of a logbook: one bad row costs itself, and is named."""

import logging
from collections.abc import Callable
from typing import TypeVar

from cattrs.errors import BaseValidationError
from sqlalchemy.exc import StatementError

LOG = logging.getLogger(__name__)
# What a row that was written by somebody else, or half overwritten, can bring about.
_UNREADABLE = (ValueError, TypeError, KeyError, LookupError, AttributeError, BaseValidationError, StatementError)
T = TypeVar("T")


class Unreadable:
    """Rows that could not be read, in words; the others are there all the same."""

    def __init__(self) -> None:
        self._words: dict[str, None] = {}

    @property
    def words(self) -> tuple[str, ...]:
        """What they are, such as "pass 12"."""
        return tuple(self._words)

    def read(self, what: str, make: Callable[[], T]) -> T | None:
        """What `make` makes of a row; None, noted and logged, where nothing can be made of it."""
        try:
            return make()
        except _UNREADABLE as error:
            if what not in self._words:
                LOG.warning("%s cannot be read", what, exc_info=error)
            self._words[what] = None
            return None
