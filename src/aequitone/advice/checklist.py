"""The checklist of Prepare: made for this screen, this bench and this signal, in the order of the work."""

from collections.abc import Collection
from dataclasses import dataclass
from enum import Enum

from aequitone.advice.roles import FEATURES, ROLE_WORDS, Role
from aequitone.advice.technology import DIMMING, Technology
from aequitone.advice.templates import kind_of


class Way(Enum):
    """How a line is done."""

    LOOK = "look"
    """A person looks, and says that it is so."""
    MEASURE = "measure"
    """A reading says it."""
    SWITCH = "switch"
    """A control is switched off, and owed."""
    RESET = "reset"
    """The memory goes back to the factory's settings."""


@dataclass(frozen=True)
class ChecklistLine:
    """One line of the checklist."""

    key: str
    title: str
    why: str
    how: str
    way: Way = Way.LOOK
    picture: str = ""
    """The key of the test picture to look at."""
    role: Role | None = None
    """What is switched off."""
    caution: str = ""


WARM_UP, CLOCK, ROOM, CHOICE = "warm-up", "clock", "room", "choice"
GAMMA, GAMUT, MODE, RESET = "gamma", "gamut", "mode", "reset"
WATCHED = "watched"

_OFF_WHY = {
    Role.DYNAMIC_CONTRAST: "It changes the light with every picture, so that no two readings belong together.",
    Role.ENERGY_SAVING: "It lowers and raises the light by itself.",
    Role.AMBIENT_SENSOR: "It follows the room: your own shadow would be measured.",
    Role.ZONE_DIMMING: "It lifts or sinks small patches; grey is set without it.",
    Role.DYNAMIC_IRIS: "It opens and shuts with the picture.",
    Role.BLACK_STRETCH: "It bends the dark greys, by the picture.",
    Role.LOGO_DIMMING: "It takes a patch that stands still for a logo, and dims it.",
    Role.TONE_MAPPING: "It makes a tone curve of its own for every picture.",
    Role.NOISE_REDUCTION: "It smears fine detail that the source has.",
    Role.EDGE_ENHANCEMENT: "It draws rings around lines.",
    Role.SUPER_RESOLUTION: "It invents detail, and rings with it.",
    Role.MOTION: "It can shift colour, so it is set before grey. Films: off; sports: a taste.",
}
_MUST_RETURN = (Role.LOGO_DIMMING,)


def checklist(
    technology: Technology,
    menu: Collection[Role],
    *,
    contact: bool = True,
    metered: bool = True,
    hdr: bool = False,
    watched: bool = False,
) -> tuple[ChecklistLine, ...]:
    """The lines for a screen whose menu has these roles.

    `metered`: a meter reads without being typed in; `hdr`: PQ or HLG is sent; `watched`: the memory is the
    one that the client has been watching.
    """
    projector = kind_of(technology) == "projector"
    tube = technology is Technology.TUBE
    lines = [_cautions(technology, projector=projector, tube=tube)]
    if watched and metered:
        # Before anything else: whatever is put right first is not what was watched.
        lines.append(_watched())
    lines += [_firmware(), _source()]
    if hdr:
        lines += [_bandwidth(), _hdr_mode()]
    lines.append(_range())
    if projector:
        lines += [_placing(), _focus()]
    lines += [_geometry(tube=tube)]
    lines += [_meter(technology, projector=projector, tube=tube, contact=contact)]
    # A cold screen is another screen: presets are compared when it is warm.
    lines += [_warm_up(), _room()] if metered else [_clock(), _dark()]
    if Role.PICTURE_MODE in menu:
        lines.append(_mode(metered=metered))
    # Of the memory that is worked in, so it is chosen first: another brings what acts by itself along again.
    lines.append(_reset())
    lines += [_off(role) for role in FEATURES if role in menu]
    if hdr and Role.LIGHT_OUTPUT in menu:
        lines.append(_full_light())
    if Role.KEYSTONE in menu:
        lines.append(_keystone())
    lines += [_choice(metered=metered)]
    if metered and not hdr and Role.GAMMA in menu:
        lines.append(_gamma())
    if metered and not hdr and Role.GAMUT in menu:
        lines.append(_gamut())
    return tuple(lines)


