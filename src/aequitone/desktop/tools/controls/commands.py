"""What keys do at Controls alone."""

from aequitone.desktop.commands import CHOICES, Command

REACH, SIGNALS, COPIED, ONLY_CHANGED = CHOICES[:4]
TRY_LAST, TAKE_OVER = CHOICES[4:6]
EARLIER, LATER = (
    Command("earlier moment", ("Left",), "Shows the settings a moment earlier.", looks=True),
    Command("later moment", ("Right",), "Shows the settings a moment later.", looks=True),
)
OTHER_EARLIER = Command(
    "compare with an earlier moment", ("Ctrl+Left",), "Compares with a moment further back.", looks=True
)
OTHER_LATER = Command("compare with a later moment", ("Ctrl+Right",), "Compares with a later moment.", looks=True)
PUT_BACK_ONE = Command(
    "put one setting back",
    ("Ctrl+Enter",),
    "Asks for the control in view to be put back as it was at the earlier moment; the others stay.",
    while_running=False,
)
PUT_BACK_ALL = Command(
    "put every setting back",
    ("Enter",),
    "Asks for every setting to be put back as it was at the moment in view.",
    while_running=False,
)
