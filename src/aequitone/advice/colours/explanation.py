"""Why a move of a colour management: which colours ask for it, what its controls do, what else was possible."""

from collections.abc import Sequence

import numpy as np

from aequitone.advice.colours.belief import Belief
from aequitone.advice.colours.planner import ColourPlanner, Seen
from aequitone.advice.moves import ControlState, Move, steps_of
from aequitone.advice.roles import COLOUR_ORDER, Role
from aequitone.colorimetry import lab_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.reference.saturations import MIXED

# So many colours and controls are named.
_NAMED = 3
# A control whose doubt is below this share of its effect has been learnt.
_LEARNT = 0.3
_NEARLY_ALL = 3.0
# From a full colour nothing can be taken that is not there.
_PALER = 0.7


def explain(
    planner: ColourPlanner,
    seen: Seen,
    belief: Belief,
    controls: Sequence[ControlState],
    move: Move,
    names: Sequence[str],
) -> str:
    """In a few sentences, for the person who asks; `names` of the colours as they are seen, white left out."""
    steps = steps_of(move, controls)
    doing, others = _doing(planner, belief, controls, steps), _else(planner, seen, belief, steps)
    return " ".join((_asking(planner, seen, names), *_white(planner, seen, belief, steps), doing, others))


def _asking(planner: ColourPlanner, seen: Seen, names: Sequence[str]) -> str:
    errors = planner.formula.unit * planner.errors(seen.linear, seen.wanted)[:-1]
    worst = np.argsort(-errors)[:_NAMED]
    delta = planner.formula.short
    return f"Furthest off: {', '.join(f'{names[i]} {delta} {errors[i]:.1f}' for i in worst)}."


def _white(planner: ColourPlanner, seen: Seen, belief: Belief, steps: Array) -> list[str]:
    """What the move does for white, where white has moved along."""
    both = np.stack([seen.linear, planner.after(seen, belief, steps)])
    unit = planner.formula.unit
    now, after = (unit * float(value) for value in planner.errors(both, seen.wanted)[:, -1])
    if now <= unit * planner.white_may or after >= now:
        return []
    return [f"White has moved along by {planner.formula.short} {now:.1f}: this brings it back to {after:.1f}."]


def _doing(planner: ColourPlanner, belief: Belief, controls: Sequence[ControlState], steps: Array) -> str:
    """What the controls that are turned most do to their own full colour, as directions."""
    best = belief.best
    size = np.abs(steps) * np.abs(best.full).max(axis=-1)
    turned = [int(i) for i in np.argsort(-size)[:_NAMED] if steps[i]]
    told = []
    for i in turned:
        control = controls[i]
        way = direction_words(planner, control.role, best.full[i] * float(np.sign(steps[i])))
        told.append(f"{control.name} {'up' if steps[i] > 0 else 'down'}: {way}")
    sure = all(float(best.doubt[i]) < _LEARNT for i in turned)
    return f"{'; '.join(told)}." + ("" if sure else " How far a step goes is not known well yet.")


def direction_words(planner: ColourPlanner, role: Role, change: Array) -> str:
    """Where a small change of linear light (3,) takes a nearly full colour: "towards yellow", "paler"."""
    matrix, white, colour = planner.target.gamut.xyz_matrix.T, planner.target.white.xyz(), role.channel
    own = _PALER * np.array(MIXED[colour]) + (1.0 - _PALER)
    lab = lab_from_xyz(np.maximum(np.stack([own, own + change]), 0.0) @ matrix, white)
    chroma, hue = np.hypot(lab[:, 1], lab[:, 2]), np.arctan2(lab[:, 2], lab[:, 1])
    turn = float((hue[1] - hue[0] + np.pi) % (2.0 * np.pi) - np.pi)
    # Chroma and hue of strong colours count for less (S_C and S_H of ISO/CIE 11664-6).
    parts = {
        "light": float(lab[1, 0] - lab[0, 0]),
        "chroma": float(chroma[1] - chroma[0]) / (1.0 + 0.045 * float(chroma[0])),
        "hue": turn * float(chroma[0]) / (1.0 + 0.015 * float(chroma[0])),
    }
    # Turned hue and chroma change light too: it is named alone only where it is nearly all there is.
    if role.amount == "lightness" or abs(parts["light"]) > _NEARLY_ALL * max(
        abs(parts["chroma"]), abs(parts["hue"])
    ):
        return "brighter" if parts["light"] > 0.0 else "darker"
    if abs(parts["hue"]) >= abs(parts["chroma"]):
        # Hue angles of Lab rise from red over yellow, green and blue, as the order of colours does.
        order = list(COLOUR_ORDER)
        return f"towards {order[(order.index(colour) + (1 if turn > 0.0 else -1)) % len(order)]}"
    return "stronger" if parts["chroma"] > 0.0 else "paler"


def _else(planner: ColourPlanner, seen: Seen, belief: Belief, steps: Array) -> str:
    """What other moves would leave, on average."""
    kinds = [("nothing", np.zeros_like(steps))]
    halves = np.trunc(steps / 2.0)
    if halves.any():
        kinds.append(("half of it", halves))
    left = [f"{name} {planner.foretold(seen, belief, each):.2f}" for name, each in kinds]
    leaves = f"{planner.formula.short} {planner.foretold(seen, belief, steps):.2f}"
    return f"Turning this leaves {leaves} on average; {', '.join(left)}."