def usual_answer(role: Role) -> str:
    """What usually becomes of a feature in the end, for the person to decide by."""
    if role in _MUST_RETURN:
        return "It protects the panel: on again."
    if role in (Role.ZONE_DIMMING, Role.DYNAMIC_IRIS, Role.TONE_MAPPING):
        return "Try it on real scenes: a plus or a minus? On again, or the client's choice."
    if role == Role.MOTION:
        return "The client's choice."
    return "Usually left off."


def _cautions(technology: Technology, *, projector: bool, tube: bool) -> ChecklistLine:
    told = "Two people lift a big panel; a ceiling mount and a ladder are an installer's work."
    if projector:
        told = (
            "Never look into the lens. Lasers and lamps are hot and bright; a broken mercury lamp is toxic: "
            "let it cool. A ceiling mount and a ladder are an installer's work."
        )
    elif tube:
        told = (
            "A tube set holds dangerous voltage long after it is unplugged: everything beyond the menu and the "
            "front knobs belongs to a qualified technician. A service menu can ruin a set. Magnets, such as "
            "those of some meter covers, magnetise a tube."
        )
    elif technology in (*DIMMING, Technology.PLASMA):
        told += " Long still patterns mark panels that can burn in."
    return ChecklistLine(
        "cautions",
        "Cautions read",
        "Local rules come first, and what only licensed people may do.",
        "A full white field in HDR dazzles in a dark room.",
        caution=told,
    )


def _watched() -> ChecklistLine:
    return ChecklistLine(
        WATCHED,
        "As the client watches it",
        "It is the before of the picture and the report; once something is changed, it is gone.",
        "Hang the meter up: a minute of grey, primaries and everyday colours. Best when the screen has been on.",
        Way.MEASURE,
    )


def _firmware() -> ChecklistLine:
    return ChecklistLine(
        "firmware",
        "The firmware is current",
        "An update changes settings, and one that comes next month would change these.",
        "Look in the information menu; after an update, enter the controls at Arrive again.",
    )


def _mode(*, metered: bool) -> ChecklistLine:
    how = "Each is measured from dark to light, with its primaries. Skip one whose controls are greyed out."
    return ChecklistLine(
        MODE,
        "The picture mode to start from",
        "Names mean little. The closest to the target on grey with the wanted primaries wins.",
        how if metered else "Of those whose controls are not greyed out, the one with the calmest colours.",
        Way.MEASURE if metered else Way.LOOK,
        picture="" if metered else "everyday",
    )


def _reset() -> ChecklistLine:
    return ChecklistLine(
        RESET,
        "Reset to factory, if your school says so",
        "A reset starts from what the maker knows; continuing from good settings keeps earlier work.",
        "The settings as found are kept, and Controls can put everything back.",
        Way.RESET,
    )


def _source() -> ChecklistLine:
    return ChecklistLine(
        "source",
        "The source sends what is on the material",
        "Enhancement in a player would be calibrated away and come back with the next player.",
        "No enhancement in the player, the screen's own resolution, devices in between bypassed; for HDR the "
        "input's full bandwidth switched on.",
    )


def _range() -> ChecklistLine:
    return ChecklistLine(
        "range",
        "The range is right",
        "A wrong range lifts black or swallows it, and no control corrects that well.",
        "Discs show from one o'clock on, and none from ten to twelve. As found checks it by the meter.",
        picture="black-steps",
    )


def _bandwidth() -> ChecklistLine:
    return ChecklistLine(
        "bandwidth",
        "The input takes the full bandwidth",
        "Without it the source falls back to SDR, or to fewer bits, and says nothing.",
        "In the menu of inputs, for this input and for devices in between; the cable must carry it too.",
    )


def _hdr_mode() -> ChecklistLine:
    return ChecklistLine(
        "hdr-mode",
        "The screen shows HDR now",
        "Every signal has its own memory: what is set in another one is set for nothing.",
        "Its information menu says so while a pattern is sent. As found checks the curve by the meter.",
        picture="white-window",
    )


def _full_light() -> ChecklistLine:
    return ChecklistLine(
        "full-light",
        "Light output at its highest",
        "HDR means cd/m²: a screen whose light is turned down is off at every level.",
        "Unless the client cannot bear it; then the whole curve is darker, and that is noted.",
    )


def _placing() -> ChecklistLine:
    return ChecklistLine(
        "placing",
        "The projector stands square, keystone off",
        "Digital keystone resamples the picture; a lens that sinks moves it.",
        "Square it up physically; raise the image from below, so that it does not sink afterwards.",
        picture="geometry",
    )


