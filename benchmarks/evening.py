"""A whole evening through the real window: every station by keys, every turn with the stand-in's remote.

    PYTHONPATH=. sh tools/with-display.sh .venv/bin/python benchmarks/evening.py FOLDER SCENARIO [UNIT] [WORD ...]

A person who always presses the key that is offered first and turns what is asked. WORD: "mouse", where they click
what is offered and turn the remote by clicks and wheel, or a job, "input, memory, target", after the first, which
is the scenario's. Leaves all that the panel said, pictures, the report, and at the end the truth of each memory
beside what Proof said.
"""

import sys
import time
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
from PySide6.QtTest import QTest
from tests.desktop.mouse_hand import MouseDriver, turn_with_the_mouse
from tests.desktop.remote_hand import turn_with_the_remote

from aequitone.desktop import commands
from aequitone.desktop.app import application, window_on
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.stations.arrive.form import draft_of_scenario
from aequitone.desktop.stations.hand_over import commands as hand_over_commands
from aequitone.desktop.tools.jobs import commands as jobs_commands
from aequitone.desktop.window import MainWindow
from aequitone.logbook import open_logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import begin_standin_visit
from aequitone.passes import AS_FOUND, PROOF, load_snapshot
from aequitone.reference import grey_errors, target_named
from aequitone.signal import grey_patch
from aequitone.standins.scenario import load_scenario

_PACE, _MOST_PRESSES = 400.0, 120
_LADDER = np.arange(10.0, 101.0, 10.0)


class Evening:
    """One evening: the window, and hands that do what it asks."""

    def __init__(self, folder: Path, window: MainWindow, *, by_mouse: bool) -> None:
        # By no type: what stands behind a window is there once it is open.
        self.window: Any = window
        self.presenter: Any = window.presenter
        self.app, self.folder = application(), folder
        self.driver = (MouseDriver if by_mouse else Driver)(self.app, window, folder)
        self.turn = turn_with_the_mouse if by_mouse else turn_with_the_remote
        self.trips: dict[str, int] = {}
        self.turns = 0
        self.said: list[str] = []

    def tell(self, what: str) -> None:
        if not self.said or self.said[-1] != what:
            self.said.append(what)

    def look(self) -> None:
        """Note what the panel says."""
        self.window.refresh()
        panel = self.presenter.view().panel
        lines = " / ".join(f"{line.label} {line.amount} {line.detail}".strip() for line in panel.lines)
        keys = ", ".join(f"[{hint.key}] {hint.words}" for hint in panel.keys)
        parts = (f"{self.presenter.here}: {panel.heading}: {lines}", panel.sentence, panel.outlook, keys)
        self.tell("\n    ".join(part for part in parts if part))

    def picture(self, which: str = "") -> None:
        """Save a picture of the station; the last of its kind stays."""
        if self.presenter.snapshot is not None:
            self.driver.picture(f"{self.presenter.snapshot.visit.memory}-{self.presenter.here}{which}")

    def remote(self) -> None:
        self.presenter.do(commands.REMOTE)
        self.driver.wait(lambda: self.window._remote is not None and self.window._remote.isVisible(), "the remote")
        self.window.activateWindow()

    def settle(self) -> None:
        """Wait for a question or the end of what runs; make the moves that are asked."""
        session = self.presenter.session
        while self.presenter.running:
            self.driver.wait(
                lambda: not self.presenter.running or session.asked is not None, "a question or the end"
            )
            self.look()
            if session.asked is None:
                continue
            question = session.asked.question
            if isinstance(question, AskMove):
                self.picture("-move")
                self.turn(self.app, self.window._remote, question)
                self.trips[self.presenter.here] = self.trips.get(self.presenter.here, 0) + 1
                self.turns += len(question.move.changes)
                self.driver.press_for(commands.TURNED)
            else:
                self.driver.press(self.main().key)
            self.driver.wait(partial(_answered, session, question), "what follows")

    def main(self) -> Any:
        self.window.refresh()
        keys = self.presenter.view().panel.keys
        return next((hint for hint in keys if hint.main), None)

    def press_on(self, until: str) -> None:
        """Press what is offered first until a station is reached, or until nothing is offered."""
        for _ in range(_MOST_PRESSES):
            self.look()
            if self.presenter.here == until:
                return
            main = self.main()
            if main is None:
                raise RuntimeError(f"no key is offered first at {self.presenter.here}")
            if self.presenter.here == "arrive":
                self.note_menu()
                continue
            if self.presenter.here == "prepare" and main.words == "switched off":
                self.window._remote.source.quieten()
            lines = self.presenter.view().panel.lines
            if self.presenter.here == "prepare" and any("highest" in line.label for line in lines):
                screen = self.window._remote.source
                most = max(control.highest for control in screen.controls() if control.role == "light-output")
                screen.turn({"light-output": most})
            before = (self.presenter.here, self.presenter.snapshot, self.presenter.view().panel)
            # As it stands when it is left, and not what follows.
            self.picture()
            self.driver.press(main.key)
            end = time.monotonic() + 5.0
            while time.monotonic() < end and not self.presenter.running:
                self.app.processEvents()
                self.window.refresh()
                if (self.presenter.here, self.presenter.snapshot, self.presenter.view().panel) != before:
                    break
            self.settle()
        raise RuntimeError(f"{_MOST_PRESSES} presses do not lead to {until}")

    def note_menu(self) -> None:
        """Type the settings of the remote's menu, at Arrive."""
        self.presenter.go_to("arrive")
        self.look()
        station, stands = self.presenter.station("arrive"), self.window._remote.source.settings()
        self.driver.press_for(arrive_commands.FILL)
        self.driver.wait(lambda: not station.filling, "the menu")
        scenario = load_scenario(self.presenter.snapshot.visit.bench.scenario)
        station._fill(draft_of_scenario(station.draft, scenario, dict(stands)))
        self.look()
        before = self.presenter.snapshot
        self.driver.press_for(arrive_commands.SAVE)
        self.driver.wait(lambda: self.presenter.snapshot is not before, "the visit to be saved")
        self.look()
        assert self.presenter.snapshot.settings, "nothing of the menu was noted"

    def add_job(self, words: str) -> None:
        """Another job, typed into the list of jobs, and its target at Arrive."""
        place, target = words.rsplit(",", 1)
        before = len(self.presenter.snapshot.jobs)
        self.presenter.do(commands.JOBS)
        self.driver.press_for(jobs_commands.ADD_INPUT)
        self.driver.wait(lambda: self.presenter.view().panel.entry is not None, "the line to type in")
        field = self.window._panel._entry
        field.selectAll()
        QTest.keyClicks(field, place.strip())
        self.driver.press_for(commands.KEEP_ENTRY)
        self.driver.wait(lambda: len(self.presenter.snapshot.jobs) == before + 1, "the job")
        snapshot = self.presenter.snapshot
        self.presenter.session.logbook.choose_target(snapshot.visit.id, target.strip())
        self.presenter.open_visit(snapshot.visit.id)
        self.driver.wait(lambda: self.presenter.snapshot.visit.target == target.strip(), "its target")
        self.driver.wait(lambda: self.presenter.tool is None, "the station")
        # The person switches the screen over.
        visit, screen = self.presenter.snapshot.visit, self.window._remote.source
        screen.choose_memory(visit.input, visit.memory)

    def truth(self) -> str:
        """What the memory in use gives, beside what Proof said."""
        snapshot = self.presenter.snapshot
        screen = self.window._remote.source
        format_, target = snapshot.visit.bench.format, target_named(snapshot.visit.target)
        xyz = np.array([screen.steady(grey_patch(float(percent), format_)) for percent in _LADDER])
        black = float(screen.steady(grey_patch(0.0, format_))[1])
        errors = grey_errors(_LADDER, xyz, target, white=float(xyz[-1, 1]), black=black).by(snapshot.leading)[0]
        found, left = snapshot.result(AS_FOUND), snapshot.result(PROOF)
        said = f"said {found.mean:.2f} -> {left.mean:.2f}" if found and left else "not read"
        return f"{snapshot.visit.memory}: {snapshot.leading} {said}, in truth {np.nanmean(errors):.2f}"


