"""What keys do at Proof alone."""

from aequitone.desktop.commands import Command

LOOK_AGAIN = Command(
    "look once more",
    ("F12",),
    "Reads a handful of patches of the finished memories, to see whether anything moved.",
    while_running=False,
)
