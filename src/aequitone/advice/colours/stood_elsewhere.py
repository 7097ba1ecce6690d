"""Which control stood elsewhere than noted when colours were read, told from all that was turned since.

Whoever is asked to look has said that all stands as listed, and colours still read otherwise than they did at the
same settings. Then a control stood elsewhere at that time: what was seen of its first move away from there, and of
its move there, went by other steps than was noted. The one that explains all best is told (maximum likelihood).
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from aequitone.advice.colours.belief import Belief, Observation
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array, Mask

# Steps that are tried first; around the best of them every one is. Tens are mistaken, or two figures exchanged.
_TRIED = (1, 2, 3, 4, 6, 8, 10, 13, 16, 20)
# Steps by which a control is noted wrong, as a standard deviation.
_USUAL = 12.0
# How much likelier it must make what was seen, as a logarithm.
_LIKELIER = 4.0


def stood_elsewhere(
    belief: Belief, controls: Sequence[ControlState], when: int, since: Observation
) -> Array | None:
    """Tell by how many steps (controls,) one of them stood elsewhere; None where that explains nothing.

    `controls`: as noted when colours were read, by when there were `when` observations of the belief; `since`: how
    colours have changed to now, their wandering in its variance, and by which steps all was turned from there.
    """
    turned = {int(at) for told in belief.told[when:] for at in np.flatnonzero(told.steps.any(axis=0))}
    whole, _ = belief.likelihood((*belief.told, since))

    def told_so(control: int, off: int) -> tuple[Observation, ...]:
        everywhere = np.ones(len(since.linear), dtype=bool)
        return (*_told_so(belief.told, when, control, off), _by(since, control, -off, everywhere))

    def gain(control: int, off: int) -> float:
        # Where the best answer explains badly what was seen, a difference between two proves less.
        likely, badly = belief.likelihood(told_so(control, off))
        return (likely - whole) / max(badly, 1.0) - 0.5 * (off / _USUAL) ** 2

    def best_of(control: int, offs: Sequence[int]) -> tuple[float, int, int]:
        inside = [off for off in offs if off and _is_setting(controls[control], off)]
        return max(((gain(control, off), control, off) for off in inside), default=(0.0, control, 0))

    offs = (*(-step for step in _TRIED), *_TRIED)
    coarse = [best_of(control, offs) for control in sorted(turned)]
    _, control, off = max(coarse, default=(0.0, 0, 0))
    likelier, control, off = best_of(control, _around(off))
    if likelier < _LIKELIER:
        return None
    return np.where(np.arange(len(controls)) == control, float(off), 0.0)


def _around(off: int) -> range:
    """The steps up to the ones that were tried beside it."""
    tried = [*(-step for step in reversed(_TRIED)), 0, *_TRIED]
    at = tried.index(off)
    return range(tried[max(at - 1, 0)], tried[min(at + 1, len(tried) - 1)] + 1)


def _is_setting(control: ControlState, off: int) -> bool:
    return control.lowest <= control.value + off * control.step <= control.highest


def _told_so(told: Sequence[Observation], when: int, control: int, off: int) -> tuple[Observation, ...]:
    """The observations, had a control stood `off` steps elsewhere at a time between them."""
    there = told[when - 1 : when] if when else ()
    arrived = tuple(_by(each, control, off, _moved(each, control)) for each in there)
    left, seen = [], set[bytes]()
    for each in told[when:]:
        keys = [row.tobytes() for row in each.linear]
        fresh = _moved(each, control) & np.array([key not in seen for key in keys])
        seen.update(key for key, is_fresh in zip(keys, fresh, strict=True) if is_fresh)
        left.append(_by(each, control, -off, fresh))
    return (*told[: max(when - 1, 0)], *arrived, *left)


def _moved(told: Observation, control: int) -> Mask:
    """Which rows, (n,), have felt a control."""
    return np.asarray(np.broadcast_to(told.steps[:, control] != 0.0, len(told.linear)))


def _by(told: Observation, control: int, steps: int, rows: Mask) -> Observation:
    """An observation some rows of which felt so many more steps of a control."""
    changed = np.array(np.broadcast_to(told.steps, (len(told.linear), told.steps.shape[1])), dtype=float)
    changed[rows, control] += steps
    return replace(told, steps=changed)
