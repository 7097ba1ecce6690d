"""What the picture of Colour draws: plain values."""

from dataclasses import dataclass

from aequitone.reference import Verdict


@dataclass(frozen=True)
class Bead:
    """One saturation of one of the six: white is in the middle, the full colour at a distance of 1."""

    name: str
    wanted: tuple[float, float]
    """To the right and up."""
    seen: tuple[float, float]
    """The same, its distance from what is wanted drawn so many times as large."""
    light: float
    """Light off what is wanted, in %."""
    verdict: Verdict
    here: bool = False


@dataclass(frozen=True)
class Spoke:
    """One of the six: its name, and the direction of the full colour, to the right and up, of length 1."""

    name: str
    towards: tuple[float, float]


@dataclass(frozen=True)
class Pair:
    """An everyday colour: as it is wanted and as it is seen, as 8-bit codes of an sRGB display."""

    name: str
    wanted: tuple[int, int, int]
    seen: tuple[int, int, int] | None
    """None where it was not read yet."""
    de2000: float = 0.0
    verdict: Verdict | None = None
    here: bool = False


@dataclass(frozen=True)
class Setting:
    """A control of a colour management: its own name, where it stands, and where the move wants it."""

    name: str
    now: int
    to: int | None = None


@dataclass(frozen=True)
class RampStrip:
    """A fine ramp through a colour: as it is wanted and as it is seen, as 8-bit codes of an sRGB display."""

    colour: str
    pairs: tuple[tuple[tuple[int, int, int], tuple[int, int, int]], ...]
    """From pale to nearly full, as far as it was read."""
    of: int
    """How many there will be."""
    words: str = ""
    """Its largest step, once it was read."""


@dataclass(frozen=True)
class ColourPage:
    """The picture of Colour."""

    spokes: tuple[Spoke, ...] = ()
    beads: tuple[Bead, ...] = ()
    ghosts: tuple[Bead, ...] = ()
    """As found, behind as left."""
    kinds: tuple[tuple[str, tuple[Pair, ...]], ...] = ()
    """Everyday colours, kind by kind."""
    times: float = 1.0
    """How many times as large distances between wanted and seen are drawn."""
    subtitle: str = ""
    figures: tuple[tuple[str, str], ...] = ()
    settings: tuple[tuple[str, tuple[Setting, ...]], ...] = ()
    """Of a colour management that is being set, colour by colour: in the place of everyday colours."""
    ramp: RampStrip | None = None
    """The ramp that is being read: in the place of the controls."""


@dataclass(frozen=True)
class ColourTable:
    """The same as figures."""

    rows: tuple[tuple[str, ...], ...] = ()


@dataclass(frozen=True)
class Dot:
    """A colour of the diagram, in u'v'."""

    name: str
    wanted: tuple[float, float]
    seen: tuple[float, float]
    verdict: Verdict
    is_everyday: bool


@dataclass(frozen=True)
class DiagramPage:
    """The same in plain u'v': what the target's primaries enclose, what the screen's do, and every colour."""

    target: tuple[tuple[float, float], ...]
    screen: tuple[tuple[float, float], ...] = ()
    """Of its full red, green and blue at the level that was read; none where they were not all read."""
    dots: tuple[Dot, ...] = ()
    subtitle: str = ""
    figures: tuple[tuple[str, str], ...] = ()


HEADS = ("Colour", "Light %", "Saturation %", "Hue °", "ΔE 2000", "±", "ΔE ITP", "x", "y", "cd/m²")
