"""Damaged archives: each must end in a sentence, or be taken for what it is, and never write into the logbook.

    PYTHONPATH=. .venv/bin/python benchmarks/archive.py [COUNT] [SEED]

A visit to the demo is archived and damaged at random: bytes of the zip flipped, cut, doubled; in its JSON values
changed for others of any type, keys lost, rows doubled, numbers moved. The logbook that it is offered to has the
same visit, so that whatever is whole is refused there as known; what is taken is a whole visit of another day.
"""

import io
import json
import random
import sys
import tempfile
import time
import zipfile
from collections import Counter
from pathlib import Path
from typing import Any

from aequitone.handover.errors import ImportFailedError
from aequitone.handover.files.archive import ConflictError, import_archive, write_archive
from aequitone.logbook import Logbook, open_logbook
from aequitone.logbook.carrying import VisitThereError
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

_STRANGE: tuple[Any, ...] = (
    None, True, -1, 0, 2**40, 2**80, 1e308, -1e-9, "", "x", "../x", "\u0000", "2026-11-29T00:00:00", [], {}, [[]],
)  # fmt: skip


def damaged(whole: bytes, rng: random.Random) -> bytes:
    """An archive with something wrong in it: in its bytes, or in what it says."""
    if rng.random() < 0.3:
        return _bytes_damaged(whole, rng)
    with zipfile.ZipFile(io.BytesIO(whole)) as archive:
        visit = json.loads(archive.read("visit.json"))
    for _ in range(rng.choice((1, 1, 1, 2, 5))):
        _change(visit, rng)
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as archive:
        archive.writestr("visit.json", json.dumps(visit))
    return made.getvalue()


def _bytes_damaged(whole: bytes, rng: random.Random) -> bytes:
    content = bytearray(whole)
    match rng.randrange(3):
        case 0:
            for _ in range(rng.randrange(1, 40)):
                content[rng.randrange(len(content))] = rng.randrange(256)
        case 1:
            del content[rng.randrange(len(content)) :]
        case _:
            at = rng.randrange(len(content))
            content[at:at] = rng.randbytes(rng.randrange(1, 200))
    return bytes(content)


def _change(value: Any, rng: random.Random) -> None:
    """Change something, anywhere."""
    while isinstance(value, dict | list) and value:
        key = rng.choice(list(value)) if isinstance(value, dict) else rng.randrange(len(value))
        if isinstance(value[key], dict | list) and value[key] and rng.random() < 0.85:
            value = value[key]
            continue
        match rng.randrange(4):
            case 0:
                del value[key]
            case 1 if isinstance(value, list):
                value.append(value[key])
            case 2 if isinstance(value[key], int | float) and not isinstance(value[key], bool):
                value[key] = value[key] * rng.choice((-1, 2, 1000)) + rng.choice((0, 1))
            case _:
                value[key] = rng.choice(_STRANGE)
        return


def outcome(logbook: Logbook, content: bytes, path: Path) -> str:
    """What comes of offering an archive: refused, or the same visit as is there."""
    path.write_bytes(content)
    try:
        taken = import_archive(logbook, path)
    except ConflictError:
        return "refused"
    except ImportFailedError as error:
        told = str(error)
        assert told.endswith("Nothing was taken from it."), told
        assert "Traceback" not in told
        return "refused"
    except VisitThereError:
        return "same"
    # Damage may leave a whole visit of another day or name: it is taken in, and out again.
    return f"taken {taken.visit_id}"


def archived(folder: Path) -> bytes:
    """The archive of a visit to the demo with grey as found."""
    logbook = open_logbook(folder / "source.sqlite")
    scenario = load_scenario("demo")
    bench, visit = build_bench(scenario, 4), begin_standin_visit(logbook, scenario, "demo", 4)
    note_as_found(logbook, visit, bench.link.values())
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench.bench(), NobodyThere())
    write_archive(logbook, visit.id, folder / "visit.zip")
    return (folder / "visit.zip").read_bytes()


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000
    rng = random.Random(int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        whole = archived(folder)
        target = open_logbook(folder / "target.sqlite")
        import_archive(target, folder / "visit.zip")
        told: Counter[str] = Counter()
        faults: Counter[str] = Counter()
        begun, untouched = time.monotonic(), len(target.find_visits(most=10**6))
        for _ in range(count):
            content = damaged(whole, rng)
            try:
                result = outcome(target, content, folder / "damaged.zip")
            except Exception as error:
                faults[f"{type(error).__name__}: {str(error)[:100]}"] += 1
                continue
            told[result.split()[0]] += 1
            visits = len(target.find_visits(most=10**6))
            if result.startswith("taken"):
                untouched = visits
            elif visits != untouched:
                faults["something was written"] += 1
                untouched = visits
        print(f"{count} damaged archives in {time.monotonic() - begun:.0f} s: {dict(told)}")
        print(f"faults: {dict(faults) or 'none'}")


if __name__ == "__main__":
    main()
