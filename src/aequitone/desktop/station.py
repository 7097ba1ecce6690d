"""What the window asks of a station of the route, and of a tool beside it; no Qt.

A station is a folder under `stations` and one name in `stations.STATIONS`; a tool is a folder under `tools`
and one name in `tools.TOOLS`. See docs/adding-a-station.md.
"""

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, Literal, Protocol

from aequitone.desktop.commands import Command
from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.session.live import LiveTracker
from aequitone.passes import PassType, Snapshot

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session

Commands = Mapping[Command, Callable[[], None]]


class RoomView(Protocol):
    """A widget that draws what its room says."""

    def show_page(self, page: Any, /) -> None:
        """Draw a page, where it is another one than before."""
        ...


class Workplace(Protocol):
    """What stations and tools have in common."""

    @property
    def id(self) -> str:
        """What it is called in the program."""
        ...

    @property
    def title(self) -> str:
        """What it is called in the window."""
        ...

    def panel(self) -> PanelState:
        """What the move panel says."""
        ...

    def page(self) -> object:
        """What the view draws: a frozen value, compared to know what to redraw."""
        ...

    def as_text(self) -> str:
        """The page as text for the clipboard; "" where there is nothing to copy."""
        ...

    def commands(self) -> Commands:
        """What its keys do."""
        ...

    def make_view(self) -> RoomView:
        """Make the widget; only here is Qt imported."""
        ...

    def enter(self) -> None:
        """Get ready to be looked at."""
        ...

    def leave(self) -> None:
        """Be left for another."""
        ...


class Station(Workplace, Protocol):
    """A step of the route; it knows its own kinds of pass and nothing of its neighbours."""

    @property
    def passes(self) -> tuple[PassType[Any, Any], ...]:
        """Those that are begun and watched here, the main one first."""
        ...

    @property
    def optional(self) -> bool:
        """Whether the route counts it as done once a later one is."""
        ...

    @property
    def of(self) -> Literal["visit", "job"]:
        """Whether there is one for the whole visit, or one for each job."""
        ...

    def __init__(self, session: "Session") -> None: ...

    def is_done(self, snapshot: Snapshot) -> bool:
        """Whether its work is done."""
        ...

    def seconds(self, snapshot: Snapshot) -> float:
        """What it took where it is done, or will take."""
        ...

    def tracker(self, snapshot: Snapshot, kind: PassType[Any, Any]) -> LiveTracker:
        """Make what follows a pass of this station while it runs."""
        ...


class Tool(Workplace, Protocol):
    """Something beside the route, opened and closed by a key."""

    @property
    def opened_by(self) -> Command:
        """The command that opens and closes it."""
        ...

    @property
    def needs_visit(self) -> bool:
        """Whether there must be a visit to look at."""
        ...

    def __init__(self, session: "Session") -> None: ...
