"""The checklist for each kind of screen, the templates of menus, and words that mislead."""

import pytest

from aequitone.advice.checklist import (
    CHOICE,
    GAMMA,
    GAMUT,
    MODE,
    RESET,
    ROOM,
    WARM_UP,
    Way,
    checklist,
    usual_answer,
)
from aequitone.advice.roles import FEATURES, LEDGER_ROLES, ROLE_WORDS, ROLES, TWO_POINT, Role
from aequitone.advice.technology import Technology, usual_light
from aequitone.advice.templates import TEMPLATES, VOCABULARY, kind_of, misleading, template_for
from aequitone.signal.pictures import picture_named


@pytest.mark.parametrize("metered", [True, False])
@pytest.mark.parametrize("technology", Technology)
def test_every_line_says_why_and_how_and_has_its_picture(technology: Technology, metered: bool) -> None:
    lines = checklist(technology, template_for(technology), metered=metered)
    assert len({line.key for line in lines}) == len(lines)
    assert lines[0].key == "cautions"
    assert lines[0].caution
    for line in lines:
        assert line.why
        assert line.how
        if line.picture:
            picture_named(line.picture)
    measured = {line.key for line in lines if line.way is Way.MEASURE}
    roles = {MODE: Role.PICTURE_MODE, GAMMA: Role.GAMMA, GAMUT: Role.GAMUT}
    chosen = {key for key, role in roles.items() if role in template_for(technology)}
    assert measured == ({WARM_UP, ROOM, CHOICE} | chosen if metered else set())


def test_only_what_the_menu_has_is_to_be_switched_off() -> None:
    lines = checklist(Technology.WIDE_LCD, [Role.ZONE_DIMMING, Role.CONTRAST])
    assert [line.role for line in lines if line.way is Way.SWITCH] == [Role.ZONE_DIMMING]


def test_projectors_are_placed_and_focused_first_and_tubes_are_dangerous() -> None:
    keys = [line.key for line in checklist(Technology.UNKNOWN, [])]
    assert "placing" not in keys
    projector = [line.key for line in checklist(Technology.THREE_PANEL_PROJECTOR, [Role.KEYSTONE])]
    assert projector.index("placing") < projector.index("focus") < projector.index("geometry")
    assert "keystone" in projector
    assert "lens" in checklist(Technology.DLP_WHEEL, [])[0].caution
    tube = checklist(Technology.TUBE, [])
    assert "dangerous voltage" in tube[0].caution
    assert "magnetise" in next(line for line in tube if line.key == "meter").how


def test_hdr_needs_its_bandwidth_its_mode_and_all_light_and_no_gamma() -> None:
    menu = [Role.GAMMA, Role.GAMUT, Role.LIGHT_OUTPUT, Role.TONE_MAPPING]
    sdr = [line.key for line in checklist(Technology.WIDE_LCD, menu)]
    hdr = [line.key for line in checklist(Technology.WIDE_LCD, menu, hdr=True)]
    assert set(hdr) - set(sdr) == {"bandwidth", "hdr-mode", "full-light"}
    assert set(sdr) - set(hdr) == {GAMMA, GAMUT}
    # Mode first, then what dims and maps, then what is measured.
    assert hdr.index("hdr-mode") < hdr.index(f"off-{Role.TONE_MAPPING.key}") < hdr.index("full-light")
    assert hdr.index(WARM_UP) < hdr.index("full-light") < hdr.index(CHOICE)


def test_motion_is_set_before_anything_is_measured() -> None:
    keys = [line.key for line in checklist(Technology.LED_LCD, FEATURES)]
    assert keys.index(WARM_UP) < keys.index(f"off-{Role.MOTION.key}") < keys.index(CHOICE)
    assert keys[-1] == CHOICE
    assert [line.key for line in checklist(Technology.LED_LCD, [Role.GAMMA])][-2:] == [CHOICE, GAMMA]
    # A mode brings what acts by itself along, and a reset switches it on again: both come before.
    assert MODE not in keys
    order = [line.key for line in checklist(Technology.LED_LCD, [Role.PICTURE_MODE, Role.MOTION])]
    assert order.index(MODE) < order.index(RESET) < order.index(f"off-{Role.MOTION.key}")
    assert all(usual_answer(role) for role in FEATURES)


def test_templates_hold_the_two_points_and_every_role_has_a_word() -> None:
    assert set(TEMPLATES) == {"television", "projector", "broadcast monitor", "tube television"}
    for roles in TEMPLATES.values():
        assert set(TWO_POINT) <= set(roles) <= set(LEDGER_ROLES)
        assert len(set(roles)) == len(roles)
    assert set(ROLE_WORDS) == set(ROLES)
    assert kind_of(Technology.DLP_WHEEL) == "projector"
    assert Role.LIGHT_OUTPUT not in template_for(Technology.TUBE)


def test_a_brightness_that_is_light_output_is_doubted() -> None:
    assert misleading(Role.BLACK_LEVEL, "Brightness") == (
        "“Brightness” can also be light output: here it is noted as black level"
    )
    # Where light output has a control of its own there is nothing to mistake it for.
    assert misleading(Role.BLACK_LEVEL, "Brightness", frozenset({Role.LIGHT_OUTPUT})) == ""
    assert "not gamma preset" in misleading(Role.GAMMA, "Backlight")
    assert misleading(Role.CONTRAST, "Picture") == ""
    assert misleading(Role.CONTRAST, "Zorp") == ""
    assert all(word == word.lower() for word in VOCABULARY)


def test_light_of_the_school() -> None:
    assert (
        usual_light(Technology.TUBE),
        usual_light(Technology.DLP_WHEEL),
        usual_light(Technology.WHITE_OLED),
    ) == (80.0, 48.0, 100.0)


def test_modes_are_compared_on_a_warm_screen_and_before_anything_is_switched_off() -> None:
    menu = {Role.PICTURE_MODE, *FEATURES}
    for metered, warm in ((True, WARM_UP), (False, "clock")):
        keys = [line.key for line in checklist(Technology.LED_LCD, menu, metered=metered)]
        offs = [keys.index(key) for key in keys if key.startswith("off-")]
        assert keys.index(warm) < keys.index(MODE) < min(offs)
