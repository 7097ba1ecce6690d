"""Words for the client: a summary in three sentences, and what to expect in the first days."""

from collections.abc import Mapping

from aequitone.advice.roles import Role, is_of_colours, point_of
from aequitone.colorimetry import cast_word
from aequitone.colorimetry.cast import cast_components
from aequitone.figures import light_words
from aequitone.handover.words import adaptation_words, mean_cast
from aequitone.passes import AS_FOUND, PROOF, WATCHED, Snapshot
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import Verdict, target_named, verdict
from aequitone.wording import and_listed

_SEEN = {
    Verdict.NOT_VISIBLE: "too small to be seen",
    Verdict.SIDE_BY_SIDE: "which shows only beside a right screen",
    Verdict.VISIBLE: "which is plainly seen",
}
# Of the light before: less, or more, is noticed on the first evening.
_DIMMER, _BRIGHTER = 0.8, 1.25
# Of light, what is told of a picture beside the reference.
_SEEN_LIGHT = 0.05
# What was turned, as a client would say it, in the order of the work.
_GROUPS: tuple[tuple[str, tuple[Role, ...]], ...] = (
    ("the picture mode", (Role.PICTURE_MODE,)),
    ("light", (Role.LIGHT_OUTPUT,)),
    ("black and contrast", (Role.BLACK_LEVEL, Role.CONTRAST)),
    ("the colour of white and grey", (Role.TEMPERATURE, Role.GAIN_R, Role.GAIN_G, Role.GAIN_B)),
    ("the shadows", (Role.BIAS_R, Role.BIAS_G, Role.BIAS_B)),
    ("gamma", (Role.GAMMA,)),
    ("sharpness", (Role.SHARPNESS,)),
    ("colours", (Role.COLOUR, Role.TINT, Role.GAMUT)),
)


def before_of(snapshot: Snapshot) -> tuple[GreyPass | None, ColourPass | None, bool]:
    """The before of a job: grey, colours if any, and whether it is what the client had been watching."""
    watched = snapshot.result(WATCHED)
    if watched is not None:
        return watched.grey, watched.colours, True
    return snapshot.result(AS_FOUND), None, False


def three_sentences(snapshot: Snapshot) -> tuple[str, ...]:
    """What was found, what was done, and how it is now; the last only where it was measured."""
    before, _, is_watched = before_of(snapshot)
    proof = snapshot.result(PROOF)
    told = []
    if before is not None:
        told.append(_found(before, is_watched=is_watched))
    told.append(_done(snapshot.found_settings, snapshot.settings))
    if proof is not None:
        told.append(_now(proof))
    else:
        told.append("It was not measured again at the end, so nothing is said of the result.")
    return tuple(told)


def apart_words(snapshot: Snapshot, reference: Snapshot) -> str:
    """How a picture is another than the reference on purpose; "" where its white and light are the same."""
    proof, beside = snapshot.result(PROOF), reference.result(PROOF)
    white, standard = (target_named(each.visit.target).white for each in (snapshot, reference))
    if proof is None or beside is None or (white.x, white.y) == (standard.x, standard.y):
        return ""
    warm, green = (float(part) for part in cast_components(white.xyz(), standard.xyz()))
    share = proof.white / beside.white - 1.0 if beside.white > 0.0 else 0.0
    light = ""
    if abs(share) > _SEEN_LIGHT:
        light = f", and {abs(100.0 * share):.0f} % {'brighter' if share > 0.0 else 'darker'}"
    name = snapshot.visit.memory
    return f"{name} is on purpose not the reference: its white is {cast_word(warm, green)} beside it{light}."


def first_days(snapshot: Snapshot) -> str:
    """What to expect at first; "" where nothing will be noticed or nothing was proven."""
    before, proof = before_of(snapshot)[0], snapshot.result(PROOF)
    if before is None or proof is None:
        return ""
    told = [adaptation_words(before)]
    share = proof.white / before.white if before.white > 0.0 else 1.0
    if share < _DIMMER:
        told.append(
            f"White gives {100.0 * (1.0 - share):.0f} % less light than before. That is meant for a dim room: "
            "eyes need some minutes, and dark scenes gain by it."
        )
    elif share > _BRIGHTER:
        told.append(f"White gives {100.0 * (share - 1.0):.0f} % more light than before.")
    return " ".join(words for words in told if words)


def _found(before: GreyPass, *, is_watched: bool) -> str:
    word = mean_cast(before)
    lean = "grey was even" if word == "even" else f"grey leaned {word}"
    when = "As it had been watched" if is_watched else "As it was found"
    return f"{when}, {lean}: {_error_words(before)}, and white gave {light_words(before.white)}."


def _now(proof: GreyPass) -> str:
    word = mean_cast(proof)
    lean = "grey is even" if word == "even" else f"grey leans {word}"
    return f"Now {lean}: {_error_words(proof)}, and white gives {light_words(proof.white)}."


def _error_words(grey: GreyPass) -> str:
    """The error of grey with what it means; or that it could not be told."""
    mean = grey.mean
    if mean != mean:
        return "its error could not be told"
    return f"an error of {mean:.1f} on average, {_SEEN[verdict(mean)]}"


def _done(found: Mapping[Role, int], left: Mapping[Role, int]) -> str:
    changed = {role for role, value in found.items() if left.get(role, value) != value}
    if not changed:
        return "Nothing was turned."
    groups = [name for name, roles in _GROUPS if changed & set(roles)]
    if any(point_of(role) for role in changed):
        groups.append("single steps of grey")
    if any(is_of_colours(role) for role in changed) and "colours" not in groups:
        groups.append("colours")
    count = f"{len(changed)} settings" if len(changed) != 1 else "One setting"
    what = f": {and_listed(groups)}" if groups else ""
    return f"{count} {'were' if len(changed) != 1 else 'was'} set by measuring{what}."
