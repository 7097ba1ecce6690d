"""The menu bar and the context menu, filled with what the keys do now."""

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtWidgets import QMenu, QMenuBar

from aequitone.desktop import commands
from aequitone.desktop.commands import Command, KeyHint
from aequitone.desktop.frame.state import RouteStop, View

NOW, GO_TO, TOOLS, HELP = "&Now", "&Go to", "&Tools", "&Help"
_TOOLS = (
    (commands.JOBS, "Jobs of this visit"),
    (commands.NEXT_JOB, "Next job"),
    (commands.CONTROLS, "Controls"),
    (commands.BENCH, "Bench"),
    (commands.VISITS, "Visits"),
    (commands.NEW_VISIT, "New visit"),
)
_HELP = (
    (commands.ABOUT, "About Aequitone"),
    (commands.LOG, "Open the log"),
    (commands.BUG_REPORT, "Save a bug report"),
)


@dataclass(frozen=True)
class Doers:
    """What the menus call: a command, a station of the route by its id, the way out."""

    do: Callable[[Command], None]
    able: Callable[[Command], bool]
    """Whether a command can be done at present."""
    go_to: Callable[[str], None]
    close: Callable[[], None]


def fill_with_keys(menu: QMenu, keys: tuple[KeyHint, ...], do: Callable[[Command], None]) -> None:
    """Fill a menu with what the keys do now; the next step is bold."""
    menu.clear()
    for hint in keys:
        action = menu.addAction(f"{escaped(in_words(hint))}\t{hint.key}")
        action.triggered.connect(lambda _=False, command=hint.command: do(command))
        if hint.main:
            face = action.font()
            face.setBold(True)
            action.setFont(face)


def in_words(hint: KeyHint) -> str:
    """What a key does, and which of its choices is chosen: "Target: day (night, day)"."""
    words = hint.words[:1].upper() + hint.words[1:]
    return f"{words}: {hint.choices[hint.chosen]}" if hint.choices else words


def escaped(words: str) -> str:
    """Words of a menu as they are: an ampersand is none of Qt's marks."""
    return words.replace("&", "&&")


def fill_bar(bar: QMenuBar, view: Callable[[], View | None], doers: Doers) -> None:
    """Make the menus of the bar; each is filled when it is opened, from what is in view then."""

    def filled(title: str, fill: Callable[[QMenu, View], None]) -> None:
        menu = bar.addMenu(title)

        def opened() -> None:
            menu.clear()
            seen = view()
            if seen is not None:
                fill(menu, seen)

        menu.aboutToShow.connect(opened)

    filled(NOW, lambda menu, seen: fill_with_keys(menu, seen.panel.keys, doers.do))
    filled(GO_TO, lambda menu, seen: _fill_route(menu, seen.route.stops, seen.route.here, doers.go_to))
    filled(TOOLS, lambda menu, _: _fill_tools(menu, doers))
    filled(HELP, lambda menu, _: _fill_named(menu, _HELP, doers))


def fill_context(menu: QMenu, view: View, doers: Doers, *, bar_shown: bool) -> None:
    """Fill the menu of the right mouse button: the keys, a copy as text, and the menu bar where it is hidden."""
    fill_with_keys(menu, view.panel.keys, doers.do)
    menu.addSeparator()
    if commands.COPY not in {hint.command for hint in view.panel.keys}:
        _fill_named(menu, ((commands.COPY, "Copy as text"),), doers)
    if not bar_shown:
        _fill_named(menu, ((commands.MENU_BAR, "Show the menu bar"),), doers)


def _fill_route(menu: QMenu, stops: tuple[RouteStop, ...], here: str, go_to: Callable[[str], None]) -> None:
    for stop in stops:
        action = menu.addAction(f"{escaped(stop.title)}\t{stop.key}")
        action.setCheckable(True)
        action.setChecked(stop.station == here)
        action.setEnabled(stop.reachable)
        action.triggered.connect(lambda _=False, station=stop.station: go_to(station))


def _fill_tools(menu: QMenu, doers: Doers) -> None:
    _fill_named(menu, _TOOLS, doers)
    menu.addSeparator()
    _fill_named(menu, ((commands.MENU_BAR, "Hide the menu bar"),), doers)
    menu.addAction("Quit\tCtrl+Q").triggered.connect(lambda _=False: doers.close())


def _fill_named(menu: QMenu, named: tuple[tuple[Command, str], ...], doers: Doers) -> None:
    for command, words in named:
        action = menu.addAction(f"{words}\t{command.keys[0]}")
        action.setEnabled(doers.able(command))
        action.triggered.connect(lambda _=False, command=command: doers.do(command))
