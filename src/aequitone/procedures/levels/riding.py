"""Sweeps that go along: controls that act on other patches are turned in the same trips, and read after them.

What a black level does is seen in dark greys, and what colour and tint do in mixtures; light output and contrast
change neither but by a factor. So they need no walk to the menu of their own while one of those is swept.
"""

from collections.abc import Callable, Container, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.levels import Ask, Look, Position, Sweep
from aequitone.advice.levels.sweep import read_already
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.procedures.known_level import KnownLevel
from aequitone.procedures.levels.believed import Believed
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Note, Procedure, Purpose, Read, Reading, Show
from aequitone.procedures.uninterrupted import insist
from aequitone.signal import SignalFormat, colour_patch

# How much less exact a reading may be that is there already.
_NEARLY_AS_EXACT = 2.0


@dataclass
class Rider:
    """One of them; `make` its sweep by what is known by now, from the control as it was found."""

    control: ControlState
    """As it stands."""
    make: Callable[[ControlState], Sweep]
    heard: Callable[[Position], str] = lambda _: ""
    """Told of every position; returns what there is to say of it."""
    ready: Callable[[], bool] = lambda: True
    """Whether it may be turned by now."""
    unread: Ask | None = None
    """What is to be read where it stands."""
    asked: Ask | None = None
    """What is to be read where it is being turned to; None where that is known."""
    said: bool = False
    """Whether a person has named the setting themselves at which it stands."""
    believed: Believed = field(init=False)

    def __post_init__(self) -> None:
        self.believed = Believed(self.control.value)

    @property
    def positions(self) -> tuple[Position, ...]:
        """Where it was read so far."""
        return self.believed.positions

    @property
    def found_at(self) -> int:
        """The setting at which it was found, as far as is known by now."""
        return self.believed.found_at

    @property
    def sweep(self) -> Sweep:
        """As things are known by now."""
        return self.make(replace(self.control, value=self.found_at))

    def begin(self) -> Ask | None:
        """Have it read where it was found, once it is ready; returns what is to be read where it stands."""
        if not self.positions and self.unread is None and self.ready():
            self.unread = self.sweep.next(())
        return self.unread

    def wish(self) -> Ask | None:
        """Where it would be turned next, to be read there; None where nothing is left to be known."""
        if self.unread is not None or not self.positions or not self.ready():
            return None
        sweep = self.sweep
        ask = sweep.next(self.positions) or Ask(sweep.found(self.positions).setting, self.positions[-1].looks)
        return None if ask.setting == self.control.value else ask

    def take(self, position: Position, *, by_hand: bool) -> str:
        """Take a position in; returns what there is to say, such as that a hand seems to have slipped."""
        self.unread = None
        if not by_hand:
            self.believed = self.believed.take(position)
            return self.heard(position)
        self.believed, words, stood = self.believed.take_by_hand(
            self.sweep, self.control, position, said=self.said
        )
        if stood is not None:
            self.control = replace(self.control, value=stood)
            return words
        return f"{words} {self.heard(position)}".strip()


@dataclass
class Riders:
    """All that go along."""

    every: dict[Role, Rider] = field(default_factory=dict)
    by_hand: bool = False
    reading: Role | None = None
    """Whose patch is being read."""

    def under_way(self) -> tuple[Swept, ...]:
        """Where their sweeps stand."""
        return tuple(
            Swept(rider.control, rider.found_at, rider.positions)
            for rider in self.every.values()
            if rider.positions
        )

    def offers(self, taken: Container[Role]) -> list[tuple[ControlState, int]]:
        """Where each would be turned in the trip that is made now; `taken`: controls that it turns anyway."""
        told = []
        for role, rider in self.every.items():
            ask = rider.wish() if role not in taken else None
            if ask is not None:
                # What a link goes back to was read there.
                rider.asked = ask if self.by_hand or not read_already(rider.positions, ask.setting) else None
                told.append((rider.control, ask.setting))
        return told

    def turned(self, offers: Iterable[tuple[ControlState, int]]) -> None:
        """The trip was made."""
        for control, setting in offers:
            rider = self.every[control.role]
            rider.said = rider.asked is not None and rider.asked.setting != setting
            rider.control, rider.unread = replace(control, value=setting), rider.asked

    def read(
        self, format_: SignalFormat, white: float, *, fresh: bool, known: Mapping[Look, Reading] | None = None
    ) -> Procedure[None]:
        """Read what is to be read where they stand.

        `white`: its luminance as far as it is known, cd/m²; `fresh`: whether it was read as all stands now;
        `known`: what was read just now, as all stands, and is read again only where that was not exact enough.
        """
        for rider in self.every.values():
            rider.begin()
        waiting = [rider for rider in self.every.values() if rider.unread is not None]
        readings: dict[Look, Reading] = {}
        for look, sd in _precisions(waiting, white).items():
            told = (known or {}).get(look)
            if told is not None and told.sd_Y <= _NEARLY_AS_EXACT * sd:
                readings[look] = told
                continue
            self.reading = next(r.control.role for r in waiting if r.unread is not None and look in r.unread.looks)
            patch = colour_patch(look.name, look.percents, format_)
            yield Show(patch)
            readings[look] = yield Read(patch, ReadPolicy(sd), Purpose.SWEEP)
        for rider in waiting:
            yield from self._taken(rider, readings, white, fresh=fresh)
        for rider in self.every.values():
            # It is ready by what was read just now, and may find all that it wants there.
            if rider not in waiting and (ask := rider.begin()) is not None and self._tells(readings, rider, ask):
                yield from self._taken(rider, readings, white, fresh=fresh)

    def _tells(self, readings: dict[Look, Reading], rider: Rider, ask: Ask) -> bool:
        """Whether readings hold all that one asks for, and none that goes by the same looks is turned yet."""
        looks = set(ask.looks)
        beside = (each for each in self.every.values() if each is not rider and each.positions)
        right = all(each.wish() is None for each in beside if looks & set(each.positions[-1].looks))
        return looks <= readings.keys() and right

    def _taken(self, rider: Rider, readings: dict[Look, Reading], white: float, *, fresh: bool) -> Procedure[None]:
        assert rider.unread is not None
        position = position_of(rider.control.value, rider.unread.looks, readings, white)
        words = rider.take(replace(position, fresh=fresh), by_hand=self.by_hand)
        if words:
            yield from insist(Note(words))


def position_of(
    setting: int, looks: Sequence[Look], readings: Mapping[Look, Reading | KnownLevel], white: float
) -> Position:
    """A position from the readings of its looks."""
    told = [readings[look] for look in looks]
    return Position(setting, np.array([r.xyz for r in told]), np.array([r.sd for r in told]), tuple(looks), white)


def expected_of(positions: Sequence[Position], look: Look, white: float) -> float | None:
    """About the luminance of a look at so much light of white, cd/m²; None where it was not read before."""
    last = next((position for position in reversed(positions) if look in position.looks), None)
    if last is None:
        return None
    scale = white / last.white if white and last.white else 1.0
    return scale * float(last.of(look)[0][0, 1])


def _precisions(riders: Iterable[Rider], white: float) -> dict[Look, float]:
    """Every look that is to be read, with the standard deviation that the most exacting wants."""
    told: dict[Look, float] = {}
    for rider in riders:
        sweep = rider.sweep
        for look in rider.unread.looks if rider.unread is not None else ():
            sd = sweep.precision(look, expected_of(rider.positions, look, white))
            told[look] = min(sd, told.get(look, sd))
    return told
