"""Multi-point: read the ladder, turn it level by level from the bright end, read again what moved along."""

from dataclasses import replace

import numpy as np

from aequitone.advice.moves import ControlState, Move, moved, steps_of, trip_between
from aequitone.advice.points import Grid, smoothing, ways_back
from aequitone.advice.points.level import SURE, LevelResponses, slip_words
from aequitone.advice.points.words import ended_words, noise_words, promise_words, undone_words, why_words
from aequitone.advice.two_point.guards import Judgement, Mishap, judge
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import seen_black
from aequitone.procedures.steps import (
    Interrupt,
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    ReadAgain,
    StopHere,
    Turn,
)
from aequitone.procedures.tone.multi_judging import came_out_worse, is_noise, is_silent
from aequitone.procedures.tone.multi_plan import MultiPlan, MultiResult, PointTrip
from aequitone.procedures.tone.multi_session import (
    MultiPointSession,
    adjustable,
    begin,
    change_at,
    change_from,
    exactly,
    read,
    read_black,
    read_level,
    read_whatever_comes,
)
from aequitone.procedures.tone.near_black import NearBlack
from aequitone.procedures.uninterrupted import insist, insist_on_reading, nothing
from aequitone.procedures.watch_levels import level_sights
from aequitone.procedures.watching import turned
from aequitone.signal import grey_patch

# ΔE 2000, on all levels together, that a minute of turning and reading must bring to be worth it.
_WORTH_A_MINUTE = 0.5
# A level that was changed from its neighbours by more than this, in log light, is read again.
_MOVED = 0.004
_BESIDE = 5.0
# What is between two levels is looked at once, where a level is turned so far that it must show.
_PROBED_STEPS, _KNOWN = 3.0, 0.2
# Black that rises by so many spreads, and by this share of the darkest level's light, has come up with it.
_SIGMAS, _BLACK_SHARE = 4.0, 0.02
# Going over the same level again within a round: once is for learning, twice would be hunting.
_TRIES = 2
# So many trips in a row that had to be undone end it.
_PATIENCE = 3
# What a trip of a round must have brought, of the ladder's score, for another round to be worth it.
_WORTH_A_TRIP = 0.004
# Spreads of the difference by which a ladder must be better than as found.
_DOUBT = 0.7
# A cast at 100 % that two points should have taken out: to bend every level to it would ruin the ramp.
_WHITES_WORK = 3.0


def multi_point(plan: MultiPlan, foot: NearBlack | None = None) -> Procedure[MultiResult]:
    """Bring every level to the target in light and cast; returns a MultiResult.

    `foot`: what was read near black, which the darkest control must not spoil. Understands PutBack (the last move
    is undone), ReadAgain (the last level is read once more) and StopHere.
    """
    session = begin(plan, foot)
    pending = _ladder(session)
    try:
        while True:
            try:
                yield from pending
                pending = nothing()
                if session.began is None:
                    session.began, session.best = session.state(), session.ladder
                    session.planner = replace(session.planner, least_gain=_least_gain(session))
                    if session.began.de2000[0] > _WHITES_WORK:
                        return MultiResult(undone_words(session.began.de2000[0]), session.began)
                    yield Note(_promise(session))
                    if is_noise(session.planner, session.tracked):
                        return MultiResult(noise_words(session.began.mean), session.began)
                proposal = session.planner.propose(session.tracked, session.effect, session.grid, session.open)
                if proposal is not None:
                    level, move = proposal
                    session.why = why_words(
                        session.planner, session.tracked, session.effect, session.grid, level, move
                    )
                    yield Progress(len(session.trips), len(session.trips) + 1, session.state(move))
                    yield from _carry_out(session, level, move)
                    continue
                if not session.tries:
                    break
                goes_on = yield from _round_ended(session)
                if not goes_on:
                    break
                session.round, session.tries = session.round + 1, {}
                session.open = [level for level in adjustable(session.grid) if level not in session.silent]
            except PutBack:
                pending = _put_back(session)
            except ReadAgain:
                pending = read_level(session, session.last)
    except StopHere:
        pass
    state = session.state()
    yield Progress(len(session.trips), len(session.trips), state)
    began = session.began or state
    words = ended_words(began.mean, state.mean, state.de2000, state.percents, len(session.trips), state.bend)
    return MultiResult(words, state)


