"""Takes the pictures of docs/screenshots from the demo data: `make screenshots`.

Usage: screenshots.py FOLDER. The visit is played twice: by link, and by hand with the stand-in remote.
"""

import shutil
import sys
from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QApplication

from aequitone.advice.roles import Role
from aequitone.desktop import commands
from aequitone.desktop.app import application, window_on
from aequitone.desktop.demo.demo import demo_logbook
from aequitone.desktop.demo.driver import Driver, drive_demo
from aequitone.desktop.patterns.window import shown_picture
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.stations.arrive.form import draft_of_scenario
from aequitone.desktop.window import MainWindow
from aequitone.logbook import open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, PEAK, PROOF, WHITE, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.signal import Range
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario


def opened(app: QApplication, logbook_path: Path, *, by_hand: bool) -> MainWindow:
    window = window_on(demo_logbook(logbook_path, by_hand=by_hand), pace=60.0)
    window.resize(1280, 800)
    window.show()
    app.processEvents()
    return window


def white_by_hand(app: QApplication, work: Path, folder: Path) -> None:
    """The White station as it is at a client's: the program asks, the person turns."""
    window = opened(app, work / "by-hand" / "logbook.sqlite", by_hand=True)
    presenter, driver = window.presenter, Driver(app, window, folder)
    driver.come_forward()
    driver.press_for(arrive_commands.FILL)
    driver.wait(lambda: not presenter.station("arrive").filling, "the menu")
    standins = presenter.session.instruments.bench(presenter.station("arrive").draft.bench).standins
    assert standins is not None
    station = presenter.station("arrive")
    # As a person types them: every setting of the menu.
    station.edit(draft_of_scenario(station.draft, standins.scenario, dict(standins.screen.settings())))
    driver.press_for(arrive_commands.SAVE)
    driver.wait_for_station("prepare")
    driver.press_for(commands.NEXT_STATION)
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    driver.picture("as-found")
    driver.press_for(commands.NEXT_STATION)
    driver.press_for(commands.NEXT_STATION)
    driver.press_for(commands.BEGIN)
    for trip in range(2):
        driver.wait(lambda: presenter.session.asked is not None or not presenter.running, "a move")
        if presenter.session.asked is None:
            break
        question = presenter.session.asked.question
        assert isinstance(question, AskMove)
        if trip == 1:
            break
        standins.screen.turn({change.role.key: change.to_value for change in question.move.changes})
        driver.press_for(commands.TURNED)

        def answered(asked: AskMove = question) -> bool:
            return presenter.session.asked is None or presenter.session.asked.question is not asked

        driver.wait(answered, "its readings")
    driver.picture("white")
    driver.press_for(commands.DARKEN)
    driver.picture("darkened")
    driver.press_for(commands.DARKEN)
    driver.press_for(commands.WATCH)
    driver.wait(
        lambda: any(hint.command == commands.WATCHED for hint in presenter.view().panel.keys), "the first glance"
    )
    driver.picture("watch")
    driver.press_for(commands.REMOTE)
    driver.wait(lambda: window._remote is not None and window._remote.isVisible(), "the remote")
    assert window._remote is not None
    app.processEvents()
    window._remote.grab().save(str(folder / "remote.png"))
    window.patterns.resize(960, 540)
    window.patterns.show()
    window.patterns.show_picture(shown_picture("white-steps", *window.patterns.pixels, Range.LIMITED))
    app.processEvents()
    window.patterns.grab().save(str(folder / "test-picture.png"))
    window.close()


def several_jobs(app: QApplication, work: Path, folder: Path) -> None:
    """Jobs, with one done, one begun and one ahead."""
    logbook = demo_logbook(work / "jobs" / "logbook.sqlite")
    visit = logbook.latest_visit()
    assert visit is not None
    bench = build_bench(load_scenario("demo"), visit.bench.seed)
    for memory, target, light, kinds in (
        (visit.memory, visit.target, None, (AS_FOUND, WHITE, PROOF)),
        ("Day", "rec709-2.2/added", 150.0, (AS_FOUND,)),
    ):
        if memory != visit.memory:
            logbook.jobs.add(visit.id, input_=visit.input, memory=memory, target=target, light=light)
            bench.screen.choose_memory(visit.input, memory)
        note_as_found(logbook, visit, bench.link.values())
        for kind in kinds:
            carry_out(logbook, begin(logbook, visit.id, kind), bench.bench(), NobodyThere())
    begun = logbook.visit(visit.id).job_id
    logbook.jobs.add(visit.id, input_="HDMI 3", memory=visit.memory, target=visit.target, light=100.0)
    logbook.jobs.choose(visit.id, begun)
    logbook.close()
    window = opened(app, work / "jobs" / "logbook.sqlite", by_hand=False)
    driver = Driver(app, window, folder)
    driver.come_forward()
    window.presenter.do(commands.JOBS)
    window.refresh()
    driver.picture("jobs")
    window.close()


def peak_of_hdr(app: QApplication, work: Path, folder: Path) -> None:
    """Peak of an HDR memory, on a panel that has one: the demo's screen has not."""
    name = "white-oled"
    scenario = load_scenario(name)
    own = scenario.visit.model_copy(update={"target": "p3in2020-pq/added", "memory": "HDR film"})
    scenario = scenario.model_copy(update={"visit": own})
    path = work / "hdr" / "logbook.sqlite"
    path.parent.mkdir(parents=True, exist_ok=True)
    logbook, bench = open_logbook(path), build_bench(scenario, 3)
    visit = begin_standin_visit(logbook, scenario, name, 3)
    logbook.choose_bench(visit.id, replace(visit.bench, depth=10))
    bench.screen.choose_memory(visit.input, visit.memory)
    bench.screen.quieten()
    bench.screen.turn({Role.LIGHT_OUTPUT.key: 100})
    note_as_found(logbook, visit, bench.link.values())
    for kind in (AS_FOUND, PEAK):
        carry_out(logbook, begin(logbook, visit.id, kind), bench.bench(), NobodyThere())
    window = window_on(logbook, pace=60.0)
    window.resize(1280, 800)
    window.show()
    driver = Driver(app, window, folder)
    driver.come_forward()
    window.presenter.go_to("peak")
    window.refresh()
    driver.picture("peak")
    window.close()


def main() -> None:
    folder = Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    app = application()
    # A path of its own would stand in the picture of Hand over, another one each time.
    work = Path("build/screenshots")
    shutil.rmtree(work, ignore_errors=True)
    drive_demo(app, opened(app, work / "by-link" / "logbook.sqlite", by_hand=False), work / "pictures")
    for view in (
        "arrive",
        "prepare",
        "bench",
        "levels",
        "by-eye",
        "tone",
        "colour",
        "proof",
        "table",
        "hand-over",
        "ledger",
    ):
        shutil.copy2(work / "pictures" / f"{view}.png", folder / f"{view}.png")
    white_by_hand(app, work, folder)
    several_jobs(app, work, folder)
    peak_of_hdr(app, work, folder)
    print(f"pictures in {folder}: {', '.join(sorted(path.name for path in folder.glob('*.png')))}")


if __name__ == "__main__":
    main()
