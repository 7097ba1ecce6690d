"""Colours as found and as they are left: the same pass, before and after."""

from aequitone.passes.base import PassType
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace, colour_pass_seconds
from aequitone.procedures.colour.colour_pass import ColourPass, ColourPlan, colour_pass
from aequitone.procedures.colour.samples import Length
from aequitone.reference import target_named

_ANCHOR_EVERY = 8


def colour_plan(snapshot: Snapshot, length: Length | None = None) -> ColourPlan:
    """Plan the colour pass that a visit's choices mean; of another length where one is asked for."""
    bench = snapshot.visit.bench
    usual = Length.USUAL if bench.automatic else Length.SHORT
    return ColourPlan(
        target_named(snapshot.visit.target),
        bench.format,
        length or usual,
        bench.colour_level,
        anchor_every=_ANCHOR_EVERY if bench.automatic else 0,
        repeat_anchors=bench.automatic,
    )


def _seconds(snapshot: Snapshot, pace: Pace) -> float:
    return colour_pass_seconds(colour_plan(snapshot), pace)


def colours_words(found: ColourPass) -> str:
    """What a colour pass came to: averages, and the worst of each."""
    told = []
    for everyday, name in ((False, "saturations"), (True, "everyday colours")):
        if not found.rows(everyday=everyday):
            continue
        mean, sd = found.mean(everyday=everyday)
        worst = found.worst(everyday=everyday)
        told.append(
            f"{name}: ΔE 2000 {mean:.1f} ± {sd:.1f} on average, at worst {found.errors.de2000[worst]:.1f} at "
            f"{found.samples[worst].name}"
        )
    words = "; ".join(told)
    return f"{words[:1].upper()}{words[1:]}." if words else ""


def _kind(key: str, title: str) -> PassType[ColourPlan, ColourPass]:
    return PassType(
        key=key,
        title=title,
        plan=ColourPlan,
        result=ColourPass,
        procedure=colour_pass,
        make_plan=colour_plan,
        seconds=_seconds,
        words=colours_words,
        sdr_only=True,
    )


COLOURS_FOUND = _kind("colours as found", "Colours as found")
COLOURS_LEFT = _kind("colours as left", "Colours as left")
