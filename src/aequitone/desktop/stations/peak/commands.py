"""What keys do at Peak alone."""

from aequitone.desktop.commands import Command

UPPER_END = Command(
    "another upper end",
    ("F11",),
    "Goes through the ways a target ends at the peak of the screen.",
    while_running=False,
)
SCENES = Command("scenes", ("F10",), "Shows three made-up scenes as this screen would show them.", looks=True)
