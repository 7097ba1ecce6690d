"""What the move panel says at Arrive; no Qt."""

from aequitone.desktop import commands
from aequitone.desktop.commands import hint
from aequitone.desktop.frame.key_hints import BENCH, CONTROLS, JOBS, VISITS
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.stations.arrive.commands import FILL, SAVE, SAVE_AND_WATCH
from aequitone.desktop.stations.arrive.form import Draft, missing_for_white
from aequitone.logbook.records import Connection
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import other_blacks, target_named
from aequitone.wording import and_listed

# Where what is made of black matters and an eye still sees it.
_DARK_PERCENT = 5.0


def arrive(
    draft: Draft, message: str, found: GreyPass | None, strayed: str, *, begun: bool, empty: bool, as_it_was: bool
) -> PanelState:
    """At the form; `begun`: it is that of a visit, `empty`: the logbook has no visit yet.

    `as_it_was`: the picture still is as the client watched it, and a meter can read it.
    `strayed`: what stands elsewhere than the last visit left it, in words.
    """
    missing = missing_for_white(draft)
    if message:
        sentence = message
    elif missing:
        sentence = (
            f"Write down every control as found, before anything is turned. White will need {and_listed(missing)}."
        )
    else:
        sentence = "Everything that White needs is entered. Ranges and steps are checked when you save."
    if not message:
        sentence = " ".join(words for words in (sentence, strayed, _black_words(draft, found)) if words)
    keys = [hint(SAVE, "save the visit", main=True)]
    if as_it_was:
        keys.append(hint(SAVE_AND_WATCH, "save, and measure it as watched", wide=True))
    if draft.bench.simulated:
        keys.append(hint(FILL, "fill from stand-in"))
    if draft.bench.simulated and draft.bench.link is not Connection.STANDIN:
        keys.append(hint(commands.REMOTE, "menu of the stand-in", key="Ctrl+M"))
    if begun:
        keys += [hint(commands.NEW_VISIT, "another visit"), CONTROLS, JOBS]
    if empty:
        keys.append(hint(commands.DEMO, "try a simulated visit"))
    keys += [VISITS, BENCH]
    return PanelState(
        "Your move",
        True,
        (BigLine("Enter the visit"),),
        sentence,
        keys=tuple(keys),
        outlook="Tab goes from field to field, Enter from row to row. Ctrl+F fills a column down.",
    )


def _black_words(draft: Draft, found: GreyPass | None) -> str:
    """What the target's other ways to treat black would ask for on this screen; "" before it was measured."""
    if found is None:
        return ""
    try:
        target = target_named(draft.target)
    except ValueError:
        # It is checked with the form.
        return ""
    return other_blacks(target, _DARK_PERCENT, found.white, found.black)
