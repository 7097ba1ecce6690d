"""What was found and done, in words for the client."""

from math import hypot

import numpy as np

from aequitone.advice.roles import COLOUR_ORDER, Role, is_of_colours, is_one_of_many, point_of
from aequitone.advice.technology import technology_of
from aequitone.colorimetry import cast_word
from aequitone.figures import ratio_words
from aequitone.logbook.records import Connection, ControlRecord
from aequitone.passes import LAST_LOOK, LEVELS, PROOF, Snapshot, unlooked, white_state
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import TONES, Power, PqKept, PqRolled, Target, Verdict, verdict

# Gammas further apart than this are two settings of a screen, not one unit's wandering.
_TONE_APART = 0.09
_SEEN = {
    Verdict.NOT_VISIBLE: "an error that cannot be seen",
    Verdict.SIDE_BY_SIDE: "an error that shows only beside a right screen",
    Verdict.VISIBLE: "an error that is plainly visible",
}


def found_words(found: GreyPass, target: Target) -> str:
    """A grey pass in three sentences; in a fourth what of the signal lies beyond the screen, where some does."""
    mean, (percent, worst) = found.mean, found.worst
    word = mean_cast(found)
    lean = "Grey is even" if word == "even" else f"Grey leans {word}"
    if np.isnan(worst):
        return f"{lean}. {reach_words(target, found.white)}".rstrip()
    told = (
        f"{lean}: {found.formula} is {mean:.1f} on average, less the meter's noise: {_SEEN[verdict(mean)]}. "
        f"At its worst, at {percent:g} % grey, it is {worst:.1f}. "
        f"White gives {found.white:.0f} cd/m², black {found.black:.3f} cd/m²{_contrast(found)}."
    )
    return f"{told} {reach_words(target, found.white)}".rstrip()


def reach_words(target: Target, white: float) -> str:
    """From which signal on a screen of this white, cd/m², cannot give what is meant; "" where it can."""
    reach = target.reach(white)
    if reach >= 100.0:
        return ""
    how = "is cut off"
    if isinstance(target.tone, PqRolled):
        how = "is rolled off"
    elif isinstance(target.tone, PqKept):
        how = "rolls off as it does by itself"
    return (
        f"Above {reach:.0f} % the signal means more light than the screen has: there it {how}, which is no error "
        "of the screen."
    )


def measured_words(snapshot: Snapshot) -> str:
    """With what and how it was measured, in a sentence or two."""
    bench = snapshot.visit.bench
    meter = {Connection.BY_HAND: "a meter read by hand", Connection.STANDIN: "a simulated meter"}.get(
        bench.meter, "a meter on its line"
    )
    mode = f" set to {technology_of(bench.meter_mode).words or bench.meter_mode}" if bench.meter_mode else ""
    told = f"Measured with {meter}{mode}, {bench.format.label}."
    if snapshot.correction is not None:
        made = snapshot.correction
        told += (
            f" The meter was corrected by {made.reference} ({made.method}, {made.made:%d %B %Y}), which leaves "
            f"up to {made.fit_uv:.4f} in u'v'."
        )
    if bench.refresh_every:
        told += f" Refresh fields every {bench.refresh_every:g} s kept the panel from dimming."
    files = {str(p.bench.get("file")) for p in snapshot.passes if p.bench.get("meter") == "file"}
    if files:
        told += f" Taken from {', '.join(sorted(files))}, not measured here."
    return told


def tone_words(found: GreyPass, *, preset: bool) -> str:
    """Advice where the tone found is another than the target's, "" where it is not; `preset`: for gamma."""
    percents = np.asarray(found.percents)
    inside = (percents >= 30.0) & (percents <= 90.0)
    signal = np.log(percents[inside] / 100.0)
    seen, wanted = (
        float(np.polyfit(signal, np.log(np.maximum(xyz[inside, 1], 1e-6)), 1)[0])
        for xyz in (found.xyz, found.errors.target)
    )
    if abs(seen - wanted) < _TONE_APART:
        return ""
    told = f"From 30 to 90 % the tone is gamma {seen:.2f} where the target asks for {wanted:.2f}. "
    if preset:
        return f"{told}Choose the nearer gamma setting at Prepare before White, which cannot bend a tone."
    nearest = min((tone for tone in TONES.values() if isinstance(tone, Power)), key=lambda t: abs(t.gamma - seen))
    return f"{told}No gamma setting is noted: a target of {nearest.label} lies nearer, and is chosen at Arrive."


