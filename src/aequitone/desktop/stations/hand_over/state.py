"""What Hand over draws: plain values."""

from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True)
class HandOverPage:
    """The visit in words, and the picture before and after."""

    paragraphs: tuple[tuple[str, str], ...] = ()
    """Heading and text; tab-separated lines are a table."""
    pictures: tuple[Path, Path] | None = None
    """Once the report is made."""
