"""The move panel: whatever a control is called, its name and where to turn it can be read whole."""

import pytest
from PySide6.QtGui import QFontMetricsF
from pytestqt.qtbot import QtBot

from aequitone.desktop.frame import theme
from aequitone.desktop.frame.move_panel import MovePanel
from aequitone.desktop.frame.panel_state import BigLine, PanelState


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


def test_what_fits_stays_on_one_line(qtbot: QtBot) -> None:
    assert shown(qtbot, BigLine("Gamma", "to 2.4")) == (BigLine("Gamma", "to 2.4"),)
    pair = BigLine("Brightness", "to 50"), BigLine("Contrast", "to 71")
    assert shown(qtbot, *pair) == pair
