"""What was switched off, tried by key at Hand over before it is decided."""

from collections.abc import Callable

from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.hand_over.commands import LEAVE_OFF, TRY_IT
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import TRIED


def test_what_it_does_is_told_before_the_answer(
    logbook: Logbook,
    visit: VisitRecord,
    open_on: Callable[[Logbook], MainWindow],
    drive: Callable[[MainWindow], Driver],
) -> None:
    control = next(each for each in logbook.controls(visit.screen_id) if each.role.key == "feature-energy-saving")
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    session = presenter.session
    session.instruments.turn(visit.bench, {control.role.key: 0})
    logbook.ledger.switch_off(visit.id, control.id, 1, 0)
    presenter.open_visit(visit.id)
    driver.wait(lambda: bool(presenter.snapshot.debts), "the debt")
    presenter.go_to("hand-over")
    window.refresh()
    driver.press_for(TRY_IT)
    driver.wait(lambda: presenter.running, "the trial")
    driver.wait_for_pass()
    assert presenter.snapshot.done(TRIED)
    panel = presenter.view().panel
    assert f"With {control.name} on: white -" in panel.sentence
    (debt,) = presenter.snapshot.debts
    assert debt.answer is None
    driver.press_for(LEAVE_OFF)
    driver.wait(lambda: presenter.snapshot.debts[0].answer is not None, "the answer")
