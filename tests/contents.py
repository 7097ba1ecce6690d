"""Everything that a database holds, for tests of what must not have changed."""

import sqlite3
from contextlib import closing
from pathlib import Path


def contents(path: Path) -> list[str]:
    """A whole database as SQL."""
    with closing(sqlite3.connect(path)) as raw:
        return list(raw.iterdump())
