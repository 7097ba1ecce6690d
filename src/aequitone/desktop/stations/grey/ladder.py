"""The grey ladder of a visit: the page of As found, White and Proof, as a picture or as figures. No Qt."""

import numpy as np

from aequitone.desktop.frame.panel_state import DeltaFigure, DialState
from aequitone.desktop.widgets.ladder_state import LadderState, LadderTablePage
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import verdict

LadderPage = LadderState | LadderTablePage


def ladder_page(ladder: LadderState, *, tabled: bool) -> LadderPage:
    """The ladder as the person wants to see it."""
    return LadderTablePage(ladder) if tabled else ladder


def mean_delta(found: GreyPass) -> DeltaFigure:
    """The average ΔE of a pass, black left out, and its spread."""
    return DeltaFigure(f"{found.formula} on average", found.mean, found.mean_sd, verdict(found.mean))


def casts(found: GreyPass) -> DialState:
    """Where the levels lean, from dark to bright: how far grey wanders."""
    inner = np.nan_to_num(found.errors.cast[:-1])[::-1]
    return DialState(tuple((float(warm), float(green)) for warm, green in inner))
