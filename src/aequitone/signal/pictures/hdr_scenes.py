"""Three made-up scenes of HDR in absolute light: a street at night, a room with a window, snow in the sun."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from aequitone.colorimetry.arrays import Array

WIDTH, HEIGHT = 208, 130
_SEED = 41


@dataclass(frozen=True)
class HdrScene:
    """A scene by its name; `make`: draws it."""

    name: str
    make: Callable[[], Array]

    @property
    def light(self) -> Array:
        """Linear light of red, green and blue in cd/m², shape (HEIGHT, WIDTH, 3): equal ones are D65 grey."""
        return _drawn(self)


@lru_cache(maxsize=8)
def _drawn(scene: HdrScene) -> Array:
    light = np.maximum(scene.make(), 0.0)
    light.setflags(write=False)
    return light


def _grid() -> tuple[Array, Array]:
    y, x = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float64)
    return x / WIDTH, y / HEIGHT


def _grain(amount: float) -> Array:
    """Fine structure, the same every time: no wall is one colour."""
    noise = np.random.default_rng(_SEED).standard_normal((HEIGHT, WIDTH, 1))
    return np.asarray(1.0 + amount * noise)


def _glow(x: Array, y: Array, at: tuple[float, float], size: float, peak: float) -> Array:
    away = np.hypot((x - at[0]) * WIDTH / HEIGHT, y - at[1]) / size
    return np.asarray(peak / (1.0 + away**2) ** 2)


def _night() -> Array:
    x, y = _grid()
    light = (0.05 + 0.25 * np.exp(-((y - 0.55) ** 2) / 0.02))[..., None] * np.array([0.7, 0.85, 1.4])
    houses = y > 0.45 + 0.10 * np.floor(np.sin(np.floor(x * 9.0) * 2.1) * 2.0) / 2.0
    light[houses] = np.array([0.10, 0.09, 0.08])
    windows = houses & (np.sin(x * 160.0) > 0.72) & (np.sin(y * 120.0) > 0.55) & (y < 0.74)
    light[windows] = np.array([95.0, 62.0, 26.0])
    street = y > 0.80
    light[street] = 0.5 * np.array([1.0, 0.95, 0.9])
    for at in ((0.18, 0.34), (0.52, 0.30), (0.86, 0.36)):
        light += _glow(x, y, at, 0.10, 6.0)[..., None] * np.array([1.0, 0.8, 0.5])
        light += _glow(x, y, at, 0.012, 2600.0)[..., None] * np.array([1.0, 0.86, 0.6])
        wet = street * np.exp(-(((x - at[0]) / 0.025) ** 2)) * 45.0
        light += wet[..., None] * np.array([1.0, 0.8, 0.5])
    light += _glow(x, y, (0.70, 0.12), 0.03, 120.0)[..., None] * np.array([0.9, 0.95, 1.1])
    return np.asarray(light * _grain(0.05))


def _interior() -> Array:
    x, y = _grid()
    fall = np.exp(-np.hypot(x - 0.72, (y - 0.35) * 0.8) * 2.2)
    light = (3.0 + 55.0 * fall)[..., None] * np.array([1.05, 0.97, 0.85])
    light[y > 0.72] *= np.array([0.55, 0.42, 0.30])
    pane = (np.abs(x - 0.72) < 0.13) & (np.abs(y - 0.34) < 0.24)
    frame = pane & ((np.abs(x - 0.72) < 0.006) | (np.abs(y - 0.34) < 0.008))
    outside = (900.0 + 900.0 * (0.58 - y))[..., None] * np.array([0.85, 0.97, 1.15])
    light[pane] = outside[pane]
    light[pane & (y > 0.47)] = np.array([160.0, 260.0, 90.0])
    light[frame] = 40.0
    table = (np.abs(x - 0.35) < 0.2) & (np.abs(y - 0.78) < 0.05)
    light[table] = np.array([26.0, 17.0, 10.0])
    ball = np.hypot((x - 0.33) * 1.6, y - 0.68) < 0.06
    light[ball] = np.array([70.0, 14.0, 9.0])
    light += _glow(x, y, (0.12, 0.30), 0.03, 420.0)[..., None] * np.array([1.0, 0.8, 0.55])
    return np.asarray(light * _grain(0.04))


def _snow() -> Array:
    x, y = _grid()
    sky = (260.0 + 420.0 * y)[..., None] * np.array([0.62, 0.82, 1.2])
    field = (420.0 + 260.0 * np.sin(9.0 * x + 5.0 * y) * (y - 0.4))[..., None] * np.array([0.98, 1.0, 1.05])
    light = np.where((y > 0.46 + 0.05 * np.sin(6.0 * x))[..., None], field, sky)
    light += _glow(x, y, (0.22, 0.16), 0.035, 7_000.0)[..., None] * np.array([1.0, 0.97, 0.9])
    for i in range(7):
        at, tall = 0.46 + 0.075 * i, 0.20 + 0.05 * np.sin(i * 2.3)
        tree = (np.abs(x - at) < 0.030 * (y - (0.60 - tall)) / tall) & (y > 0.60 - tall) & (y < 0.60)
        light[tree] = np.array([6.0, 9.0, 5.0])
    slope = (y > 0.72) & (x + y > 1.05)
    light[slope] *= np.array([0.42, 0.48, 0.62])
    return np.asarray(light * _grain(0.03))


HDR_SCENES = (
    HdrScene("Street at night", _night),
    HdrScene("Room with a window", _interior),
    HdrScene("Snow in the sun", _snow),
)
"""From dark to bright."""
