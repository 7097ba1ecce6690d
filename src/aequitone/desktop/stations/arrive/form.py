"""What is noted at Arrive, as typed, and what of it cannot be: no Qt."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

from aequitone.advice.roles import LEDGER_ROLES, ROLE_WORDS, TWO_POINT, Role, is_role
from aequitone.advice.technology import Technology
from aequitone.advice.templates import is_switch, misleading, template_for
from aequitone.desktop.stations.arrive.colours_form import ColoursDraft, checked_colours, colours_of
from aequitone.desktop.stations.arrive.many_form import whole
from aequitone.desktop.stations.arrive.points_form import PointsDraft, checked, points_of
from aequitone.logbook import BenchChoice, ControlRecord
from aequitone.logbook.naming import checked_name
from aequitone.logbook.records import Connection, Plate
from aequitone.logbook.settings.menus import control_of
from aequitone.passes import Snapshot
from aequitone.reference import DEFAULT_TARGET, target_named
from aequitone.wording import listed

if TYPE_CHECKING:
    from aequitone.standins.scenario import Scenario


SWITCH = ("Off", "On")
# Blank controls that are named, before they are only counted.
_NAMED = 4


@dataclass(frozen=True)
class ControlDraft:
    """One row of the ledger as typed."""

    role: Role
    name: str = ""
    lowest: str = "0"
    highest: str = "100"
    step: str = "1"
    factory: str = ""
    found: str = ""
    choices: tuple[str, ...] = ()


@dataclass(frozen=True)
class Draft:
    """The whole form as typed."""

    client: str = ""
    room: str = ""
    screen: str = ""
    input: str = ""
    memory: str = ""
    technology: Technology = Technology.UNKNOWN
    target: str = DEFAULT_TARGET.name
    levels: int = 11
    bench: BenchChoice = field(default_factory=BenchChoice)
    controls: tuple[ControlDraft, ...] = ()
    plate: Plate = field(default_factory=Plate)
    device: str = ""
    """What hangs on the input."""
    points: PointsDraft = field(default_factory=PointsDraft)
    colours: ColoursDraft = field(default_factory=ColoursDraft)


@dataclass(frozen=True)
class CheckedDraft:
    """A form that can be written into the logbook; `found` by role."""

    draft: Draft
    controls: tuple[ControlRecord, ...]
    found: dict[Role, int]
    warnings: tuple[str, ...] = ()
    """Words of the menu that may mislead."""
    blank: tuple[str, ...] = ()
    """Controls without a setting as found, by name."""

    @property
    def blank_words(self) -> str:
        """What it means that they are blank, or that there is none at all; "" where none is."""
        if not self.controls:
            return (
                "No control is noted, so the screen can be measured but not set. Type the controls of its menu "
                "and their settings, or save once more to measure only."
            )
        if not self.blank:
            return ""
        has, it = ("has", "it") if len(self.blank) == 1 else ("have", "them")
        return (
            f"{listed(self.blank, _NAMED)} {has} no setting as found. What is not noted is not set here, and "
            f"cannot be put back. Type {it}, or save once more to leave {it} out."
        )


def new_draft() -> Draft:
    """The form of a visit to a screen of which nothing is known."""
    return with_template(Draft())


def with_template(draft: Draft) -> Draft:
    """The form with the rows that this kind of screen usually has; what is typed stays."""
    typed = {row.role: row for row in draft.controls if row.name or row.found}
    rows = tuple(typed.get(role, _row_of(role, None, None)) for role in _roles(draft.technology, typed))
    return replace(draft, controls=rows)


def _roles(technology: Technology, known: Iterable[Role]) -> tuple[Role, ...]:
    """The roles of a kind of screen, and those that are known beside them, in the order of the roles."""
    wanted = {*template_for(technology), *known}
    return tuple(role for role in LEDGER_ROLES if role in wanted)


def draft_of_snapshot(snapshot: Snapshot) -> Draft:
    """The form of a visit that has begun."""
    visit = snapshot.visit
    known = {control.role: control for control in snapshot.controls}
    roles = _roles(visit.technology, known)
    rows = [_row_of(role, known.get(role), snapshot.found_settings.get(role)) for role in roles]
    return Draft(
        visit.client,
        visit.room,
        visit.screen,
        visit.input,
        visit.memory,
        visit.technology,
        visit.target,
        visit.levels,
        visit.bench,
        tuple(rows),
        visit.plate,
        visit.device,
        points_of(snapshot.controls, snapshot.found_settings),
        colours_of(snapshot.controls, snapshot.found_settings),
    )


def draft_of_menu(draft: Draft, menu: tuple[ControlRecord, ...]) -> Draft:
    """The form with the menu of a screen that was visited before; what it stands at now is to be noted."""
    known = {control.role: control for control in menu}
    rows = tuple(_row_of(role, known.get(role), None) for role in _roles(draft.technology, known))
    return replace(draft, controls=rows, points=points_of(menu, {}), colours=colours_of(menu, {}))


def _row_of(role: Role, control: ControlRecord | None, found: int | None) -> ControlDraft:
    if control is None:
        return ControlDraft(role, highest="1", choices=SWITCH) if is_switch(role) else ControlDraft(role)
    return ControlDraft(
        role,
        control.name,
        str(control.lowest),
        str(control.highest),
        str(control.step),
        "" if control.factory is None else control.shown(control.factory),
        "" if found is None else control.shown(found),
        control.choices,
    )


def draft_of_scenario(draft: Draft, scenario: "Scenario", values: dict[str, int]) -> Draft:
    """The form filled from a stand-in: its menu, and what the controls stand at where the link tells."""
    visit, screen = scenario.visit, scenario.screen
    menu = [control_of(part) for part in screen.menu if is_role(part.role)]
    known = {record.role: record for record in menu}
    rows = [_row_of(role, known[role], values.get(role.key)) for role in LEDGER_ROLES if role in known]
    told = {record.role: values[record.role.key] for record in menu if record.role.key in values}
    return Draft(
        draft.client or visit.client,
        draft.room or visit.room,
        draft.screen or screen.name,
        draft.input or visit.input,
        draft.memory or visit.memory,
        screen.technology,
        draft.target,
        draft.levels,
        draft.bench,
        tuple(rows),
        draft.plate,
        draft.device,
        points_of(menu, told),
        colours_of(menu, told),
    )


def check(draft: Draft) -> CheckedDraft | list[str]:
    """An CheckedDraft, or every objection as a sentence."""
    objections = [f"Say which {what}." for what, words in _names(draft) if not words.strip()]
    objections += _long_names(draft)
    bench = draft.bench
    if bench.meter is Connection.STANDIN and bench.patterns is not Connection.STANDIN:
        objections.append("The stand-in meter looks at the stand-in screen: choose the stand-in patterns with it.")
    if bench.patterns is Connection.SCREEN and bench.depth != 8:
        objections.append("A screen of this computer shows 8-bit codes: choose 8 bit.")
    try:
        target_named(draft.target)
    except ValueError as error:
        objections.append(f"The target: {error}.")
    controls, found = [], {}
    for row in draft.controls:
        if not (row.name.strip() or row.found.strip()):
            continue
        try:
            record, value = _control(row)
        except ValueError as error:
            objections.append(f"{error}.")
            continue
        controls.append(record)
        if value is not None:
            found[row.role] = value
    many: list[ControlRecord] = []
    for told_of in (lambda: checked(draft.points), lambda: checked_colours(draft.colours)):
        try:
            records, standing = told_of()
        except ValueError as error:
            objections.append(f"{error}.")
            continue
        many += records
        found |= standing
    if objections:
        return objections
    roles = frozenset(record.role for record in controls)
    warnings = [misleading(record.role, record.name, roles) for record in controls]
    blank = tuple(record.name for record in (*controls, *many) if record.role not in found)
    return CheckedDraft(draft, (*controls, *many), found, tuple(words for words in warnings if words), blank)


def _names(draft: Draft) -> tuple[tuple[str, str], ...]:
    """What has a name, and the name as typed."""
    return (
        ("client", draft.client),
        ("room", draft.room),
        ("screen", draft.screen),
        ("input", draft.input),
        ("picture memory", draft.memory),
    )


def _long_names(draft: Draft) -> list[str]:
    told = []
    for what, words in _names(draft):
        try:
            checked_name(words, f"The name of the {what}")
        except ValueError as error:
            told.append(f"{error}.")
    return told


def missing_for_white(draft: Draft) -> list[str]:
    """The gains and biases whose settings are not noted yet."""
    noted = {row.role for row in draft.controls if row.found.strip()}
    return [ROLE_WORDS[role] for role in TWO_POINT if role not in noted]


def _control(row: ControlDraft) -> tuple[ControlRecord, int | None]:
    word = row.name.strip() or ROLE_WORDS[row.role]
    if row.choices == SWITCH:
        row = replace(row, lowest="0", highest="1", step="1")
    lowest, highest, step = (
        whole(text, f"{word}: {what}")
        for text, what in ((row.lowest, "lowest"), (row.highest, "highest"), (row.step, "step"))
    )
    if lowest >= highest:
        raise ValueError(f"{word}: lowest, {lowest}, must be below highest, {highest}")
    if step < 1:
        raise ValueError(f"{word}: a step is 1 or more, not {step}")
    record = ControlRecord(0, row.role, word, lowest, highest, step, None, row.choices)
    factory = _setting(record, row.factory, "factory value")
    value = _setting(record, row.found, "setting as found")
    return ControlRecord(0, row.role, word, lowest, highest, step, factory, row.choices), value


def _setting(control: ControlRecord, text: str, what: str) -> int | None:
    words = text.strip()
    if not words:
        return None
    named = [choice.casefold() for choice in control.choices]
    if words.casefold() in named:
        return control.lowest + named.index(words.casefold())
    if named and not words.lstrip("+-").isdigit():
        raise ValueError(f"{control.name} is one of {', '.join(control.choices)}, not “{words}”")
    value = whole(words, f"{control.name}: {what}")
    objection = control.objection(value)
    if objection:
        raise ValueError(objection)
    return value
