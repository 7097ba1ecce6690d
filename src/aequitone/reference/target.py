"""Targets: a tone with its black, a white, and primaries, as one value with a name."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aequitone.colorimetry import D65, P3, REC709, REC2020, WHITES, Gamut, White
from aequitone.colorimetry.arrays import Array, ArrayLike, triples
from aequitone.colorimetry.spaces import uv_from_xy
from aequitone.figures import grouped
from aequitone.reference.tone import BlackReference, Bt1886, Hlg, Power, Pq, PqKept, PqRolled, Srgb, Tone


@dataclass(frozen=True)
class Target:
    """What a memory is brought to.

    Luminance is relative, 100 % grey being right at the light it has, unless `light` or the tone says cd/m².
    """

    name: str
    tone: Tone
    white: White = D65
    gamut: Gamut = REC709
    """What is wanted of colour."""
    container: Gamut = REC709
    """The primaries that the signal is encoded in: the gamut itself, or a wider one that contains it."""
    black: BlackReference = BlackReference.EARLIER
    light: float = 0.0
    """Luminance that is wanted of 100 % grey, cd/m²; 0 for the luminance that it has."""

    @property
    def label(self) -> str:
        """In words: gamut, white, tone and what it makes of black, and the light where it is absolute."""
        gamut = self.gamut.name if self.gamut == self.container else f"{self.gamut.name} in {self.container.name}"
        # BT.1886 says of black what there is to say.
        black = f", {self.black.label}" if self.black.label and len(self.tone.black_references) > 1 else ""
        light = f", white {self.light:g} cd/m²" if self.light else ""
        return f"{gamut}, {self.white.name}, {self.tone.label}{black}{light}"

    def white_luminance(self, measured: ArrayLike) -> Array:
        """Luminance that is wanted of 100 % grey, cd/m², where it gives this."""
        white = np.asarray(measured, dtype=np.float64)
        return np.full_like(white, self.light) if self.light else white

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike) -> Array:
        """Compute cd/m² wanted of a grey signal (0 to 1) where 100 % and 0 % give this; the three broadcast."""
        return self.tone.luminance(signal, self.white_luminance(white), black, self.black)

    def reach(self, white: float) -> float:
        """The signal in % up to which a screen of this white, cd/m², can give the light that is meant."""
        return 100.0 * min(1.0, self.tone.reach(float(self.white_luminance(white))))

    def judged(self, percent: ArrayLike, white: float) -> Array:
        """Whether grey at `percent` of the signal is held to this target on a screen of this white, cd/m².

        What lies beyond its reach is no error.
        """
        most = 100.0 * self.tone.judged(float(self.white_luminance(white)))
        return np.asarray(np.asarray(percent, dtype=np.float64) <= most)

    def grey(self, percent: ArrayLike, white: float, black: float = 0.0) -> Array:
        """XYZ in cd/m², shape (..., 3), wanted at `percent` of the signal.

        `white` and `black` are the measured luminances of 100 % and 0 % in cd/m².
        """
        luminance = self.luminance(np.asarray(percent, dtype=np.float64) / 100.0, white, black)
        return np.asarray(luminance[..., None] * self.white.xyz())

    def colour(self, signal: ArrayLike, white: float, black: float = 0.0) -> Array:
        """XYZ in cd/m², shape (..., 3), wanted of R, G and B of the signal (0 to 1), shape (..., 3).

        A grey is what `grey` gives. A signal in a wider container can ask for what lies outside the gamut.
        """
        rgb, bright = triples(signal, "signal"), float(self.white_luminance(white))
        light = self.tone.channels(rgb, bright, black, self.black, self.container.xyz_matrix[1])
        return np.asarray(light @ self._matrix.T)

    @cached_property
    def _matrix(self) -> Array:
        """Linear RGB of the container to XYZ, its white being the target's."""
        return replace(self.container, white=self.white).xyz_matrix


