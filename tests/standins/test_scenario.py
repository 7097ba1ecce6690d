"""Scenario files: what is read, and what is said of a wrong one."""

from importlib import resources
from pathlib import Path

import pytest
from tools import scenario_schema

from aequitone.standins.scenario import load_scenario, parse_scenario
from aequitone.standins.shipped import ScenarioError, shipped_scenarios

DOCS = Path(__file__).parents[2] / "docs"
DEMO = (resources.files("aequitone.standins") / "scenarios" / "demo.toml").read_text("utf-8")


@pytest.mark.parametrize("name", shipped_scenarios())
def test_shipped_scenarios_are_sound(name: str) -> None:
    assert load_scenario(name).title


def test_a_file_is_read_as_a_shipped_one_is(tmp_path: Path) -> None:
    path = tmp_path / "mine.toml"
    path.write_text(DEMO, "utf-8")
    assert load_scenario(str(path)) == load_scenario("demo")


@pytest.mark.parametrize(
    ("old", "new", "sentence"),
    [
        ("peak_cd_m2", "peak_nits", "screen.peak_nits is not a key that scenarios have"),
        ("peak_cd_m2 = 260.0", "", "screen.peak_cd_m2 is missing"),
        ("peak_cd_m2 = 260.0", "peak_cd_m2 = -3", "screen.peak_cd_m2 = -3: input should be greater than 0"),
        ("levels = 11", "levels = 12", "visit.levels = 12"),
        ('target = "rec709-2.2/added"', 'target = "vivid"', "there is no target “vivid”"),
        (
            "factory = 80\nfound = 46",
            "factory = 80\nfound = 146",
            "found = 146 is not a setting from 0 to 100 by 1",
        ),
        ('role = "gain-r"', 'role = "gain-g"', "more than one control has the role gain-g"),
        ("[screen.fault]", "[screen.fault", "is not TOML"),
        ("gammas = [2.0, 2.2, 2.4]", "gammas = [2.0, 2.2]", "Gamma must run from 0 to 1"),
        ('role = "gain-g"', 'role = "sharpness"', "gain-g is missing beside the others of its kind"),
        ("[0.272, 0.278]", "[0.0287, 0.278]", "temperatures_xy 1 0.0287, 0.278 lies outside the primaries"),
        ("[0.272, 0.278]", "[nan, 0.278]", "screen.temperatures_xy.0.0"),
        (
            "[screen]",
            "[screen]\nred_xy = [0.3, 0.6]\ngreen_xy = [0.3, 0.6]",
            "red_xy, green_xy and blue_xy enclose no colours",
        ),
        ("found_spread = 4", f"found_spread = {10**40}", "found_spread"),
        ("lowest = 0", f"lowest = {'9' * 5001}", "has a number that is too long"),
        ('title = "', f'deep = {"[" * 5000}{"]" * 5000}\ntitle = "', "brackets stand too deep"),
    ],
)
def test_a_wrong_scenario_is_refused_with_its_place(old: str, new: str, sentence: str) -> None:
    assert old in DEMO
    with pytest.raises(ScenarioError) as refused:
        parse_scenario(DEMO.replace(old, new, 1), "mine.toml")
    assert sentence in str(refused.value)
    assert "mine.toml" in str(refused.value)


def test_a_scenario_that_is_not_there_names_the_shipped_ones() -> None:
    with pytest.raises(ScenarioError, match="neither a file nor one of .*demo"):
        load_scenario("nowhere")


def test_a_file_that_is_no_text_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "binary.toml"
    path.write_bytes(b"\xff\xfe\x00\x01")
    with pytest.raises(ScenarioError, match="cannot be read"):
        load_scenario(str(path))


def test_the_documents_are_those_of_the_models() -> None:
    # `python tools/scenario_schema.py` writes both again.
    written = (DOCS / "scenario.schema.json").read_text("utf-8")
    assert written == scenario_schema.schema_text()
    document = (DOCS / "scenarios.md").read_text("utf-8")
    assert document == scenario_schema.documented(document)
    for name in shipped_scenarios():
        assert f"| `{name}` | {load_scenario(name).screen.name} |" in document


def test_a_role_that_nobody_knows_is_refused() -> None:
    with pytest.raises(ScenarioError, match="there is no role “loudness”"):
        parse_scenario(DEMO.replace('role = "gain-r"', 'role = "loudness"', 1), "mine.toml")


def test_a_file_too_large_for_a_scenario_is_not_read(tmp_path: Path) -> None:
    path = tmp_path / "large.toml"
    path.write_text("# " + "x" * 3_000_000, "utf-8")
    with pytest.raises(ScenarioError, match="larger than 2 MB"):
        load_scenario(str(path))
