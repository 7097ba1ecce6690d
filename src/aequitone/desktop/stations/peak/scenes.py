"""Three made-up scenes and the still life, as a curve wants them and as the screen gives them. No Qt."""

from dataclasses import dataclass
from functools import cache

import numpy as np

from aequitone.advice.answers.compromise import LightCurve, Made, made_of
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import srgb_codes
from aequitone.passes import PEAK, Snapshot
from aequitone.procedures.hdr.peak import PeakPass
from aequitone.reference import PqKept, Target, target_named
from aequitone.signal.pictures.hdr_scenes import HDR_SCENES
from aequitone.signal.pictures.scene import still_life

# Diffuse white in cd/m² (ITU-R BT.2408), to which the still life is lit.
_DIFFUSE_WHITE = 203.0
_STILL_LIFE = "Still life"
_SRGB = srgb_codes(np.linspace(0.0, 1.0, 4096)).astype(np.uint8)


@dataclass(frozen=True)
class SceneCell:
    """One scene: as wanted on the left of a line, as given on the right; codes of sRGB, row by row."""

    name: str
    width: int
    height: int
    rgb: bytes
    words: tuple[str, str]


@dataclass(frozen=True)
class ScenesPage:
    """The scenes under one upper end."""

    curve: str
    """By what they are wanted, in words."""
    cells: tuple[SceneCell, ...]
    measured: bool
    """Whether the right halves are of greys that were read."""


def scenes_page(snapshot: Snapshot) -> ScenesPage | None:
    """The scenes as the present upper end wants them of this screen; None before its peak is known."""
    peak = snapshot.result(PEAK)
    if peak is None or not peak.usual:
        return None
    return _rendered(target_named(snapshot.visit.target), peak)


@cache
def _pictures() -> tuple[tuple[str, Array], ...]:
    """Each scene's linear RGB in cd/m²."""
    life = _DIFFUSE_WHITE * still_life(208, 130) ** 2.2
    return (*((scene.name, scene.light) for scene in HDR_SCENES), (_STILL_LIFE, life))


def _rendered(target: Target, peak: PeakPass) -> ScenesPage:
    wanted = LightCurve.of_target(target, peak.usual, peak.black)
    given = wanted
    if peak.percents:
        given = LightCurve.of_greys(np.array(peak.percents) / 100.0, np.array(peak.light), peak.black)
    cells = tuple(_cell(name, light, wanted, given, peak.usual) for name, light in _pictures())
    curve = target.tone.label if target.tone.judged(peak.usual) > target.tone.reach(peak.usual) else _cut(target)
    return ScenesPage(curve, cells, bool(peak.percents))


def _cut(target: Target) -> str:
    own = isinstance(target.tone, PqKept)
    return target.tone.label if own else f"{target.tone.label}, cut off at the screen's peak"


def _cell(name: str, light: Array, wanted: LightCurve, given: LightCurve, white: float) -> SceneCell:
    height, width = light.shape[:2]
    half = width // 2
    both = np.concatenate([wanted(light[:, :half]), given(light[:, half:])], axis=1) / white
    codes = _SRGB[np.rint(np.clip(both, 0.0, 1.0) * (len(_SRGB) - 1)).astype(np.intp)]
    codes[:, half - 1], codes[:, half] = 0, 255
    return SceneCell(
        name,
        width,
        height,
        np.ascontiguousarray(codes).tobytes(),
        (made_words("Wanted", made_of(light, wanted)), made_words("Given", made_of(light, given))),
    )


def made_words(whose: str, made: Made) -> str:
    """What a curve makes of a scene, in a line."""
    shares = f"{_percent(made.clipped)} clipped, {_percent(made.darker)} darker"
    return f"{whose}: {shares}, light {made.light * 100:.0f} %"


def _percent(share: float) -> str:
    return f"{share * 100:.1f} %" if 0.0 < share < 0.1 else f"{share * 100:.0f} %"


def scenes_text(page: ScenesPage) -> str:
    """The page as tab-separated text."""
    rows = [("Scene", "Wanted", "Given"), *((cell.name, *cell.words) for cell in page.cells)]
    return "\n".join([page.curve, *("\t".join(row) for row in rows)]) + "\n"
