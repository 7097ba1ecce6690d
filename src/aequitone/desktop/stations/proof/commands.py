"""What keys do at Proof alone."""

from aequitone.desktop.commands import Command

LOOK_AGAIN = Command("look once more", ("F12",), while_running=False)
