"""Near black: light from 7 % down, read slowly, and brought in with the three biases together."""

from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.moves import (
    ControlState,
    Move,
    looked_at,
    moved,
    stands_as_asked,
    steps_of,
    stood_off,
    trip_between,
)
from aequitone.advice.points.drive import drives
from aequitone.advice.points.near_black import (
    NEAR_BLACK,
    REPAIRED,
    SHOULDER,
    UNSEEN,
    NearBlackModel,
    Price,
    Shadows,
    miss,
    right,
    shadow_cost,
    shadow_cost_sd,
    wanted_light,
)
from aequitone.colorimetry import delta_e_2000
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.known_level import KnownLevel
from aequitone.procedures.policy import LAB_SLOPE_BLACK, WANTED_DE, ReadPolicy, seen_black, target_policy
from aequitone.procedures.steps import (
    Interrupt,
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    Read,
    ReadAgain,
    Reading,
    Show,
    StopHere,
    Turn,
)
from aequitone.procedures.uninterrupted import insist
from aequitone.procedures.watching import turned_as_far
from aequitone.reference import BlackReference, Target, grey_errors
from aequitone.signal import SignalFormat, grey_patch

# Of the wanted light, how exactly a level is read; and how long it may take.
_EXACT, _MOST_SECONDS = 0.04, 6.0
_MOST_TRIPS = 3
_SHOULDER = len(SHOULDER)
# BT.1886 asks for more light near black as black comes up; black may follow the biases by so much L*.
_BLACK_MAY_RISE = 0.3
# Of white's light: what black is taken for before it was read, and a precision that nobody needs to better.
_UNKNOWN_BLACK, _LEAST = 3e-4, 1e-6
REST = (80.0, 70.0, 60.0, 40.0, 20.0, 10.0)
"""The ladder, in %, without 100 % and what near black reads of it anyway."""
# ΔE 2000 that the ladder may be worse by, on average and at its worst level, beyond the readings' noise.
_NOT_ON_AVERAGE, _NO_LEVEL = 0.03, 0.3
# L* that what is compared is read to: noise must not decide.
_REST_DE = 0.03


@dataclass(frozen=True)
class NearBlackPlan:
    """What is wanted, and the biases as they stand."""

    target: Target
    format: SignalFormat
    biases: tuple[ControlState, ...]
    """Red, green and blue; none where they are not to be turned."""
    white: float
    """Luminance of 100 %, cd/m²."""
    bias_light: float = 0.0
    """What a step of the biases does to light at 30 %, in logarithm; 0 for not known: nothing is turned then."""
    price: Price = REPAIRED
    """What it may cost from 15 to 50 %."""
    rest: tuple[float, ...] = ()
    """Further levels, in %, that are read along; they must not pay where nothing comes after that repairs them."""
    known: tuple[KnownLevel, ...] = ()
    """What was just read: it is not read again before a turn."""
    shared: tuple[float, ...] = ()
    """Levels near black, in %, that the ladder takes over: they are read as exactly as its own."""
    by_hand: bool = False
    """Whether a person turns, who may slip on the way back."""
    beside: tuple[ControlState, ...] = ()
    """Controls that lie beside the biases in the menu: one of them may have been turned instead."""

    @property
    def light(self) -> tuple[float, ...]:
        """The levels, in %, that near black may cost something."""
        return (*SHOULDER, *self.rest)

    @property
    def is_last(self) -> bool:
        """Whether nothing comes after that repairs what near black costs."""
        return self.price.repaired == 0.0


