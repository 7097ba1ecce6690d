"""Plans to and from the logbook's JSON: what is needed to run a pass again from its record."""

from dataclasses import asdict
from typing import Any

from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.procedures.grey_pass import GreyPlan
from aequitone.procedures.white_balance import WhitePlan
from aequitone.reference import target_named
from aequitone.signal import Container, Range, SignalFormat, Transfer


def grey_plan_out(plan: GreyPlan) -> dict[str, Any]:
    return {
        "target": plan.target.name,
        "format": _format_out(plan.format),
        "levels": plan.levels,
        "repeat_anchors": plan.repeat_anchors,
        "anchor_every": plan.anchor_every,
        "take_out_drift": plan.take_out_drift,
        "first_look": plan.first_look,
    }


def grey_plan_in(kept: dict[str, Any]) -> GreyPlan:
    # Plans from before anchors were read on the way have none.
    return GreyPlan(
        target_named(kept["target"]),
        _format_in(kept["format"]),
        kept["levels"],
        kept["repeat_anchors"],
        kept.get("anchor_every", 0),
        kept.get("take_out_drift", True),
        kept.get("first_look", False),
    )


def white_plan_out(plan: WhitePlan) -> dict[str, Any]:
    return {
        "target": plan.target.name,
        "format": _format_out(plan.format),
        "controls": [asdict(control) | {"role": control.role.value} for control in plan.controls],
        "white": plan.white,
        "black": plan.black,
        "bright": plan.bright,
        "dark": plan.dark,
        "stop_at": plan.stop_at,
        "looks": plan.looks,
    }


def white_plan_in(kept: dict[str, Any]) -> WhitePlan:
    return WhitePlan(
        target_named(kept["target"]),
        _format_in(kept["format"]),
        tuple(ControlState(**(control | {"role": Role(control["role"])})) for control in kept["controls"]),
        kept["white"],
        kept["black"],
        kept["bright"],
        kept["dark"],
        kept["stop_at"],
        kept["looks"],
    )


def _format_out(format_: SignalFormat) -> dict[str, Any]:
    return asdict(format_)


def _format_in(kept: dict[str, Any]) -> SignalFormat:
    return SignalFormat(
        kept["depth"],
        Range(kept["range"]),
        kept["window"],
        Transfer(kept.get("transfer", Transfer.GAMMA)),
        Container(kept.get("container", Container.REC709)),
    )
