"""What keys do at Colour alone."""

from aequitone.desktop.commands import Command

LENGTH = Command("short, usual or long", ("F5",), while_running=False)