@dataclass(frozen=True)
class NearBlack:
    """Light near black as it stands, cd/m²."""

    percents: tuple[float, ...]
    xyz: Array
    """(n, 3), as read."""
    sd: Array
    wanted: tuple[float, ...]
    black: float
    biases: tuple[ControlState, ...]
    found: tuple[ControlState, ...]
    """The biases before they were turned: where a person has said since that they stood."""
    shoulder: Array
    """How far light at SHOULDER is above what is wanted, in logarithm."""
    shoulder_de: Array = field(default_factory=lambda: np.zeros(len(SHOULDER)))
    """ΔE 2000 at SHOULDER, and at the plan's further levels, cast included, as read."""
    shoulder_sd: Array = field(default_factory=lambda: np.zeros(len(SHOULDER)))
    shoulder_xyz: Array = field(default_factory=lambda: np.zeros((0, 3)))
    """The same levels as read, and their standard deviations; none in records of earlier versions."""
    shoulder_xyz_sd: Array = field(default_factory=lambda: np.zeros((0, 3)))
    trips: int = 0
    price: float = 0.0
    """ΔE 2000 that the shoulder would be off by if near black were brought in all the same; 0 for none."""
    of_gamma: bool = True
    """Whether the target is a gamma, of which there are others to choose from."""
    lit: tuple[float, ...] = ()
    """The levels of `shoulder_xyz`, in %; none in records of earlier versions."""
    began: "NearBlack | None" = None
    """What was read before the biases were turned; None where they were not."""

    @property
    def light(self) -> Array:
        return np.asarray(self.xyz[:, 1])

    @property
    def right(self) -> tuple[bool, ...]:
        """Which are right, within a tenth or the meter's noise."""
        return tuple(bool(each) for each in right(np.array(self.wanted), self.light, self.sd[:, 1]))

    @property
    def words(self) -> str:
        """What there is to say of it."""
        wrong = [f"{p:g} %" for p, right in zip(self.percents, self.right, strict=True) if not right]
        if not wrong:
            return "Near black is right, within a tenth or the meter's noise."
        where = f"at {', '.join(wrong)}" if len(wrong) < len(self.percents) else f"from {wrong[0]} down"
        said = f"Near black, light {where} is off by more than a tenth."
        if self.price > UNSEEN:
            too, nearer = ("bright", "higher") if self.light.sum() > sum(self.wanted) else ("dark", "lower")
            between = f"{min(SHOULDER):g} and {max(SHOULDER):g} %"
            said += (
                f" It is too {too}, and bringing it in would put light between {between} off by ΔE "
                f"{self.price:.1f}: the screen's own tone is not the target's"
            )
            said += f", and a {nearer} gamma is nearer." if self.of_gamma else "."
        return said


# ΔE 2000 that levels wander by themselves; and the mean square of how far they read from how they did at the same
# biases, in spreads of both readings and of that, from which they are of others: 1 by noise alone.
_WANDER_DE, _UNLIKE_SQUARED = 0.3, 3.0
_UNLIKE = "Near black does not read as it did at these settings: see in the menu that all stand as listed."
_NO_BLACK = "The target asks for black that gives no light, so near black is read and left as it is."


def near_black(plan: NearBlackPlan) -> Procedure[NearBlack | None]:
    """Read near black, and turn the biases together where that brings it in.

    Returns a NearBlack; None where it was stopped before the first look was complete. Understands PutBack (the
    biases go back to where they were), ReadAgain and StopHere.
    """
    # To follow a target without black would bury the shadows of a screen that has one.
    reachable = plan.target.black is not BlackReference.ZERO
    turned = reachable and plan.biases and plan.bias_light > 0.0
    foot = NearBlackModel.prior(plan.bias_light) if turned else None
    state: NearBlack | None = None
    first: NearBlack | None = None
    black = 0.0
    wish: Interrupt | None = None
    while True:
        try:
            if wish is not None:
                thrown, wish = wish, None
                raise thrown
            if state is None:
                state, _ = yield from _look(plan, plan.biases, 0)
                black, first = state.black, state
                if not reachable:
                    yield Note(f"{_NO_BLACK} Here black gives {black:.4g} cd/m².")
            steps, price = _next(plan, foot, state, black) if foot is not None else (0, 0.0)
            state = replace(state, price=price)
            yield Progress(state.trips, state.trips, state)
            if foot is None or steps == 0:
                return state
            before = yield from _turned(state, steps)
            plan = replace(plan, biases=before.found)
            first = before if before.trips == 0 else first
            to = moved(before.biases, [steps] * len(before.biases))
            state, wish = yield from _look(plan, to, before.trips + 1, began=first, insist_on_it=True)
            if wish is None and _cost_too_much(plan, before, state):
                yield Note("The biases cost more higher up than near black is worth, so they go back.")
                return (yield from _gone_back(plan, state, before))
            foot = foot.learn(steps, _shadows(plan, before), _shadows(plan, state))
        except ReadAgain:
            if state is not None:
                again = _look(plan, state.biases, state.trips, began=state.began, insist_on_it=True)
                state, wish = yield from again
        except PutBack:
            if state is not None:
                return (yield from _put_back(plan, state, first))
        except StopHere:
            return state


