"""What keys do at Levels alone."""

from aequitone.desktop.commands import Command

LIGHT = Command("another light output", ("Y",), while_running=False)
MEASURE_UNIFORMITY = Command("measure uniformity", ("U",), while_running=False)
BY_EYE = Command("by eye", ("E",), while_running=False)
EYE_TURNED = Command("turned by eye", ("Space",), while_running=False)
LEAVE_EYE = Command("leave by eye", ("Esc",))
BLINK = Command("moving picture", ("K",))
