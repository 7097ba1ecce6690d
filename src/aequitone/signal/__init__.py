"""What is sent: code values, patches and windows."""

from aequitone.signal.codes import DEPTHS, Range, code_value, signal_of
from aequitone.signal.mastering import MasteringLight
from aequitone.signal.patch import (
    BOARD_SQUARES,
    CORNER_AREA,
    Container,
    Patch,
    Shape,
    SignalFormat,
    Transfer,
    board_patch,
    colour_patch,
    corners_patch,
    grey_levels,
    grey_patch,
    ladder_step,
)
from aequitone.signal.typed import NAMED_COLOURS, patch_typed
from aequitone.signal.window import Rect, board_rects, corner_rects, window_rect

__all__ = [
    "BOARD_SQUARES",
    "CORNER_AREA",
    "DEPTHS",
    "NAMED_COLOURS",
    "Container",
    "MasteringLight",
    "Patch",
    "Range",
    "Rect",
    "Shape",
    "SignalFormat",
    "Transfer",
    "board_patch",
    "board_rects",
    "code_value",
    "colour_patch",
    "corner_rects",
    "corners_patch",
    "grey_levels",
    "grey_patch",
    "ladder_step",
    "patch_typed",
    "signal_of",
    "window_rect",
]
