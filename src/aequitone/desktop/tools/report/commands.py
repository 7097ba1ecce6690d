"""What keys do at Report alone; letters are typed there."""

from aequitone.desktop.commands import Command

REPORT = Command(
    "report", ("Ctrl+G",), "The letterhead, the notes of this visit, and the report's pages.", looks=True
)
KEEP = Command(
    "keep the letterhead", ("Ctrl+Enter",), "Keeps letterhead and notes, and makes the report with them."
)
NEXT_PAGE = Command("next page", ("PgDown",), "Shows the next page of the report.", looks=True)
PAGE_BEFORE = Command("page before", ("PgUp",), "Shows the page before of the report.", looks=True)
PICTURE = Command(
    "choose a picture", ("Ctrl+Shift+O",), "Takes a PNG or JPEG file as the picture of the letterhead."
)
NO_PICTURE = Command("no picture", ("Ctrl+Shift+X",), "Takes the picture off the letterhead.")
