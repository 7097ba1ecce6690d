"""Settings from elsewhere by keys: measured, compared, turned back, and taken over only when asked for."""

from collections.abc import Callable
from pathlib import Path

from aequitone.advice.roles import Role
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.tools.controls.commands import TAKE_OVER
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import PUT_BACK, WHAT_IF

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def test_a_list_is_measured_turned_back_and_taken_over_on_demand(
    logbook: Logbook, white_done: VisitRecord, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    before = dict(presenter.snapshot.settings)
    screen = presenter.session.instruments.bench(white_done.bench).standins.screen
    stood = screen.settings()
    other = before[Role.GAIN_B] + 12
    path = tmp_path / "internet.csv"
    path.write_text(f"control,setting\nB gain,{other}\nR gain,{before[Role.GAIN_R]}\n", "utf-8")
    presenter.do(commands.CONTROLS)
    window.refresh()
    assert TAKE_OVER not in [hint.command for hint in presenter.view().panel.keys]
    presenter.tool_of("controls")._try_list(path)
    driver.wait(lambda: presenter.snapshot.done(WHAT_IF) and not presenter.running, "the trial")
    assert presenter.snapshot.settings == before
    assert screen.settings() == stood
    words = presenter.snapshot.words(WHAT_IF)
    found = presenter.snapshot.result(WHAT_IF)
    assert words.startswith(
        f"With the settings of the list internet.csv this unit has ΔE 2000 {found.grey.mean:.1f}"
    )
    assert "as found" in words
    assert words in presenter.view().panel.sentence
    presenter.do(commands.CONTROLS)
    window.refresh()
    driver.press_for(TAKE_OVER)
    driver.wait(lambda: presenter.snapshot.done(PUT_BACK) and not presenter.running, "the settings")
    assert presenter.snapshot.settings == {**before, Role.GAIN_B: other}
    assert screen.settings()["gain-b"] == other


def test_a_list_that_names_nothing_new_and_one_that_is_wrong(
    logbook: Logbook, white_done: VisitRecord, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    path = tmp_path / "list.csv"
    presenter.do(commands.CONTROLS)
    path.write_text("control,setting\nNo such,1\n", "utf-8")
    presenter.tool_of("controls")._try_list(path)
    driver.wait(lambda: "no control “No such”" in presenter.view().panel.sentence, "the refusal")
    path.write_text(f"control,setting\nR gain,{presenter.snapshot.settings[Role.GAIN_R]}\n", "utf-8")
    presenter.tool_of("controls")._try_list(path)
    driver.wait(lambda: "stands so already" in presenter.view().panel.sentence, "that nothing differs")
    assert not presenter.snapshot.done(WHAT_IF)
