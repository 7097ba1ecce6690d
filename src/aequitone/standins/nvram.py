"""The stand-in's own memory: a real screen keeps its settings when the program is killed, so this does."""

import json
from pathlib import Path

from aequitone.whole_file import write_whole


class Nvram:
    """Settings by role in a small JSON file, replaced whole so that it is never half-written."""

    def __init__(self, path: Path | None) -> None:
        self._path = path

    def load(self) -> dict[str, int]:
        """What was kept; empty when there is nothing, or nothing that can be read."""
        if self._path is None or not self._path.is_file():
            return {}
        try:
            kept = json.loads(self._path.read_text("utf-8"))
        except (OSError, ValueError):
            return {}
        if not isinstance(kept, dict):
            return {}
        return {str(role): value for role, value in kept.items() if isinstance(value, int)}

    def save(self, settings: dict[str, int]) -> None:
        if self._path is None:
            return
        self._path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(self._path, json.dumps(settings, indent=1))
