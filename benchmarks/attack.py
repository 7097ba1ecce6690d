"""What an attacker, or bad luck, can do: to files, scenarios and lines; first starts at once, kills, a full disk.

    PYTHONPATH=. .venv/bin/python benchmarks/attack.py [IMPORTS] [DAMAGED] [STARTS] [KILLS] [SCENARIOS] [LINES]

Everything happens in a folder of its own. Anything but a sentence is counted as a fault: an error that is no
AequitoneError, a logbook that is not sound, half a pass.
"""

import os
import random
import resource
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
from collections import Counter
from contextlib import closing
from pathlib import Path

from benchmarks.attack_lines import answered, said, scenarios

from aequitone.errors import AequitoneError
from aequitone.handover.errors import ImportFailedError
from aequitone.handover.incoming.passes import import_pass
from aequitone.handover.incoming.readings import parse
from aequitone.logbook import LogbookError, open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit
from aequitone.logbook.storage.files import is_sound, rows_in
from aequitone.passes import AS_FOUND, load_snapshot
from aequitone.reference import target_named
from aequitone.standins.scenario import load_scenario

_PIECES = [
    "inf", "nan", "-1", "1e308", "1e999", "1_0", "1,234", "0x1f", "", " ", "\t", "\n", '"', '""', "\0", "٣", "½",
    "X", "percent", "BEGIN_DATA", "END_DATA", "BEGIN_DATA_FORMAT", "#", ";", ",", "9" * 400, "-0", "+", "1e",
]  # fmt: skip

_LETTERS = (0, 9, 10, 13, 34, 44, 59, 233, 8239, 65279, 120_000)
_WHOLE = 13
"""Readings of a pass of eleven levels: both ends are read at the start and at the end."""


def sound_texts() -> list[str]:
    """Files that are taken: CSV and CGATS of a grey pass."""
    target = target_named("rec709-2.2/added")
    rows = [(p, *target.grey(p, 110.0, 0.05)) for p in range(0, 101, 10)]
    csv = "percent,X,Y,Z\n" + "\n".join(",".join(f"{v:.5g}" for v in row) for row in rows) + "\n"
    data = "\n".join(f'{i} "g {p}" {p} {p} {p} {X:.5g} {Y:.5g} {Z:.5g}' for i, (p, X, Y, Z) in enumerate(rows))
    cgats = (
        "CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID SAMPLE_NAME RGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z\nEND_DATA_FORMAT\n"
        f"BEGIN_DATA\n{data}\nEND_DATA\n"
    )
    return [csv, csv.replace(",", ";"), csv.replace(".", ",").replace(",", ";", 0), cgats]


def fuzzed(text: str, rng: random.Random) -> str:
    """A text with a few things put in, taken out, doubled or swapped."""
    for _ in range(rng.randint(1, 4)):
        at = rng.randrange(len(text) + 1)
        to = min(len(text), at + rng.randint(0, 12))
        match rng.randrange(4):
            case 0:
                text = text[:at] + rng.choice(_PIECES) + text[to:]
            case 1:
                text = text[:at] + text[to:]
            case 2:
                text = text[:at] + text[at:to] * rng.randint(2, 4) + text[to:]
            case _:
                text = (
                    text[:at] + chr(rng.choice([0, 9, 10, 13, 34, 44, 59, 233, 8239, 65279, 120_000])) + text[to:]
                )
    return text


def whole(path: Path) -> bool:
    """Whether every pass of a logbook is done and has its readings."""
    with closing(sqlite3.connect(path)) as raw:
        query = "SELECT p.state, count(r.id) FROM pass p LEFT JOIN reading r ON r.pass_id = p.id GROUP BY p.id"
        return all(state == "done" and count == _WHOLE for state, count in raw.execute(query))


def imports(folder: Path, count: int, rng: random.Random) -> Counter[str]:
    """Fuzzed files, each entered into a visit where it is taken."""
    path = folder / "imports.sqlite"
    logbook = open_logbook(path)
    visit = begin_standin_visit(logbook, load_scenario("demo"), "demo", 1)
    told: Counter[str] = Counter()
    texts = sound_texts()
    for _ in range(count):
        text = fuzzed(rng.choice(texts), rng)
        try:
            import_pass(logbook, visit, AS_FOUND, parse(text, "fuzzed"), "fuzzed")
            told["taken"] += 1
        except ImportFailedError:
            told["refused with a sentence"] += 1
        except Exception as error:
            told[f"FAULT {type(error).__name__}: {error} on {text!r}"[:300]] += 1
    logbook.close()
    if not whole(path):
        told["FAULT half a pass"] += 1
    return told


def damaged(folder: Path, count: int, rng: random.Random) -> Counter[str]:
    """A sound logbook with bytes changed, cut off or put in, opened and looked at."""
    source = folder / "sound.sqlite"
    logbook = open_logbook(source)
    visit = begin_standin_visit(logbook, load_scenario("demo"), "demo", 1)
    import_pass(logbook, visit, AS_FOUND, parse(sound_texts()[0], "mine"), "mine")
    logbook.close()
    content, told = source.read_bytes(), Counter[str]()
    for n in range(count):
        spoilt = bytearray(content)
        for _ in range(rng.choice([1, 3, 40])):
            at = rng.randrange(len(spoilt))
            match rng.randrange(3):
                case 0:
                    spoilt[at] = rng.randrange(256)
                case 1:
                    spoilt[at : at + 600] = bytes(rng.randrange(256) for _ in range(600))
                case _:
                    del spoilt[max(100, at) :]
        path = folder / f"damaged-{n}.sqlite"
        path.write_bytes(spoilt)
        try:
            there = open_logbook(path)
            latest = there.latest_visit()
            if latest is not None:
                load_snapshot(there, latest.id)
            there.find_visits("")
            told["opened" if not there.unreadable.words else "opened, with what cannot be read named"] += 1
            there.close()
        except LogbookError:
            told["refused with a sentence"] += 1
        except AequitoneError:
            told["opened, and failed with a sentence"] += 1
        except Exception as error:
            told[f"FAULT {type(error).__name__}: {error}"[:200]] += 1
        for each in folder.glob(f"damaged-{n}.sqlite*"):
            each.unlink()
    return told


