"""A file that is there whole or not at all: made beside its place, and put there in one step."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


@contextmanager
def made_beside(path: Path) -> Iterator[Path]:
    """A place to make a file in, in the same folder: put in its place if all goes well, and else removed."""
    fresh = path.with_name(f"{path.name}.new")
    try:
        yield fresh
        fresh.replace(path)
    finally:
        fresh.unlink(missing_ok=True)


def write_whole(path: Path, content: str | bytes) -> None:
    """Write a file whole or not at all; text as UTF-8. Raises OSError, and what stood there stays."""
    with made_beside(path) as fresh:
        fresh.write_bytes(content.encode("utf-8") if isinstance(content, str) else content)
