"""What right looks like: targets, and how far a measured grey is from one."""

from aequitone.reference.colour_errors import ColourErrors, colour_errors
from aequitone.reference.errors import (
    GreyErrors,
    Verdict,
    grey_errors,
    light_band,
    mean_error,
    mean_error_sd,
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
    with_light,
    with_white,
)
from aequitone.reference.tone import BlackReference, Bt1886, Hlg, Power, Pq, PqRolled, Srgb, Tone

__all__ = [
    "DEFAULT_TARGET",
    "GAMUTS",
    "TARGETS",
    "TONES",
    "BlackReference",
    "Bt1886",
    "ColourErrors",
    "GreyErrors",
    "Hlg",
    "Power",
    "Pq",
    "PqRolled",
    "Srgb",
    "Target",
    "Tone",
    "Verdict",
    "colour_errors",
    "grey_errors",
    "light_band",
    "mean_error",
    "mean_error_sd",
    "other_blacks",
    "primaries_name",
    "target_name",
    "target_named",
    "verdict",
    "white_named",
    "with_light",
    "with_white",
]
