"""What a chart draws: plain values."""

from dataclasses import dataclass


@dataclass(frozen=True)
class LineState:
    """A line on a sweep's picture: settings across, values up, with whiskers."""

    name: str
    points: tuple[tuple[float, float, float], ...]
    """Setting, value, and its spread."""
    channel: str = ""
