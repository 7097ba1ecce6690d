"""Where setting the levels stands: its plan, what was swept and read, and how a patch is read."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.levels import ClippingSweep, Position, Sweep
from aequitone.advice.levels.crossing import PRIMARIES, TELLING, channels_of
from aequitone.advice.levels.sweep import BLACK, WHITE, Look
from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import Role
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.known_level import KnownLevel
from aequitone.procedures.levels.believed import Believed
from aequitone.procedures.levels.riding import Rider, expected_of, position_of
from aequitone.procedures.levels.sweep import carry_out
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.levels.trips import Trips
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, PutBack, ReadAgain, Reading, StopHere
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.reference import Target
from aequitone.signal import SignalFormat, colour_patch, grey_patch

LEVEL_ROLES = (Role.LIGHT_OUTPUT, Role.BLACK_LEVEL, Role.CONTRAST, Role.COLOUR, Role.TINT)
# Light that differs by less between two windows is not limited.
SAME_LIGHT = 0.02
PRECISION = 0.0012
"""Of white that is read for a level to be set, as a share."""
# Of white: a hundredth of black where contrast is 700, and nothing that would be seen at 10 %.
_BLACK_PRECISION = 1.4e-5
_UNKNOWN_LIGHT = 50.0
_ALIKE = 1e4


@dataclass(frozen=True)
class LevelsPlan:
    """What is to be set, and the controls there are, as they stand."""

    target: Target
    format: SignalFormat
    controls: tuple[ControlState, ...]
    light: float
    """Luminance of white that the school wants in the end, cd/m²."""
    windows: bool = False
    """Whether white is read at several window sizes."""
    fourth: bool = False
    """Whether the screen has a fourth, white light: a subpixel, or a clear segment of its wheel."""
    board: bool = False
    """Whether a checkerboard is read: black beside white."""
    dark_foot: float = 0.0
    """Share of the signal above black that the panel usually gives no light for."""
    by_link: bool = False
    """Whether a link turns the controls, which never slips."""
    from_disc: bool = False
    """Whether a person shows the patches, from a disc or a stick: then only greys that these have are read."""
    watched: tuple[float, float] | None = None
    """A level in the shadows, in %, and its ΔE 2000 as found: black is not to make it worse. None: not read."""

    def __post_init__(self) -> None:
        if self.light <= 0.0:
            raise ValueError(f"the wanted light must be above 0 cd/m², got {self.light:g}")
        strange = [control.name for control in self.controls if control.role not in LEVEL_ROLES]
        if strange:
            raise ValueError(f"levels are not set with {', '.join(strange)}")


@dataclass(frozen=True)
class Glance:
    """What is seen while a person turns: a patch, its luminance now and before they began, cd/m²."""

    move: Move
    patch: str
    light: float
    before: float
    wanted: float | None = None
    """Luminance that it is to have, where that is known."""
    still: tuple[str, ...] = ()
    """What was not seen to move, once the person said that all is turned."""


@dataclass(frozen=True)
class LevelsState:
    """Where the levels stand; the last of `sweeps` may still be under way."""

    sweeps: tuple[Swept, ...] = ()
    white: Array | None = None
    """XYZ of 100 %, cd/m², (3,)."""
    black: Array | None = None
    reserve: float = 0.0
    """Share of the light that white balance will cost."""
    wanted: float = 0.0
    """Light to set now, the reserve included, cd/m²."""
    windows: tuple[tuple[float, float], ...] = ()
    """Window's share of the area, and luminance of white in it."""
    board: tuple[float, float] | None = None
    """Luminance of white and of black in a checkerboard, cd/m²."""
    glance: Glance | None = None
    """What is seen while a person turns."""

    @property
    def board_contrast(self) -> float | None:
        """White over black in a checkerboard; None where it was not read, or black was too dark to read."""
        if self.board is None or self.board[1] <= 0.0:
            return None
        return self.board[0] / self.board[1]

    @property
    def contrast(self) -> float | None:
        """White over black; None where black was too dark to read."""
        if self.white is None or self.black is None or self.black[1] <= 0.0:
            return None
        return float(self.white[1] / self.black[1])

    @property
    def window(self) -> float | None:
        """The largest window that the power limit leaves alone; None where it was not looked for."""
        return best_window(self.windows) if self.windows else None


