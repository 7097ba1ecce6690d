"""From a state of levels to its picture: pure functions, no Qt."""

from typing import Any

from aequitone.advice.levels import Curve
from aequitone.advice.levels.sweep import luminances
from aequitone.advice.roles import CHANNELS, ROLE_WORDS, Role
from aequitone.desktop.stations.levels.state import LevelRow, LevelsPage
from aequitone.desktop.widgets.chart_state import LineState
from aequitone.figures import ratio_words
from aequitone.passes import LEVELS, UNIFORMITY, Snapshot
from aequitone.passes.levels import wanted_light
from aequitone.procedures.levels.session import LEVEL_ROLES, LevelsState
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.preparation.uniformity import PLACES, Evenness

_SAME = 0.02


def levels_page(snapshot: Snapshot, live: LevelsState | None, asked: Role | None = None) -> LevelsPage:
    """The controls, and the curve of the newest sweep, or of the control that is `asked` about.

    `live`: the state of a pass that is running; what the ledger knows of it comes with its end.
    """
    state = live or snapshot.state(LEVELS)
    controls = {control.role: control for control in snapshot.controls}
    sweeps = state.sweeps if state else ()
    about = [swept for swept in sweeps if asked is None or swept.control.role == asked]
    shown = about[-1] if about else None
    found = {swept.control.role: swept.found_at for swept in reversed(sweeps)}
    latest = {swept.control.role: swept for swept in sweeps}
    rows = []
    for role in LEVEL_ROLES:
        if role not in controls or role not in snapshot.settings:
            continue
        control, swept = controls[role], latest.get(role)
        finding = swept.finding if swept else None
        now = swept.control.value if swept and live else snapshot.settings[role]
        rows.append(
            LevelRow(
                ROLE_WORDS[role].capitalize(),
                control.name,
                control.lowest,
                control.highest,
                found.get(role, snapshot.settings[role]),
                now,
                finding.exact if finding else None,
                finding.sd if finding else 0.0,
                _note(swept),
                role is asked or (shown is not None and shown.control.role == role),
            )
        )
    return LevelsPage(tuple(rows), **_curve(shown), figures=figures(snapshot, state))


def _note(swept: Swept | None) -> str:
    if swept is None:
        return ""
    if swept.kept:
        return "put back by you"
    if swept.finding is None:
        return f"{_readings(swept.readings)} so far"
    return _readings(swept.readings)


def _readings(count: int) -> str:
    return f"{count} reading" if count == 1 else f"{count} readings"


def _curve(swept: Swept | None) -> dict[str, Any]:
    if swept is None:
        return {"title": "", "across": ""}
    finding = swept.finding
    curves = finding.curves if finding else _rough(swept)
    return {
        "title": _title(ROLE_WORDS[swept.control.role].capitalize(), swept.control.name),
        "across": swept.control.name,
        "lines": tuple(_line(curve) for curve in curves),
        "at": finding.exact if finding else None,
        "at_sd": finding.sd if finding else 0.0,
        "setting": finding.setting if finding else None,
    }


def _title(role: str, name: str) -> str:
    return role if role.casefold() == name.casefold() else f"{role}, {name}"


def _rough(swept: Swept) -> tuple[Curve, ...]:
    """Luminance alone, while the sweep has not said yet what it makes of it."""
    if len(swept.positions) < 2:
        return ()
    settings, Y, sd = luminances(swept.positions)
    return (Curve("light", settings, Y, sd),)


def _line(curve: Curve) -> LineState:
    points = zip(curve.settings.tolist(), curve.values.tolist(), curve.sd.tolist(), strict=True)
    return LineState(curve.name, tuple(points), curve.name if curve.name in CHANNELS else "")


def figures(snapshot: Snapshot, state: LevelsState | None) -> tuple[tuple[str, str], ...]:
    """Figures of the whole."""
    told = [("White wanted", f"{wanted_light(snapshot):g} cd/m²")]
    if state is None or state.white is None:
        return tuple(told)
    if state.reserve > _SAME:
        told.append(("Light set now", f"{state.wanted:.0f} cd/m²"))
    told.append(("White", f"{state.white[1]:.1f} cd/m²"))
    if state.black is not None:
        told.append(("Black", f"{state.black[1]:.3f} cd/m²"))
    if state.contrast is not None:
        told.append(("Contrast, on/off", ratio_words(state.contrast)))
    if state.board_contrast is not None:
        told.append(("Checkerboard", ratio_words(state.board_contrast)))
    told += _uniformity(snapshot.result(UNIFORMITY))
    if state.windows:
        small, full = max(light for _, light in state.windows), state.windows[-1][1]
        told.append(("Full field / window", f"{full / small * 100:.0f} %"))
        told.append(("Window to use", f"up to {(state.window or 0.0) * 100:.0f} %"))
    return tuple(told)


def _uniformity(found: Evenness | None) -> list[tuple[str, str]]:
    if found is None or len(found.xyz) < len(PLACES):
        return []
    light = dict(zip((spot for _, spot in PLACES), found.light, strict=True))
    rows = sorted({spot[1] for spot in light}, reverse=True)
    columns = sorted({spot[0] for spot in light})
    names = ("Light, top, %", "Light, middle, %", "Light, bottom, %")
    told = [
        (name, "  ".join(f"{light[column, row]:+.0f}" for column in columns))
        for name, row in zip(names, rows, strict=True)
    ]
    return [*told, ("Colour difference, u'v'", f"{found.cast.max():.4f}")]


def levels_text(page: LevelsPage) -> str:
    """The picture of Levels as tab-separated text."""
    rows = [("Control", "Name", "Found", "Now", "Curve says", "±")]
    for row in page.rows:
        exact = "" if row.exact is None else f"{row.exact:.1f}"
        rows.append((row.role, row.name, str(row.found), str(row.now), exact, f"{row.sd:.1f}" if exact else ""))
    lines = ["\t".join(row) for row in rows]
    return "\n".join([*lines, "", *("\t".join(figure) for figure in page.figures)]) + "\n"
