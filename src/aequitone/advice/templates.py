"""Which controls a kind of screen usually has, and what makers' words for them mean."""

from aequitone.advice.roles import FEATURES, ROLE_WORDS, TWO_POINT, Role
from aequitone.advice.technology import Technology

_PICTURE = (Role.CONTRAST, Role.BLACK_LEVEL, Role.COLOUR, Role.TINT, Role.SHARPNESS)
_PRESETS = (Role.PICTURE_MODE, Role.GAMMA, Role.TEMPERATURE, Role.GAMUT)
_TELEVISION = (
    Role.DYNAMIC_CONTRAST, Role.ENERGY_SAVING, Role.AMBIENT_SENSOR, Role.ZONE_DIMMING, Role.BLACK_STRETCH,
    Role.LOGO_DIMMING, Role.TONE_MAPPING, Role.NOISE_REDUCTION, Role.EDGE_ENHANCEMENT, Role.SUPER_RESOLUTION,
    Role.MOTION,
)  # fmt: skip
_PROJECTOR = (
    Role.DYNAMIC_IRIS, Role.TONE_MAPPING, Role.NOISE_REDUCTION, Role.EDGE_ENHANCEMENT, Role.SUPER_RESOLUTION,
    Role.MOTION, Role.KEYSTONE,
)  # fmt: skip
TEMPLATES: dict[str, tuple[Role, ...]] = {
    "television": (*TWO_POINT, Role.LIGHT_OUTPUT, *_PICTURE, *_PRESETS, Role.OVERSCAN, *_TELEVISION),
    "projector": (*TWO_POINT, Role.LIGHT_OUTPUT, *_PICTURE, *_PRESETS, Role.OVERSCAN, *_PROJECTOR),
    "broadcast monitor": (*TWO_POINT, Role.CONTRAST, Role.BLACK_LEVEL, Role.COLOUR, Role.TINT, Role.SHARPNESS,
                          Role.TEMPERATURE, Role.OVERSCAN),
    "tube television": (*TWO_POINT, *_PICTURE, Role.TEMPERATURE, Role.OVERSCAN, Role.NOISE_REDUCTION,
                        Role.EDGE_ENHANCEMENT),
}  # fmt: skip
_KIND = {
    Technology.PLASMA: "television",
    Technology.TUBE: "tube television",
    Technology.DLP_WHEEL: "projector",
    Technology.THREE_PANEL_PROJECTOR: "projector",
}
# What menus say, in lower case, and what it usually is. Several meanings: the first is the likeliest.
VOCABULARY: dict[str, tuple[Role, ...]] = {
    "brightness": (Role.BLACK_LEVEL, Role.LIGHT_OUTPUT),
    "black": (Role.BLACK_LEVEL,),
    "black level": (Role.BLACK_LEVEL, Role.BLACK_RANGE),
    "black detail": (Role.BLACK_STRETCH,),
    "picture": (Role.CONTRAST,),
    "white level": (Role.CONTRAST,),
    "contrast": (Role.CONTRAST,),
    "backlight": (Role.LIGHT_OUTPUT,),
    "panel light": (Role.LIGHT_OUTPUT,),
    "luminance": (Role.LIGHT_OUTPUT,),
    "cell light": (Role.LIGHT_OUTPUT,),
    "lamp": (Role.LIGHT_OUTPUT,),
    "laser power": (Role.LIGHT_OUTPUT,),
    "iris": (Role.LIGHT_OUTPUT, Role.DYNAMIC_IRIS),
    "colour": (Role.COLOUR,),
    "color": (Role.COLOUR,),
    "saturation": (Role.COLOUR,),
    "chroma": (Role.COLOUR,),
    "tint": (Role.TINT,),
    "hue": (Role.TINT,),
    "phase": (Role.TINT,),
    "sharpness": (Role.SHARPNESS,),
    "detail": (Role.SHARPNESS, Role.EDGE_ENHANCEMENT),
    "aperture": (Role.SHARPNESS,),
    "gamma": (Role.GAMMA,),
    "colour temperature": (Role.TEMPERATURE,),
    "colour tone": (Role.TEMPERATURE,),
    "white": (Role.TEMPERATURE,),
    "gamut": (Role.GAMUT,),
    "colour space": (Role.GAMUT,),
    "drive": (Role.GAIN_R,),
    "cut": (Role.BIAS_R,),
    "cutoff": (Role.BIAS_R,),
}


def kind_of(technology: Technology) -> str:
    """The template's name for a technology; a television where nothing is known."""
    return _KIND.get(technology, "television")


def template_for(technology: Technology) -> tuple[Role, ...]:
    """The roles that such a screen usually has, in the order in which they are noted."""
    return TEMPLATES[kind_of(technology)]


def misleading(role: Role, word: str, others: frozenset[Role] = frozenset()) -> str:
    """A warning where the screen's word usually names another role; "" where it does not.

    `others`: the roles that the screen's menu has beside this one.
    """
    known = VOCABULARY.get(word.strip().lower())
    if not known:
        return ""
    if role not in known:
        return f"“{word}” is usually {_either(known)}, not {ROLE_WORDS[role]}: turn it once and see what it does"
    if len(known) > 1 and not others.issuperset(r for r in known if r is not role):
        rest = tuple(r for r in known if r is not role)
        return f"“{word}” can also be {_either(rest)}: here it is noted as {ROLE_WORDS[role]}"
    return ""


def is_switch(role: Role) -> bool:
    """Whether a control is off or on before anything else."""
    return role in FEATURES or role in (Role.OVERSCAN, Role.KEYSTONE)


def _either(roles: tuple[Role, ...]) -> str:
    return " or ".join(ROLE_WORDS[role] for role in roles)
