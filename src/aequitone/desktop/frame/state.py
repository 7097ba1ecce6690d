"""What the header, the route and the status line draw: plain values, compared to find out what to redraw."""

from dataclasses import dataclass

from aequitone.desktop.frame.panel_state import PanelState

MOST_KEYS = 9
"""Stations with a key, Ctrl+1 to Ctrl+9; those after them are in the list that Ctrl+0 opens."""


@dataclass(frozen=True)
class StripState:
    """The line on top."""

    who: str
    what: str
    time: str
    saved: str


@dataclass(frozen=True)
class RouteStop:
    """A station on the route."""

    station: str
    """Its id."""
    title: str
    minutes: str
    done: bool
    reachable: bool
    key: str
    """The key that goes there; "" where it is only in the list."""


@dataclass(frozen=True)
class RouteState:
    """The route, and the station in view."""

    stops: tuple[RouteStop, ...]
    here: str


@dataclass(frozen=True)
class FootState:
    """The instruments in one line."""

    meter: str
    patterns: str
    link: str


@dataclass(frozen=True)
class View:
    """Everything the window shows at one moment."""

    strip: StripState
    route: RouteState
    panel: PanelState
    foot: FootState
    room: str
    """The id of the station or tool in view."""
    page: object
    """What its view draws."""
