"""How the signal of a target is encoded: its transfer, and the primaries that its codes are mixed from."""

from aequitone.colorimetry import P3, REC709, REC2020, Formula, Gamut
from aequitone.reference import Hlg, Target
from aequitone.signal import Container, Transfer

CONTAINER_GAMUTS: dict[Container, Gamut] = {
    Container.REC709: REC709,
    Container.P3: P3,
    Container.REC2020: REC2020,
}
"""The primaries of each container."""


def transfer_of(target: Target) -> Transfer:
    """What the codes of this target mean in light."""
    if target.tone.absolute:
        return Transfer.PQ
    return Transfer.HLG if isinstance(target.tone, Hlg) else Transfer.GAMMA


def usual_formula(target: Target) -> Formula:
    """The ΔE that leads where nothing else was chosen: ΔE ITP for HDR (ITU-R BT.2124), ΔE 2000 for SDR."""
    return Formula.DE2000 if transfer_of(target) is Transfer.GAMMA else Formula.ITP


def container_of(target: Target) -> Container:
    """What the codes of this target are mixed from; primaries of one's own are sent as Rec.709, unmarked."""
    found = (each for each, gamut in CONTAINER_GAMUTS.items() if gamut == target.container)
    return next(found, Container.REC709)
