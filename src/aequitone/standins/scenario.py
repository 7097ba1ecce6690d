"""Scenario files: TOML, units in the names, checked by pydantic (docs/scenarios.md)."""

import re
import tomllib
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from aequitone.reference import target_named
from aequitone.standins.bench_parts import MeterPart, SourcePart
from aequitone.standins.parts import Part
from aequitone.standins.screen_part import ScreenPart
from aequitone.standins.shipped import ScenarioError, shipped_scenarios, shipped_text


class HandPart(Part):
    """How fast the simulated person is at the menu."""

    trip_seconds: Annotated[float, Field(ge=0.0, le=600.0)] = 9.0
    step_seconds: Annotated[float, Field(ge=0.0, le=60.0)] = 0.4


class VisitPart(Part):
    """The words of a made-up visit, for the demo logbook."""

    client: str = "Stand-in client"
    room: str = "Room"
    input: str = "HDMI 1"
    memory: str = "Film"
    target: str = "rec709-2.2"
    levels: Literal[11, 21] = 11

    @model_validator(mode="after")
    def _known_target(self) -> "VisitPart":
        target_named(self.target)
        return self


class Scenario(Part):
    title: str
    screen: ScreenPart
    meter: MeterPart = MeterPart()
    source: SourcePart = SourcePart()
    hand: HandPart = HandPart()
    visit: VisitPart = VisitPart()


_LARGEST = 2_000_000
_ENDLESS = re.compile(r"\d{1000}")


def load_scenario(name_or_path: str) -> Scenario:
    """A shipped scenario by name, or one from a file. Raises ScenarioError with a sentence."""
    if name_or_path in shipped_scenarios():
        return parse_scenario(shipped_text(name_or_path), name_or_path)
    path = Path(name_or_path)
    if not path.is_file():
        raise ScenarioError(
            f"There is no scenario “{name_or_path}”: "
            f"it is neither a file nor one of {', '.join(shipped_scenarios())}."
        )
    try:
        if path.stat().st_size > _LARGEST:
            raise ScenarioError(f"The scenario {path} is larger than {_LARGEST // 1_000_000} MB, so it is none.")
        text = path.read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise ScenarioError(f"The scenario {path} cannot be read: {error}.") from error
    return parse_scenario(text, str(path))


def parse_scenario(text: str, where: str) -> Scenario:
    """A scenario from TOML text; `where` names it in errors."""
    try:
        return Scenario.model_validate(tomllib.loads(text))
    except tomllib.TOMLDecodeError as error:
        raise ScenarioError(f"The scenario {where} is not TOML: {error}.") from error
    except RecursionError as error:
        raise ScenarioError(
            f"The scenario {where} was not used: brackets stand too deep in one another."
        ) from error
    except ValidationError as error:
        faults = "; ".join(_sentence(dict(item)) for item in error.errors())
        raise ScenarioError(f"The scenario {where} was not used: {faults}.") from error
    except ValueError as error:
        # Python reads no whole number of thousands of digits; the parser does not say where it stands.
        line = next((n for n, words in enumerate(text.splitlines(), 1) if _ENDLESS.search(words)), 0)
        raise ScenarioError(
            f"The scenario {where} was not used: line {line} has a number that is too long."
        ) from error


def _sentence(fault: dict[str, Any]) -> str:
    place = ".".join(str(part) for part in fault["loc"]) or "the file"
    if fault["type"] == "extra_forbidden":
        return f"{place} is not a key that scenarios have"
    if fault["type"] == "missing":
        return f"{place} is missing"
    message = str(fault["msg"])
    if fault["type"] == "value_error":
        # Written by us, and may begin with a name.
        message = message.removeprefix("Value error, ")
    else:
        message = message[:1].lower() + message[1:]
    if isinstance(fault["input"], str | int | float):
        return f"{place} = {fault['input']!r}: {message}"
    return f"{place}: {message}"
