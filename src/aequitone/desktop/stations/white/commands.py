"""What keys do at White alone."""

from aequitone.desktop.commands import Command

STOP_FIGURE = Command(
    "another ΔE to stop at", ("F",), "Goes through the ΔE at which adjusting ends.", while_running=False
)
FORMULA = Command(
    "another ΔE formula", ("C",), "Goes through the ΔE formulas that grey is judged by.", while_running=False
)
PAIR = Command(
    "another pair of levels",
    ("J",),
    "Goes through the bright and the dark level that gains and biases are set at.",
    while_running=False,
)
