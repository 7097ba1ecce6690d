"""One table of keys: a letter means one thing throughout the program."""

import importlib
import pkgutil
from collections import defaultdict
from collections.abc import Callable

import pytest
from PySide6.QtWidgets import QDialog, QPlainTextEdit

import aequitone.desktop
from aequitone.desktop.commands import CHOICES, Command, hint
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]
# What these mean stands beside them: the next step, an answer, a choice, a way out, a way through a list.
CONTEXTUAL = {"Enter", "Space", "Esc", "Up", "Down", "Left", "Right", "Ctrl+Enter", "Ctrl+Left", "Ctrl+Right"}


def every_command() -> list[Command]:
    """The commands of the window, and of every station and tool."""
    found: dict[str, Command] = {}
    for module in pkgutil.walk_packages(aequitone.desktop.__path__, "aequitone.desktop."):
        if module.name.rpartition(".")[2] != "commands":
            continue
        for value in vars(importlib.import_module(module.name)).values():
            for command in value if isinstance(value, tuple) else (value,):
                if isinstance(command, Command):
                    found[command.name] = command
    return list(found.values())


def test_a_letter_belongs_to_one_command() -> None:
    owners: dict[str, set[str]] = defaultdict(set)
    for command in every_command():
        for key in command.keys:
            owners[key].add(command.name)
    shared = {key: names for key, names in owners.items() if len(names) > 1 and key not in CONTEXTUAL}
    assert shared == {}
    assert len(owners) > 40


def test_the_keys_of_the_route_and_of_the_window_are_no_commands() -> None:
    taken = {f"Ctrl+{number}" for number in range(10)} | {"Ctrl+Q"}
    assert not taken & {key for command in every_command() for key in command.keys}


def test_digits_are_choices_and_nothing_else() -> None:
    digits = {key: c for c in every_command() for key in c.keys if key.isdigit()}
    assert digits == {str(i): choice for i, choice in enumerate(CHOICES, 1)}


def test_a_hint_under_a_key_that_is_not_its_own_is_refused() -> None:
    with pytest.raises(AssertionError, match="no key of"):
        hint(CHOICES[0], "one", key="Q")


def test_in_every_room_each_key_is_shown_once_and_does_something(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    presenter = window.presenter
    for room in [*presenter.stations, *presenter.tools]:
        if room in presenter.tools:
            presenter.do(room.opened_by)
        else:
            presenter.go_to(room.id)
        hints = presenter.view().panel.keys
        assert len({each.key for each in hints}) == len(hints), room.id
        known = {command for handlers in presenter._handlers() for command in handlers}
        window_own = {"darken", "copy", "keep what is typed"}
        assert {each.command.name for each in hints if each.command not in known} <= window_own, room.id
        presenter.close_tool()


def test_about_is_one_key_away_and_stops_nothing(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    driver.press("F1")

    def shown() -> list[QDialog]:
        return [child for child in window.findChildren(QDialog) if child.windowTitle() == "About Aequitone"]

    driver.wait(lambda: bool(shown()), "About")
    (about,) = shown()
    listed = about.findChild(QPlainTextEdit)
    assert listed is not None
    assert "numpy" in listed.toPlainText()
    assert not about.isModal()
    about.close()