def _round_ended(session: MultiPointSession) -> Procedure[bool]:
    """Read what moved, undo what bends the ramp, and go back where the ladder was better; whether to go on."""
    yield from _read_moved(session)
    assert session.best is not None
    best = session.best
    smoothed = False
    while (way := smoothing(session.effect, session.grid, session.plan.grid)) is not None:
        level, move = way
        yield Note(f"{session.grid.percents[level]} % goes back: a ramp would show it.")
        yield from _undo(session, level, move.reverse)
        smoothed = True
    if smoothed:
        yield from _read_moved(session)
    now = session.ladder
    trips = sum(not trip.move.undoes for trip in session.trips)
    # The ladder as it was found is only left for one that is better beyond a doubt.
    margin = _DOUBT * float(np.hypot(now.sd, best.sd)) if session.round == 0 else 0.0
    if now.is_better(best, margin):
        session.best = now
        if session.undone >= _PATIENCE:
            return False
        # Another round is for what is left: it has to promise as much for a trip as this one brought.
        return session.round + 1 < session.plan.rounds and best.score - now.score > _WORTH_A_TRIP * trips
    # What is known by now of its ramp may speak against the best one too.
    smooth = smoothing(session.effect, best.grid, session.plan.grid) is None
    to = best.grid if smooth else session.plan.grid
    if session.grid.controls != to.controls:
        yield Note("The ladder is no better than it was before these trips, so the controls go back.")
        yield from _back(session, to)
    return False


def _back(session: MultiPointSession, grid: Grid) -> Procedure[None]:
    """Turn everything to how it stood, level by level, and read what moves with it."""
    before = session.xyz.copy()
    turned = [(level, move) for level, move in enumerate(ways_back(session.grid, grid)) if move.changes]
    for _, move in turned:
        yield from insist(Turn(move))
    session.grid = grid
    yield from _read_moved(session)
    for level, move in turned:
        _remember(session, level, move, before[session.row(level)])


def _least_gain(session: MultiPointSession) -> float:
    """What a trip must bring here, by what a trip and a reading take."""
    return _WORTH_A_MINUTE * (session.plan.trip_seconds + float(np.median(session.took))) / 60.0


def _promise(session: MultiPointSession) -> str:
    mean, levels = session.planner.promise(session.tracked, session.effect, session.grid, session.open)
    assert session.began is not None
    return promise_words(session.began.mean, mean, levels)


def _ladder(session: MultiPointSession) -> Procedure[None]:
    """Black, and the whole ladder from the bright end; what was read before a wish is not read again."""
    while session.read < len(session.plan.percents):
        try:
            yield from read_level(session, session.read)
            if session.read == 0:
                black = yield from read_black(session)
                session.black = seen_black(black.Y, black.sd_Y)
            session.read += 1
            yield Progress(session.read, len(session.plan.percents), session.state())
        except (PutBack, ReadAgain):
            session.read = max(0, session.read - 1)


def _read_moved(session: MultiPointSession) -> Procedure[None]:
    """Read again what has moved since it was read: levels between, and white, which all others are relative to."""
    weights = session.effect.weights(np.array(session.percents) / 100.0)
    turned = session.grid.offsets - session.offsets
    moved = np.abs(np.einsum("lp,lpc->lc", weights, turned)).max(axis=1) > _MOVED
    # A level may act beside its name, or leak: what stands next to one that was turned is not taken on trust.
    beside = np.abs(np.array(session.percents)[:, None] - np.array(session.grid.percents)) <= _BESIDE
    moved |= (np.abs(turned).max(axis=2) * beside).max(axis=1) > 0.0
    for row in [0, *np.flatnonzero(moved[1:]) + 1]:
        while True:
            try:
                yield from read_level(session, int(row))
                break
            except (PutBack, ReadAgain):
                continue
        yield Progress(len(session.trips), len(session.trips) + 1, session.state())


