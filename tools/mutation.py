"""How much of a package the tests hold: mutants of it are made in a copy, and the tests are run on each.

    .venv/bin/python tools/mutation.py [--sample N] [--seed N] PACKAGE...

A mutant that no test notices is printed with its change. The work tree itself is never touched.
"""

import argparse
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
# The quickest tests first: a mutant is gone with the first that fails.
_TESTS = {
    "advice": "tests/advice tests/procedures/test_white_balance.py tests/procedures/test_tone.py",
    "procedures": "tests/procedures tests/passes",
    "logbook": "tests/logbook tests/passes",
}
_PATIENCE_SECONDS = 240.0


def config(package: str) -> str:
    """The configuration of cosmic-ray for a package."""
    command = f"{sys.executable} -m pytest -q -x -p no:cacheprovider {_TESTS[package]}"
    return f"""[cosmic-ray]
module-path = "src/aequitone/{package}"
timeout = {_PATIENCE_SECONDS}
excluded-modules = ["**/migrations/**", "**/__init__.py"]
test-command = "{command}"

[cosmic-ray.distributor]
name = "local"
"""


def drawn(session: Path, sample: int, seed: int) -> int:
    """Keep only a sample of the mutants in a session; returns how many there were."""
    with sqlite3.connect(session) as database:
        ids = [row[0] for row in database.execute("SELECT job_id FROM work_items ORDER BY job_id")]
        specs = database.execute(
            "SELECT job_id, module_path, operator_name, occurrence FROM mutation_specs ORDER BY 2, 3, 4"
        ).fetchall()
        ordered = [row[0] for row in specs]
        kept = set(random.Random(seed).sample(ordered, min(sample, len(ordered))))
        for table in ("mutation_specs", "work_items"):
            database.executemany(f"DELETE FROM {table} WHERE job_id = ?", [(i,) for i in ids if i not in kept])
    return len(ids)


def tried(package: str, sample: int, seed: int) -> tuple[int, int, int]:
    """Mutants that there are, that were tried, and that no test noticed; prints the last."""
    with tempfile.TemporaryDirectory(prefix="mutation-") as name:
        copy = Path(name) / "copy"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".git", ".venv", "build", "*.pyc"))
        (copy / "mutation.toml").write_text(config(package))
        session = copy / "session.sqlite"
        binary = Path(sys.executable).with_name("cosmic-ray")
        environment = {"PYTHONPATH": f"{copy / 'src'}:{copy}", "PATH": "/usr/bin:/bin", "HOME": name}
        for words in (["init", "mutation.toml", session.name], None, ["exec", "mutation.toml", session.name]):
            if words is None:
                there = drawn(session, sample, seed)
                continue
            subprocess.run([str(binary), *words], cwd=copy, env=environment, check=True, stderr=subprocess.DEVNULL)
        with sqlite3.connect(session) as database:
            rows = database.execute(
                "SELECT r.test_outcome, s.module_path, s.operator_name, s.start_pos_row, r.diff "
                "FROM work_results r JOIN mutation_specs s ON s.job_id = r.job_id"
            ).fetchall()
    survived = [row for row in rows if "SURVIVED" in str(row[0]).upper()]
    for _, module, operator, line, diff in survived:
        changed = [
            text for text in (diff or "").splitlines() if text[:1] in "+-" and text[:3] not in ("+++", "---")
        ]
        print(f"  survived: {module}:{line} {operator.rpartition('/')[2]}")
        print("\n".join(f"    {text}" for text in changed))
    return there, len(rows), len(survived)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("packages", nargs="+", choices=sorted(_TESTS))
    parser.add_argument("--sample", type=int, default=40)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    for package in asked.packages:
        there, count, survived = tried(package, asked.sample, asked.seed)
        share = 100.0 * (count - survived) / max(1, count)
        print(
            f"{package}: {count - survived} of {count} mutants noticed ({share:.0f} %), drawn from {there}",
            flush=True,
        )


if __name__ == "__main__":
    main()
