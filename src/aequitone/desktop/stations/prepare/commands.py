"""What keys do at Prepare alone."""

from aequitone.desktop.commands import Command

DONE = Command("line done", ("Enter", "Ctrl+Enter"), "Ticks the line and goes to the next.", while_running=False)
LEAVE_AS_IS = Command(
    "leave the line as it is",
    ("L", "Enter"),
    "Notes that this is left as it is, and goes to the next line.",
    while_running=False,
)
