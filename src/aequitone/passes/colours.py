"""Colours as found and as they are left: the same pass, before and after."""

from aequitone.advice.answers.shoulder import ShoulderKind
from aequitone.advice.colours import boosted_words
from aequitone.passes.base import PassType
from aequitone.passes.hdr import shoulder_of
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace, colour_pass_seconds
from aequitone.procedures.colour.colour_pass import ColourPass, ColourPlan, colour_pass
from aequitone.procedures.colour.samples import HDR_LIGHT, Length
from aequitone.reference import target_named
from aequitone.wording import sentence

_ANCHOR_EVERY = 8
# Of the knee's light, so that a channel that is a little strong has not left PQ either.
_BELOW_KNEE = 0.8


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
        formula=snapshot.leading,
        light=light_of_six(snapshot),
    )


def light_of_six(snapshot: Snapshot) -> float:
    """Light of the six under PQ, cd/m²: below the knee of a dim screen, whose roll-off is no colour's fault."""
    return light_below_knee(snapshot, HDR_LIGHT)


def light_below_knee(snapshot: Snapshot, wanted: float) -> float:
    """The light `wanted` under PQ, or the most that is clear of the screen's knee, cd/m²."""
    shoulder = shoulder_of(snapshot)
    if shoulder is None or shoulder.kind is ShoulderKind.NONE:
        return wanted
    return min(wanted, 5.0 * max(1.0, round(_BELOW_KNEE * shoulder.knee_light / 5.0)))


def _seconds(snapshot: Snapshot, pace: Pace) -> float:
    return colour_pass_seconds(colour_plan(snapshot), pace)


def colours_words(found: ColourPass) -> str:
    """What a colour pass came to: averages, and the worst of each."""
    told, off = [], found.errors.by(found.formula)[0]
    for everyday, name in ((False, "saturations"), (True, "everyday colours")):
        if not found.rows(everyday=everyday):
            continue
        mean, sd = found.mean(everyday=everyday)
        worst = found.worst(everyday=everyday)
        told.append(
            f"{name}: {found.formula} {mean:.1f} ± {sd:.1f} on average, at worst {off[worst]:.1f} at "
            f"{found.samples[worst].name}"
        )
    said = sentence("; ".join(told))
    if missing := found.missing_light:
        off_by = found.mean_cast(everyday=False, white=found.white)
        said = f"{said} {boosted_words(missing)} Without light, saturations are off by ΔE {off_by:.1f}."
    return said


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
    )


COLOURS_FOUND = _kind("colours as found", "Colours as found")
COLOURS_LEFT = _kind("colours as left", "Colours as left")
