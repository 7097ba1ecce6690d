"""Test pictures as files: PNG of 8 and 16 bit, and 10-bit video that stands still for minutes."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from aequitone.handover.errors import NoEncoderError
from aequitone.signal import Container, MasteringLight, Range, SignalFormat, Transfer
from aequitone.signal.pictures import Picture, render
from aequitone.signal.ycc import ycc_codes

if TYPE_CHECKING:
    import av

# Code points of ITU-T H.273.
_PRIMARIES = {Container.REC709: 1, Container.P3: 12, Container.REC2020: 9}
_TRANSFERS = {Transfer.GAMMA: 1, Transfer.PQ: 16, Transfer.HLG: 18}
_MATRICES = {Container.REC709: 1, Container.P3: 9, Container.REC2020: 9}
_NAMES = {
    Container.REC709: ("bt709", "bt709"),
    Container.P3: ("smpte432", "bt2020nc"),
    Container.REC2020: ("bt2020", "bt2020nc"),
}
_TRANSFER_NAMES = {Transfer.GAMMA: "bt709", Transfer.PQ: "smpte2084", Transfer.HLG: "arib-std-b67"}
_FRAMES_PER_SECOND = 24
# What is repeated: long enough for what blinks; what moves comes round in its own time.
_LOOP_SECONDS = 2.0


@dataclass(frozen=True)
class VideoPlan:
    """How long a picture stands, and what HDR10 metadata goes with it."""

    minutes: float = 2.0
    mastering: MasteringLight | None = None

    def __post_init__(self) -> None:
        if not 0.0 < self.minutes <= 240.0:
            raise ValueError(f"a video stands for more than 0 and at most 240 minutes, got {self.minutes:g}")


def write_png(path: Path, codes: NDArray[np.uint16], depth: int, *, bits: int = 16) -> None:
    """Write codes (height, width, 3) as PNG.

    With 16 bit the codes stand at the upper end: a 10-bit code n is written as 64 n. With 8 bit the codes must be
    8-bit ones. Raises ValueError where they do not fit, OSError where the file cannot be written.
    """
    import av

    if bits not in (8, 16) or depth > bits:
        raise ValueError(f"{depth}-bit codes do not fit a PNG of {bits} bit")
    if bits == 8:
        frame = av.VideoFrame.from_ndarray(codes.astype(np.uint8), format="rgb24")
    else:
        frame = av.VideoFrame.from_ndarray((codes << (16 - depth)).astype(np.uint16), format="rgb48be")
    encoder: Any = av.CodecContext.create("png", "w")
    encoder.width, encoder.height, encoder.pix_fmt = frame.width, frame.height, frame.format.name
    encoder.time_base = Fraction(1, 1)
    packets = [*encoder.encode(frame), *encoder.encode(None)]
    path.write_bytes(b"".join(bytes(packet) for packet in packets))


def read_png(path: Path) -> NDArray[np.uint16]:
    """Values of a PNG as they are in the file, (height, width, 3)."""
    import av

    with av.open(str(path)) as container:
        frame = next(container.decode(video=0))
    wide = "48" in frame.format.name
    return np.asarray(frame.to_ndarray(format="rgb48be" if wide else "rgb24")).astype(np.uint16)


def write_video(
    path: Path,
    picture: Picture,
    width: int,
    height: int,
    format_: SignalFormat,
    plan: VideoPlan,
    going_on: Callable[[], bool] = lambda: True,
) -> str:
    """Write a picture as video and return the encoder's name; codes come out again as they went in.

    A short stretch is encoded once, without loss, and its packets are repeated, so that minutes cost seconds.
    `going_on` is asked between frames; where it says no, nothing is left and the file's name is returned empty.
    Raises NoEncoderError where this computer has no encoder for it.
    """
    import av

    if width % 2 or height % 2:
        raise ValueError(f"a video has an even number of pixels each way, got {width} × {height}")
    name = _encoder()
    unfinished = path.with_name(f"{path.stem}.unfinished{path.suffix}")
    try:
        with av.open(str(unfinished), "w", format="mp4") as container:
            stream: Any = container.add_stream(name, rate=_FRAMES_PER_SECOND)
            _set_up(stream, name, width, height, format_, plan)
            packets, whole = [], True
            for frame in _frames(picture, width, height, format_):
                whole = going_on()
                if not whole:
                    break
                packets += stream.encode(frame)
            packets += stream.encode(None)
            if whole:
                _repeat(container, stream, packets, plan.minutes * 60.0)
        if not whole:
            unfinished.unlink(missing_ok=True)
            return ""
        unfinished.replace(path)
    except BaseException:
        unfinished.unlink(missing_ok=True)
        raise
    return name


def read_video(path: Path) -> Iterator[NDArray[np.uint16]]:
    """The frames of a video as 10-bit Y'CbCr, (height, width, 3), chroma repeated to full size."""
    import av

    with av.open(str(path)) as container:
        for frame in container.decode(video=0):
            yield _planes_of(frame)


