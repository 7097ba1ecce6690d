"""What a scenario says of its meter and its pattern source, checked by pydantic."""

from typing import Annotated, Literal

from pydantic import Field

from aequitone.signal import Range, SignalFormat
from aequitone.standins.parts import KnownTechnology, Part, Positive, Seconds, Share


class MeterPart(Part):
    """A meter: its noise, its filters, where it stands and what goes wrong with it."""

    name: str = "Stand-in colorimeter"
    serial: str = "0001"
    kind: Literal["colorimeter", "spectroradiometer"] = "colorimeter"
    technology: KnownTechnology | None = None
    """What is chosen in the meter; None for what the screen really is."""
    shot_noise: Annotated[float, Field(ge=0.0, le=1.0)] = 0.010
    floor_noise_cd_m2: Annotated[float, Field(ge=0.0, le=1.0)] = 0.002
    read_noise_cd_m2: Annotated[float, Field(ge=0.0, le=1.0)] = 0.0
    darkest_cd_m2: Annotated[float, Field(ge=0.0, le=10.0)] = 0.0
    """Below it the meter answers 0."""
    overhead_seconds: Seconds = 0.3
    filter_nm: Annotated[float, Field(ge=0.0, le=20.0)] = 2.2
    """How far its filters are from the observer's."""
    filter_unit_nm: Annotated[float, Field(ge=0.0, le=5.0)] = 0.25
    """Standard deviation of units around that."""
    dark_drift_cd_m2: Annotated[float, Field(ge=0.0, le=1.0)] = 0.0
    """What a cold meter reads in the dark; gone with the time constant below."""
    dark_drift_minutes: Positive = 6.0
    synchronised: bool = True
    placement: Literal["contact", "pressed", "distance"] = "contact"
    spot: tuple[Annotated[float, Field(ge=-1, le=1)], Annotated[float, Field(ge=-1, le=1)]] = (0.0, 0.0)
    """Where it looks: 0, 0 is the middle, 1, 1 the upper right corner."""
    angle_degree: Annotated[float, Field(ge=0.0, le=80.0)] = 0.0
    outlier_share: Share = 0.0
    outlier_size: Share = 0.3
    timeout_share: Share = 0.0
    half_answer_share: Share = 0.0
    rubbish_share: Share = 0.0
    disconnect_share: Share = 0.0
    silent_after_readings: Annotated[int, Field(ge=0)] | None = None


class SourcePart(Part):
    """A pattern source."""

    name: str = "Stand-in pattern source"
    serial: str = "0001"
    latency_seconds: Seconds = 0.2
    latency_spread_seconds: Seconds = 0.0
    settle_seconds: Seconds = 0.6
    depth_bit: Literal[8, 10, 12] = 10
    range: Range = Range.LIMITED
    window_share: Annotated[float, Field(gt=0.0, le=1.0)] = 0.10
    late_share: Share = 0.0
    late_seconds: Seconds = 1.5
    """A late patch comes this much after it was said to be there."""
    sends_range: Literal["as asked", "limited", "full"] = "as asked"
    sends_transfer: Literal["as asked", "gamma", "pq", "hlg"] = "as asked"
    sends_container: Literal["as asked", "rec709", "p3", "rec2020"] = "as asked"
    sends_matrix: Literal["as asked", "bt601", "bt2020"] = "as asked"
    """The matrix that it mixes Y'CbCr by, which the screen takes apart by BT.709's."""
    contrast_share: Annotated[float, Field(ge=-0.5, le=0.5)] = 0.0
    """What an enhancement in the player does to greys: an S that darkens dark ones and brightens bright ones."""
    colour_share: Annotated[float, Field(ge=-0.5, le=0.5)] = 0.0
    """How much further it puts every colour from grey."""
    timeout_share: Share = 0.0
    disconnect_share: Share = 0.0

    @property
    def format(self) -> SignalFormat:
        """How the source is set to send."""
        return SignalFormat(self.depth_bit, self.range, self.window_share)
