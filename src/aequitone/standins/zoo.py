"""A zoo of screens that nobody designed: each is drawn at random from a wide family, by its number.

The family is described in docs/zoo.md. Advice is worked on with two thirds of the numbers; the third that
`is_kept` is for closing figures alone.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np

from aequitone.advice.roles import BIASES, GAINS, TWO_POINT, Role
from aequitone.advice.technology import Technology
from aequitone.standins.scenario import Scenario

_KEPT_OF, _KEPT = 3, 2
_TECHNOLOGIES = (
    Technology.LED_LCD,
    Technology.WIDE_LCD,
    Technology.WHITE_OLED,
    Technology.RGB_OLED,
    Technology.PLASMA,
    Technology.THREE_PANEL_PROJECTOR,
)
_SPANS = ((0, 100), (-50, 50), (-10, 10), (0, 1023), (0, 255), (-30, 30), (0, 200))
_POINT_SPANS = ((-50, 50), (-10, 10), (-25, 25), (-100, 100))
_TARGETS = ("rec709-2.2/added", "rec709-2.4/added", "rec709-2.3/added", "rec709-bt1886")
# Where red, green and blue of such panels lie, and by how much one model's differ from another's, x and y.
_PRIMARIES = {
    Technology.LED_LCD: ((0.642, 0.333), (0.306, 0.608), (0.151, 0.058)),
    Technology.WIDE_LCD: ((0.685, 0.311), (0.254, 0.698), (0.152, 0.052)),
    Technology.WHITE_OLED: ((0.664, 0.330), (0.262, 0.672), (0.146, 0.053)),
    Technology.RGB_OLED: ((0.676, 0.322), (0.206, 0.722), (0.142, 0.050)),
    Technology.PLASMA: ((0.644, 0.338), (0.288, 0.618), (0.150, 0.062)),
    Technology.THREE_PANEL_PROJECTOR: ((0.654, 0.334), (0.294, 0.634), (0.150, 0.055)),
}
_PRIMARIES_SPREAD, _LEAST_BLUE = 0.005, 0.99
_OLED = (Technology.WHITE_OLED, Technology.RGB_OLED)
_WHITE = (0.3127, 0.3290)


def is_kept(number: int) -> bool:
    """Whether a screen is kept for closing figures: nothing is tried on it."""
    return number % _KEPT_OF == _KEPT


def zoo_screen(number: int) -> Scenario:
    """The scenario of a screen of the zoo; the same for the same number."""
    draw = _Draw(np.random.default_rng([number, 20261128]))
    technology = draw.one_of(_TECHNOLOGIES)
    return Scenario.model_validate(
        {
            "title": f"zoo {number}",
            "screen": _screen(draw, number, technology),
            "meter": _meter(draw),
            "source": {"settle_seconds": draw.between(0.2, 1.0), "latency_seconds": draw.between(0.05, 0.4)},
            "hand": {"trip_seconds": draw.between(6.0, 14.0)},
            "visit": {
                "client": "Zoo",
                "room": "Cage",
                "input": "HDMI 1",
                "memory": "Film",
                "target": draw.one_of(_TARGETS),
            },
        }
    )


@dataclass(frozen=True)
class _Draw:
    rng: np.random.Generator

    def between(self, low: float, high: float) -> float:
        return round(float(self.rng.uniform(low, high)), 5)

    def around(self, middle: float, factor: float) -> float:
        """A figure up to so many times more or less, evenly in logarithm."""
        return round(middle * float(np.exp(np.log(factor) * self.rng.uniform(-1.0, 1.0))), 7)

    def chance(self, share: float) -> bool:
        return bool(self.rng.random() < share)

    def one_of(self, choices: Any) -> Any:
        return choices[int(self.rng.integers(len(choices)))]

    def triple(self, spread: float) -> tuple[float, float, float]:
        r, g, b = (round(float(value), 5) for value in self.rng.normal(0.0, spread, 3))
        return r, g, b


def _meter(draw: _Draw) -> dict[str, Any]:
    noise = draw.around(1.0, 3.0)
    return {
        "shot_noise": 0.010 * noise,
        "floor_noise_cd_m2": 0.002 * noise,
        "overhead_seconds": draw.between(0.2, 0.8),
        "outlier_share": draw.between(0.0, 0.03) if draw.chance(0.3) else 0.0,
    }


def _screen(draw: _Draw, number: int, technology: Technology) -> dict[str, Any]:
    oled, projector = technology in _OLED, technology is Technology.THREE_PANEL_PROJECTOR
    peak = draw.between(60.0, 110.0) if projector else draw.between(120.0, 420.0)
    screen: dict[str, Any] = {
        "name": f"Zoo {number}",
        "technology": technology,
        "peak_cd_m2": peak,
        "contrast_ratio": None if oled else draw.around(2500.0, 3.0),
        "native_white_xy": (draw.between(0.272, 0.305), draw.between(0.275, 0.325)),
        "native_gamma": 2.2,
        **_primaries(number, technology),
        "gammas": tuple(draw.around(gamma, 1.02) for gamma in (2.0, 2.2, 2.4)),
        "temperatures_xy": _temperatures(draw),
        "headroom_share": draw.between(0.0, 0.09),
        "panel_bit": draw.one_of((10, 12, 14)),
        "dither_share": draw.between(0.0, 0.008) if technology is Technology.PLASMA else 0.0,
        "path": _path(draw),
        "fault": {
            "sag": draw.between(0.0, 0.012) if draw.chance(0.5) else 0.0,
            "end_weakness": draw.between(0.0, 0.5) if draw.chance(0.5) else 0.0,
        },
        "unit": {"neutral_steps": draw.between(0.0, 3.0), "preset_bend": draw.between(0.0, 0.02)},
        "warm_up": {"already_minutes": 90.0},
        "drift": {"light_share_per_hour": draw.between(-0.01, 0.01)},
        "power": _power(draw, technology),
        "near_black": _near_black(draw, oled=oled),
        "crosstalk": draw.between(0.0, 0.01),
    }
    if technology is Technology.WHITE_OLED:
        screen["white_pixel"] = {"boost": draw.between(0.0, 0.2)}
    if oled:
        screen["still"] = {"share": draw.between(0.0, 0.03), "after_seconds": 60.0}
    span, point_span = draw.one_of(_SPANS), draw.one_of(_POINT_SPANS)
    screen["effect"] = _effect(draw, span)
    screen["control"] = _controls(draw, span)
    if draw.chance(0.65):
        screen["multi_point"] = _multi_point(draw, point_span)
    return screen


def _primaries(number: int, technology: Technology) -> dict[str, tuple[float, float]]:
    """Red, green and blue; drawn apart, so that what was drawn before stays what it was."""
    rng = np.random.default_rng([number, 709])
    spread = rng.normal(0.0, _PRIMARIES_SPREAD, (3, 2))
    moved = np.array(_PRIMARIES[technology]) + spread
    # Nothing has more red and green than a single wavelength.
    moved = (moved * np.minimum(1.0, _LEAST_BLUE / moved.sum(axis=1, keepdims=True))).round(5).tolist()
    return {name: (x, y) for name, (x, y) in zip(("red_xy", "green_xy", "blue_xy"), moved, strict=True)}


def _temperatures(draw: _Draw) -> tuple[tuple[float, float], ...]:
    """Cool, middling, and one that is meant to be D65 and is off by what factories are off by."""
    along, across = draw.triple(0.006)[:2]
    warm = (round(_WHITE[0] + along, 5), round(_WHITE[1] + along + 0.5 * across, 5))
    return (0.2740, 0.2830), (0.2950, 0.3060), warm


def _path(draw: _Draw) -> dict[str, Any]:
    tone = draw.one_of(("power", "power", "power", "s-curve", "srgb", "shoulder"))
    strength = {"power": 0.0, "s-curve": draw.between(0.02, 0.12), "srgb": draw.between(0.3, 1.0)}
    path: dict[str, Any] = {
        "gains_on": draw.one_of(("drive", "drive", "signal", "light")),
        "biases": draw.one_of(("lift", "lift", "add", "multiply")),
        "tone": tone,
        "tone_share": strength.get(tone, draw.between(0.05, 0.3)),
    }
    if draw.chance(0.2):
        path["dead_zone_steps"] = int(draw.rng.integers(1, 4))
    if draw.chance(0.25):
        clips = [1.0, 1.0, 1.0]
        clips[int(draw.rng.integers(3))] = draw.between(0.95, 0.995)
        path["clips_share"] = tuple(clips)
    odd = draw.rng.random()
    if odd < 0.05:
        path["dead"] = (draw.one_of(TWO_POINT).key,)
    elif odd < 0.10:
        first, second = draw.rng.choice(3, 2, replace=False)
        roles = draw.one_of((GAINS, BIASES))
        path["swapped"] = (roles[int(first)].key, roles[int(second)].key)
    return path


def _power(draw: _Draw, technology: Technology) -> dict[str, float]:
    limited = technology in (*_OLED, Technology.PLASMA)
    return {
        "full_field_share": draw.between(0.2, 0.7) if limited else draw.between(0.85, 1.0),
        "floating_black_cd_m2": draw.between(0.0, 0.05) if technology is Technology.PLASMA else 0.0,
    }


def _near_black(draw: _Draw, *, oled: bool) -> dict[str, Any]:
    if not oled:
        return {}
    return {
        "step_share": draw.between(0.0, 0.00004),
        "tint": draw.triple(0.02),
        "fades_share": draw.between(0.005, 0.03),
    }


def _effect(draw: _Draw, span: tuple[int, int]) -> dict[str, float]:
    half = (span[1] - span[0]) / 2.0
    return {
        "gain_per_step": draw.between(0.10, 0.30) / half,
        "bias_per_step": draw.between(0.02, 0.07) / half,
        "contrast_per_step": draw.between(0.004, 0.012),
        "black_level_per_step": draw.between(0.002, 0.006),
    }


def _controls(draw: _Draw, span: tuple[int, int]) -> list[dict[str, Any]]:
    low, high = span
    middle = (low + high) // 2
    spread = max(1, (high - low) // 25) if draw.chance(0.4) else 0
    two_point = [
        {"role": role.key, "name": name, "lowest": low, "highest": high, "factory": middle, "found": middle}
        | {"found_spread": spread}
        for role, name in zip(TWO_POINT, ("R gain", "G gain", "B gain", "R bias", "G bias", "B bias"), strict=True)
    ]
    light = int(draw.rng.integers(8, 20)) * 5
    return [
        *two_point,
        {"role": Role.LIGHT_OUTPUT.key, "name": "Light", "factory": light, "found": light},
        {"role": Role.CONTRAST.key, "name": "Contrast", "factory": 85, "found": 85},
        {"role": Role.BLACK_LEVEL.key, "name": "Black", "factory": 50, "found": 50},
        {"role": Role.GAMMA.key, "name": "Gamma", "highest": 2, "factory": 1, "found": 1}
        | {"choices": ("2.0", "2.2", "2.4")},
        {"role": Role.TEMPERATURE.key, "name": "Colour", "highest": 2, "factory": 2, "found": 2}
        | {"choices": ("Cold", "Normal", "Warm")},
    ]


def _multi_point(draw: _Draw, span: tuple[int, int]) -> dict[str, Any]:
    return {
        "points": draw.one_of((10, 10, 11, 20, 20, 21)),
        "interpolation": draw.one_of(("linear", "linear", "smooth", "own-level-only")),
        "lowest": span[0],
        "highest": span[1],
        "effect_per_step": draw.between(0.04, 0.12) / span[1],
        "luminance": draw.chance(0.5),
        "off_share": draw.between(0.0, 0.02) if draw.chance(0.5) else 0.0,
        "leak_share": draw.between(0.02, 0.2) if draw.chance(0.3) else 0.0,
        "joined_in": "light" if draw.chance(0.3) else "code",
        "dark_boost": draw.between(0.2, 2.0) if draw.chance(0.3) else 0.0,
    }
