"""What is left to turn, as a sound: a tone that comes to meet a reference tone, so that eyes can stay on the menu.

Steps that are still to go are heard below the reference, steps too far above it, a semitone each. Near it the two
beat against each other, slower and slower, as two strings do that are tuned to one another.
"""

from aequitone.advice.by_hand.watching import Watched

REFERENCE_HZ = 440.0
"""ISO 16."""
_SEMITONE = 2.0 ** (1.0 / 12.0)
# Further than an octave nobody counts.
_MOST = 12.0


def pitch_of(seen: Watched) -> float:
    """Hz of the tone for a glance: of the first control of the move that is not there yet, or the reference."""
    left = next((each for each in seen.left if not each.there), None)
    if left is None:
        return REFERENCE_HZ
    more = left.steps if left.up else -left.steps
    return float(REFERENCE_HZ * _SEMITONE ** -min(max(more, -_MOST), _MOST))
