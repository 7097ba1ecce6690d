"""What the move panel says at Peak. No Qt."""

from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, choice_hint, hint
from aequitone.desktop.frame.key_hints import COPY, DARKEN, LEAVE, NEXT, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.prompts import go_on
from aequitone.desktop.stations.peak.commands import SCENES, UPPER_END
from aequitone.passes import Snapshot
from aequitone.passes.hdr import upper_ends
from aequitone.planning.pace import minutes_words
from aequitone.reference import PqKept, PqRolled, Target

_CAUTION = (
    "White fills up to the whole picture: in a dark room it dazzles, so do not look into it. Light output must "
    "stand at its highest, and all that dims or maps by the picture must be off."
)


def to_begin(snapshot: Snapshot, message: str, readings: int, time: str) -> PanelState:
    """Nothing was read yet."""
    return PanelState(
        "Your move",
        True,
        (BigLine("Find peak"), BigLine("and knee")),
        f"{message} {_CAUTION}".strip(),
        keys=(
            hint(commands.BEGIN, "begin", main=True),
            *bench_keys(snapshot),
            DARKEN,
            COPY,
        ),
        outlook=f"About {readings} readings, {time.lower()}",
    )


def measuring(live: Live, seconds_left: float) -> PanelState:
    """It is being read."""
    return PanelState(
        "Paused" if live.paused else "Measuring",
        live.paused,
        (BigLine(live.shown),),
        live.note,
        reading=live.reading,
        keys=(pause(paused=live.paused), LEAVE, DARKEN, COPY),
        outlook=f"{live.done} of about {live.total} readings, about {minutes_words(seconds_left)} left.",
        progress=live.done / max(1, live.total),
    )


def done(snapshot: Snapshot, told: str, following: str, *, scenes: bool) -> PanelState:
    """It was read; `scenes`: whether they are shown."""
    return go_on(
        following,
        told,
        (
            NEXT,
            hint(commands.BEGIN, "measure again", key="B"),
            hint(SCENES, "the curve" if scenes else "scenes"),
            *bench_keys(snapshot),
            DARKEN,
            COPY,
            end_choice(snapshot),
        ),
    )


def end_choice(snapshot: Snapshot) -> KeyHint:
    """The key that goes through the upper ends that grey can be held to."""
    ends = upper_ends(snapshot)
    names = tuple(_end_words(end) for end in ends)
    return choice_hint(UPPER_END, "upper end", names, _standing(ends, snapshot.visit.target))


def next_end(snapshot: Snapshot) -> str:
    """The name of the target with the upper end after the present one."""
    ends = upper_ends(snapshot)
    return ends[(_standing(ends, snapshot.visit.target) + 1) % len(ends)].name


def _standing(ends: tuple[Target, ...], name: str) -> int:
    return next((i for i, end in enumerate(ends) if end.name == name), len(ends) - 1)


def _end_words(target: Target) -> str:
    match target.tone:
        case PqRolled(mastering):
            return f"{mastering:.0f}"
        case PqKept():
            return "its own"
    return "cut"
