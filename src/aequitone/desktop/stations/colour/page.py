"""From a colour pass to its picture and its figures: pure functions, no Qt."""

from functools import lru_cache

import numpy as np

from aequitone.advice.colours.ramp import RAMP
from aequitone.colorimetry import REC709, uv_from_xyz, xyY_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import PQ_PEAK, srgb_codes
from aequitone.desktop.stations.colour.state import (
    HEADS,
    Bead,
    ColourPage,
    ColourTable,
    Pair,
    RampStrip,
    Setting,
    Spoke,
)
from aequitone.figures import signed
from aequitone.procedures.colour.colour_pass import ColourPass, ColourPlan
from aequitone.procedures.colour.manage_plan import Managed, Ramp
from aequitone.procedures.colour.samples import DIFFUSE_WHITE, Sample
from aequitone.reference import Target, verdict
from aequitone.reference.saturations import MIXED, SIX, saturation_signal

# Distances between wanted and seen are drawn so many times as large, as a visible one is a few pixels else; where
# one is larger than this share of a full colour's, as they are.
_TIMES, _LARGE = 3.0, 0.12
# Pairs are shown at this share of white: a bright area in a dark room would spoil the eye for the screen.
_DIMMED = 0.55


def colour_page(
    plan: ColourPlan, found: ColourPass | None, ghost: ColourPass | None, subtitle: str, here: str = ""
) -> ColourPage:
    """The picture of a pass, or of what it will read; `ghost`: the pass before; `here`: the patch shown."""
    target = plan.target
    times = _TIMES if found is None or _furthest(found, target) < _LARGE else 1.0
    return ColourPage(
        tuple(Spoke(name, _full(target, name)[0]) for name in SIX),
        _beads(found, target, times, here) if found is not None else (),
        _beads(ghost, target, times) if ghost is not None else (),
        _kinds(plan, found, here),
        times,
        subtitle,
        figures(found, ghost) if found is not None else (),
    )


def settings_of(managed: Managed) -> tuple[tuple[str, tuple[Setting, ...]], ...]:
    """The controls of a colour management, colour by colour in the menu's order, and where a move wants them."""
    to = {change.role: change.to_value for change in managed.proposed.changes} if managed.proposed else {}
    by_colour: dict[str, list[Setting]] = {}
    for control in managed.controls:
        setting = Setting(control.name, control.value, to.get(control.role))
        by_colour.setdefault(control.role.channel, []).append(setting)
    return tuple((colour, tuple(settings)) for colour, settings in by_colour.items())


def ramp_of(ramp: Ramp | None) -> RampStrip | None:
    """The ramp that is being read, as it is drawn."""
    if ramp is None or not ramp.pairs:
        return None
    wanted, seen = (_codes(np.array(side)) for side in zip(*ramp.pairs, strict=True))
    words = f"Largest step ΔE {ramp.step:.1f}" if ramp.step else ""
    return RampStrip(ramp.colour, tuple(zip(wanted, seen, strict=True)), len(RAMP), words)


def ramp_figures(managed: Managed) -> tuple[tuple[str, str], ...]:
    """The ramp with the largest step, where ramps were read."""
    if not managed.ramps:
        return ()
    worst = max(managed.ramps, key=lambda ramp: ramp.step)
    return ((f"Largest step on a ramp: {worst.colour}", f"ΔE {worst.step:.1f}"),)


@lru_cache(maxsize=32)
def _full(target: Target, name: str) -> tuple[tuple[float, float], float]:
    """Direction and distance in u'v', from the target's white, of a full colour."""
    if target.tone.absolute:
        edge = target.gamut.xyz(np.array(MIXED[name]))
    else:
        signal = np.array([saturation_signal(name, 100.0, 100.0, target.container, target.gamut)]) / 100.0
        edge = target.colour(signal, 100.0)[0]
    away = uv_from_xyz(edge) - uv_from_xyz(target.white.xyz())
    far = float(np.linalg.norm(away))
    return (float(away[0]) / far, float(away[1]) / far), far


def _places(found: ColourPass, target: Target) -> tuple[list[int], Array, Array]:
    """Rows of the six, and where they are wanted and seen, (n, 2), white in the middle and full colours at 1."""
    white, rows = uv_from_xyz(target.white.xyz()), found.rows(everyday=False)
    far = np.array([_full(target, found.samples[row].colour)[1] for row in rows])[:, None]
    wanted, seen = uv_from_xyz(found.errors.target[rows]) - white, uv_from_xyz(found.xyz[rows]) - white
    return rows, wanted / far, seen / far


def _furthest(found: ColourPass, target: Target) -> float:
    """The largest distance between wanted and seen."""
    rows, wanted, seen = _places(found, target)
    return float(np.linalg.norm(seen - wanted, axis=-1).max()) if rows else 0.0


