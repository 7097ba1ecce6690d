"""What is typed at Arrive: nothing wrong gets into the ledger, and every wrong thing is said."""

from dataclasses import replace

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit, QTableWidgetSelectionRange

from aequitone.advice.roles import ROLE_WORDS, Role, is_of_colours, point_of
from aequitone.advice.technology import Technology
from aequitone.advice.templates import template_for
from aequitone.desktop.stations.arrive.colours_form import ColoursDraft, checked_colours, colours_of
from aequitone.desktop.stations.arrive.form import (
    SWITCH,
    CheckedDraft,
    ControlDraft,
    Draft,
    check,
    draft_of_scenario,
    draft_of_snapshot,
    missing_for_white,
    new_draft,
    with_template,
)  # fmt: skip
from aequitone.desktop.stations.arrive.points_form import PointsDraft, checked, points_of
from aequitone.desktop.stations.arrive.state import ArrivePage
from aequitone.desktop.stations.arrive.view import ArriveView
from aequitone.logbook import BenchChoice, Logbook, VisitRecord
from aequitone.logbook.records import Connection
from aequitone.passes import load_snapshot
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

NAMES = {"client": "Lindgate", "room": "Attic", "screen": "Norvane K55", "input": "HDMI 1", "memory": "Film"}
GAIN = ControlDraft(Role.GAIN_R, "R gain", "0", "20", "2", "10", "12")
GAMMA = ControlDraft(Role.GAMMA, "Gamma", "0", "2", "1", "2.2", "2.4", ("2.0", "2.2", "2.4"))


def draft(*controls: ControlDraft, **changes: object) -> Draft:
    return replace(Draft(**NAMES, controls=controls), **changes)


def test_a_sound_form_becomes_an_arrival() -> None:
    arrival = check(draft(GAIN, GAMMA, ControlDraft(Role.CONTRAST)))
    assert isinstance(arrival, CheckedDraft)
    assert [control.name for control in arrival.controls] == ["R gain", "Gamma"]
    assert arrival.found == {Role.GAIN_R: 12, Role.GAMMA: 2}
    assert arrival.controls[1].factory == 1


@pytest.mark.parametrize(
    ("row", "sentence"),
    [
        (replace(GAIN, found="22"), "R gain goes from 0 to 20; 22 cannot be."),
        (replace(GAIN, found="13"), "R gain moves by 2 from 0; 13 lies between two steps."),
        (replace(GAIN, found="twelve"), "R gain: setting as found is “twelve”, which is not a whole number."),
        (replace(GAIN, factory="99"), "R gain goes from 0 to 20; 99 cannot be."),
        (replace(GAIN, lowest="20"), "R gain: lowest, 20, must be below highest, 20."),
        (replace(GAIN, step="0"), "R gain: a step is 1 or more, not 0."),
        (replace(GAIN, highest=""), "R gain: highest is “”, which is not a whole number."),
        (replace(GAMMA, found="2.6"), "Gamma is one of 2.0, 2.2, 2.4, not “2.6”."),
    ],
)
def test_impossible_settings_are_said(row: ControlDraft, sentence: str) -> None:
    assert check(draft(row)) == [sentence]


def test_everything_wrong_is_said_at_once() -> None:
    wrong = draft(replace(GAIN, found="99"), client=" ", bench=BenchChoice(meter=Connection.STANDIN, depth=10))
    objections = check(wrong)
    assert isinstance(objections, list)
    assert len(objections) == 4
    assert objections[0] == "Say which client."


def test_a_setting_without_a_word_takes_the_roles_own() -> None:
    arrival = check(draft(replace(GAIN, name="", found="4")))
    assert isinstance(arrival, CheckedDraft)
    assert arrival.controls[0].name == ROLE_WORDS[Role.GAIN_R]


def test_what_white_lacks() -> None:
    assert len(missing_for_white(new_draft())) == 6
    assert "red gain" not in missing_for_white(draft(GAIN))


