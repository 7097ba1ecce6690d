"""By mouse: the menu bar, the menu of the right button and the tool tips say what the keys say."""

from collections.abc import Callable

from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QAction, QContextMenuEvent, QHelpEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu, QToolTip, QWidget
from tests.desktop.test_keys import every_command

from aequitone.desktop import commands
from aequitone.desktop.commands import CHOICES, choice_hint, hint
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.frame.header import Route
from aequitone.desktop.frame.key_chips import KeyChip, tip_of
from aequitone.desktop.frame.menus import in_words
from aequitone.desktop.widgets.ladder import Ladder
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def opened(window: MainWindow, title: str) -> dict[str, QAction]:
    """What a menu of the bar offers once it is opened: its actions by their words."""
    action = next(each for each in window.menuBar().actions() if each.text().replace("&", "") == title)
    menu = window.menuBar().actionGeometry(action).center()
    QTest.mouseClick(window.menuBar(), Qt.MouseButton.LeftButton, pos=menu)
    shown = QApplication.activePopupWidget()
    assert isinstance(shown, QMenu)
    return {each.text(): each for each in shown.actions() if each.text()}


def closed_menus() -> None:
    while (popup := QApplication.activePopupWidget()) is not None:
        popup.close()


def menu_of_the_right_button(window: MainWindow) -> QMenu:
    place = QPoint(200, 300)
    reason = QContextMenuEvent.Reason.Mouse
    QApplication.sendEvent(window, QContextMenuEvent(reason, place, window.mapToGlobal(place)))
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    return menu


def tip_at(widget: QWidget, place: QPoint) -> str:
    QApplication.sendEvent(widget, QHelpEvent(QEvent.Type.ToolTip, place, widget.mapToGlobal(place)))
    return QToolTip.text()


def test_the_bar_offers_what_the_keys_do_now(logbook: Logbook, owing: VisitRecord, open_on: Open) -> None:
    window = open_on(logbook)
    keys = window.presenter.view().panel.keys
    assert list(opened(window, "Now")) == [f"{in_words(each)}\t{each.key}" for each in keys]
    closed_menus()


def test_a_station_is_gone_to_by_the_bar(logbook: Logbook, owing: VisitRecord, open_on: Open) -> None:
    window = open_on(logbook)
    stops = window.presenter.view().route.stops
    offered = opened(window, "Go to")
    assert [words.split("\t")[0] for words in offered] == [stop.title for stop in stops]
    there = next(action for words, action in offered.items() if words.startswith("White"))
    there.trigger()
    closed_menus()
    assert window.presenter.here == "white"


def test_what_waits_for_a_pass_is_grey_in_the_bar(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    driver.come_forward()
    window.presenter.go_to("as-found")
    assert opened(window, "Tools")["New visit\tCtrl+N"].isEnabled()
    closed_menus()
    window.presenter.do(commands.BEGIN)
    window.presenter.do(commands.PAUSE)
    assert window.presenter.running
    offered = opened(window, "Tools")
    assert not offered["New visit\tCtrl+N"].isEnabled()
    assert offered["Controls\tCtrl+K"].isEnabled()
    closed_menus()
    driver.press_for(commands.LEAVE)
    driver.wait_for_pass()


def test_the_bar_is_hidden_by_a_key_and_stays_so(logbook: Logbook, owing: VisitRecord, open_on: Open) -> None:
    window = open_on(logbook)
    assert window.menuBar().isVisible()
    both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    QTest.keyClick(window, Qt.Key.Key_M, both)
    assert not window.menuBar().isVisible()
    window.close()
    again = open_on(logbook)
    assert not again.menuBar().isVisible()
    # The right button brings it back.
    menu = menu_of_the_right_button(again)
    offered = {each.text(): each for each in menu.actions()}
    keys = again.presenter.view().panel.keys
    assert {f"{in_words(each)}\t{each.key}" for each in keys} <= set(offered)
    offered["Show the menu bar\tCtrl+Shift+M"].trigger()
    closed_menus()
    assert again.menuBar().isVisible()


def test_a_key_does_by_the_right_button_what_it_does_by_itself(
    logbook: Logbook, owing: VisitRecord, open_on: Open
) -> None:
    window = open_on(logbook)
    window.presenter.go_to("white")
    window.refresh()
    tabled = window.presenter.session.tabled
    menu = menu_of_the_right_button(window)
    next(each for each in menu.actions() if each.text() == "Table\tT").trigger()
    closed_menus()
    assert window.presenter.session.tabled is not tabled


def test_every_key_cap_has_a_tip_with_all_its_words(logbook: Logbook, owing: VisitRecord, open_on: Open) -> None:
    window = open_on(logbook)
    for station in window.presenter.on_route:
        window.presenter.go_to(station.id)
        window.refresh()
        QApplication.processEvents()
        chips = [chip for chip in window.findChildren(KeyChip) if not chip.isHidden()]
        assert chips, station.id
        for chip in chips:
            assert chip.toolTip() == tip_of(chip.hint)
            assert chip.hint.words[1:] in chip.toolTip()
            assert chip.hint.key in chip.toolTip()


def test_a_tip_tells_the_choices_and_what_the_key_does() -> None:
    told = tip_of(choice_hint(commands.LOG, "white, cd/m²", ("80", "100"), 1))
    assert told.splitlines() == ["White, cd/m² (F8)", "80  ·  [100]", commands.LOG.tip]
    assert tip_of(hint(CHOICES[0], "on again")) == "On again (1)"


def test_a_tip_is_a_sentence() -> None:
    tips = [command.tip for command in every_command() if command.tip]
    assert len(tips) > 50
    for tip in tips:
        assert tip[0].isupper(), tip
        assert tip.endswith("."), tip


def test_figures_that_are_painted_have_tips(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    driver.come_forward()
    window.presenter.go_to("as-found")
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    ladder = next(each for each in window.findChildren(Ladder) if each.isVisible())
    row = next(row for row in ladder._state.rows if row.percent == 50.0)
    at = [each.percent for each in ladder._state.rows].index(50.0)
    told = tip_at(ladder, ladder._row_place(at).center().toPoint())
    assert "50" in told.splitlines()[0]
    assert f"{row.delta:.2f}" in told
    assert row.verdict is not None
    assert row.verdict.value in told
    route = window.findChild(Route)
    assert isinstance(route, Route)
    stop, x = route._places()[4]
    told = tip_at(route, QPoint(round(x), 20))
    assert told.startswith(stop.title)
    assert stop.minutes in told
