"""What keys do at Colour alone."""

from aequitone.desktop.commands import Command

LENGTH = Command("short, usual or long", ("F5",), while_running=False)
SIGNAL_LEVEL = Command("level of the colours", ("F3",), while_running=False)
LIGHT = Command("light counts or not", ("F4",), while_running=False)
DIAGRAM = Command("u'v' diagram", ("Ctrl+U",), looks=True)
