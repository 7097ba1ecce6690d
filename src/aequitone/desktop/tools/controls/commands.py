"""What keys do at Controls alone."""

from aequitone.desktop.commands import CHOICES, Command

REACH, SIGNALS, COPIED, ONLY_CHANGED = CHOICES[:4]
EARLIER, LATER = Command("earlier moment", ("Left",), looks=True), Command("later moment", ("Right",), looks=True)
OTHER_EARLIER = Command("compare with an earlier moment", ("Ctrl+Left",), looks=True)
OTHER_LATER = Command("compare with a later moment", ("Ctrl+Right",), looks=True)
PUT_BACK_ALL = Command("put every setting back", ("Enter",), while_running=False)