def _encoder() -> str:
    import av

    for name in ("libx265", "libx264"):
        if name in av.codecs_available:
            return name
    raise NoEncoderError(
        "No encoder for 10-bit HEVC or AVC is on this computer; the PNG files are made all the same"
    )


def _set_up(stream: Any, name: str, width: int, height: int, format_: SignalFormat, plan: VideoPlan) -> None:
    stream.width, stream.height, stream.pix_fmt = width, height, "yuv420p10le"
    context = stream.codec_context
    context.color_range = 2 if format_.range is Range.FULL else 1
    context.color_primaries = _PRIMARIES[format_.container]
    context.color_trc = _TRANSFERS[format_.transfer]
    context.colorspace = _MATRICES[format_.container]
    primaries, matrix = _NAMES[format_.container]
    settings = {
        "keyint": "9999",
        "min-keyint": "9999",
        "bframes": "0",
        "scenecut": "0",
        "range": format_.range.value,
        "colorprim": primaries,
        "transfer": _TRANSFER_NAMES[format_.transfer],
        "colormatrix": matrix,
    }
    if name == "libx265":
        settings |= {"lossless": "1", "open-gop": "0", "repeat-headers": "1", "log-level": "none"}
        if plan.mastering is not None:
            settings |= _mastering(plan.mastering)
        stream.options = {"preset": "ultrafast", "x265-params": _joined(settings)}
        context.codec_tag = "hvc1"
    else:
        del settings["range"]
        settings["fullrange"] = "on" if format_.range is Range.FULL else "off"
        stream.options = {"preset": "ultrafast", "qp": "0", "x264-params": _joined(settings)}


def _mastering(light: MasteringLight) -> dict[str, str]:
    peak, black = round(light.peak * 10_000), round(light.black * 10_000)
    primaries = "G(13250,34500)B(7500,3000)R(34000,16000)WP(15635,16450)"
    return {
        "hdr10": "1",
        "master-display": f"{primaries}L({peak},{black})",
        "max-cll": f"{light.brightest_pixel},{light.brightest_frame}",
    }


def _joined(settings: dict[str, str]) -> str:
    return ":".join(f"{key}={value}" for key, value in settings.items())


def _frames(picture: Picture, width: int, height: int, format_: SignalFormat) -> "Iterator[av.VideoFrame]":
    seconds = 1.0 / picture.widths_per_second if picture.widths_per_second else _LOOP_SECONDS
    count = round(seconds * _FRAMES_PER_SECOND)
    kept: dict[float, av.VideoFrame] = {}
    for i in range(count):
        at = i / _FRAMES_PER_SECOND
        # A picture that stands, or blinks, is rendered once for each of its states.
        key = at if picture.widths_per_second else float(at * picture.blinks_per_second % 1.0 >= 0.5)
        if key not in kept:
            kept = {} if picture.widths_per_second else kept
            kept[key] = _frame_of(ycc_codes(render(picture, width, height, format_, at).codes, format_))
        frame = kept[key]
        frame.pts = i
        frame.time_base = Fraction(1, _FRAMES_PER_SECOND)
        frame.color_range = 2 if format_.range is Range.FULL else 1
        yield frame


def _frame_of(ycc: NDArray[np.uint16]) -> "av.VideoFrame":
    import av

    height, width = ycc.shape[:2]
    frame = av.VideoFrame(width, height, "yuv420p10le")
    # Chroma is the mean of four pixels.
    small = ycc[..., 1:].reshape(height // 2, 2, width // 2, 2, 2).sum(axis=(1, 3), dtype=np.uint32)
    chroma = ((small + 2) // 4).astype(np.uint16)
    for plane, values in zip(frame.planes, (ycc[..., 0], chroma[..., 0], chroma[..., 1]), strict=True):
        rows, columns = values.shape
        padded = np.zeros((rows, plane.line_size // 2), dtype="<u2")
        padded[:, :columns] = values
        plane.update(padded.tobytes())
    return frame


def _planes_of(frame: "av.VideoFrame") -> NDArray[np.uint16]:
    planes = []
    for plane in frame.planes:
        values = np.frombuffer(plane, dtype="<u2").reshape(plane.height, plane.line_size // 2)[:, : plane.width]
        planes.append(values)
    luma, blue, red = planes
    wide = [np.repeat(np.repeat(c, 2, axis=0), 2, axis=1)[: frame.height, : frame.width] for c in (blue, red)]
    return np.stack([luma, *wide], axis=-1)


def _repeat(container: Any, stream: Any, packets: list[Any], seconds: float) -> None:
    """Write a closed stretch of packets again and again until so many seconds are full."""
    import av

    base = packets[0].time_base
    one = round(len(packets) / _FRAMES_PER_SECOND / base)
    times = max(1, round(seconds * _FRAMES_PER_SECOND / len(packets)))
    for turn in range(times):
        for packet in packets:
            copy: Any = av.Packet(bytes(packet))
            copy.stream, copy.time_base = stream, base
            copy.pts, copy.dts = packet.pts + turn * one, packet.dts + turn * one
            copy.duration, copy.is_keyframe = packet.duration, packet.is_keyframe
            container.mux(copy)
