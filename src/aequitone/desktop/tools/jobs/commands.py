"""What keys do at Jobs alone."""

from aequitone.desktop.commands import CHOICES, Command

WORK_ON = Command(
    "work on the job", ("Enter",), "Goes to this memory. The screen must be switched to it.", while_running=False
)
ADD_NIGHT, ADD_DAY, ADD_GAME, ADD_HDR, ADD_INPUT, COPY_SETTINGS, ADD_OWN = CHOICES[:7]
