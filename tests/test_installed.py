"""What makes it an application of the desktop: entry, metadata, icon, version, parts, completions."""

import configparser
import os
import shutil
import subprocess
import sys
import tomllib
import xml.etree.ElementTree as ElementTree
from pathlib import Path

import pytest

from aequitone import __version__
from aequitone.parts import parts

ROOT = Path(__file__).parents[1]
ID = "org.aequitone.Aequitone"
COMMAND = Path(sys.executable).with_name("aequitone")


def test_the_desktop_entry_names_what_is_installed() -> None:
    entry = configparser.ConfigParser(interpolation=None)
    entry.optionxform = str  # type: ignore[assignment,method-assign]
    entry.read(ROOT / "packaging" / f"{ID}.desktop", "utf-8")
    told = entry["Desktop Entry"]
    assert (told["Exec"], told["Icon"], told["Type"]) == ("aequitone", ID, "Application")
    if shutil.which("desktop-file-validate"):
        done = subprocess.run(
            ["desktop-file-validate", str(ROOT / "packaging" / f"{ID}.desktop")], capture_output=True, check=False
        )
        assert (done.returncode, done.stdout) == (0, b"")


def test_the_metadata_are_of_this_version() -> None:
    root = ElementTree.parse(ROOT / "packaging" / f"{ID}.metainfo.xml").getroot()
    assert root.findtext("id") == ID
    assert root.findtext("launchable") == f"{ID}.desktop"
    releases = root.find("releases")
    assert releases is not None
    assert releases[0].get("version") == __version__
    assert f"Aequitone {__version__}" in (ROOT / "packaging" / "aequitone.1").read_text("utf-8")
    if shutil.which("appstreamcli"):
        done = subprocess.run(
            ["appstreamcli", "validate", "--no-net", str(ROOT / "packaging" / f"{ID}.metainfo.xml")],
            capture_output=True,
            check=False,
        )
        assert done.returncode == 0, done.stdout


@pytest.mark.parametrize("shell", ["bash", "zsh", "fish"])
def test_shells_complete_it(shell: str) -> None:
    environment = os.environ | {"_AEQUITONE_COMPLETE": f"source_{shell}"}
    done = subprocess.run([str(COMMAND)], env=environment, capture_output=True, text=True, check=True)
    assert "_AEQUITONE_COMPLETE" in done.stdout


def test_the_version_and_the_parts_are_told() -> None:
    done = subprocess.run([str(COMMAND), "--version"], capture_output=True, text=True, check=True)
    assert done.stdout == f"Aequitone {__version__}\n"
    found = {part.name.lower().replace("_", "-"): part for part in parts()}
    assert {"numpy", "scipy", "pyside6-essentials", "sqlalchemy", "reportlab", "b612", "dejavu sans"} <= set(found)
    assert "LGPL" in found["pyside6-essentials"].licence
    # Its classifier says no more than that it is an open one.
    assert found["colour-science"].licence == "BSD-3-Clause"
    # What only tests need does not ship.
    assert "pytest" not in found
    assert all(part.licence for part in found.values())


def test_what_is_installed_is_pinned_as_it_is_tested() -> None:
    texts = [(ROOT / name).read_text("utf-8") for name in ("requirements.lock", "requirements-run.lock")]
    pinned = [{word for line in text.splitlines() if "==" in (word := line.split(" ")[0])} for text in texts]
    assert pinned[1] < pinned[0]
    names = {line.partition("==")[0].lower().replace("_", "-") for line in pinned[1]}
    needed = {part.name.lower().replace("_", "-").replace(".", "-") for part in parts()} - {"aequitone", "b612"}
    assert needed - {"dejavu sans"} <= names
    assert "pytest" not in names


def test_every_file_that_is_no_python_goes_into_the_wheel() -> None:
    settings = tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))["tool"]["setuptools"]["package-data"]
    package = ROOT / "src" / "aequitone"
    packed = {path for pattern in settings["aequitone"] for path in package.glob(pattern)}
    there = {path for path in package.rglob("*") if path.is_file() and path.suffix not in (".py", ".pyc")}
    assert there <= packed
