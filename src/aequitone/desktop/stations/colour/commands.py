"""What keys do at Colour alone."""

from aequitone.desktop.commands import Command

LENGTH = Command("short, usual or long", ("F5",), "Goes through how many colours are read.", while_running=False)
SIGNAL_LEVEL = Command(
    "level of the colours", ("F3",), "Reads the six colours at 75 or 100 % of the signal.", while_running=False
)
LIGHT = Command(
    "light counts or not", ("F4",), "Whether the light of a colour counts in its ΔE.", while_running=False
)
DIAGRAM = Command(
    "u'v' diagram", ("Ctrl+U",), "Shows the colours in the u'v' diagram, or around white again.", looks=True
)
