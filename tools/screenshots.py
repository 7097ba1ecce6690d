"""Takes the pictures of docs/screenshots, and the reports of docs/reports, from demo data: `make screenshots`.

Usage: screenshots.py FOLDER. The visit is played twice: by link, and by hand with the stand-in remote.
"""

import shutil
import sys
from dataclasses import replace
from io import BytesIO
from pathlib import Path
from typing import Any

from PIL import Image, ImageDraw
from PySide6.QtWidgets import QApplication

from aequitone.advice.roles import Role
from aequitone.desktop import commands
from aequitone.desktop.app import application, window_on
from aequitone.desktop.demo.demo import demo_logbook
from aequitone.desktop.demo.driver import Driver, drive_demo
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.stations.arrive.form import draft_of_scenario
from aequitone.desktop.tools.inputs.commands import INPUTS
from aequitone.desktop.tools.report.commands import KEEP, REPORT
from aequitone.desktop.tools.report.preview import page_image
from aequitone.desktop.window import MainWindow
from aequitone.handover.letterhead import checked
from aequitone.handover.report import make_report
from aequitone.headless import run
from aequitone.logbook import open_logbook
from aequitone.logbook.letterheads import Letterhead
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, PEAK, PROOF, TONE, WHITE, PassType, begin, carry_out
from aequitone.procedures.runner import NobodyThere
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


def inputs(app: QApplication, work: Path, folder: Path) -> None:
    """Inputs, with the sheet of one memory half ticked off."""
    path = work / "jobs" / "logbook.sqlite"
    logbook = open_logbook(path)
    visit = logbook.latest_visit()
    assert visit is not None
    logbook.jobs.choose(visit.id, logbook.jobs.of(visit.id)[0].id)
    for input_, device in (("HDMI 1", "disc player"), ("HDMI 4", "games console")):
        there = logbook.copies.add(visit.id, input_=input_, memory="Film night", device=device)
        if input_ == "HDMI 1":
            logbook.copies.apply(visit.id, there, applied=True)
            for role in ("light-output", "contrast", "black-level"):
                logbook.copies.tick(visit.id, there, role, done=True)
    logbook.close()
    window = opened(app, path, by_hand=False)
    driver = Driver(app, window, folder)
    driver.come_forward()
    window.presenter.go_to("hand-over")
    window.presenter.do(INPUTS)
    window.refresh()
    driver.picture("inputs")
    window.close()


def letterhead(path: Path) -> None:
    """A letterhead and notes of nobody's, in the logbook of a visit."""
    logo = Image.new("RGB", (300, 90), "white")
    pen = ImageDraw.Draw(logo)
    pen.ellipse((5, 5, 85, 85), fill=(122, 40, 40))
    pen.rectangle((104, 36, 290, 54), fill=(70, 70, 70))
    drawn = BytesIO()
    logo.save(drawn, "PNG")
    logbook = open_logbook(path)
    address = "12 Mill Lane\nAlderwick\nPhone 0555 0100"
    head = Letterhead("Lantern & Loft Screen Care", address, drawn.getvalue(), "#7a2828", "A4")
    logbook.letterheads.keep(checked(head))
    logbook.letterheads.keep_notes(1, "The blinds make more difference in the afternoon than any setting.")
    logbook.close()


def report(app: QApplication, work: Path, folder: Path) -> None:
    """Report, with the first page of the demo's."""
    path = work / "by-link" / "logbook.sqlite"
    letterhead(path)
    window = window_on(open_logbook(path), pace=60.0)
    window.resize(1280, 800)
    window.show()
    driver = Driver(app, window, folder)
    driver.come_forward()
    window.presenter.go_to("hand-over")
    window.presenter.do(REPORT)
    tool = window.presenter.tool_of("report")
    driver.wait(lambda: tool.page().revision > 0, "the form")
    driver.press_for(KEEP)
    driver.wait(lambda: tool.page().image is not None and not window.presenter.session.reports.busy, "the page")
    window.presenter.session.say("")
    window.refresh()
    driver.picture("report")
    window.close()


def reports(work: Path, folder: Path) -> None:
    """The reports of three visits as PDF, and the first page of one as PNG."""
    folder.mkdir(parents=True, exist_ok=True)
    run("laser-projector", work / "projector", seed=3, whole=True, say=lambda _text: None)
    made = {
        "television": work / "by-link" / "logbook.sqlite",
        "hdr-film": work / "hdr" / "logbook.sqlite",
        "projector": work / "projector" / "logbook.sqlite",
    }
    for name, path in made.items():
        letterhead(path)
        logbook = open_logbook(path)
        files = make_report(logbook, 1, work / "reports" / name)
        logbook.close()
        shutil.copy2(files.pdf, folder / f"{name}.pdf")
    page = page_image(folder / "television.pdf", 1)
    Image.frombytes("RGB", (page.width, page.height), page.rgb).save(folder / "first-page.png")


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
    pictured = logbook.path
    window = window_on(logbook, pace=60.0)
    window.resize(1280, 800)
    window.show()
    driver = Driver(app, window, folder)
    driver.come_forward()
    window.presenter.go_to("peak")
    window.refresh()
    driver.picture("peak")
    window.close()
    logbook = open_logbook(pictured)
    rest: tuple[PassType[Any, Any], ...] = (WHITE, TONE, PROOF)
    for later in rest:
        carry_out(logbook, begin(logbook, visit.id, later), bench.bench(), NobodyThere())
    logbook.close()


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
        "hand-over",
        "ledger",
    ):
        shutil.copy2(work / "pictures" / f"{view}.png", folder / f"{view}.png")
    white_by_hand(app, work, folder)
    several_jobs(app, work, folder)
    inputs(app, work, folder)
    peak_of_hdr(app, work, folder)
    report(app, work, folder)
    reports(work, folder.parent / "reports")
    print(f"pictures in {folder}: {', '.join(sorted(path.name for path in folder.glob('*.png')))}")


if __name__ == "__main__":
    main()
