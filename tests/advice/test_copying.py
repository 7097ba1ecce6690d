"""The sheet of a copy: whoever follows it has the other memory as the finished one, whatever the screen copies."""

import random

import pytest

from aequitone.advice.copying import Carried, copy_lines, to_do
from aequitone.advice.roles import ROLES, Role, is_one_of_many, point_role
from aequitone.advice.scopes import Copied, Reach, Scope, Signals
from aequitone.logbook.records import ControlRecord


def menu(rng: random.Random) -> tuple[ControlRecord, ...]:
    """A made-up menu: what each control acts on, and whether copying takes it along, drawn at random."""
    points = [point_role(channel, percent) for channel in "rgb" for percent in (20, 50, 80)]
    roles = rng.sample(list(ROLES), 14) + rng.sample(points, 5)
    if Role.PICTURE_MODE not in roles:
        roles.append(Role.PICTURE_MODE)
    rng.shuffle(roles)
    return tuple(
        ControlRecord(
            number,
            role,
            f"Control {number}",
            0,
            100,
            1,
            50 if not is_one_of_many(role) else 0,
            scope=Scope(
                rng.choice(list(Reach)),
                rng.choice([Signals.ALL, Signals.SDR, Signals.HDR]),
                rng.choice(list(Copied)),
            ),
        )
        for number, role in enumerate(roles, 1)
    )


def test_two_hundred_menus_no_setting_missed_and_none_wrong() -> None:
    for seed in range(200):
        rng = random.Random(seed)
        controls, hdr = menu(rng), rng.random() < 0.3
        same_input, applied = rng.random() < 0.3, rng.random() < 0.6
        source = {
            control.role: rng.randrange(101) if rng.random() < 0.8 else control.factory for control in controls
        }
        other = {control.role: control.factory for control in controls}
        # What the screen does: what is the input's or the whole screen's is one; “apply to all” takes some.
        for control in controls:
            scope = control.scope
            shared = scope.reach is Reach.SCREEN or (scope.reach is Reach.INPUT and same_input)
            copies = scope.copied is Copied.YES or (scope.copied is Copied.NOT_KNOWN and rng.random() < 0.5)
            if shared or (applied and copies):
                other[control.role] = source[control.role]
        lines = copy_lines(controls, source, same_input=same_input, hdr=hdr, applied=applied)
        # The person does what stands there, and nothing else.
        by_name = {control.name: control for control in controls}
        for line in to_do(lines):
            other[by_name[line.name].role] = int(line.setting)
        for control in controls:
            idle = control.scope.signals is (Signals.SDR if hdr else Signals.HDR)
            if control.role is not Role.PICTURE_MODE and control.role != Role.POWER and not idle:
                assert other[control.role] == source[control.role], (seed, control)
        order = [control.role for control in controls]
        assert [line.role for line in lines] == sorted((line.role for line in lines), key=order.index)
        # What the screen is known to carry is not asked to be typed.
        assert all(
            line.carried is not Carried.BY_HAND
            for line in lines
            if applied and next(c for c in controls if c.role == line.role).scope.copied is Copied.YES
        )


@pytest.mark.parametrize(
    ("scope", "same_input", "applied", "carried"),
    [
        (Scope(Reach.SCREEN), False, False, Carried.HOLDS),
        (Scope(Reach.INPUT), True, False, Carried.HOLDS),
        (Scope(Reach.INPUT), False, False, Carried.BY_HAND),
        (Scope(copied=Copied.YES), False, False, Carried.BY_HAND),
        (Scope(copied=Copied.YES), False, True, Carried.APPLIED),
        (Scope(copied=Copied.NO), False, True, Carried.BY_HAND),
        (Scope(copied=Copied.NOT_KNOWN), False, True, Carried.LOOK),
    ],
)
def test_how_a_setting_gets_there(scope: Scope, same_input: bool, applied: bool, carried: Carried) -> None:
    control = ControlRecord(1, Role.GAIN_R, "R gain", 0, 100, 1, 50, scope=scope)
    (line,) = copy_lines([control], {Role.GAIN_R: 42}, same_input=same_input, hdr=False, applied=applied)
    assert (line.setting, line.carried) == ("42", carried)


def test_what_is_not_noted_is_not_on_the_sheet() -> None:
    control = ControlRecord(1, Role.GAIN_R, "R gain", 0, 100, 1, 50)
    assert copy_lines([control], {}, same_input=False, hdr=False, applied=False) == ()
