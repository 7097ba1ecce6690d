"""What a screen can give in HDR, and up to where it is adjusted."""

from collections.abc import Sequence

import numpy as np

from aequitone.advice.answers.shoulder import Shoulder, ShoulderKind, fit_shoulder
from aequitone.advice.points.drive import drives
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.grey import AS_FOUND
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.hdr.peak import READINGS, PeakPass, PeakPlan, peak_pass
from aequitone.procedures.policy import policy_for
from aequitone.reference import BlackReference, PqKept, Target, gamut_of, target_name, target_named, with_knee
from aequitone.signal import Transfer

# What a first look at a peak takes for given, cd/m².
_A_WHITE = 500.0
_STANDS_SECONDS, _WHITE = 30.0, 100.0
# Mastering peaks in cd/m² that a roll-off can be wanted from.
MASTERING = (400.0, 1_000.0, 4_000.0, 10_000.0)
# Below the knee a screen still follows what is sent; a level this close to it, in signal, may not.
_CLEAR_OF_THE_KNEE = 0.01
# Between bright and dark, in % of the signal, there must be so much for gains and biases to be told apart.
_APART, _LEAST_DARK = 15.0, 10.0
# PQ spends far more of its signal on shadows than gamma does, and what biases leave there is seen below the dark
# level: it lies at this share of the one that is chosen for gamma, and of the bright one, which a knee may have
# lowered.
_DARKER, _OF_BRIGHT = 0.5, 0.25


def _plan(snapshot: Snapshot) -> PeakPlan:
    target = target_named(snapshot.visit.target)
    if not target.tone.absolute:
        raise NotReadyError("Peak is for PQ, which says how many cd/m² a signal means.")
    return PeakPlan(target, snapshot.visit.bench.format)


def _seconds(_snapshot: Snapshot, pace: Pace) -> float:
    return _STANDS_SECONDS + READINGS * pace.reading(policy_for(_A_WHITE / 8.0, _A_WHITE))


PEAK = PassType(
    key="peak",
    title="Peak",
    plan=PeakPlan,
    result=PeakPass,
    procedure=peak_pass,
    make_plan=_plan,
    seconds=_seconds,
    words=lambda result: result.words,
    only=Transfer.PQ,
)


def shoulder_of(snapshot: Snapshot) -> Shoulder | None:
    """The upper end of the screen under PQ: as Peak found it, or else as the ladder as found has it."""
    peak, ladder = snapshot.result(PEAK), snapshot.result(AS_FOUND)
    if peak is not None and peak.shoulder is not None:
        return peak.shoulder
    if ladder is None or snapshot.visit.bench.transfer is not Transfer.PQ:
        return None
    signal = np.array(ladder.percents) / 100.0
    try:
        return fit_shoulder(signal, ladder.xyz[:, 1], ladder.sd[:, 1], ladder.black)
    except ValueError:
        return None


def solved_target(snapshot: Snapshot) -> Target:
    """What White and Tone bring the screen to: its target, but not beyond the knee, where its roll-off rules."""
    target, shoulder = target_named(snapshot.visit.target), shoulder_of(snapshot)
    if shoulder is None or shoulder.kind is ShoulderKind.NONE:
        return target
    return with_knee(target, min(shoulder.knee, target.reach(shoulder.peak) / 100.0))


def solved_pair(pair: tuple[float, float], target: Target, white: float, step: float) -> tuple[float, float]:
    """The bright and the dark level, in %, that this screen of `white` cd/m² can be adjusted at.

    Those that were chosen. In PQ the bright one is the nearest on a ladder of `step` % below what the target asks
    for, and the dark one lies at half of that which was chosen, and at no more than a quarter of the bright one.
    """
    bright, dark = pair
    most = 100.0 * (min(target.tone.judged(white), target.tone.reach(white)) - _CLEAR_OF_THE_KNEE)
    if target.tone.absolute:
        if bright > most:
            bright = max(step * np.floor(most / step), _LEAST_DARK + step)
        dark = max(min(_DARKER * dark, np.floor(_OF_BRIGHT * bright)), _LEAST_DARK)
    if bright - dark < _APART:
        dark = max(step * np.round(bright / 2.0 / step), _LEAST_DARK)
    return float(bright), float(dark)


def solved_top(target: Target, white: float, ladder: Sequence[float]) -> float:
    """The brightest of the ladder's levels, in %, that is adjusted: the first beyond the knee, for its cast."""
    beyond = [percent for percent, held in zip(ladder, target.judged(ladder, white), strict=True) if not held]
    return min(beyond, default=_WHITE)


def drive_at(target: Target, percent: float, white: float) -> float:
    """Drive of the panel, 0 to 1, at a level in %."""
    return float(drives(target, np.array([percent]), white)[0])


def upper_ends(snapshot: Snapshot) -> tuple[Target, ...]:
    """The targets that a job of PQ can choose from, which differ in the screen's upper end.

    A hard cut at its peak; BT.2390's roll-off from usual mastering peaks; and what it does by itself, where its
    knee is known.
    """
    target, shoulder = target_named(snapshot.visit.target), shoulder_of(snapshot)
    gamut = gamut_of(target)
    ends = [target_named(target_name("pq", target.white, BlackReference.ADDED, gamut))]
    # A screen that reaches further than a mastering peak rolls nothing off.
    least = shoulder.peak if shoulder is not None else 0.0
    wanted = [mastering for mastering in MASTERING if mastering > least]
    ends += [target_named(target_name(f"pq{mastering:.0f}", target.white, gamut=gamut)) for mastering in wanted]
    if shoulder is not None and shoulder.kind is not ShoulderKind.NONE:
        ends.append(with_knee(target, shoulder.knee))
    elif isinstance(target.tone, PqKept):
        ends.append(target)
    return tuple(ends)