TONES: dict[str, Tone] = {
    "2.2": Power(2.2),
    "2.3": Power(2.3),
    "2.4": Power(2.4),
    "bt1886": Bt1886(),
    "srgb": Srgb(),
    "pq": Pq(),
    "pq1000": PqRolled(1_000.0),
    "pq4000": PqRolled(4_000.0),
    "pq10000": PqRolled(10_000.0),
    "hlg": Hlg(),
    "hlgin1": Hlg(1.0),
    "hlgin20": Hlg(20.0),
    "hlgin60": Hlg(60.0),
}
"""The tones that a target can have, by what they are called in its name."""
GAMUTS: Mapping[str, tuple[Gamut, Gamut]] = {
    "rec709": (REC709, REC709),
    "p3": (P3, P3),
    "rec2020": (REC2020, REC2020),
    "p3in2020": (P3, REC2020),
}
"""Gamut and container, by what they are called in a target's name."""
_NAME = re.compile(
    r"(?P<gamut>[^-@/=]+)-(?P<tone>[^@/=]+)(?:/(?P<black>[a-z]+))?(?:@(?P<white>[^=]+))?(?:=(?P<light>[0-9.]+))?"
)
_GAMMA = re.compile(r"[12]\.[0-9]{1,3}")
_ROLLED = re.compile(r"pq([1-9][0-9]{2,4})")
_KEPT = re.compile(r"pqto([1-9][0-9](?:\.[0-9]{1,2})?)")
_HLG_IN = re.compile(r"hlgin([0-9]{1,3}(?:\.[0-9])?)")
_LEAST_SURROUND, _MOST_SURROUND = 0.5, 500.0
_LEAST_MASTERING, _MOST_MASTERING = 100.0, 10_000.0
_LEAST_GAMMA, _MOST_GAMMA = 1.6, 2.8
# What a white can be asked to give, cd/m².
_LEAST_LIGHT, _MOST_LIGHT = 1.0, 10_000.0
_PRIMARIES = "xy:"
# Whites that a screen can be brought to lie around daylight; what lies further off is a slip of the pen.
_FURTHEST_UV = 0.06
# Primaries nearer to a line than this, in x times y, mix nothing; blacks nearer than this share ask for the same.
_LEAST_AREA, _SAME_SHARE = 0.01, 0.02


def target_name(
    tone: str,
    white: White,
    black: BlackReference = BlackReference.EARLIER,
    gamut: str = "rec709",
    light: float = 0.0,
) -> str:
    """What a target is called: "rec709-2.2/added", "rec709-bt1886@D75=120", "p3in2020-2.4/zero@0.305,0.32"."""
    based = f"/{black.value}" if black.value and len(_tone(tone).black_references) > 1 else ""
    daylight = "" if white == D65 else f"@{white.name if white.name in WHITES else f'{white.x:g},{white.y:g}'}"
    return f"{gamut}-{tone}{based}{daylight}{f'={light:g}' if light else ''}"


def primaries_name(gamut: Gamut) -> str:
    """What primaries of one's own are called in a target's name: "xy:0.64,0.33:0.3,0.6:0.15,0.06"."""
    return _PRIMARIES + ":".join(f"{x:g},{y:g}" for x, y in (gamut.red, gamut.green, gamut.blue))


def white_named(name: str) -> White:
    """A white by its name, or by x and y: "D75", "0.305, 0.320". ValueError says what is wrong with it."""
    if name.upper() in WHITES:
        return WHITES[name.upper()]
    figures = name.replace(",", " ").replace(";", " ").split()
    try:
        x, y = (float(figure) for figure in figures)
    except ValueError:
        raise ValueError(f"there is no white “{name}”; there are {', '.join(WHITES)}, or x and y") from None
    if not (0.0 < x < 1.0 and 0.0 < y < 1.0):
        raise ValueError(f"a white of x {x:g}, y {y:g} cannot be: both lie between 0 and 1")
    if np.linalg.norm(uv_from_xy([x, y]) - uv_from_xy([D65.x, D65.y])) > _FURTHEST_UV:
        raise ValueError(f"x {x:g}, y {y:g} is a colour, and no white to bring a screen to")
    return White(f"x {x:g} y {y:g}", x, y)


def with_white(target: Target, white: White) -> Target:
    """The same target with another white, such as one that was measured. ValueError where it is a colour."""
    head = target.name.partition("=")[0].partition("@")[0]
    named = f"{head}@{white.name if white.name in WHITES else f'{white.x:.6g},{white.y:.6g}'}"
    return target_named(f"{named}={target.light:g}" if target.light else named)


def with_light(target: Target, light: float) -> Target:
    """The same target with white at so many cd/m², or relative where that is 0. ValueError where it cannot be."""
    head = target.name.partition("=")[0]
    return target_named(f"{head}={light:g}" if light else head)


def with_knee(target: Target, knee: float) -> Target:
    """PQ up to a knee (signal, 0 to 1), and above it as the screen does by itself; other laws stay as they are."""
    if not target.tone.absolute:
        return target
    black = target.black if target.black in Pq().black_references else BlackReference.ADDED
    percent = min(max(100.0 * knee, 10.0), 99.99)
    return target_named(target_name(f"pqto{percent:.2f}", target.white, black, gamut_of(target)))


def gamut_of(target: Target) -> str:
    """What the gamut is called in a target's name."""
    return target.name.partition("-")[0]


