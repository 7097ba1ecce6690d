"""What keys do at Hand over alone."""

from aequitone.desktop.commands import CHOICES, Command

ON_AGAIN, LEAVE_OFF, CLIENT_CHOICE, TRY_IT = CHOICES[:4]
# Once nothing is to be settled: one for each kind of file, in the order of handover.exports.
EXPORT = CHOICES[:6]
MAKE_REPORT = Command("make the report", ("Enter",), "Writes the report as a PDF.")
OPEN_REPORT = Command("open the report", ("O",), "Opens the report that was written.")
CLOSE_VISIT = Command(
    "close the visit",
    ("Ctrl+Enter",),
    "Closes the visit. It can still be looked at, and the settings put back.",
    while_running=False,
)