@dataclass
class LevelsSession:
    """The running state; known to the generator alone."""

    plan: LevelsPlan
    controls: dict[Role, ControlState]
    done: list[Swept] = field(default_factory=list)
    white: Array | None = None
    white_sd: Array | None = None
    black: Array | None = None
    black_at: float = 0.0
    """Luminance of white when black was read, cd/m²."""
    channels: Array | None = None
    """Turns XYZ into the light of red, green and blue, (3, 3)."""
    told_at: Array | None = None
    """XYZ of white when the channels were told, (3,)."""
    reserve: float = 0.0
    wanted: float = 0.0
    windows: tuple[tuple[float, float], ...] = ()
    board: tuple[float, float] | None = None
    lit_at: int | None = None
    """Where light output stood while contrast was swept."""
    clipping: ClippingSweep | None = None
    """What contrast was set by."""
    swept: Swept | None = None
    """The sweep that is under way, as it was told last."""
    last: dict[str, float] = field(default_factory=dict)
    """Luminance of each patch by its name, as it was read last, cd/m²."""
    trips: Trips = field(default_factory=lambda: Trips(together=True))
    first: dict[Look, Reading] = field(default_factory=dict)
    """What was read before anything was turned."""
    stood: dict[Look, dict[Role, int]] = field(default_factory=dict)
    """The settings of all controls when white, or black, was last read for the result."""

    @property
    def stands(self) -> dict[Role, int]:
        """Where all controls stand, or will once what waits is turned."""
        every = (*self.controls.values(), *(rider.control for rider in self.trips.riders.every.values()))
        return {control.role: control.value for control in every}

    def is_read(self, look: Look) -> bool:
        """Whether white or black was read as all stands, where a link turns, which does not slip."""
        return self.plan.by_link and self.stood.get(look) == self.stands

    def state(self, *under_way: Swept) -> LevelsState:
        """Where the levels stand; `under_way`: sweeps that are not done."""
        sweeps = (*self.trips.riders.under_way(), *self.done, *under_way)
        return LevelsState(
            sweeps, self.white, self._black_now, self.reserve, self.wanted, self.windows, self.board
        )

    @property
    def _black_now(self) -> Array | None:
        """Black beside the present white: a panel that leaks does so by its light."""
        if self.black is None or self.white is None or self.black_at <= 0.0:
            return self.black
        return np.asarray(self.black * float(self.white[1]) / self.black_at)

    def take_black(self, xyz: Array, white: float = 0.0) -> None:
        """Take in black, XYZ in cd/m², read beside so much light of white, or beside white as it is known."""
        self.black = np.maximum(xyz, 0.0)
        self.black_at = white or (float(self.white[1]) if self.white is not None else 0.0)

    def hear(self, position: Position) -> str:
        """Take in what a position tells of black and of the channels; returns what is wrong with these."""
        self.last |= {look.name: float(xyz[1]) for look, xyz in zip(position.looks, position.xyz, strict=True)}
        if BLACK in position.looks:
            self.take_black(position.of(BLACK)[0][0], position.white)
        if not all(look in position.looks for look in TELLING) or self.white is None:
            return ""
        (*primaries, black), _ = position.of(*TELLING)
        if np.linalg.cond((np.array(primaries) - black).T) > _ALIKE:
            return "Red, green and blue read nearly alike: is colour turned down, or is the meter elsewhere?"
        self.channels = channels_of(position)
        self.told_at = self.white * (position.white / self.white[1] if position.white else 1.0)
        return ""

    @property
    def shares(self) -> Array | None:
        """Turns XYZ into the light of red, green and blue as shares of what they give at 100 %, (3, 3)."""
        if self.channels is None or self.told_at is None or self.black is None:
            return None
        whole = self.channels @ (self.told_at - self.black)
        return self.channels / whole[:, None] if np.all(whole > 0.0) else None

    def end(self, swept: Swept) -> Procedure[None]:
        """Take a sweep as done, and say what it found."""
        self.done.append(swept)
        self.swept = None
        self.controls[swept.control.role] = swept.control
        if swept.kept:
            yield Note(f"{swept.control.name} was put back to {swept.found_at} and stays there.")
        elif swept.finding is not None:
            yield Note(swept.finding.words)
        yield Progress(0, 0, self.state())


def light_shape(now: LevelsSession, role: Role) -> tuple[tuple[int, float], ...]:
    """Settings of a control and the light of white there, from the sweep of it that had most of them."""
    swept = (s for s in now.done if s.control.role is role and len(s.positions) > 1)
    return max((tuple((p.setting, float(p.xyz[0, 1])) for p in s.positions) for s in swept), key=len, default=())


def read_grey(now: LevelsSession, percent: float, format_: SignalFormat | None = None) -> Procedure[Reading]:
    """Read a grey, with all that waits to be turned as it should be."""
    yield from now.trips.settle()
    patch = grey_patch(percent, format_ or now.plan.format)
    light = now.white[1] if now.white is not None else _UNKNOWN_LIGHT
    sd = PRECISION * light if percent else max(0.0008, _BLACK_PRECISION * light)
    policy = ReadPolicy(sd, light if percent else None)
    return (yield from insist_on_reading(patch, policy, Purpose.SWEEP))


