"""What keys do at Levels alone."""

from aequitone.desktop.commands import Command

LIGHT = Command("another light output", ("Y",), "Goes through the wanted luminance of white.", while_running=False)
TYPE_LIGHT = Command(
    "type the light output", ("Shift+Y",), "Takes the wanted luminance of white as typed.", while_running=False
)
MEASURE_UNIFORMITY = Command(
    "measure uniformity", ("U",), "Reads grey at nine places of the screen.", while_running=False
)
BY_EYE = Command(
    "by eye", ("E",), "Sets black and white clipping with a pattern and your eyes.", while_running=False
)
EYE_TURNED = Command("turned by eye", ("Space",), "Says that the control is turned.", while_running=False)
LEAVE_EYE = Command("leave by eye", ("Esc",), "Leaves the settings by eye as they are.")
BLINK = Command("moving picture", ("K",), "Shows the test picture moving, or still.")
