"""What the move panel says at Colour: before a pass, while it runs, and afterwards. No Qt."""

from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, choice_hint, hint
from aequitone.desktop.frame.key_hints import LEAVE, NEXT, VIEW_KEYS, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, DeltaFigure, PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.stations.colour.commands import DIAGRAM, LENGTH, SIGNAL_LEVEL
from aequitone.passes import Snapshot
from aequitone.planning.pace import minutes_words
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.samples import Length
from aequitone.reference import verdict

_LENGTHS = tuple(Length)
# Schools read the six at one or the other level of the signal, in %.
_LEVELS = (75.0, 100.0)
DIAGRAM_KEY = hint(DIAGRAM, "u'v' diagram")


def to_begin(snapshot: Snapshot, message: str, length: Length, readings: int, seconds: float) -> PanelState:
    """No colour was read yet."""
    before = (
        "Primaries and secondaries from pale to full, and everyday colours: a right edge can hide a bent middle. "
        "Nothing is turned."
    )
    return PanelState(
        "Your move",
        True,
        (BigLine("Measure"), BigLine("the colours")),
        f"{message} {before}".strip(),
        keys=(
            hint(commands.BEGIN, "begin", main=True),
            length_key(length),
            *level_key(snapshot),
            hint(commands.NEXT_STATION, "skip", key="G"),
            *bench_keys(snapshot),
            *VIEW_KEYS,
        ),
        outlook=f"{readings} readings, about {minutes_words(seconds)}.",
    )


def done(
    snapshot: Snapshot, told: str, found: ColourPass, length: Length, following: str, *, left: bool
) -> PanelState:
    """Colours were read; `left`: as they are left too."""
    again = "measure again" if left else "measure once more, as left"
    return PanelState(
        "Your move",
        True,
        (BigLine("Go on to"), BigLine(following)),
        told,
        delta=mean_delta(found),
        keys=(
            NEXT,
            hint(commands.BEGIN, again, key="B"),
            length_key(length),
            *level_key(snapshot),
            DIAGRAM_KEY,
            *bench_keys(snapshot),
            *VIEW_KEYS,
        ),
    )


def measuring(live: Live, seconds_left: float) -> PanelState:
    """Colours are being read."""
    return PanelState(
        "Paused" if live.paused else "Measuring",
        live.paused,
        (BigLine(live.shown),),
        live.note or "Bright and dark colours take turns, and white is read again on the way.",
        reading=live.reading,
        delta=live.delta,
        keys=(pause(paused=live.paused), LEAVE, DIAGRAM_KEY, *VIEW_KEYS),
        outlook=f"{live.done} of {live.total} readings, about {minutes_words(seconds_left)} left.",
        progress=live.done / max(1, live.total),
    )


def length_key(length: Length) -> KeyHint:
    """The key that goes through the lengths of a pass."""
    return choice_hint(LENGTH, "length", tuple(each.value for each in _LENGTHS), _LENGTHS.index(length))


def level_key(snapshot: Snapshot) -> tuple[KeyHint, ...]:
    """The key that goes to the other level of the signal that the six are read at; under PQ light is named."""
    if snapshot.hdr:
        return ()
    now = snapshot.visit.bench.colour_level
    chosen = _LEVELS.index(now) if now in _LEVELS else 0
    return (choice_hint(SIGNAL_LEVEL, "six at", tuple(f"{level:g} %" for level in _LEVELS), chosen),)


def other_level(level: float) -> float:
    """The level of the signal after this one."""
    return _LEVELS[1] if level == _LEVELS[0] else _LEVELS[0]


def next_length(length: Length) -> Length:
    """The length after this one."""
    return _LENGTHS[(_LENGTHS.index(length) + 1) % len(_LENGTHS)]


def mean_delta(found: ColourPass) -> DeltaFigure:
    """The average of what people see: of the everyday colours, or of the others where there are none."""
    everyday = bool(found.rows(everyday=True))
    mean, sd = found.mean(everyday=everyday)
    return DeltaFigure(
        f"{found.formula.short}, {'everyday colours' if everyday else 'saturations'}", mean, sd, verdict(mean)
    )
