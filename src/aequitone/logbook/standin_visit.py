"""A visit to a stand-in, entered into a logbook as a calibrator would have entered it."""

from pathlib import Path
from typing import TYPE_CHECKING

from aequitone.logbook.records import BenchChoice, Connection, VisitRecord
from aequitone.logbook.settings.ledger import FOUND_REASON
from aequitone.logbook.settings.menus import control_of, is_noted
from aequitone.logbook.store import Logbook

if TYPE_CHECKING:
    from aequitone.standins.scenario import Scenario


def begin_standin_visit(
    logbook: Logbook,
    scenario: "Scenario",
    scenario_name: str,
    seed: int,
    *,
    target: str | None = None,
    link: Connection = Connection.STANDIN,
) -> VisitRecord:
    """Begin the scenario's visit; its controls are known, what they stand at is not yet."""
    screen, visit, source = scenario.screen, scenario.visit, scenario.source
    return logbook.begin_visit(
        client=visit.client,
        room=visit.room,
        screen=screen.name,
        input_=visit.input,
        memory=visit.memory,
        technology=screen.technology,
        target=target or visit.target,
        levels=visit.levels,
        bench=BenchChoice(
            Connection.STANDIN,
            Connection.STANDIN,
            link,
            scenario=scenario_name,
            seed=seed,
            depth=source.depth_bit,
            range=source.range.value,
            window=source.window_share,
        ).suited_to(screen.technology),
        controls=[control_of(part) for part in screen.menu if is_noted(part)],
    )


def note_as_found(logbook: Logbook, visit: VisitRecord, values: dict[str, int]) -> None:
    """Enter the settings as found, by role; what the ledger has no line for is left out."""
    controls = {control.role.key: control.id for control in logbook.controls(visit.screen_id)}
    logbook.ledger.note(
        visit.id, {controls[role]: value for role, value in values.items() if role in controls}, FOUND_REASON
    )


def nvram_path(logbook: Path, scenario_name: str, seed: int) -> Path:
    """Where the stand-in of a logbook keeps its settings, as a real screen does in itself."""
    return logbook.with_name(f"{logbook.stem}-{Path(scenario_name).stem}-{seed}.stand-in.json")
