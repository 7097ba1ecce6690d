"""What keys do at Prepare alone."""

from aequitone.desktop.commands import Command

DONE = Command("line done", ("Enter", "Ctrl+Enter"), while_running=False)
LEAVE_AS_IS = Command("leave the line as it is", ("L", "Enter"), while_running=False)
