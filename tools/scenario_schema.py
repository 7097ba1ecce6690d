"""Writes docs/scenario.schema.json, and the tables of docs/scenarios.md, from the models that check scenarios.

.venv/bin/python tools/scenario_schema.py
"""

import json
import re
from pathlib import Path
from typing import Any

from aequitone.standins.scenario import Scenario

DOCS = Path(__file__).parents[1] / "docs"
BEGIN, END = "<!-- tables: written by tools/scenario_schema.py -->", "<!-- end of the tables -->"


def schema_text() -> str:
    """The JSON Schema of a scenario."""
    return json.dumps(Scenario.model_json_schema(), indent=1, ensure_ascii=False) + "\n"


def tables() -> str:
    """A table for each part of a scenario."""
    schema = Scenario.model_json_schema()
    lines: list[str] = []
    _part("scenario", schema, schema["$defs"], lines)
    return "\n".join(lines)


def _part(place: str, part: dict[str, Any], parts: dict[str, Any], lines: list[str]) -> None:
    lines += [
        f"### `{place}`",
        "",
        f"{part.get('description', '').splitlines()[0]}" if part.get("description") else "",
    ]
    lines += ["", "| key | what it takes | default | |", "| --- | --- | --- | --- |"]
    below: list[tuple[str, dict[str, Any]]] = []
    for name, field in part["properties"].items():
        inner = _reference(field)
        if inner is not None and parts[inner].get("type") == "object":
            array = "[]" if "items" in field else ""
            below.append((f"{'' if place == 'scenario' else place + '.'}{name}{array}", parts[inner]))
            lines.append(f"| `{name}` | a table{' for each' if array else ''}, see below | | |")
            continue
        default = "needed" if name in part.get("required", ()) else _shown(field.get("default"))
        about = re.sub(r"\s+", " ", field.get("description", ""))
        lines.append(f"| `{name}` | {_takes(field, parts)} | {default} | {about} |")
    lines.append("")
    for where, inner_part in below:
        _part(where, inner_part, parts, lines)


def _reference(field: dict[str, Any]) -> str | None:
    for candidate in (field, field.get("items", {}), *field.get("anyOf", ())):
        if "$ref" in candidate:
            return str(candidate["$ref"]).rsplit("/", 1)[1]
    return None


def _takes(field: dict[str, Any], parts: dict[str, Any]) -> str:
    if "anyOf" in field:
        return " or ".join(_takes(each, parts) for each in field["anyOf"] if each.get("type") != "null")
    if "$ref" in field:
        return _takes(parts[str(field["$ref"]).rsplit("/", 1)[1]], parts)
    if "enum" in field:
        return ", ".join(f"`{value}`" for value in field["enum"])
    if field.get("type") == "array":
        inner = field.get("prefixItems") or [field.get("items", {})]
        if "prefixItems" not in field:
            return f"a list of {_takes(inner[0], parts)}"
        return f"{len(inner)} {'texts' if inner[0].get('type') == 'string' else 'numbers'}"
    bounds = [
        f"{words} {field[key]:g}"
        for key, words in (
            ("exclusiveMinimum", "above"),
            ("minimum", "at least"),
            ("exclusiveMaximum", "below"),
            ("maximum", "at most"),
        )
        if key in field
    ]
    kind = {"integer": "a whole number", "number": "a number", "string": "a text", "boolean": "true or false"}
    return " ".join((kind.get(field.get("type", ""), "a value"), ", ".join(bounds))).strip()


def _shown(value: Any) -> str:
    if value is None:
        return "none"
    if value == "":
        return "empty"
    if isinstance(value, bool):
        return str(value).lower()
    return (
        ", ".join(f"{v:g}" if isinstance(v, float) else str(v) for v in value)
        if isinstance(value, list)
        else f"{value}"
    )


def documented(text: str) -> str:
    """The document with its tables brought up to date."""
    before, rest = text.split(BEGIN)
    return f"{before}{BEGIN}\n\n{tables()}\n{END}{rest.split(END)[1]}"


def main() -> None:
    (DOCS / "scenario.schema.json").write_text(schema_text(), "utf-8")
    document = DOCS / "scenarios.md"
    document.write_text(documented(document.read_text("utf-8")), "utf-8")


if __name__ == "__main__":
    main()