def compared_words(before: GreyPass, after: GreyPass) -> str:
    """What the work brought, with the repeatability that the claim rests on."""
    first, second = before.mean, after.mean
    spread, name = hypot(before.mean_sd, after.mean_sd), after.formula
    if abs(second - first) <= 2.0 * spread:
        return f"Average {name} went from {first:.1f} to {second:.1f}, which is no change that the meter can tell."
    better = "fell" if second < first else "rose"
    return f"Average {name} {better} from {first:.1f} to {second:.1f} (± {spread:.2f})."


def last_look_words(snapshot: Snapshot) -> str:
    """What a last look at a finished job said, where it came after its proof; "" where there was none."""
    look, proof = snapshot.latest_done(LAST_LOOK), snapshot.latest_done(PROOF)
    if look is None or proof is None or look.id < proof.id:
        return ""
    return snapshot.words(LAST_LOOK)


def unlooked_words(snapshot: Snapshot) -> str:
    """Which finished jobs another signal's work may have changed since; "" for none."""
    names = unlooked(snapshot)
    if not names:
        return ""
    were = "was" if len(names) == 1 else "were"
    which = f"{'; '.join(names)} {were} not looked at again"
    return f"{which} since a memory of another signal was set, which can change it."


def done_words(snapshot: Snapshot) -> str:
    """What was turned."""
    state = white_state(snapshot)
    found, left = snapshot.found_settings, snapshot.settings
    changed = [c for c in snapshot.controls if c.role in found and found[c.role] != left[c.role]]
    plain = [c for c in changed if not is_one_of_many(c.role)]
    told = [f"{c.name} from {shown(c, found)} to {shown(c, left)}" for c in plain]
    levels = sorted({point[1] for c in changed if (point := point_of(c.role))})
    if levels:
        told.append(f"multi-point at {', '.join(str(level) for level in levels)} %")
    of_colours = {c.role.channel for c in changed if is_of_colours(c.role)}
    if of_colours:
        told.append(f"colour management of {', '.join(name for name in COLOUR_ORDER if name in of_colours)}")
    turned = ", ".join(told)
    if state is None or not state.trips:
        return f"Turned: {turned}." if turned else "Nothing was turned."
    trips = len(state.trips)
    how = f"{trips} trip{'s' if trips != 1 else ''} to the menu"
    if not turned:
        return f"After {how}, every control stands where it was found."
    at = f"{state.percents[1]:g} % and {state.percents[2]:g} %"
    first = "Levels were set by meter. " if snapshot.done(LEVELS) else ""
    return f"{first}Grey was brought to the white point at {at} in {how}. Turned: {turned}."


def owed_words(snapshot: Snapshot) -> str:
    """What was switched off for measuring, and what became of it; "" where nothing was."""
    if not snapshot.debts:
        return ""
    told = ", ".join(
        f"{debt.name} ({debt.answer.value if debt.answer else 'not answered'})" for debt in snapshot.debts
    )
    return f"Switched off for measuring: {told}."


def settings_rows(snapshot: Snapshot) -> list[tuple[str, str, str]]:
    """Each control in the screen's own word: name, as found, as left; of those that are many, what was turned."""
    found, left = snapshot.found_settings, snapshot.settings
    return [
        (control.name, shown(control, found), shown(control, left))
        for control in snapshot.controls
        if not is_one_of_many(control.role) or found.get(control.role) != left.get(control.role)
    ]


def shown(control: ControlRecord, settings: dict[Role, int]) -> str:
    """A control's setting in the screen's own words."""
    return control.shown(settings.get(control.role))


def adaptation_words(before: GreyPass) -> str:
    """What to tell a client who was used to blue; "" where it does not apply."""
    if "cool" not in mean_cast(before):
        return ""
    return (
        "The picture may look yellowish for a day or two. It is not: blue, white and yellow lie on one line, "
        "and eyes that were used to a blue white need that long to settle."
    )


def mean_cast(found: GreyPass) -> str:
    """Where grey leans on average, black left out."""
    warm, green = (float(value) for value in np.nan_to_num(found.errors.cast[:-1]).mean(axis=0))
    return cast_word(warm, green)


def _contrast(found: GreyPass) -> str:
    if not found.black:
        return ", too little for the meter to tell from none"
    return f", a contrast of {ratio_words(found.white / found.black)}"
