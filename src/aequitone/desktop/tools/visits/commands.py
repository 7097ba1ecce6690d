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
UNDO_CHANGE = Command("undo in the logbook", ("Ctrl+Z",), "Takes back the last change in the logbook.")
