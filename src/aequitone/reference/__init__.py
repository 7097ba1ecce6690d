"""What right looks like: targets, and how far a measured grey is from one."""

from aequitone.reference.errors import GreyErrors, Verdict, grey_errors, light_band, verdict
from aequitone.reference.target import (
    DEFAULT_TARGET,
    TARGETS,
    TONES,
    Bt1886,
    Power,
    Target,
    target_name,
    target_named,
    white_named,
)

__all__ = [
    "DEFAULT_TARGET",
    "TARGETS",
    "TONES",
    "Bt1886",
    "GreyErrors",
    "Power",
    "Target",
    "Verdict",
    "grey_errors",
    "light_band",
    "target_name",
    "target_named",
    "verdict",
    "white_named",
]