def _turned(state: NearBlack, steps: int) -> Procedure[NearBlack]:
    """Have all biases turned by so many steps; returns what was read before, at where they really stood.

    Where a person says that one stood elsewhere, it goes as far as the others from there, in the same walk.
    """
    to = moved(state.biases, [steps] * len(state.biases))
    made = yield from turned_as_far(trip_between(state.biases, to), state.biases, _turn)
    off = np.where(stands_as_asked(made, state.biases), 0.0, stood_off(made, state.biases))
    if not off.any():
        return state
    stood, left = moved(state.biases, off), moved(state.biases, steps_of(made, state.biases))
    if rest := trip_between(left, moved(stood, [steps] * len(stood))).changes:
        yield from insist(Turn(Move(rest)))
    # After a turn of these it was that turn that went astray.
    return replace(state, biases=stood, found=state.found if state.trips else stood)


def _turn(move: Move, heeds: bool) -> Procedure[Move]:
    made: Move = yield Turn(move, heeds=heeds)
    return made


def _put_back(plan: NearBlackPlan, state: NearBlack, first: NearBlack | None) -> Procedure[NearBlack]:
    if first is None or state.biases == plan.biases:
        yield Note("There is no move to put back.")
        return state
    return (yield from _gone_back(plan, state, first))


def _gone_back(plan: NearBlackPlan, state: NearBlack, to: NearBlack) -> Procedure[NearBlack]:
    """Turn the biases back to where near black was read before, and read what there is now.

    By hand they are asked for once more where it does not read as it did.
    """
    yield from insist(Turn(replace(trip_between(state.biases, to.biases), undoes=True)))
    there, _ = yield from _look(plan, to.biases, state.trips + 1, began=state.began, insist_on_it=True)
    if plan.by_hand and _is_unlike(plan, to, there):
        yield from insist(Note(_UNLIKE))
        yield from insist(Turn(looked_at((*to.biases, *plan.beside))))
        there, _ = yield from _look(plan, to.biases, there.trips, began=state.began, insist_on_it=True)
    return there


def _is_unlike(plan: NearBlackPlan, before: NearBlack, now: NearBlack) -> bool:
    """Whether levels read otherwise than they did at the same biases, beyond the noise of both readings."""
    white = plan.target.white.xyz() * plan.white
    was, reads = (np.vstack([each.shoulder_xyz, each.xyz]) for each in (before, now))
    sd = np.hypot(*(np.vstack([each.shoulder_xyz_sd, each.sd]) for each in (before, now)))
    off = delta_e_2000(reads, was, white)
    # Each of X, Y and Z is noisy by itself, which makes a cast.
    noise = np.linalg.norm([delta_e_2000(was + sd * axis, was, white) for axis in np.eye(3)], axis=0)
    return float((off**2 / (noise**2 + _WANDER_DE**2)).mean()) > _UNLIKE_SQUARED


def _cost_too_much(plan: NearBlackPlan, before: NearBlack, after: NearBlack) -> bool:
    """Whether what is higher up came out worse, cast included, than it may; or near black did not come nearer.

    Beyond what the noise of both readings makes of it: a walk back costs as much as a walk there.
    """
    (was_cost, was_sd), (now_cost, now_sd) = _cost(plan, before), _cost(plan, after)
    if now_cost > was_cost + float(np.hypot(was_sd, now_sd)):
        return True
    was, now = before.shoulder_de, after.shoulder_de
    doubt = np.hypot(before.shoulder_sd, after.shoulder_sd)
    on_average = now.mean() - was.mean() > _NOT_ON_AVERAGE + float(np.linalg.norm(doubt)) / len(doubt)
    worst = now.max() - was.max() > _NO_LEVEL + doubt[now.argmax()]
    return bool(plan.is_last and plan.rest and (on_average or worst)) or plan.price.is_beaten_as_read(
        was[:_SHOULDER], now[:_SHOULDER], doubt[:_SHOULDER]
    )


def _cost(plan: NearBlackPlan, state: NearBlack) -> tuple[float, float]:
    """What near black and the shoulder count like as read, and the noise of that, in ΔE squared."""
    at = _shadows(plan, state)
    off, sd = state.shoulder_de[:_SHOULDER], state.shoulder_sd[:_SHOULDER]
    noise = 2.0 * float(np.linalg.norm(off * sd))
    return shadow_cost(at, at.misses) + float((off**2).sum()), float(np.hypot(shadow_cost_sd(at), noise))


