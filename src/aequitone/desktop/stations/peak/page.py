"""From a pass over the peak to its picture: pure functions, no Qt."""

import numpy as np

from aequitone.advice.answers.shoulder import ShoulderKind
from aequitone.colorimetry.transfer import pq_encode
from aequitone.desktop.stations.peak.state import PeakPage
from aequitone.desktop.widgets.axis import Axis
from aequitone.figures import light_words
from aequitone.procedures.hdr.peak import PeakPass

_TICKS = (0.1, 1.0, 10.0, 100.0, 1_000.0, 10_000.0)
_LOWEST = 0.5
# Room above the brightest, in PQ.
_ABOVE = 0.04


def peak_page(found: PeakPass | None) -> PeakPage:
    """The picture of what was found, or of what was read so far."""
    if found is None:
        return PeakPage()
    light = np.array(found.light) if found.light else np.zeros(0)
    codes = pq_encode(np.maximum(light, 1e-4))
    greys = tuple(
        (float(percent), float(code), float(each))
        for percent, code, each in zip(found.percents, codes, light, strict=True)
    )
    shoulder = found.shoulder
    advised, _ = found.advised
    shares = [share for share, _, _ in found.windows]
    return PeakPage(
        greys,
        _up(codes),
        None if shoulder is None or shoulder.kind is ShoulderKind.NONE else 100.0 * shoulder.knee,
        0.0 if shoulder is None else 100.0 * shoulder.knee_sd,
        "" if shoulder is None else f"knee {100.0 * shoulder.knee:.1f} %, {light_words(shoulder.knee_light)}",
        float(pq_encode(found.usual)) if found.usual and found.light else None,
        f"peak {light_words(found.usual)}" if found.usual else "",
        tuple((f"{share * 100:g}", each) for share, each, _ in found.windows),
        shares.index(advised) if advised in shares and len(shares) > 1 else None,
        tuple((seconds, 100.0 * share) for seconds, share in found.held),
        figures(found),
    )


def _up(codes: np.ndarray) -> Axis | None:
    """Light along PQ, from below the darkest grey to above the brightest, ticks at whole powers of ten."""
    if not len(codes):
        return None
    low, high = float(min(codes.min(), pq_encode(_LOWEST))), float(codes.max()) + _ABOVE
    ticks = [tick for tick in _TICKS if low <= float(pq_encode(tick)) <= high]
    return Axis(low, high, tuple(float(pq_encode(t)) for t in ticks), 0, tuple(f"{tick:g}" for tick in ticks))


def figures(found: PeakPass) -> tuple[tuple[str, str], ...]:
    """The figures to enter in a tone mapping, and what there is beside them."""
    if not found.windows:
        return ()
    told = list(found.to_enter)
    if found.percents:
        told.append(("Black", f"{found.black:.4f} cd/m²" if found.black else "none that is read"))
    if found.held:
        told.append(
            ("Held after 30 s" if found.held[-1][0] >= 30.0 else "Held", f"{100.0 * found.held[-1][1]:.0f} %")
        )
        told.append(("After a full field", f"{100.0 * found.recovered:.0f} %"))
    return tuple(told)


def peak_text(page: PeakPage) -> str:
    """The picture as tab-separated text."""
    rows = [("Signal %", "cd/m²")]
    rows += [(f"{percent:g}", f"{light:.5g}") for percent, _, light in page.greys]
    rows += [("", ""), ("Window %", "cd/m²")]
    rows += [(name, f"{light:.5g}") for name, light in page.windows]
    rows += [("", ""), ("Seconds", "light, % of the first")]
    rows += [(f"{seconds:g}", f"{light:.1f}") for seconds, light in page.held]
    rows += [("", ""), *page.figures]
    if page.knee_words:
        rows.append(("Roll-off", page.knee_words))
    return "\n".join("\t".join(row) for row in rows) + "\n"
