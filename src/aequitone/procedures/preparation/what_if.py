"""Settings from elsewhere, measured on this unit before or instead of being taken over, and turned back."""

from dataclasses import dataclass, replace

from aequitone.advice.moves import Change, ControlState, Move
from aequitone.colorimetry import Formula
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.grey.short_grey import short_grey
from aequitone.procedures.preparation.as_watched import WATCHED_PERCENTS
from aequitone.procedures.steps import Note, Procedure, Turn
from aequitone.procedures.uninterrupted import insist
from aequitone.reference import Target
from aequitone.signal import SignalFormat

# What a person keeps in mind on the way to the menu.
_A_TRIP = 4


@dataclass(frozen=True)
class WhatIfPlan:
    """What is tried, and what it is compared with."""

    target: Target
    format: SignalFormat
    source: str
    """Where the settings come from, in words: "the list of settings.csv"."""
    controls: tuple[ControlState, ...]
    """Those that stand otherwise, as they stand."""
    to: tuple[int, ...]
    found: float | None = None
    """Average ΔE of grey as found; None where it was not measured."""
    ours: float | None = None
    """The same of the proof."""
    formula: Formula = Formula.DE2000


@dataclass(frozen=True, eq=False)
class WhatIf:
    """What the settings give on this unit."""

    source: str
    grey: GreyPass
    found: float | None = None
    ours: float | None = None

    @property
    def words(self) -> str:
        """What they give, beside as found and ours."""
        mean = self.grey.mean
        told = [f"With the settings of {self.source} this unit has {self.grey.formula} {mean:.1f} on average"]
        told += [f"as found {self.found:.1f}"] if self.found is not None else []
        told += [f"ours {self.ours:.1f}"] if self.ours is not None else []
        best = min(value for value in (mean, self.found, self.ours) if value is not None)
        verdict = "They are the best of these." if best == mean and len(told) > 1 else "They were turned back."
        return f"{'; '.join(told)}. {verdict}"


def what_if(plan: WhatIfPlan) -> Procedure[WhatIf]:
    """Turn the controls, read grey, and turn them back; returns a WhatIf."""
    there = tuple(replace(control, value=to) for control, to in zip(plan.controls, plan.to, strict=True))
    for move in _trips(plan.controls, plan.to):
        yield from insist(Turn(move))
    found = yield from short_grey(plan.target, plan.format, WATCHED_PERCENTS, plan.formula)
    for move in _trips(there, tuple(control.value for control in plan.controls)):
        yield from insist(Turn(move))
    result = WhatIf(plan.source, found, plan.found, plan.ours)
    yield Note(result.words)
    return result


def _trips(controls: tuple[ControlState, ...], to: tuple[int, ...]) -> list[Move]:
    """The trips that bring controls to settings, a few at a time."""
    changes = [
        Change(control.role, control.name, control.value, value)
        for control, value in zip(controls, to, strict=True)
        if control.value != value
    ]
    return [Move(tuple(changes[at : at + _A_TRIP])) for at in range(0, len(changes), _A_TRIP)]