def _carry_out(session: MultiPointSession, level: int, move: Move) -> Procedure[None]:
    """Have a level turned, read it, and learn; then look between levels and at black where that matters."""
    stood, by = session.grid.rows[level], session.grid.moved(move.changes).offsets - session.grid.offsets
    between = yield from _between_before(session, level, by)
    row = session.row(level)
    before = session.planner.now(session.tracked, session.effect, session.grid.offsets)[row]
    yield from turned(move, session.plan.format, level_sights(session, level, move))
    session.grid = session.grid.moved(move.changes)
    session.tries[level] = session.tries.get(level, 0) + 1
    # What lies above is settled; the level itself stays open for a second try.
    session.open = [i for i in session.open if i > level or (i == level and session.tries[level] < _TRIES)]
    wish: Interrupt | None = None
    while True:
        try:
            yield from read_level(session, row)
            break
        except ReadAgain:
            continue
        except (PutBack, StopHere) as interrupt:
            # Once turned, the reading that goes with it is not given up for a wish.
            wish = interrupt
    told = _judged(session, level, stood, move, before)
    slip = yield from _understood(session, level, stood, told, before, repair=wish is None)
    _remember(session, level, move, before, slip)
    undone = (
        wish is None and told.mishap is None and (yield from _undone_at_once(session, level, move, by, before))
    )
    if told.mishap is Mishap.BUMP:
        # What was read before it is in another light: nothing between levels can be told by it either.
        whole, session.read = session.read, 0
        try:
            yield from _ladder(session)
        finally:
            # Stopped meanwhile, the rest stands as it was read before.
            session.read = whole
    elif between is not None and not undone:
        yield from _between_after(session, between, by)
    if level == len(session.grid.percents) - 1 and by[level].max() > 0 and not undone:
        yield from _guard_black(session, level, move)
    if wish is not None:
        raise wish


def _undone_at_once(
    session: MultiPointSession, level: int, move: Move, by: Array, before: Array
) -> Procedure[bool]:
    """Undo a trip that its level did not answer, or that left it worse; whether that was so.

    `by` (P, 3): the steps of the trip; `before`: XYZ (3,) of its level as it was to be expected without it.
    """
    percent = session.grid.percents[level]
    if is_silent(session.usual[level] * by[level], *change_at(session, session.row(level), before)):
        session.silent.add(level)
        yield Note(f"{percent} % hardly answers at its own level, so it is put back and left.")
    elif came_out_worse(session.trips[-1]):
        yield Note(f"{percent} % came out worse than it was, so it is put back.")
    else:
        session.undone = 0
        return False
    yield from _undo(session, level, move)
    session.undone += 1
    if session.undone >= _PATIENCE:
        yield Note("What is turned here comes out worse again and again, so no more is tried.")
        session.open = []
    return True


def _remember(session: MultiPointSession, level: int, move: Move, before: Array, slip: str = "") -> None:
    """Enter a move into the history; `before`: XYZ (3,) of its level as it was to be expected without it."""
    row, tracked = session.row(level), session.tracked
    was = tracked.xyz.copy()
    was[row] = before
    de_before, de_after = (float(session.planner.de2000(tracked, xyz)[row]) for xyz in (was, tracked.xyz))
    spread = session.planner.spread(tracked, row)
    session.trips.append(PointTrip(move, session.grid.percents[level], de_before, de_after, spread, slip))


def _judged(
    session: MultiPointSession, level: int, stood: tuple[ControlState, ...], move: Move, before: Array
) -> Judgement:
    """What most likely happened on a trip; `stood`: the controls of its level before it."""
    asked = steps_of(move, stood)
    if not session.plan.by_hand:
        return Judgement(None, asked, np.zeros(3))
    responses = LevelResponses(session.effect, level, session.grid.light)
    return judge(responses, stood, asked, *change_at(session, session.row(level), before), sure=SURE)


