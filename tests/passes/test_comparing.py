"""Sheets of other inputs: what a look found is told by its figures, whatever the device is called."""

import numpy as np

from aequitone.advice.last_look import Moved
from aequitone.logbook.settings.copies import CopyRecord
from aequitone.passes import CopySheet
from aequitone.procedures.grey.verify import Verified

DEVICE = "HDMI 2, Box: not the same"


def sheet(*differences: Moved) -> CopySheet:
    copy = CopyRecord(2, "HDMI 2", "Film", "Box: not the same", 1, applied=False, ticked=frozenset())
    return CopySheet(copy, (), Verified(DEVICE, "Film, HDMI 1", np.ones((9, 3)), differences))


def test_a_device_that_is_called_like_a_verdict_is_none() -> None:
    assert not sheet().wrong
    assert sheet().looked == "HDMI 2, Box: not the same: the same as Film, HDMI 1."


def test_what_differs_is_wrong_and_said() -> None:
    found = sheet(Moved("White is bluer.", "the temperature preset"))
    assert found.wrong
    assert found.looked.endswith("White is bluer. Look at the temperature preset.")


def test_no_look_is_neither() -> None:
    found = CopySheet(sheet().copy, ())
    assert (found.wrong, found.looked) == (False, "")
