"""What a key can do wherever it is shown: the commands that several rooms share, each with its keys.

A command has keys of its own, and a letter belongs to one command throughout the program
(tests/desktop/test_keys.py). Enter, Space, Esc, the arrows and the digits mean what stands beside them. The own
commands of a station or tool are in its folder.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class Command:
    """What a key can do; `keys`: those that it is shown with, the first being the usual one."""

    name: str
    keys: tuple[str, ...]
    tip: str = ""
    """What it does in a sentence, where the words beside the key leave that open."""
    while_running: bool = True
    """Whether it can be done while a pass has the instruments."""
    looks: bool = False
    """Whether it only looks: it can be done in a visit that another program has."""


@dataclass(frozen=True)
class KeyHint:
    """A key that works now, what it does, and whether it is the next step."""

    key: str
    words: str
    command: Command
    main: bool = False
    wide: bool = False
    """Whether its words need a row of their own."""
    choices: tuple[str, ...] = ()
    """What the key goes through, in order, where it goes through choices."""
    chosen: int = 0


def hint(command: Command, words: str, *, main: bool = False, wide: bool = False, key: str = "") -> KeyHint:
    """Make the hint of a command under its usual key, or another of its keys."""
    assert key in ("", *command.keys), f"{key} is no key of {command.name}"
    return KeyHint(key or command.keys[0], words, command, main, wide)


def choice_hint(command: Command, words: str, choices: tuple[str, ...], chosen: int) -> KeyHint:
    """Make the hint of a command that goes on to the next of some choices."""
    return KeyHint(command.keys[0], words, command, wide=True, choices=choices, chosen=chosen)


# A pass
BEGIN = Command("begin", ("Enter", "B"), "Starts the measuring of this station.", while_running=False)
GO_ON = Command(
    "go on",
    ("Enter",),
    "Goes on with the interrupted pass where it stopped; what was read is not read again.",
    while_running=False,
)
SET_ASIDE = Command(
    "set aside", ("X",), "Ends the interrupted pass here. Its readings stay in the logbook.", while_running=False
)
IMPORT = Command("import", ("Ctrl+O",), "Takes readings from a file instead of measuring.", while_running=False)
PAUSE = Command("pause", ("P",), "Waits after the present reading, until this key is pressed again.")
LEAVE = Command("leave", ("Esc",), "Stops the pass. It can be gone on with later.")
STOP = Command("stop at the bench", ("Esc",), "Stops what the Bench measures.")
TURNED = Command("turned", ("Space",), "Says that the move is made as asked. The next reading follows.")
WATCHED = Command(
    "turned while watched", ("Space",), "Says that the move is made; watching ends with a reading that counts."
)
READ = Command("read", ("R",), "Reads the present level again.")
STANDS_AT = Command(
    "it stands elsewhere",
    ("Ctrl+E",),
    "Takes the setting that a control really shows. The rest of the move is asked for from there.",
)
STOP_HERE = Command("stop here", ("S",), "Ends the adjusting with the best state that was read.")
UNDO = Command("undo", ("Z",), "Takes back the last move.")
SKIP = Command("skip", ("N",))
WATCH = Command("watch", ("V",), "Reads without a stop while a control is turned.")
WHY = Command("why", ("Q",), "Shows what the advice stands on.", looks=True)
SOUND = Command("sound", ("I",), "A tone that rises as the reading comes nearer; again to be silent.")
COLOURS = Command("measure the colours", ("F7", "Enter"), "Starts the measuring of colours.", while_running=False)
TRY_AGAIN = Command("try again", ("Enter",), "Asks the instrument once more.")
KEEP_ENTRY = Command("keep what is typed", ("Enter",), "Takes what stands in the line.")

# The window
NEXT_STATION = Command("next station", ("Enter", "G"), "Goes to the next station on the route.", looks=True)
TO_ARRIVE = Command("go to Arrive", ("Enter",), "Goes to the form of the visit.", looks=True)
NEW_VISIT = Command(
    "new visit",
    ("Ctrl+N",),
    "Leaves this visit, which is saved, for an empty form.",
    while_running=False,
    looks=True,
)
DARKEN = Command(
    "darken", ("D",), "Darkens the whole window to a few large figures; again to bring it back.", looks=True
)
TABLE = Command("table", ("T",), "Shows the figures as a table, or the picture again.", looks=True)
MOVES = Command("moves", ("H",), "Lists the moves of this station, each with what it gave.", looks=True)
COPY = Command("copy", ("Ctrl+C",), "Copies what is in view as text.", looks=True)
REMOTE = Command("remote", ("M", "Ctrl+M"), "Opens the menu of the simulated screen.")
SHOW = Command("show", ("W",), "Shows the window with the patterns.")
UP = Command("up", ("Up",), "Goes up in the list.", looks=True)
DOWN = Command("down", ("Down", "Enter"), "Goes down in the list.", looks=True)

ABOUT = Command("about", ("F1",), "The version, and the parts it is made of.", looks=True)
LOG = Command("open the log", ("F8",), "Opens the file in which errors are written.", looks=True)
BUG_REPORT = Command(
    "save a bug report",
    ("F9",),
    "Writes versions and errors into one file, without the names of clients.",
    looks=True,
)
MENU_BAR = Command("show or hide the menu bar", ("Ctrl+Shift+M",), "Shows or hides the menu bar.", looks=True)
TAKE_VISIT = Command(
    "take the visit",
    ("Enter",),
    "Asks once more for a visit that another program has.",
    while_running=False,
    looks=True,
)
"""Ask once more for a visit that another program had."""
DEMO = Command(
    "try it on a simulated screen",
    ("Ctrl+T",),
    "Enters a made-up visit to a simulated screen.",
    while_running=False,
)

# Tools beside the route
BENCH = Command("bench", ("Ctrl+B",), "Instruments: which are used, what they are asked, how they are checked.")
CONTROLS = Command("controls", ("Ctrl+K",), "Every setting of the screen, then and now.", looks=True)
JOBS = Command("jobs", ("Ctrl+J",), "The memories of this visit, each with its target.", looks=True)
NEXT_JOB = Command("next job", ("F6",), "Goes to the next memory of this visit.", while_running=False)
VISITS = Command("visits", ("Ctrl+L",), "Every client, screen and visit of the logbook.", looks=True)
CLOSE_TOOL = Command("close tool", ("Esc",), "Goes back to the route.", looks=True)

ALWAYS = (ABOUT, LOG, BUG_REPORT, MENU_BAR, JOBS, NEXT_JOB)
"""What works wherever the person is, whether it is shown or not."""

CHOICES = tuple(Command(f"choice {number}", (str(number),)) for number in range(1, 8))
"""Numbered choices of whatever is in view."""