def test_the_form_shows_a_draft_and_gives_it_back(qapp: QApplication) -> None:
    view = ArriveView(["LVDS 1920 × 1080, this window's own", "HDMI 3840 × 2160"])
    scenario = load_scenario("demo")
    filled = draft_of_scenario(draft(), scenario, build_bench(scenario, 4).link.values())
    filled = replace(
        filled,
        bench=BenchChoice(Connection.STANDIN, Connection.STANDIN, Connection.BY_HAND, "demo", 7, 12, "full", 0.18),
        levels=21,
    )
    view.show_page(ArrivePage(1, filled, False, True))
    assert view.draft() == filled
    mine = replace(filled, bench=BenchChoice(display="HDMI 3840 × 2160", window=1.0))
    view.show_page(ArrivePage(2, mine, True, False))
    assert view.draft().bench == replace(mine.bench, seed=0)
    careful = BenchChoice(
        Connection.INSTRUMENT,
        Connection.BY_HAND,
        Connection.INSTRUMENT,
        meter_id=3,
        link_id=5,
        precision="careful",
    )
    view.show_page(ArrivePage(3, replace(filled, bench=careful), True, False))
    # What was chosen at the Bench is not lost on the way through this form.
    assert view.draft().bench == careful


def cut_off(view: ArriveView) -> list[str]:
    """The words of fields that are cut off."""
    cut = []
    for edit in view.findChildren(QLineEdit):
        words = edit.text() or edit.placeholderText()
        if edit.isVisible() and edit.fontMetrics().horizontalAdvance(words) > edit.width() - 16:
            cut.append(words)
    for combo in view.findChildren(QComboBox):
        if combo.isVisible() and combo.fontMetrics().horizontalAdvance(combo.currentText()) > combo.width() - 34:
            cut.append(combo.currentText())
    return cut


@pytest.mark.parametrize("width", [470, 860])
def test_nothing_is_cut_where_there_is_little_room(qapp: QApplication, width: int) -> None:
    view = ArriveView(["HDMI 3840 × 2160"])
    scenario = load_scenario("demo")
    filled = draft_of_scenario(draft(), scenario, build_bench(scenario, 4).link.values())
    filled = replace(filled, client="Fernhollow Hall, the old mill", screen="Norvane K55 in the screening room")
    view.show_page(ArrivePage(1, filled, False, True))
    view.resize(width, 440)
    view.show()
    # From one arrangement to the other and back, as a window is drawn smaller and larger.
    for step in (860, 470, width):
        view.resize(step, 440)
        qapp.processEvents()
    assert cut_off(view) == []
    assert replace(view.draft(), bench=filled.bench) == filled
    # The keys go through the fields in the same order in both.
    first = view.findChildren(QLineEdit)[0]
    order, widget = [], first
    for _ in range(60):
        if isinstance(widget, QLineEdit | QComboBox) and widget.accessibleName():
            order.append(widget.accessibleName())
        widget = widget.nextInFocusChain()
    fields = [name for name in order if name in ("Client", "Room", "Screen", "Memory", "Target", "Meter", "Link")]
    assert fields[:7] == ["Client", "Room", "Screen", "Memory", "Target", "Meter", "Link"]
    view.close()


def test_a_screen_of_this_computer_shows_eight_bit(qapp: QApplication) -> None:
    view = ArriveView(["HDMI 3840 × 2160"])
    view.show_page(ArrivePage(4, draft(bench=BenchChoice(depth=10)), False, True))
    assert view.draft().bench.depth == 8


def test_a_visit_that_has_begun_fills_the_form(logbook: Logbook, visit: VisitRecord) -> None:
    form = draft_of_snapshot(load_snapshot(logbook, visit.id))
    assert (form.client, form.memory) == ("Fernhollow Hall", "Film night")
    assert missing_for_white(form) == []
    arrival = check(form)
    assert isinstance(arrival, CheckedDraft)
    assert arrival.found == logbook.ledger.at(visit.id)


