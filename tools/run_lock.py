"""Writes requirements-run.lock: of requirements.lock what the program needs to run, without what tests need."""

import re
from pathlib import Path

from aequitone.parts import parts

ROOT = Path(__file__).parents[1]
_PINNED = re.compile(r"^([A-Za-z0-9._-]+)==", re.MULTILINE)


def run_lock(whole: str, names: set[str]) -> str:
    """The blocks of a lock file that pin one of some names, in their order, hashes included."""
    starts = [match.start() for match in _PINNED.finditer(whole)]
    blocks = [whole[start:end] for start, end in zip(starts, [*starts[1:], len(whole)], strict=True)]
    kept = [block for block in blocks if _normal(block.partition("==")[0]) in names]
    return "# Written by tools/run_lock.py from requirements.lock (make lock).\n" + "".join(kept)


def _normal(name: str) -> str:
    return re.sub(r"[-_.]+", "-", name).lower()


if __name__ == "__main__":
    whole = (ROOT / "requirements.lock").read_text("utf-8")
    names = {_normal(part.name) for part in parts()}
    (ROOT / "requirements-run.lock").write_text(run_lock(whole, names), "utf-8")