def read_colour(look: Look, now: LevelsSession) -> Procedure[Reading]:
    """Read a colour that a sweep looks at."""
    yield from now.trips.settle()
    patch = colour_patch(look.name, look.percents, now.plan.format)
    assert now.white is not None
    sd = max(0.001, 0.0005 * float(now.white[1]))
    return (yield from insist_on_reading(patch, ReadPolicy(sd), Purpose.SWEEP))


def read_position(
    now: LevelsSession, setting: int, looks: Sequence[Look], sweep: Sweep, positions: Sequence[Position]
) -> Procedure[Position]:
    """Read what a sweep looks at, where its control stands now."""
    readings: dict[Look, Reading] = {}
    white = float(now.white[1]) if now.white is not None else 0.0
    for look in looks:
        patch = colour_patch(look.name, look.percents, now.plan.format)
        policy = ReadPolicy(sweep.precision(look, expected_of(positions, look, white)))
        readings[look] = yield from insist_on_reading(patch, policy, Purpose.SWEEP)
    return position_of(setting, looks, readings, white)


def read_white(now: LevelsSession) -> Procedure[None]:
    """Read 100 % into the session."""
    reading: Reading = yield from read_grey(now, 100.0)
    now.white, now.white_sd = reading.xyz, reading.sd
    now.last[WHITE.name] = reading.Y
    now.stood[WHITE] = now.stands


def best_window(lights: tuple[tuple[float, float], ...]) -> float:
    """The largest window whose light is that of the smaller ones."""
    best, most = lights[0][0], lights[0][1]
    for window, light in lights[1:]:
        if light < most * (1.0 - SAME_LIGHT):
            break
        best, most = window, max(most, light)
    return best


def read_primaries(now: LevelsSession) -> Procedure[None]:
    """Read red, green and blue, from which the light of each channel is computed."""
    assert now.white is not None and now.black is not None
    for look in PRIMARIES:
        now.first[look] = yield from read_colour(look, now)
    xyz = np.array([*(now.first[look].xyz for look in PRIMARIES), now.black])
    words = now.hear(Position(0, xyz, 0.0 * xyz, TELLING, float(now.white[1])))
    if words:
        yield Note(words)


def set_off(
    now: LevelsSession,
    role: Role,
    make: Callable[[ControlState], Sweep],
    ready: Callable[[], bool] = lambda: True,
) -> None:
    """Let a control go along with the trips of others, once it is `ready`."""
    now.trips.riders.every[role] = Rider(now.controls[role], make, now.hear, ready)


def read_along(now: LevelsSession) -> Procedure[None]:
    """Read what those that go along want to know where they stand; a person may leave one of them out."""
    assert now.white is not None
    riders = now.trips.riders
    # By hand a slip is told from these.
    known = now.first if now.plan.by_link else {}
    while True:
        try:
            return (yield from riders.read(now.plan.format, float(now.white[1]), fresh=True, known=known))
        except ReadAgain:
            known = {}
            continue
        except (PutBack, StopHere) as wish:
            assert riders.reading is not None
            rider = riders.every.pop(riders.reading)
            yield from now.end(Swept(rider.control, rider.found_at, (), kept=isinstance(wish, PutBack)))


def finish(now: LevelsSession, role: Role) -> Procedure[Swept]:
    """Bring the sweep of a control that went along to its end."""
    rider = now.trips.riders.every.pop(role)
    return (yield from run_sweep(now, rider.sweep, rider.believed, rider.control.value))


def run_sweep(
    now: LevelsSession,
    sweep: Sweep,
    known: Sequence[Position] | Believed = (),
    stands: int | None = None,
    given: Mapping[Look, KnownLevel] | None = None,
) -> Procedure[Swept]:
    """Carry out a sweep, telling where all levels stand after each position; see `carry_out`.

    `known`: positions that were read already, where the control was found; `given`: looks that were.
    """
    believed = known if isinstance(known, Believed) else Believed(sweep.control.value, tuple(known))

    wrong: list[str] = []

    def tell(swept: Swept) -> LevelsState:
        now.swept = swept
        now.controls[swept.control.role] = swept.control
        if swept.positions:
            wrong.append(now.hear(swept.positions[-1]))
        return now.state(swept)

    white = float(now.white[1]) if now.white is not None else 0.0
    stands_at = sweep.control if stands is None else replace(sweep.control, value=stands)
    now.swept = Swept(stands_at, believed.found_at, believed.positions)
    yield Progress(len(believed.positions), 0, now.state(now.swept))
    by_hand = not now.plan.by_link
    swept = yield from carry_out(
        sweep, now.plan.format, tell, now.trips, believed, stands, white=white, by_hand=by_hand, given=given
    )
    for words in dict.fromkeys(filter(None, wrong)):
        yield Note(words)
    yield from now.end(swept)
    return swept