def target_named(name: str) -> Target:
    """The target of that name; ValueError says what is wrong with it."""
    found = _NAME.fullmatch(name)
    if found is None:
        raise ValueError(_no_target(name))
    try:
        tone = _tone(found["tone"])
        gamut, container = _gamuts(found["gamut"])
        black = BlackReference(found["black"] or "")
    except ValueError as error:
        raise ValueError(_no_target(name)) from error
    if len(tone.black_references) == 1:
        black = tone.black_references[0]
    elif black not in (*tone.black_references, BlackReference.EARLIER):
        raise ValueError(f"{tone.label} is not {black.label}; choose {_either(tone)}")
    white = white_named(found["white"]) if found["white"] else D65
    light = _light(found["light"], tone)
    own = target_name(found["tone"], white, black, found["gamut"], light)
    return Target(own, tone, white, gamut, container, black, light)


def _light(words: str | None, tone: Tone) -> float:
    if not words:
        return 0.0
    try:
        light = float(words)
    except ValueError:
        raise ValueError(f"“{words}” is no luminance") from None
    if tone.absolute:
        raise ValueError(f"{tone.label} says by itself how many cd/m² a signal means: leave {words} out")
    if not _LEAST_LIGHT <= light <= _MOST_LIGHT:
        most = grouped(_MOST_LIGHT)
        raise ValueError(f"white cannot be wanted at {words} cd/m²: {_LEAST_LIGHT:g} to {most} can")
    return light


def _no_target(name: str) -> str:
    return (
        f"there is no target “{name}”; the targets are {', '.join(TARGETS)}, each with another white after @, "
        "with /added, /scaled or /zero for black, and with =120 for white at 120 cd/m²"
    )


def _either(tone: Tone) -> str:
    return " or ".join(reference.label for reference in tone.black_references)


def _tone(name: str) -> Tone:
    if name in TONES:
        return TONES[name]
    rolled = _ROLLED.fullmatch(name)
    if rolled is not None and _LEAST_MASTERING <= float(rolled[1]) <= _MOST_MASTERING:
        return PqRolled(float(rolled[1]))
    kept = _KEPT.fullmatch(name)
    if kept is not None:
        return PqKept(float(kept[1]) / 100.0)
    lit = _HLG_IN.fullmatch(name)
    if lit is not None and _LEAST_SURROUND <= float(lit[1]) <= _MOST_SURROUND:
        return Hlg(float(lit[1]))
    if not _GAMMA.fullmatch(name) or not _LEAST_GAMMA <= float(name) <= _MOST_GAMMA:
        raise ValueError(f"there is no tone “{name}”")
    return Power(float(name))


def _gamuts(name: str) -> tuple[Gamut, Gamut]:
    if name in GAMUTS:
        return GAMUTS[name]
    if not name.startswith(_PRIMARIES):
        raise ValueError(f"there is no gamut “{name}”")
    pairs = [
        tuple(float(figure) for figure in pair.split(",")) for pair in name.removeprefix(_PRIMARIES).split(":")
    ]
    if len(pairs) != 3 or any(len(pair) != 2 or not (0 < pair[0] < 1 and 0 < pair[1] < 1) for pair in pairs):
        raise ValueError(f"“{name}” holds no three primaries")
    (red, green, blue) = ((x, y) for x, y in pairs)
    area = (green[0] - red[0]) * (blue[1] - red[1]) - (blue[0] - red[0]) * (green[1] - red[1])
    if abs(area) < _LEAST_AREA:
        raise ValueError(f"the primaries of “{name}” lie on one line")
    own = Gamut("own primaries", red, green, blue, D65)
    return own, own


TARGETS = {
    target.name: target
    for target in (target_named(target_name(tone, D65)) for tone in ("2.2", "2.3", "2.4", "bt1886", "srgb"))
}
"""The targets of Rec.709 with the white of television, as the first versions had them."""
DEFAULT_TARGET = target_named("rec709-2.2/added")


def other_blacks(target: Target, percent: float, white: float, black: float) -> str:
    """What the other ways to treat black would ask for at a level, in words; "" where they ask for the same."""
    others = [each for each in target.tone.black_references if each is not target.black]
    told = []
    own = float(target.luminance(percent / 100.0, white, black))
    for other in others:
        light = float(replace(target, black=other).luminance(percent / 100.0, white, black))
        if abs(light - own) > _SAME_SHARE * own:
            told.append(f"{other.label} {light:.3g}")
    if not told:
        return ""
    name = target.black.label or "this target"
    return f"At {percent:g} % {name} asks for {own:.3g} cd/m²; {' and '.join(told)}."
