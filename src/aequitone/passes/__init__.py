"""The kinds of pass, and how one is planned, carried out and understood again.

A new kind is a module of its own and its name in PASSES.
"""

from typing import Any

from aequitone.passes.base import NotNotedError, NotReadyError, PassType
from aequitone.passes.carrying_out import (
    FROM_FILE,
    SET_ASIDE_BY_PERSON,
    PreparedPass,
    begin,
    begin_planned,
    carry_out,
    enter_whole,
    go_on,
    go_on_or_begin,
)
from aequitone.passes.colour_management import MANAGEMENT, has_management, management_plan
from aequitone.passes.colours import COLOURS_FOUND, COLOURS_LEFT, colour_plan
from aequitone.passes.comparing.copying import CopySheet, copy_sheets
from aequitone.passes.comparing.features import TRIED, begin_try, tried_words
from aequitone.passes.comparing.last_look import LAST_LOOK, unlooked
from aequitone.passes.comparing.verify import VERIFY, begin_verify, verified, verify_plan
from aequitone.passes.comparing.watched import WATCHED
from aequitone.passes.comparing.what_if import WHAT_IF, begin_what_if
from aequitone.passes.grey import AS_FOUND, PROOF, grey_plan
from aequitone.passes.hdr import PEAK, shoulder_of
from aequitone.passes.kept import KeptError, from_json, to_json
from aequitone.passes.levels import LEVELS
from aequitone.passes.preparation import ROOM, UNIFORMITY, WARM_UP
from aequitone.passes.presets import GAMMA, GAMUT, MODE, TEMPERATURE
from aequitone.passes.restore import COPIED, PUT_BACK, begin_copy, begin_put_back
from aequitone.passes.snapshot import Outcome, Snapshot, load_as_given, load_snapshot
from aequitone.passes.tone import TONE
from aequitone.passes.white import WHITE, light_now, white_state

PASSES: tuple[PassType[Any, Any], ...] = (
    WATCHED,
    WARM_UP,
    ROOM,
    MODE,
    TEMPERATURE,
    GAMMA,
    GAMUT,
    AS_FOUND,
    COLOURS_FOUND,
    PEAK,
    LEVELS,
    UNIFORMITY,
    WHITE,
    TONE,
    MANAGEMENT,
    COLOURS_LEFT,
    PROOF,
    LAST_LOOK,
    VERIFY,
    TRIED,
    WHAT_IF,
    PUT_BACK,
    COPIED,
)
"""Every kind of pass, in the order of a whole visit."""


def pass_type(key: str) -> PassType[Any, Any]:
    """The kind of pass that the logbook has under a key; KeyError where this version has none."""
    return next((kind for kind in PASSES if kind.key == key), None) or _unknown(key)


def _unknown(key: str) -> PassType[Any, Any]:
    raise KeyError(f"this version has no pass “{key}”")


__all__ = [
    "AS_FOUND",
    "COLOURS_FOUND",
    "COLOURS_LEFT",
    "COPIED",
    "FROM_FILE",
    "GAMMA",
    "GAMUT",
    "LAST_LOOK",
    "LEVELS",
    "MANAGEMENT",
    "MODE",
    "PASSES",
    "PEAK",
    "PROOF",
    "PUT_BACK",
    "ROOM",
    "SET_ASIDE_BY_PERSON",
    "TEMPERATURE",
    "TONE",
    "TRIED",
    "UNIFORMITY",
    "VERIFY",
    "WARM_UP",
    "WATCHED",
    "WHAT_IF",
    "WHITE",
    "CopySheet",
    "KeptError",
    "NotNotedError",
    "NotReadyError",
    "Outcome",
    "PassType",
    "PreparedPass",
    "Snapshot",
    "begin",
    "begin_copy",
    "begin_planned",
    "begin_put_back",
    "begin_try",
    "begin_verify",
    "begin_what_if",
    "carry_out",
    "colour_plan",
    "copy_sheets",
    "enter_whole",
    "from_json",
    "go_on",
    "go_on_or_begin",
    "grey_plan",
    "has_management",
    "light_now",
    "load_as_given",
    "load_snapshot",
    "management_plan",
    "pass_type",
    "shoulder_of",
    "to_json",
    "tried_words",
    "unlooked",
    "verified",
    "verify_plan",
    "white_state",
]