def _answered(session: Any, question: object) -> bool:
    return session.asked is None or session.asked.question is not question


def _fresh(evening: Evening, before: object) -> bool:
    return evening.presenter.snapshot is not before


def main() -> None:
    folder, name, *words = Path(sys.argv[1]), *sys.argv[2:]
    unit = int(words[0]) if words and words[0].isdigit() else 0
    jobs = [word for word in words if "," in word]
    folder.mkdir(parents=True, exist_ok=True)
    app = application()
    logbook = open_logbook(folder / "logbook.sqlite")
    scenario = load_scenario(name)
    begin_standin_visit(logbook, scenario, name, unit, link=Connection.BY_HAND)
    window = window_on(logbook, pace=_PACE)
    window.resize(1280, 800)
    window.show()
    evening = Evening(folder, window, by_mouse="mouse" in words)
    evening.driver.come_forward()
    told = []
    try:
        evening.remote()
        for number in range(len(jobs) + 1):
            if number:
                evening.add_job(jobs[number - 1])
            evening.note_menu()
            evening.press_on("hand-over")
            told.append(evening.truth())
        evening.look()
        while evening.main().command is hand_over_commands.ON_AGAIN:
            before = evening.presenter.snapshot
            evening.driver.press_for(hand_over_commands.LEAVE_OFF)
            evening.driver.wait(partial(_fresh, evening, before), "the answer")
            evening.look()
        evening.driver.press_for(hand_over_commands.MAKE_REPORT)
        reports = evening.presenter.station("hand-over").reports
        evening.driver.wait(lambda: reports.folder is not None and not reports.busy, "the report")
        evening.driver.picture("hand-over")
    finally:
        evening.look()
        (folder / "panel.txt").write_text("\n".join(evening.said), "utf-8")
        app.processEvents()
    for line in told:
        print(line)
    seconds = sum(record.readings for record in load_snapshot(logbook, 1).passes)
    print(f"trips {evening.trips}, {evening.turns} turns, {seconds} readings in the last job")
    window.close()


if __name__ == "__main__":
    main()
