"""Looks at the colours that a colour management is set by: all of them, or those that a move may be felt by."""

from collections.abc import Collection, Iterable
from typing import Any

import numpy as np

from aequitone.advice.colours import Asked
from aequitone.advice.moves import Move
from aequitone.advice.roles import COLOUR_ORDER
from aequitone.colorimetry import delta_e_2000
from aequitone.procedures.colour.manage_session import ManageSession
from aequitone.procedures.colour.samples import PRIMARIES, steady_order
from aequitone.procedures.policy import COLOUR_DE, policy_for, policy_for_colour, seen_black
from aequitone.procedures.steps import Interrupt, Procedure, Progress, Purpose, Read, Reading, Show, Step
from aequitone.signal import Patch, colour_patch, grey_patch

# How exactly white is read, in ΔE 2000: all colours are held to it, and its cast is not to move.
_WHITE_DE = 0.1
# ΔE 2000 of a strong primary between two readings of it, from which it has changed in between.
_CHANGED_DE = 1.0
# ΔE 2000 that a colour may be off from what it is reckoned to be, and need not be read after a trip.
_KNOWN_DE = 0.6
# Of the saturations every second one is read after a trip, in turns: the others are reckoned until the end.
HALVES = ((50.0, 100.0), (25.0, 75.0))


def felt_by(session: ManageSession, move: Move) -> list[int]:
    """Rows of the samples that a move may be felt by: of its colours and of those beside them."""
    near = with_neighbours(change.role.channel for change in move.changes)
    of_samples = session.plan.samples
    return [row for row in session.plan.read if of_samples[row].colour in near]


def with_neighbours(colours: Iterable[str]) -> set[str]:
    """Colours of the six, and those beside them."""
    places = [COLOUR_ORDER.index(colour) for colour in colours]
    return {COLOUR_ORDER[(place + by) % len(COLOUR_ORDER)] for place in places for by in (-1, 0, 1)}


def look_after(
    session: ManageSession, move: Move, asked: Asked | None, *, doubted: bool = False
) -> Procedure[str]:
    """Read half of what a move may be felt by, or what of that is in doubt; returns what to say of a slip."""
    half, of_samples = HALVES[len(session.trips) % len(HALVES)], session.plan.samples
    rows = [row for row in felt_by(session, move) if of_samples[row].saturation in half]
    if doubted:
        doubts = session.doubts
        rows = [row for row in rows if doubts[row] > _KNOWN_DE]
    return (yield from look(session, rows, asked))


def look_whole(session: ManageSession) -> Procedure[None]:
    """Read what was only reckoned since the last move; white and grey too where they were not read after it."""
    if session.stale:
        yield from look(session, session.stale, holds_white=not session.since[-1].any())


def look_again(session: ManageSession) -> Procedure[None]:
    """Read white and every sample."""
    yield from look(session, session.plan.read)


def still_as_known(session: ManageSession, beside: Collection[int] = ()) -> Procedure[bool]:
    """Read white and a strong red, green and blue, and tell whether they are as when the colours were read.

    `beside`: rows that are read too, of which that is not known.
    """
    of_samples = session.plan.samples
    known = [row for row in session.plan.read if row not in beside]
    strongest = {of_samples[row].colour: row for row in sorted(known, key=lambda row: of_samples[row].saturation)}
    rows = [strongest[colour] for colour in PRIMARIES if colour in strongest]
    before = session.xyz[rows].copy()
    yield from look(session, [*rows, *beside])
    apart = delta_e_2000(session.xyz[rows], before, session.plan.target.white.xyz())
    return bool(np.all(apart < _CHANGED_DE))


def look(
    session: ManageSession, rows: Iterable[int], asked: Asked | None = None, *, holds_white: bool = False
) -> Procedure[str]:
    """Read white, a darker grey and some of the samples, whatever the person wishes meanwhile.

    `asked`: the move before, where a person made it; with `holds_white` white and grey were read just now, and
    are not read again. Returns what to say of a slip, or nothing.
    """
    plan, wanted, told = session.plan, sorted(rows), {}
    patches = [colour_patch(plan.samples[row].name, plan.samples[row].signal, plan.format) for row in wanted]
    if session.white is None or not holds_white:
        session.white = told[len(plan.samples)] = yield from read_patch(session, plan.white_patch)
        session.grey = yield from read_patch(session, plan.held_grey)
    for at in steady_order(tuple(float(light) for light in session.lights[wanted])):
        told[wanted[at]] = yield from read_patch(session, patches[at])
    slip = session.read(told, asked)
    yield from held(session, Progress(len(session.trips), len(session.trips) + 1, session.state()))
    return slip


def look_at_black(session: ManageSession) -> Procedure[None]:
    """Read 0 %, which every colour stands on."""
    black = yield from read_patch(session, grey_patch(0.0, session.plan.format))
    session.black = seen_black(black.Y, black.sd_Y)


def read_patch(session: ManageSession, patch: Patch) -> Procedure[Reading]:
    """Show and read a patch as exactly as it is worth; what a person wishes meanwhile waits."""
    plan = session.plan
    white = plan.held_to(session.white.Y if session.white is not None else 100.0)
    wanted = plan.wanted(100.0 * np.array([patch.signal]), white)[0]
    # White is what all colours are held to, and its cast is not to move.
    exact = _WHITE_DE if patch in (plan.white_patch, plan.held_grey) else COLOUR_DE
    policy = (
        policy_for(0.0, white)
        if not any(patch.signal)
        else policy_for_colour(wanted, plan.target.white.xyz() * white, exact)
    )
    yield from held(session, Show(patch))
    reading: Reading = yield from held(session, Read(patch, policy, Purpose.ADJUST))
    return reading


def held(session: ManageSession, step: Step) -> Procedure[Any]:
    """Ask for a step until it is done; what a person wishes meanwhile is kept for when all is read."""
    while True:
        try:
            return (yield step)
        except Interrupt as interrupt:
            session.wish = interrupt
