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
BEGIN = Command("begin", ("Enter", "B"), while_running=False)
GO_ON = Command("go on", ("Enter",), while_running=False)
SET_ASIDE = Command("set aside", ("X",), while_running=False)
IMPORT = Command("import", ("Ctrl+O",), while_running=False)
PAUSE = Command("pause", ("P",))
LEAVE = Command("leave", ("Esc",))
STOP = Command("stop at the bench", ("Esc",))
TURNED = Command("turned", ("Space",))
WATCHED = Command("turned while watched", ("Space",))
READ = Command("read", ("R",))
STANDS_AT = Command("it stands elsewhere", ("Ctrl+E",))
STOP_HERE = Command("stop here", ("S",))
UNDO = Command("undo", ("Z",))
SKIP = Command("skip", ("N",))
WATCH = Command("watch", ("V",))
WHY = Command("why", ("Q",), looks=True)
SOUND = Command("sound", ("I",))
COLOURS = Command("measure the colours", ("F7", "Enter"), while_running=False)
TRY_AGAIN = Command("try again", ("Enter",))
KEEP_ENTRY = Command("keep what is typed", ("Enter",))

# The window
NEXT_STATION = Command("next station", ("Enter", "G"), looks=True)
TO_ARRIVE = Command("go to Arrive", ("Enter",), looks=True)
NEW_VISIT = Command("new visit", ("Ctrl+N",), while_running=False, looks=True)
DARKEN = Command("darken", ("D",), looks=True)
TABLE = Command("table", ("T",), looks=True)
MOVES = Command("moves", ("H",), looks=True)
COPY = Command("copy", ("Ctrl+C",), looks=True)
REMOTE = Command("remote", ("M", "Ctrl+M"))
SHOW = Command("show", ("W",))
UP = Command("up", ("Up",), looks=True)
DOWN = Command("down", ("Down", "Enter"), looks=True)

ABOUT = Command("about", ("F1",), looks=True)
LOG = Command("open the log", ("F8",), looks=True)
BUG_REPORT = Command("save a bug report", ("F9",), looks=True)
TAKE_VISIT = Command("take the visit", ("Enter",), while_running=False, looks=True)
"""Ask once more for a visit that another program had."""
DEMO = Command("try it on a simulated screen", ("Ctrl+T",), while_running=False)

# Tools beside the route
BENCH = Command("bench", ("Ctrl+B",))
CONTROLS = Command("controls", ("Ctrl+K",), looks=True)
JOBS = Command("jobs", ("Ctrl+J",), looks=True)
NEXT_JOB = Command("next job", ("F6",), while_running=False)
VISITS = Command("visits", ("Ctrl+L",), looks=True)
CLOSE_TOOL = Command("close tool", ("Esc",), looks=True)

ALWAYS = (ABOUT, LOG, BUG_REPORT, JOBS, NEXT_JOB)
"""What works wherever the person is, whether it is shown or not."""

CHOICES = tuple(Command(f"choice {number}", (str(number),)) for number in range(1, 7))
"""Numbered choices of whatever is in view."""
