"""What keys do at Hand over alone."""

from aequitone.desktop.commands import CHOICES, Command

ON_AGAIN, LEAVE_OFF, CLIENT_CHOICE = CHOICES[:3]
MAKE_REPORT = Command("make the report", ("Enter",))
OPEN_REPORT = Command("open the report", ("O",))
CLOSE_VISIT = Command("close the visit", ("Ctrl+Enter",), while_running=False)
