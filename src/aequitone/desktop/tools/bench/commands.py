"""What keys do at the Bench alone."""

from aequitone.desktop.commands import CHOICES, Command

WATCH_WARM_UP, MEASURE_DELAY, FIND_REFRESH, CORRECT, CHECK_MODE, MATCH_WHITE = CHOICES[:6]
CHOOSE_PATCH = Command("choose what is read", ("Ctrl+P",), "Chooses the patch that is read.", while_running=False)
ADD_INSTRUMENT = Command(
    "add an instrument", ("A",), "Takes the address of an instrument that was not found by itself."
)
