"""What keys do at Arrive alone; letters are typed there."""

from aequitone.desktop.commands import Command

SAVE = Command("save the visit", ("Ctrl+Enter",), "Saves what is entered and goes on.", while_running=False)
FILL = Command(
    "fill in from the stand-in",
    ("Ctrl+R",),
    "Enters the names and controls of the simulated screen.",
    while_running=False,
)
SAVE_AND_WATCH = Command(
    "save, and measure as watched",
    ("Ctrl+Shift+Enter",),
    "Saves, and measures the picture as the client has been watching it: a minute, nothing is turned.",
    while_running=False,
)
