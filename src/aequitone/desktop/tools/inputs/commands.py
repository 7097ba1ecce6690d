"""What keys do at Inputs alone."""

from aequitone.desktop.commands import CHOICES, Command

INPUTS = Command(
    "inputs", ("Ctrl+I",), "Memories of other inputs: what is to be entered there, and a look at each."
)
TICK = Command(
    "entered", ("Space",), "Says that the setting stands so in the other memory; again to take it back.",
    while_running=False,
)  # fmt: skip
LOOK = Command(
    "look at this input",
    ("Enter",),
    "Reads nine patches through the device on this input, and compares them with the finished job.",
    while_running=False,
)
OTHER_INPUT = Command("next input", ("Right",), "Goes to the next memory on the list.", looks=True)
INPUT_BEFORE = Command("input before", ("Left",), "Goes to the memory before on the list.", looks=True)
ADD, APPLIED, BY_PLAYER, REMOVE = CHOICES[:4]
