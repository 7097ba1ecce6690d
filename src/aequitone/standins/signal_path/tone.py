"""What a screen makes of PQ and HLG: its own way down to the light it can give."""

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import hlg_gamma, hlg_scene, pq_light
from aequitone.signal import Transfer
from aequitone.standins.parts import HdrPart

# ITU-R BT.2100-2, table 5: luminance of the scene from its RGB.
_SCENE_LUMINANCE = np.array([0.2627, 0.6780, 0.0593])


def hdr_light(signal: Array, transfer: Transfer, part: HdrPart, peak: float) -> Array:
    """Linear RGB as a share of the peak, shape of `signal`, for PQ or HLG."""
    if transfer is Transfer.HLG:
        scene = hlg_scene(signal)
        luminance = (scene @ _SCENE_LUMINANCE)[..., None]
        return np.asarray(np.clip(scene * np.maximum(luminance, 1e-9) ** (hlg_gamma(peak) - 1.0), 0.0, 1.0))
    return rolled_off(pq_light(signal) / peak, part.knee_share, part.maps_from_cd_m2 / peak)


def rolled_off(light: Array, knee: float, top: float) -> Array:
    """Light in shares of the peak: straight up to the knee, then bent so that `top` just reaches 1."""
    if top <= 1.0 or knee >= 1.0:
        return np.asarray(np.minimum(light, 1.0))
    along = np.clip((light - knee) / (top - knee), 0.0, 1.0)
    # The power makes the slope at the knee 1.
    bent = knee + (1.0 - knee) * (1.0 - (1.0 - along) ** ((top - knee) / (1.0 - knee)))
    return np.where(light <= knee, light, bent)
