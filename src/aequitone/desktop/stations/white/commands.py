"""What keys do at White alone."""

from aequitone.desktop.commands import Command

STOP_FIGURE = Command("another ΔE to stop at", ("F",), while_running=False)
FORMULA = Command("another ΔE formula", ("C",), while_running=False)
PAIR = Command("another pair of levels", ("J",), while_running=False)
