"""What is sent: code values, patches and windows."""

from aequitone.signal.codes import DEPTHS, Range, code_value, signal_of
from aequitone.signal.patch import Container, Patch, SignalFormat, Transfer, colour_patch, grey_levels, grey_patch
from aequitone.signal.window import Rect, window_rect

__all__ = [
    "DEPTHS",
    "Container",
    "Patch",
    "Range",
    "Rect",
    "SignalFormat",
    "Transfer",
    "code_value",
    "colour_patch",
    "grey_levels",
    "grey_patch",
    "signal_of",
    "window_rect",
]
