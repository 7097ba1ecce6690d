"""Controls on their ranges, as the move panel draws them; no Qt."""

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import channel_of
from aequitone.desktop.frame.panel_state import SliderState


def control_sliders(controls: tuple[ControlState, ...], move: Move | None) -> tuple[SliderState, ...]:
    """The controls, and where the move wants them."""
    to = {change.role: change.to_value for change in move.changes} if move else {}
    return tuple(
        SliderState(channel_of(c.role) or "", c.name, c.lowest, c.highest, c.value, to.get(c.role))
        for c in controls
    )
