"""What is sent: code values, patches and windows."""

from aequitone.signal.codes import Range, code_value, signal_of
from aequitone.signal.patch import Patch, SignalFormat, grey_levels, grey_patch
from aequitone.signal.window import Rect, window_rect

__all__ = [
    "Patch",
    "Range",
    "Rect",
    "SignalFormat",
    "code_value",
    "grey_levels",
    "grey_patch",
    "signal_of",
    "window_rect",
]
