"""What keys do at Visits alone; letters are typed there."""

from aequitone.desktop.commands import Command

OPEN = Command("open the visit", ("Enter",), while_running=False, looks=True)
RENAME = Command("rename", ("F2",))
ARCHIVE = Command("archive the client", ("Ctrl+D",))
SHOW_ARCHIVED = Command("show archived clients", ("Ctrl+H",), looks=True)
UNDO_CHANGE = Command("undo in the logbook", ("Ctrl+Z",))
