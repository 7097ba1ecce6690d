"""The command on the demo scenario over many seeds: how right grey becomes, and what it costs.

.venv/bin/python benchmarks/runs.py [SEEDS] [SCENARIO]
"""

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

import numpy as np


def summary_of(scenario: str, seed: int, folder: Path) -> dict[str, Any]:
    """What `aequitone run` writes for one seed."""
    command = [
        sys.executable,
        "-m",
        "aequitone.cli",
        "run",
        scenario,
        "--out",
        str(folder / str(seed)),
        "--seed",
        str(seed),
    ]
    done = subprocess.run(command, capture_output=True, text=True, check=True)
    told: dict[str, Any] = json.loads(Path(done.stdout.strip()).read_text("utf-8"))
    return told


def main() -> None:
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    scenario = sys.argv[2] if len(sys.argv) > 2 else "demo"
    with tempfile.TemporaryDirectory() as name:
        told = [summary_of(scenario, seed, Path(name)) for seed in range(seeds)]
    figures = {
        "true ΔE 2000, worse adjusted level, before": [t["truth"]["adjusted_worst_de2000_before"] for t in told],
        "true ΔE 2000, worse adjusted level, after": [t["truth"]["adjusted_worst_de2000_after"] for t in told],
        "true ΔE 2000, mean of the ladder, before": [t["truth"]["ladder_mean_de2000_before"] for t in told],
        "true ΔE 2000, mean of the ladder, after": [t["truth"]["ladder_mean_de2000_after"] for t in told],
        "measured ΔE 2000 at 100 %, proof": [t["proof"]["levels"][0]["de2000"] for t in told],
        "readings": [t["readings"] for t in told],
        "trips to the menu": [t["menu_trips"] for t in told],
        "simulated minutes": [t["simulated_minutes"] for t in told],
    }
    print(f"{scenario}, {seeds} seeds{'':33s}   median    worst     best")
    for what, values in figures.items():
        print(f"{what:45s} {np.median(values):8.2f} {max(values):8.2f} {min(values):8.2f}")
    for reason in sorted({t["stopped"].split(":")[0] for t in told}):
        print(f"{sum(t['stopped'].startswith(reason) for t in told):3d} ended with: {reason}")


if __name__ == "__main__":
    main()
