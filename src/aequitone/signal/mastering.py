"""What a source names of the picture that it sends in HDR."""

from dataclasses import dataclass

LEAST, MOST = 1.0, 10_000.0


@dataclass(frozen=True)
class MasteringLight:
    """HDR10 metadata (SMPTE ST 2086 and CTA-861): lights in cd/m²; the primaries are P3 with D65."""

    peak: float = 1000.0
    black: float = 0.0001
    brightest_pixel: int = 1000
    brightest_frame: int = 400

    def __post_init__(self) -> None:
        if not (LEAST <= self.peak <= MOST and 0.0 <= self.black < self.peak):
            raise ValueError(f"a mastering light from {self.black:g} to {self.peak:g} cd/m² cannot be")
        if not 0 <= self.brightest_frame <= self.brightest_pixel <= MOST:
            raise ValueError(
                f"brightest frame and pixel of {self.brightest_frame} and {self.brightest_pixel} cd/m² cannot be"
            )

    @classmethod
    def usual(cls, peak: float) -> "MasteringLight":
        """What a film mastered to a peak in cd/m² usually names."""
        return cls(peak, 0.0001, round(peak), round(0.4 * peak))
