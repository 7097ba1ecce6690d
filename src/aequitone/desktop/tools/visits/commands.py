"""What keys do at Visits alone; letters are typed there."""

from aequitone.desktop.commands import Command

OPEN = Command("open the visit", ("Enter",), "Opens the visit that is chosen.", while_running=False, looks=True)
RENAME = Command("rename", ("F2",), "Renames the client; once more for the next name of the visit.")
ARCHIVE = Command(
    "archive the client", ("Ctrl+D",), "Takes the client off the list, or puts it back; nothing is deleted."
)
SHOW_ARCHIVED = Command(
    "show archived clients", ("Ctrl+H",), "Shows or hides the clients that are archived.", looks=True
)
DUE = Command(
    "who is due",
    ("Ctrl+Shift+D",),
    "Lists every screen by when to come again; once more for all visits.",
    looks=True,
)
KEEP_CONTROLS = Command("keep these controls", ("Ctrl+Shift+K",), "Takes the visit in with the controls as here.")
TAKE_CONTROLS = Command("take those controls", ("Ctrl+Shift+T",), "Takes the visit in, and its controls with it.")
UNDO_CHANGE = Command("undo in the logbook", ("Ctrl+Z",), "Takes back the last change in the logbook.")