def test_the_rows_follow_the_kind_of_screen_and_what_is_typed_stays() -> None:
    fresh = new_draft()
    roles = {row.role for row in fresh.controls}
    assert Role.ZONE_DIMMING in roles
    typed = replace(
        fresh,
        technology=Technology.TUBE,
        controls=tuple(
            replace(row, found="On") if row.role == Role.ZONE_DIMMING else row for row in fresh.controls
        ),
    )
    tube = with_template(typed)
    assert {row.role for row in tube.controls} == {*template_for(Technology.TUBE), Role.ZONE_DIMMING}
    assert next(row.found for row in tube.controls if row.role == Role.ZONE_DIMMING) == "On"


def test_switches_are_off_or_on_and_misleading_words_are_doubted() -> None:
    controls = (
        ControlDraft(Role.MOTION, "Smooth", found="on", choices=SWITCH),
        ControlDraft(Role.BLACK_LEVEL, "Brightness", found="50"),
    )
    arrival = check(draft(*controls))
    assert isinstance(arrival, CheckedDraft)
    assert arrival.found == {Role.MOTION: 1, Role.BLACK_LEVEL: 50}
    assert (arrival.controls[0].lowest, arrival.controls[0].highest) == (0, 1)
    assert arrival.warnings == ("“Brightness” can also be light output: here it is noted as black level",)
    wrong = check(draft(ControlDraft(Role.MOTION, "Smooth", found="7", choices=SWITCH)))
    assert wrong == ["Smooth goes from 0 to 1; 7 cannot be."]


def test_a_white_that_cannot_be_is_said_with_the_rest() -> None:
    wrong = check(replace(draft(), target="rec709-2.2@0.64,0.33"))
    assert isinstance(wrong, list)
    assert any("The target: x 0.64, y 0.33 is a colour" in words for words in wrong)


def test_multi_point_is_one_line_at_arrive() -> None:
    arrived = check(replace(draft(), points=PointsDraft(20, "-30", "30", False, "2")))
    assert isinstance(arrived, CheckedDraft)
    points = [control for control in arrived.controls if point_of(control.role)]
    assert len(points) == 60
    assert {(c.lowest, c.highest, c.factory) for c in points} == {(-30, 30, 0)}
    assert {arrived.found[control.role] for control in points} == {2}
    again = points_of(tuple(arrived.controls), arrived.found)
    assert (again.count, again.lowest, again.highest, again.light, again.found) == (20, "-30", "30", False, "2")
    read = points_of(tuple(arrived.controls), arrived.found | {points[0].role: -5})
    assert read.found == "as noted"
    assert checked(read)[1][points[0].role] == -5


@pytest.mark.parametrize(
    ("points", "words"),
    [
        (PointsDraft(10, "x", "50"), "lowest is “x”, which is not a whole number"),
        (PointsDraft(10, "50", "-50"), "must be below highest"),
        (PointsDraft(10, "-50", "50", found="70"), "goes from -50 to 50; 70 cannot be"),
    ],
)
def test_what_cannot_be_of_multi_point_is_said(points: PointsDraft, words: str) -> None:
    wrong = check(replace(draft(), points=points))
    assert isinstance(wrong, list)
    assert any(words in sentence for sentence in wrong)


@pytest.mark.parametrize(
    ("kind", "secondaries", "count"), [("hsl", True, 18), ("hs", False, 6), ("mix", True, 18)]
)
def test_a_colour_management_is_one_line_at_arrive(kind: str, secondaries: bool, count: int) -> None:
    arrived = check(replace(draft(), colours=ColoursDraft(kind, "-10", "10", secondaries, "0")))
    assert isinstance(arrived, CheckedDraft)
    colours = [control for control in arrived.controls if is_of_colours(control.role)]
    assert len(colours) == count
    assert len({control.name for control in colours}) == count
    assert {arrived.found[control.role] for control in colours} == {0}
    again = colours_of(tuple(arrived.controls), arrived.found)
    assert (again.kind, again.secondaries, again.lowest, again.highest) == (kind, secondaries, "-10", "10")
    assert checked_colours(again)[0] == colours
    wrong = check(replace(draft(), colours=ColoursDraft(kind, "-10", "10", secondaries, "12")))
    assert wrong == [f"Colour management: {colours[0].name} goes from -10 to 10; 12 cannot be."]


