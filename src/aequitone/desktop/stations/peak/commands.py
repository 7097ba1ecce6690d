"""What keys do at Peak alone."""

from aequitone.desktop.commands import Command

UPPER_END = Command("another upper end", ("F11",), while_running=False)
SCENES = Command("scenes", ("F10",), looks=True)
