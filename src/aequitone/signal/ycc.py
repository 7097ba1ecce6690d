"""Y'CbCr codes of R'G'B' codes: ITU-R BT.709-6 item 3 and BT.2020-2 table 4, non-constant luminance."""

import numpy as np
from numpy.typing import NDArray

from aequitone.signal.codes import Range, signal_of
from aequitone.signal.patch import Container, SignalFormat

_LUMA = {
    Container.REC709: (0.2126, 0.7152, 0.0722),
    Container.P3: (0.2627, 0.6780, 0.0593),
    Container.REC2020: (0.2627, 0.6780, 0.0593),
}


def ycc_codes(rgb: NDArray[np.uint16], format_: SignalFormat) -> NDArray[np.uint16]:
    """10-bit Y'CbCr codes, shape of `rgb` (..., 3), in the range of the format.

    A grey keeps its code, at 10 bit, in Y', and has 512 in Cb and Cr.
    """
    red, green, blue = _LUMA[format_.container]
    signal = signal_of(rgb, format_.depth, format_.range).astype(np.float32)
    luma = red * signal[..., 0] + green * signal[..., 1] + blue * signal[..., 2]
    made = np.empty(rgb.shape, dtype=np.uint16)
    low, span, chroma, guard = (0, 1023, 1023, 0) if format_.range is Range.FULL else (64, 876, 896, 4)
    made[..., 0] = np.clip(np.rint(low + span * luma), guard, 1023 - guard)
    for plane, channel, own in ((1, 2, blue), (2, 0, red)):
        difference = (signal[..., channel] - luma) / (2.0 * (1.0 - own))
        made[..., plane] = np.clip(np.rint(512 + chroma * difference), guard, 1023 - guard)
    return made
