"""Numbers on arrays: colour spaces, transfer functions, differences, and light and cast of an error.

Every function takes arrays of any leading shape, the last axis being the three components, and
returns float64. What has a closed form is written out here from its source; what needs tables
(Planckian locus) is asked of colour-science, imported when first needed (docs/decisions/0003).
"""

from aequitone.colorimetry.cast import Cast, cast_of, cast_word, light_error
from aequitone.colorimetry.coverage import area_uv, coverage_itp, coverage_uv, volume_itp
from aequitone.colorimetry.difference import ITP_SCALE, Formula, delta_e_2000, delta_e_itp, delta_uv
from aequitone.colorimetry.gamut import P3, REC709, REC2020, Gamut
from aequitone.colorimetry.spaces import (
    ictcp_from_xyz,
    lab_from_xyz,
    uv_from_xy,
    uv_from_xyz,
    xy_from_uv,
    xyY_from_xyz,
    xyz_from_lab,
    xyz_from_uvY,
    xyz_from_xyY,
)
from aequitone.colorimetry.whites import D65, WHITES, White

__all__ = [
    "D65",
    "ITP_SCALE",
    "P3",
    "REC709",
    "REC2020",
    "WHITES",
    "Cast",
    "Formula",
    "Gamut",
    "White",
    "area_uv",
    "cast_of",
    "cast_word",
    "coverage_itp",
    "coverage_uv",
    "delta_e_2000",
    "delta_e_itp",
    "delta_uv",
    "ictcp_from_xyz",
    "lab_from_xyz",
    "light_error",
    "uv_from_xy",
    "uv_from_xyz",
    "volume_itp",
    "xyY_from_xyz",
    "xy_from_uv",
    "xyz_from_lab",
    "xyz_from_uvY",
    "xyz_from_xyY",
]