def _understood(
    session: MultiPointSession,
    level: int,
    stood: tuple[ControlState, ...],
    told: Judgement,
    before: Array,
    *,
    repair: bool,
) -> Procedure[str]:
    """Learn what a trip did at its own level, and say what went wrong with it; a slip is mended at once."""
    row, responses = session.row(level), LevelResponses(session.effect, level, session.grid.light)
    change, variance = change_at(session, row, before)
    if told.mishap is not Mishap.BUMP:
        # How much of a bump was the turn cannot be told at one level.
        session.effect = session.effect.learn(level, responses.totals(told.steps), change, variance)
    if told.mishap is None:
        return ""
    wanted = session.grid.rows[level]
    asked = np.array([(to.value - was.value) / was.step for to, was in zip(wanted, stood, strict=True)])
    words = slip_words(told, stood, asked, session.grid.percents[level])
    yield Note(words)
    if told.mishap is Mishap.BUMP:
        return words
    back = trip_between(moved(stood, told.steps), wanted)
    if not repair:
        session.grid = session.grid.moved(back.reverse.changes)
        session.offsets[row] = session.grid.offsets
        return words
    slipped = session.xyz[row].copy()
    yield Progress(len(session.trips) + 1, len(session.trips) + 2, session.state(back))
    yield from insist(Turn(back))
    yield from read_whatever_comes(session, row)
    change, variance = change_at(session, row, slipped)
    session.effect = session.effect.learn(level, responses.totals(asked - told.steps), change, variance)
    return words


def _between_before(session: MultiPointSession, level: int, by: Array) -> Procedure[tuple[float, Array] | None]:
    """A reading halfway to the next darker level, where this move will show whether the screen joins the two."""
    darker = level + 1
    known = session.effect.joined_sd < _KNOWN
    if known or darker >= len(session.grid.percents) or np.abs(by[level]).max() < _PROBED_STEPS:
        return None
    percent = (session.grid.percents[level] + session.grid.percents[darker]) / 2.0
    reading = yield from read(session, percent)
    return percent, reading.xyz


def _between_after(session: MultiPointSession, between: tuple[float, Array], by: Array) -> Procedure[None]:
    percent, before = between
    patch = grey_patch(percent, session.plan.format)
    policy = exactly(float(before[1]), float(session.xyz[0, 1]))
    reading = yield from insist_on_reading(patch, policy, Purpose.ADJUST)
    change, variance = change_from(before, reading.xyz, reading.sd)
    session.effect = session.effect.learn_between(patch.percent / 100.0, by, change, variance)


def _guard_black(session: MultiPointSession, level: int, move: Move) -> Procedure[None]:
    """Black must not come up with the darkest level."""
    reading = yield from read_black(session)
    darkest = float(session.xyz[session.row(level), 1])
    if reading.Y - session.black <= max(_SIGMAS * reading.sd_Y, _BLACK_SHARE * darkest):
        return
    yield Note(
        f"Black came up to {reading.Y:.4f} cd/m² with {session.grid.percents[level]} %, so that is put back: "
        "black counts for more."
    )
    session.planner = replace(session.planner, floor=True)
    yield from _undo(session, level, move)


def _put_back(session: MultiPointSession) -> Procedure[None]:
    """Undo the last move that has not been undone."""
    undone = 0
    for trip in reversed(session.trips):
        if trip.move.undoes:
            undone += 1
        elif undone:
            undone -= 1
        else:
            yield from _undo(session, session.grid.percents.index(trip.percent), trip.move)
            return
    yield Note("There is no move to put back.")


def _undo(session: MultiPointSession, level: int, move: Move) -> Procedure[None]:
    """Turn a move back and read its level; it is not proposed again in this round."""
    before = session.xyz[session.row(level)].copy()
    yield from insist(Turn(move.reverse))
    session.grid = session.grid.moved(move.reverse.changes)
    session.open = [i for i in session.open if i > level]
    yield from read_whatever_comes(session, session.row(level))
    _remember(session, level, move.reverse, before)
