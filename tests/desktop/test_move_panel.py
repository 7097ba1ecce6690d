"""The move panel: whatever a control is called, its name and where to turn it can be read whole."""

from dataclasses import replace

import pytest
from PySide6.QtGui import QFontMetricsF
from PySide6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot
from tests.desktop.test_keys import every_command

from aequitone.desktop.commands import hint
from aequitone.desktop.frame import theme
from aequitone.desktop.frame.move_panel import MovePanel
from aequitone.desktop.frame.panel_state import (
    BigLine,
    DeltaFigure,
    DialState,
    PanelState,
    ReadingFigure,
    SliderState,
)
from aequitone.reference import Verdict


def shown(qtbot: QtBot, *lines: BigLine) -> tuple[BigLine, ...]:
    panel = MovePanel()
    qtbot.addWidget(panel)
    panel.show_state(PanelState("Your move", True, lines))
    panel.show()
    return panel._lines._lines


@pytest.mark.parametrize(("name", "to"), [("Picture mode", "to Showroom"), ("Colour temperature", "to Warm 2")])
def test_where_to_turn_a_control_stands_below_its_name_where_both_do_not_fit(
    qtbot: QtBot, name: str, to: str
) -> None:
    both = shown(qtbot, BigLine(name, to))
    assert both == (BigLine(name), BigLine("", to))
    room = MovePanel().width()
    assert all(
        QFontMetricsF(theme.font(theme.MOVE)).horizontalAdvance(each.label or each.amount) < room for each in both
    )


def test_what_is_left_to_turn_stands_below_a_name_that_is_long(qtbot: QtBot) -> None:
    assert shown(qtbot, BigLine("100 % B", "three more", "to -3")) == (
        BigLine("100 % B"),
        BigLine("", "three more", "to -3"),
    )
    assert shown(qtbot, BigLine("R gain", "up 3", "to 53")) == (BigLine("R gain", "up 3", "to 53"),)


def test_names_of_several_controls_are_whole_in_smaller_letters(qtbot: QtBot) -> None:
    panel = MovePanel()
    qtbot.addWidget(panel)
    moves = [
        (BigLine("Green hue", "down 15", "to 0"), BigLine("Green lightness", "up 20", "to 20")),
        tuple(BigLine(f"Magenta {amount}", "down 12", "to -12") for amount in ("hue", "saturation", "lightness")),
    ]
    for lines in moves:
        panel.show_state(PanelState("Your move", True, lines, ""))
        letters, room = panel._lines._size, panel.width() - 2 * 18 - 52 - 10
        wide = max(
            QFontMetricsF(theme.font(letters)).horizontalAdvance(line.label)
            + QFontMetricsF(theme.font(letters, bold=True)).horizontalAdvance(line.amount)
            for line in lines
        )
        assert wide <= room
        assert letters >= 16
    panel.show_state(PanelState("Your move", True, (BigLine("R gain", "up 3", "to 53"),), ""))
    assert panel._lines._size == theme.MOVE


def test_what_fits_stays_on_one_line(qtbot: QtBot) -> None:
    assert shown(qtbot, BigLine("Gamma", "to 2.4")) == (BigLine("Gamma", "to 2.4"),)
    pair = BigLine("Brightness", "to 50"), BigLine("Contrast", "to 71")
    assert shown(qtbot, *pair) == pair


def placed(qtbot: QtBot, height: int) -> tuple[QWidget, MovePanel]:
    """A window, and a panel of that height in it: in one of its own it would grow."""
    window, panel = QWidget(), MovePanel()
    qtbot.addWidget(window)
    panel.setParent(window)
    panel.setGeometry(0, 0, panel.width(), height)
    window.show()
    return window, panel


def test_pictures_give_way_where_words_and_keys_need_the_room(qtbot: QtBot) -> None:
    _window, panel = placed(qtbot, 630)
    lines = tuple(BigLine(f"Control {n}", "up 2", "to 57") for n in range(6))
    sliders = tuple(SliderState("R", "R gain", 0, 100, 50, 57) for _ in range(6))
    keys = tuple(hint(command, "what it does") for command in every_command()[:12])
    delta = DeltaFigure("ΔE 2000 at 80 %", 1.1, 0.1, Verdict.SIDE_BY_SIDE)
    told = PanelState(
        "Your move", True, lines, "Short.", delta=delta, dial=DialState(((0.0, 0.0),)), sliders=sliders, keys=keys
    )
    panel.show_state(told)
    assert panel._dial.isVisible()
    panel.show_state(replace(told, sentence="What a hand that slipped has done is told at length. " * 8))
    assert not panel._dial.isVisible()
    # The figure stays where there is room for it.
    assert panel._reading.isVisible()
    QApplication.processEvents()
    layout = panel.layout()
    assert layout is not None
    assert layout.minimumHeightForWidth(panel.width()) <= panel.height()
    panel.show_state(
        replace(told, sentence="What a hand that slipped has done is told at length. " * 11, delta=None)
    )
    assert not panel._dial.isVisible()
    QApplication.processEvents()
    assert layout.minimumHeightForWidth(panel.width()) <= panel.height()
    # And they come back.
    panel.show_state(told)
    assert panel._dial.isVisible()
    assert panel._reading.isVisible()


def test_a_figure_that_its_sentence_has_too_gives_way_where_the_sentence_would_be_cut(qtbot: QtBot) -> None:
    # As at 150 % in the smallest window.
    _window, panel = placed(qtbot, 450)
    keys = tuple(hint(command, "what it does") for command in every_command()[:8])
    delta = DeltaFigure("ΔE 2000 on average", 4.0, 0.1, Verdict.VISIBLE)
    told = PanelState(
        "Your move", True, (BigLine("Go on to"), BigLine("Levels")), "Short.", delta=delta, keys=keys
    )
    long = replace(told, sentence="What is wrong is told at length, with what tells it apart. " * 7)
    panel.show_state(told)
    assert panel._reading.isVisible()
    panel.show_state(long)
    assert not panel._reading.isVisible()
    QApplication.processEvents()
    assert panel._sentence.height() >= panel._sentence.heightForWidth(panel._sentence.width())
    # In a larger window there is room for both.
    panel.setGeometry(0, 0, panel.width(), 700)
    QApplication.processEvents()
    assert panel._reading.isVisible()
    assert panel._sentence.height() >= panel._sentence.heightForWidth(panel._sentence.width())
    # A figure that is being read stays: no sentence has it.
    panel.setGeometry(0, 0, panel.width(), 450)
    panel.show_state(replace(long, reading=ReadingFigure("50 % grey", 20.0, 21.0)))
    assert panel._reading.isVisible()
