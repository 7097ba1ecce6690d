"""What a screen makes of PQ and HLG: its own way down to the light it can give."""

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import hlg_gamma, hlg_scene, pq_light, rolled_off, srgb_light
from aequitone.signal import Transfer
from aequitone.standins.parts import HdrPart, PathPart

_SHOULDER, _SRGB_POWER = 0.7, 2.2
# ITU-R BT.2100-2, table 5: luminance of the scene from its RGB.
_SCENE_LUMINANCE = np.array([0.2627, 0.6780, 0.0593])


def shaped(signal: Array, path: PathPart) -> Array:
    """The signal after the shape of the tone, before its power law; shape of `signal`, 0 and 1 staying."""
    v, a = signal, path.tone_share
    if path.tone == "s-curve":
        return np.asarray(v - a / (2.0 * np.pi) * np.sin(2.0 * np.pi * np.clip(v, 0.0, 1.0)))
    if path.tone == "shoulder":
        above = np.clip(v - _SHOULDER, 0.0, None)
        return np.asarray(v + a * above * (1.0 - np.minimum(v, 1.0)) / (1.0 - _SHOULDER))
    if path.tone == "srgb":
        # As light of the power law that follows; between the two by its share.
        return np.asarray((1.0 - a) * v + a * srgb_light(np.clip(v, 0.0, None)) ** (1.0 / _SRGB_POWER))
    return v


def hdr_light(signal: Array, transfer: Transfer, part: HdrPart, peak: float, maps_from: float) -> Array:
    """Linear RGB as a share of the peak, shape of `signal`, for PQ or HLG.

    `maps_from`: light in cd/m² that the roll-off brings down to the peak.
    """
    if transfer is Transfer.HLG:
        scene = hlg_scene(signal)
        luminance = (scene @ _SCENE_LUMINANCE)[..., None]
        return np.asarray(np.clip(scene * np.maximum(luminance, 1e-9) ** (hlg_gamma(peak) - 1.0), 0.0, 1.0))
    match part.curve:
        case "spline":
            return rolled_off(signal, maps_from, peak) / peak
        case "clip":
            return np.asarray(np.minimum(pq_light(signal) / peak, 1.0))
    return bent(pq_light(signal) / peak, part.knee_share, maps_from / peak)


def bent(light: Array, knee: float, top: float) -> Array:
    """Light in shares of the peak: straight up to the knee, then bent so that `top` just reaches 1."""
    if top <= 1.0 or knee >= 1.0:
        return np.asarray(np.minimum(light, 1.0))
    along = np.clip((light - knee) / (top - knee), 0.0, 1.0)
    # The power makes the slope at the knee 1.
    above = knee + (1.0 - knee) * (1.0 - (1.0 - along) ** ((top - knee) / (1.0 - knee)))
    return np.where(light <= knee, light, above)