def _beads(found: ColourPass, target: Target, times: float, here: str = "") -> tuple[Bead, ...]:
    rows, wanted, seen = _places(found, target)
    told, off_by = [], found.errors.by(found.formula)[0]
    for i, row in enumerate(rows):
        sample = found.samples[row]
        aim, off = wanted[i], (seen[i] - wanted[i]) * times
        de, light = float(off_by[row]), float(np.nan_to_num(found.errors.light[row]))
        at = (float(aim[0]), float(aim[1]))
        drawn = (float(aim[0] + off[0]), float(aim[1] + off[1]))
        told.append(Bead(sample.name, at, drawn, light, verdict(de), sample.name == here))
    return tuple(told)


def _kinds(plan: ColourPlan, found: ColourPass | None, here: str) -> tuple[tuple[str, tuple[Pair, ...]], ...]:
    everyday = [sample for sample in plan.samples if sample.is_everyday]
    read = {sample.name: row for row, sample in enumerate(found.samples)} if found is not None else {}
    codes = _wanted_of(plan.target, tuple(everyday))
    shown = _shown_white(plan.target, found)
    aims = _codes(found.errors.target / shown) if found is not None else []
    seen_codes = _codes(found.xyz / shown) if found is not None else []
    by_kind: dict[str, list[Pair]] = {}
    for sample, wanted in zip(everyday, codes, strict=True):
        row = read.get(sample.name)
        if found is None or row is None:
            pair = Pair(sample.name, wanted, None, here=sample.name == here)
        else:
            de = float(found.errors.by(found.formula)[0][row])
            pair = Pair(sample.name, aims[row], seen_codes[row], de, verdict(de), sample.name == here)
        by_kind.setdefault(sample.kind, []).append(pair)
    return tuple((kind, tuple(pairs)) for kind, pairs in by_kind.items())


@lru_cache(maxsize=8)
def _wanted_of(target: Target, everyday: tuple[Sample, ...]) -> tuple[tuple[int, int, int], ...]:
    white = PQ_PEAK if target.tone.absolute else 1.0
    xyz = target.colour(np.array([sample.signal for sample in everyday]) / 100.0, white)
    return tuple(_codes(xyz / _shown_white(target, None)))


def _shown_white(target: Target, found: ColourPass | None) -> float:
    """The luminance that is drawn as white: the screen's, or diffuse white of HDR."""
    if target.tone.absolute:
        return DIFFUSE_WHITE
    return float(found.white[1]) if found is not None else 1.0


def _codes(xyz: Array) -> list[tuple[int, int, int]]:
    """8-bit codes of an sRGB display (IEC 61966-2-1) for XYZ (n, 3) as shares of white, dimmed."""
    return [(int(r), int(g), int(b)) for r, g, b in srgb_codes(REC709.rgb(xyz) * _DIMMED).tolist()]


def figures(found: ColourPass, ghost: ColourPass | None) -> tuple[tuple[str, str], ...]:
    """Averages and the worst of each, and what they were as found."""
    told: list[tuple[str, str]] = []
    for everyday, name in ((False, "Saturations"), (True, "Everyday")):
        if not found.rows(everyday=everyday):
            continue
        mean, sd = found.mean(everyday=everyday)
        was = f", was {ghost.mean(everyday=everyday)[0]:.1f}" if ghost and ghost.rows(everyday=everyday) else ""
        told.append((f"{name}, mean {found.formula}", f"{mean:.2f} ± {sd:.2f}{was}"))
        if found.missing_light and not everyday:
            # Light that no colour can have would be all that there is to see.
            casts = [each.mean_cast(everyday=False, white=each.white) for each in (found, ghost) if each]
            told.append(("Without light", ", was ".join(f"{cast:.2f}" for cast in casts)))
            continue
        worst = found.worst(everyday=everyday)
        told.append((f"Worst: {found.samples[worst].name}", f"{found.errors.by(found.formula)[0][worst]:.1f}"))
    return tuple(told)


def colour_table(found: ColourPass | None) -> ColourTable:
    """A pass as figures, a row a colour."""
    if found is None:
        return ColourTable()
    errors, xyY = found.errors, xyY_from_xyz(found.xyz)
    rows = []
    for i, sample in enumerate(found.samples):
        rows.append(
            (
                sample.name,
                signed(errors.light[i]),
                signed(errors.saturation[i]),
                signed(errors.hue[i]),
                *("" if each[i] != each[i] else f"{each[i]:.2f}" for each in (errors.de2000, errors.de2000_sd)),
                "" if errors.deitp[i] != errors.deitp[i] else f"{errors.deitp[i]:.1f}",
                f"{xyY[i, 0]:.4f}",
                f"{xyY[i, 1]:.4f}",
                f"{xyY[i, 2]:.2f}",
            )
        )
    return ColourTable(tuple(rows))


def colour_text(found: ColourPass | None) -> str:
    """The figures as tab-separated text."""
    return "\n".join("\t".join(row) for row in (HEADS, *colour_table(found).rows)) + "\n" if found else ""
