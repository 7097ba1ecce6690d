"""From a colour pass to its u'v' diagram, and how much of the target the screen's primaries cover. No Qt."""

import numpy as np

from aequitone.colorimetry import Gamut, White, delta_e_2000, uv_from_xy, uv_from_xyz
from aequitone.colorimetry.coverage import coverage_itp, coverage_uv, volume_itp
from aequitone.desktop.stations.colour.state import DiagramPage, Dot
from aequitone.procedures.colour.colour_pass import ColourPass, ColourPlan
from aequitone.reference import Target, verdict

_PRIMARIES = ("red", "green", "blue")
_FULL = 100.0

Point = tuple[float, float]


Figures = tuple[tuple[str, str], ...]


def diagram_page(plan: ColourPlan, found: ColourPass | None, subtitle: str, covered: Figures = ()) -> DiagramPage:
    """The diagram of a pass; of the target alone where nothing was read yet. `covered`: of `coverage_figures`."""
    gamut = plan.target.gamut
    corners = _points(uv_from_xy(np.array([gamut.red, gamut.green, gamut.blue])))
    if found is None:
        return DiagramPage(corners, subtitle=subtitle)
    wanted, seen = _points(uv_from_xyz(found.errors.target)), _points(uv_from_xyz(found.xyz))
    dots = tuple(
        Dot(sample.name, aim, at, verdict(float(found.errors.by(found.formula)[0][row])), sample.is_everyday)
        for row, (sample, aim, at) in enumerate(zip(found.samples, wanted, seen, strict=True))
    )
    dots = (*dots, _white(plan.target, found))
    rows = _primaries(found)
    if rows is None:
        return DiagramPage(corners, (), dots, subtitle)
    screen = tuple(seen[row] for row in rows)
    return DiagramPage(corners, screen, dots, subtitle, covered)


def _white(target: Target, found: ColourPass) -> Dot:
    aim = target.white.xyz(float(found.white[1]))
    off = float(delta_e_2000(found.white, aim, aim))
    wanted, seen = _points(uv_from_xyz(np.array([aim, found.white])))
    return Dot("white", wanted, seen, verdict(off), False)


def _points(uv: np.ndarray) -> tuple[Point, ...]:
    return tuple((float(u), float(v)) for u, v in uv)


def _primaries(found: ColourPass) -> list[int] | None:
    """Rows of full red, green and blue, at the highest level that was read; None where one is missing."""
    rows = []
    for name in _PRIMARIES:
        full = [
            row for row, sample in enumerate(found.samples) if sample.colour == name and sample.saturation == _FULL
        ]
        if not full:
            return None
        rows.append(max(full, key=lambda row: found.samples[row].level))
    return rows


def _xy(found: ColourPass, row: int) -> Point:
    X, Y, Z = found.xyz[row]
    return float(X / (X + Y + Z)), float(Y / (X + Y + Z))


def coverage_figures(target: Target, found: ColourPass) -> Figures:
    """Coverage and volume against the target's. Takes a quarter of a second: not for Qt's thread."""
    rows = _primaries(found)
    if rows is None:
        return ()
    red, green, blue = (_xy(found, row) for row in rows)
    white, light = found.white / found.white.sum(), float(found.white[1])
    try:
        screen = Gamut("", red, green, blue, White("", float(white[0]), float(white[1])))
        covered, volume = coverage_itp(screen, light, target.gamut, light), volume_itp(screen, light)
    except (ValueError, np.linalg.LinAlgError):
        # Primaries that enclose nothing: there is nothing to say.
        return ()
    return (
        ("Covers of the target, u'v'", f"{coverage_uv(screen, target.gamut) * 100.0:.1f} %"),
        ("The same in ICtCp", f"{covered * 100.0:.1f} %"),
        ("Volume, of the target's", f"{volume / volume_itp(target.gamut, light) * 100.0:.0f} %"),
    )
