"""What keys do at Arrive alone; letters are typed there."""

from aequitone.desktop.commands import Command

SAVE = Command("save the visit", ("Ctrl+Enter",), while_running=False)
FILL = Command("fill in from the stand-in", ("Ctrl+R",), while_running=False)