def test_enter_goes_from_row_to_row_and_a_choice_is_offered(qapp: QApplication) -> None:
    view = ArriveView(["HDMI 3840 × 2160"])
    filled = draft_of_scenario(draft(), load_scenario("demo"), {})
    view.show_page(ArrivePage(1, filled, False, True))
    view.resize(1000, 700)
    view.show()
    table = view._table
    found = 6
    preset = next(i for i, row in enumerate(filled.controls) if row.choices)
    plain = next(i for i, row in enumerate(filled.controls) if not row.choices and i + 1 < len(filled.controls))
    table.setCurrentCell(plain, found)
    table.setFocus()
    QTest.keyClicks(table, "4")
    editor = table.viewport().findChild(QLineEdit)
    assert editor is not None
    QTest.keyClicks(editor, "2")
    QTest.keyClick(editor, Qt.Key.Key_Return)
    qapp.processEvents()
    assert table.item(plain, found).text() == "42"
    assert (table.currentRow(), table.currentColumn()) == (plain + 1, found)
    table.setCurrentCell(preset, found)
    table.editItem(table.item(preset, found))
    combo = table.viewport().findChild(QComboBox)
    assert combo is not None
    assert [combo.itemText(i) for i in range(combo.count())] == ["", *filled.controls[preset].choices]
    combo.setCurrentIndex(2)
    combo.activated.emit(2)
    assert view.draft().controls[preset].found == filled.controls[preset].choices[1]
    # Bare Enter moves on without changing anything.
    table.setCurrentCell(plain, found)
    QTest.keyClick(table, Qt.Key.Key_Return)
    assert table.currentRow() == plain + 1
    assert table.item(plain, found).text() == "42"


def test_a_column_is_filled_down(qapp: QApplication) -> None:
    view = ArriveView(["one screen"])
    rows = tuple(ControlDraft(role, role.key, "0", "20", "1", "10", "") for role in (Role.GAIN_R, Role.GAIN_G))
    switch = ControlDraft(Role.GAMMA, "Gamma", "0", "2", "1", "", "", ("2.0", "2.2", "2.4"))
    view.show_page(ArrivePage(1, draft(*rows, switch), False, True))
    view.show()
    table, found = view._table, 6
    table.item(0, found).setText("12")
    # One cell: from the one above, and on to the next.
    table.setCurrentCell(1, found)
    QTest.keyClick(table, Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
    assert [row.found for row in view.draft().controls] == ["12", "12", ""]
    assert table.currentRow() == 2
    # What it does not offer is not put into a control of choices.
    QTest.keyClick(table, Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
    assert view.draft().controls[2].found == ""
    # Several cells: the topmost goes into all of them, in each column by itself; a role is no figure to fill in.
    table.setRangeSelected(QTableWidgetSelectionRange(0, 0, 1, 5), True)
    table.item(0, 2).setText("-5")
    table.item(0, 5).setText("3")
    table.clearSelection()
    table.setRangeSelected(QTableWidgetSelectionRange(0, 0, 1, 5), True)
    table.fill_down()
    told = view.draft().controls
    assert (told[1].lowest, told[1].factory, told[1].name, told[1].role) == ("-5", "3", "gain-r", Role.GAIN_G)
    view.close()


def test_typing_on_a_cell_that_is_fixed_warns_of_nothing(qapp: QApplication, qtlog) -> None:
    view = ArriveView(["HDMI 3840 × 2160"])
    view.show_page(ArrivePage(1, draft_of_scenario(draft(), load_scenario("demo"), {}), False, False))
    view.show()
    table = view._table
    for column in (0, 6):
        table.setCurrentCell(0, column)
        table.setFocus()
        QTest.keyClicks(table, "7")
    assert not [record.message for record in qtlog.records if "edit" in record.message]