def _focus() -> ChecklistLine:
    return ChecklistLine(
        "focus",
        "Focus and convergence",
        "Soft lines and coloured fringes look like wrong sharpness and wrong colour.",
        "Pixel shifting off while focusing, on afterwards; look for coloured fringes on white lines.",
        picture="crosshatch",
    )


def _geometry(*, tube: bool) -> ChecklistLine:
    how = "Every arrow tip touches its edge, the outer frame is there, the circle is round."
    return ChecklistLine(
        "geometry",
        "No overscan, a round circle, in the middle",
        "Overscan resamples and hides the edge.",
        f"{how} On a tube, degauss first." if tube else how,
        picture="geometry",
    )


def _off(role: Role) -> ChecklistLine:
    return ChecklistLine(
        f"off-{role.key}",
        f"{ROLE_WORDS[role].capitalize()} off",
        _OFF_WHY[role],
        "Switched off now, settled at Hand over.",
        Way.SWITCH,
        picture={Role.MOTION: "moving-bars", Role.EDGE_ENHANCEMENT: "sharpness"}.get(role, ""),
        role=role,
    )


def _keystone() -> ChecklistLine:
    return ChecklistLine("keystone", "Keystone correction off", "It resamples every picture.", "Look in the menu.")


def _meter(technology: Technology, *, projector: bool, tube: bool, contact: bool) -> ChecklistLine:
    if projector:
        how = "About 30 cm from the middle of the screen, looking at it, its shadow off the patch."
    elif tube or not contact:
        how = "On a tripod, 5 to 10 cm from the glass, which is fragile. A magnet in a meter can magnetise a tube."
    else:
        how = "Flat against the panel without pressing: pressing a soft matte panel changes its colour."
    kind = f" Choose its mode for {technology.words}." if technology else " Choose the kind of screen in it."
    return ChecklistLine(
        "meter",
        "The meter is placed well, in the right mode",
        "A wrong mode makes a green or pink picture with perfect numbers.",
        how + kind,
        picture="white-window",
    )


def _warm_up() -> ChecklistLine:
    return ChecklistLine(
        WARM_UP,
        "The screen is warm",
        "Nothing measured before counts as a baseline.",
        "White is watched until it drifts by less than 0.5 % over five minutes.",
        Way.MEASURE,
    )


def _clock() -> ChecklistLine:
    return ChecklistLine(
        CLOCK,
        "The screen has been on for 30 minutes",
        "Nothing measured before counts as a baseline.",
        "Projectors too.",
    )


def _room() -> ChecklistLine:
    return ChecklistLine(
        ROOM,
        "The room is dark enough",
        "Light on the screen is measured as the screen's own, most of all in black.",
        "A black picture is read, and in doubt the screen is switched off. Where the room cannot be dark, put a "
        "cloth over screen and meter.",
        Way.MEASURE,
    )


def _dark() -> ChecklistLine:
    return ChecklistLine(
        "dark",
        "The room is dimmed, the laptop darkened",
        "Light on the screen is measured as the screen's own.",
        "No light falls on the screen or into the meter; this window can be darkened too.",
    )


def _choice(*, metered: bool) -> ChecklistLine:
    how = (
        "Each is measured from dark to light; the one that stays closest wins, not the one that is right at white."
    )
    return ChecklistLine(
        CHOICE,
        "The temperature preset to start from",
        "Names mean little; a preset a little too cool with even tracking can beat a closer one that wanders.",
        how if metered else "Take the one whose greys look alike from dark to light.",
        Way.MEASURE if metered else Way.LOOK,
        picture="" if metered else "staircase",
    )


def _gamut() -> ChecklistLine:
    return ChecklistLine(
        GAMUT,
        "The gamut preset",
        "One that is too wide paints faces red, and no white balance mends it.",
        "Primaries and secondaries are read in each, and compared against its own white.",
        Way.MEASURE,
    )


def _gamma() -> ChecklistLine:
    return ChecklistLine(
        GAMMA,
        "The gamma preset to start from",
        "Gains and biases cannot bend a tone: the nearest preset leaves the least to correct at Tone.",
        "Each is measured from dark to light and compared by its light alone, whatever its name says.",
        Way.MEASURE,
    )
