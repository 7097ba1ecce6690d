"""Plans to and from the logbook's JSON: what is needed to run a pass again from its record."""

from dataclasses import asdict
from typing import Any

from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.colorimetry import Formula
from aequitone.procedures.choosing import ChoicePlan
from aequitone.procedures.evenness import EvennessPlan
from aequitone.procedures.grey_pass import GreyPlan
from aequitone.procedures.levels import LevelsPlan
from aequitone.procedures.putting_back import PutBackPlan
from aequitone.procedures.room import RoomPlan
from aequitone.procedures.tone import TonePlan
from aequitone.procedures.warm_up import WarmUpPlan
from aequitone.procedures.white_session import WhitePlan
from aequitone.reference import target_named
from aequitone.signal import Container, Range, SignalFormat, Transfer

Plan = (
    GreyPlan | WhitePlan | TonePlan | WarmUpPlan | RoomPlan | ChoicePlan | LevelsPlan | PutBackPlan | EvennessPlan
)


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
        "controls": [_control_out(control) for control in plan.controls],
        "white": plan.white,
        "black": plan.black,
        "bright": plan.bright,
        "dark": plan.dark,
        "stop_at": plan.stop_at,
        "looks": plan.looks,
        "technology": plan.technology,
        "by_hand": plan.by_hand,
        "formula": plan.formula.value,
    }


def white_plan_in(kept: dict[str, Any]) -> WhitePlan:
    return WhitePlan(
        target_named(kept["target"]),
        _format_in(kept["format"]),
        tuple(_control_in(control) for control in kept["controls"]),
        kept["white"],
        kept["black"],
        kept["bright"],
        kept["dark"],
        kept["stop_at"],
        kept["looks"],
        kept.get("technology", ""),
        kept.get("by_hand", False),
        Formula(kept.get("formula", Formula.DE2000)),
    )


def tone_plan_out(plan: TonePlan) -> dict[str, Any]:
    return {
        "target": plan.target.name,
        "format": _format_out(plan.format),
        "white": plan.white,
        "biases": [_control_out(control) for control in plan.biases],
        "bias_light": plan.bias_light,
        "points": [_control_out(control) for control in plan.points],
        "percents": list(plan.percents),
        "near_black": plan.near_black,
        "by_hand": plan.by_hand,
        "trip_seconds": plan.trip_seconds,
        "stop_at": plan.stop_at,
    }


def tone_plan_in(kept: dict[str, Any]) -> TonePlan:
    return TonePlan(
        target_named(kept["target"]),
        _format_in(kept["format"]),
        kept["white"],
        tuple(_control_in(control) for control in kept["biases"]),
        kept["bias_light"],
        tuple(_control_in(control) for control in kept["points"]),
        tuple(kept["percents"]),
        kept["near_black"],
        kept["by_hand"],
        kept["trip_seconds"],
        kept["stop_at"],
    )


def warm_up_plan_out(plan: WarmUpPlan) -> dict[str, Any]:
    return asdict(plan)


def warm_up_plan_in(kept: dict[str, Any]) -> WarmUpPlan:
    return WarmUpPlan(**(kept | {"format": _format_in(kept["format"])}))


def room_plan_out(plan: RoomPlan) -> dict[str, Any]:
    return asdict(plan)


def room_plan_in(kept: dict[str, Any]) -> RoomPlan:
    return RoomPlan(_format_in(kept["format"]), kept["most"])


def evenness_plan_out(plan: EvennessPlan) -> dict[str, Any]:
    return asdict(plan)


def evenness_plan_in(kept: dict[str, Any]) -> EvennessPlan:
    return EvennessPlan(_format_in(kept["format"]), kept["percent"])


def choice_plan_out(plan: ChoicePlan) -> dict[str, Any]:
    return {
        "target": plan.target.name,
        "format": _format_out(plan.format),
        "control": _control_out(plan.control),
        "values": list(plan.values),
        "names": list(plan.names),
        "primaries": plan.primaries,
        "once": plan.once,
        "tone": plan.tone,
    }


def choice_plan_in(kept: dict[str, Any]) -> ChoicePlan:
    return ChoicePlan(
        target_named(kept["target"]),
        _format_in(kept["format"]),
        _control_in(kept["control"]),
        tuple(kept["values"]),
        tuple(kept["names"]),
        kept["primaries"],
        kept.get("once", False),
        kept.get("tone", False),
    )


def levels_plan_out(plan: LevelsPlan) -> dict[str, Any]:
    return {
        "target": plan.target.name,
        "format": _format_out(plan.format),
        "controls": [_control_out(control) for control in plan.controls],
        "light": plan.light,
        "windows": plan.windows,
        "fourth": plan.fourth,
        "board": plan.board,
        "dark_foot": plan.dark_foot,
    }


def levels_plan_in(kept: dict[str, Any]) -> LevelsPlan:
    return LevelsPlan(
        target_named(kept["target"]),
        _format_in(kept["format"]),
        tuple(_control_in(control) for control in kept["controls"]),
        kept["light"],
        kept["windows"],
        kept["fourth"],
        kept.get("board", False),
        kept.get("dark_foot", 0.0),
    )


def put_back_plan_out(plan: PutBackPlan) -> dict[str, Any]:
    return {
        "controls": [_control_out(control) for control in plan.controls],
        "to": list(plan.to),
        "moment": plan.moment,
    }


def put_back_plan_in(kept: dict[str, Any]) -> PutBackPlan:
    return PutBackPlan(
        tuple(_control_in(control) for control in kept["controls"]), tuple(kept["to"]), kept["moment"]
    )


def _control_out(control: ControlState) -> dict[str, Any]:
    return asdict(control) | {"role": control.role.value}


def _control_in(kept: dict[str, Any]) -> ControlState:
    return ControlState(**(kept | {"role": Role(kept["role"])}))


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