def _next(plan: NearBlackPlan, foot: NearBlackModel, state: NearBlack, black: float) -> tuple[int, float]:
    """How many steps all biases should go now; where none, the price at which near black alone could be had.

    `black`: luminance of 0 % before anything was turned.
    """
    low = max(-((c.value - c.lowest) // c.step) for c in state.biases)
    high = min((c.highest - c.value) // c.step for c in state.biases)
    gone = (state.biases[0].value - plan.biases[0].value) // plan.biases[0].step
    rise = LAB_SLOPE_BLACK * (state.black - black) / plan.white
    if gone > 0 and rise > 0.0:
        # Each further step lifts black by as much as those before have, at least.
        high = min(high, max(0, int((_BLACK_MAY_RISE / rise - 1.0) * gone)))
    at = _shadows(plan, state)
    steps = foot.best_steps(at, (low, high), plan.price) if state.trips < _MOST_TRIPS else 0
    return steps, 0.0 if steps else foot.price(at, (low, high))


def _shadows(plan: NearBlackPlan, state: NearBlack) -> Shadows:
    drive = drives(plan.target, np.array(SHOULDER), plan.white)
    return Shadows(
        np.array(state.wanted), state.light, state.sd[:, 1], state.black, plan.white, state.shoulder, drive
    )


def _look(
    plan: NearBlackPlan,
    biases: tuple[ControlState, ...],
    trips: int,
    *,
    began: NearBlack | None = None,
    insist_on_it: bool = False,
) -> Procedure[tuple[NearBlack, Interrupt | None]]:
    """Read black and every level. What is insisted on goes with a turn: a wish that comes meanwhile waits."""
    wish: Interrupt | None = None
    known = {} if insist_on_it else {level.percent: (level.xyz, level.sd) for level in plan.known}
    percents = (0.0, *plan.light, *NEAR_BLACK)
    wanted = np.full(len(percents), plan.white * _UNKNOWN_BLACK)
    seen: list[tuple[Array, Array]] = []
    while len(seen) < len(percents):
        percent = percents[len(seen)]
        if percent in known:
            seen.append(known[percent])
        else:
            try:
                reading = yield from _read(plan, percent, float(wanted[len(seen)]))
            except Interrupt as interrupt:
                if not insist_on_it:
                    raise
                wish = interrupt
                continue
            seen.append((reading.xyz, reading.sd))
        if len(seen) == 1:
            black = seen_black(float(seen[0][0][1]), float(seen[0][1][1]))
            wanted = np.concatenate([[black], _wanted(plan, black)])
    xyz, sd = np.array([each for each, _ in seen]), np.array([spread for _, spread in seen])
    lit, dark = slice(1, 1 + len(plan.light)), slice(1 + len(plan.light), None)
    state = NearBlack(
        NEAR_BLACK,
        xyz[dark],
        sd[dark],
        tuple(float(value) for value in wanted[dark]),
        black,
        biases,
        plan.biases,
        miss(wanted[1 : 1 + _SHOULDER], xyz[1 : 1 + _SHOULDER, 1]),
        *_light_de(plan, xyz[lit], sd[lit], black),
        xyz[lit],
        sd[lit],
        trips,
        of_gamma=not plan.target.tone.absolute,
        lit=plan.light,
        began=began,
    )
    return state, wish


def _light_de(plan: NearBlackPlan, xyz: Array, sd: Array, black: float) -> tuple[Array, Array]:
    """ΔE 2000 of the levels that near black may cost something, and its spread, (n,) each."""
    errors = grey_errors(plan.light, xyz, plan.target, white=plan.white, black=black, sd=sd)
    return errors.de2000, errors.de2000_sd


def _wanted(plan: NearBlackPlan, black: float) -> Array:
    """Light at all that is read, cd/m²; near black a target of an earlier version stands on black."""
    light = plan.target.grey(plan.light, plan.white, black)[:, 1]
    return np.concatenate([light, wanted_light(plan.target, np.array(NEAR_BLACK), plan.white, black)])


def _read(plan: NearBlackPlan, percent: float, wanted: float) -> Procedure[Reading]:
    patch = grey_patch(percent, plan.format)
    yield Show(patch)
    if percent in plan.light:
        policy = target_policy(plan.target, wanted, plan.white, _REST_DE if plan.rest else WANTED_DE)
    else:
        policy = ReadPolicy(max(_EXACT * wanted, plan.white * _LEAST), wanted, _MOST_SECONDS)
        if percent in plan.shared:
            policy = replace(policy, sd=min(policy.sd, target_policy(plan.target, wanted, plan.white).sd))
    reading: Reading = yield Read(patch, policy, Purpose.ADJUST)
    return reading
