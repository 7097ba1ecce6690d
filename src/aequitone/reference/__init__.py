"""What right looks like: targets, and how far a measured grey is from one."""

from aequitone.reference.errors import (
    ColourErrors,
    GreyErrors,
    Verdict,
    colour_errors,
    grey_errors,
    light_band,
    verdict,
)
from aequitone.reference.target import (
    DEFAULT_TARGET,
    GAMUTS,
    TARGETS,
    TONES,
    Target,
    other_blacks,
    primaries_name,
    target_name,
    target_named,
    white_named,
    with_white,
)
from aequitone.reference.tone import BlackReference, Bt1886, Power, Srgb, Tone

__all__ = [
    "DEFAULT_TARGET",
    "GAMUTS",
    "TARGETS",
    "TONES",
    "BlackReference",
    "Bt1886",
    "ColourErrors",
    "GreyErrors",
    "Power",
    "Srgb",
    "Target",
    "Tone",
    "Verdict",
    "colour_errors",
    "grey_errors",
    "light_band",
    "other_blacks",
    "primaries_name",
    "target_name",
    "target_named",
    "verdict",
    "white_named",
    "with_white",
]
