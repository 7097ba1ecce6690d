"""How long to look at how much light (practice: 0.5 to 1 s; 2 s or more below 5 cd/m²)."""

from aequitone.procedures.steps import ReadPolicy

DARK_CD_M2 = 5.0
NEAR_BLACK_CD_M2 = 0.5


def policy_for(luminance: float) -> ReadPolicy:
    """The policy for an expected luminance in cd/m²."""
    if luminance >= DARK_CD_M2:
        return ReadPolicy(seconds=1.0, repeats=2)
    if luminance >= NEAR_BLACK_CD_M2:
        return ReadPolicy(seconds=2.0, repeats=2)
    return ReadPolicy(seconds=2.0, repeats=3)