def starts(folder: Path, count: int) -> Counter[str]:
    """First starts at once, four at a time."""
    told: Counter[str] = Counter()
    code = (
        "import sys, pathlib\nfrom aequitone.logbook import open_logbook\n"
        "open_logbook(pathlib.Path(sys.argv[1])).close()\n"
    )
    for n in range(0, count, 4):
        path = folder / f"first-{n}" / "logbook.sqlite"
        processes = [
            subprocess.Popen([sys.executable, "-c", code, str(path)], stderr=subprocess.PIPE) for _ in range(4)
        ]
        for process in processes:
            process.communicate(timeout=120)
            told["started" if process.returncode == 0 else f"FAULT exit {process.returncode}"] += 1
        if not is_sound(path):
            told["FAULT a logbook that is not sound"] += 1
    return told


def kills(folder: Path, count: int, rng: random.Random) -> Counter[str]:
    """Imports killed at any moment: there is a whole pass or none."""
    path, told = folder / "kills.sqlite", Counter[str]()
    logbook = open_logbook(path)
    visit = begin_standin_visit(logbook, load_scenario("demo"), "demo", 1)
    logbook.close()
    source = folder / "mine.csv"
    source.write_text(sound_texts()[0])
    code = (
        "import sys, pathlib\nfrom aequitone.handover.incoming.passes import import_pass\n"
        "from aequitone.handover.incoming.readings import read_file\nfrom aequitone.logbook import open_logbook\n"
        "from aequitone.passes import AS_FOUND\nlogbook = open_logbook(pathlib.Path(sys.argv[1]))\n"
        "visit = logbook.visit(int(sys.argv[2]))\nprint('ready', flush=True)\n"
        "while True:\n    import_pass(logbook, visit, AS_FOUND, read_file(pathlib.Path(sys.argv[3])), 'mine')\n"
    )
    for _ in range(count):
        command = [sys.executable, "-c", code, str(path), str(visit.id), str(source)]
        process = subprocess.Popen(command, stdout=subprocess.PIPE)
        assert process.stdout is not None
        process.stdout.readline()
        time.sleep(rng.random() * 0.15)
        os.kill(process.pid, signal.SIGKILL)
        process.communicate()
        told["killed" if whole(path) else "FAULT half a pass"] += 1
    with closing(sqlite3.connect(path)) as raw:
        print(f"  passes entered whole: {rows_in(raw)['pass']}")
    return told


def full_disk(folder: Path) -> Counter[str]:
    """Imports until no file may grow any more: each is there whole or refused with a sentence."""
    path, told = folder / "full.sqlite", Counter[str]()
    logbook = open_logbook(path)
    visit = begin_standin_visit(logbook, load_scenario("demo"), "demo", 1)
    soft, hard = resource.getrlimit(resource.RLIMIT_FSIZE)
    before = signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    resource.setrlimit(resource.RLIMIT_FSIZE, (path.stat().st_size + 40_000, hard))
    try:
        for _ in range(60):
            try:
                import_pass(logbook, visit, AS_FOUND, parse(sound_texts()[0], "mine"), "mine")
                told["entered"] += 1
            except AequitoneError:
                told["refused with a sentence"] += 1
            except Exception as error:
                told[f"FAULT {type(error).__name__}: {error}"[:200]] += 1
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, (soft, hard))
        signal.signal(signal.SIGXFSZ, before)
    logbook.close()
    if not (whole(path) and is_sound(path)):
        told["FAULT half a pass, or no sound logbook"] += 1
    return told


def main() -> None:
    numbers = [int(word) for word in sys.argv[1:]]
    wanted = [*numbers, *(2000, 200, 40, 40, 300, 10_000)[len(numbers) :]]
    folder = Path(tempfile.mkdtemp(prefix="attack-"))
    rng, faults = random.Random(2026), 0
    try:
        for name, told in (
            ("fuzzed imports", imports(folder, wanted[0], rng)),
            ("damaged logbooks", damaged(folder, wanted[1], rng)),
            ("first starts at once", starts(folder, wanted[2])),
            ("imports killed", kills(folder, wanted[3], rng)),
            ("fuzzed scenarios", scenarios(wanted[4], rng)),
            ("lines to instruments", said(wanted[5] // 2, rng)),
            ("answers of instruments", answered(wanted[5] // 20, rng)),
            ("full disk", full_disk(folder)),
        ):
            print(f"{name}: " + "; ".join(f"{count} {words}" for words, count in told.most_common()))
            faults += sum(count for words, count in told.items() if words.startswith("FAULT"))
    finally:
        shutil.rmtree(folder)
    print(f"faults: {faults}; memory at most {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000:.0f} MB")
    raise SystemExit(1 if faults else 0)


if __name__ == "__main__":
    main()
