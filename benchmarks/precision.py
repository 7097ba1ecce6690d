"""Time to the same standard error: readings asked for by what is wanted, against two seconds each.

.venv/bin/python benchmarks/precision.py [TRIALS]

A stand-in meter looks at greys of 0.05, 0.5, 5 and 100 cd/m² on a screen with a white of 100 cd/m². The
policy is the one a pass uses there. The fixed policy repeats two-second readings until its standard error
is as small; its meter, overhead and noise are the same.
"""

import sys
from math import ceil

import numpy as np

from aequitone.instruments.ports import MeterNoise
from aequitone.procedures.exposures import look
from aequitone.procedures.noise import NoiseModel
from aequitone.procedures.policy import policy_for

LIGHTS = (0.05, 0.5, 5.0, 100.0)
OVERHEAD_SECONDS = 0.3
FIXED_SECONDS = 2.0
WHITE = 100.0
METERS = {
    "counts light (demo's meter)": MeterNoise(0.010, 0.002, 0.0),
    "with read-out noise": MeterNoise(0.010, 0.002, 0.004),
}


def ours(light: float, true: MeterNoise, trials: int) -> tuple[float, float]:
    """Standard error over many readings, and seconds a reading takes, its overhead included."""
    rng = np.random.default_rng(5)
    xyz = np.array([0.95, 1.0, 1.09]) * light
    seconds: list[float] = []
    answers = []

    def measure(integration: float) -> np.ndarray:
        seconds.append(integration + OVERHEAD_SECONDS)
        return np.asarray(xyz + rng.standard_normal(3) * true.sd(xyz, integration))

    noise = NoiseModel(true)
    for _ in range(trials):
        answers.append(look(measure, policy_for(light, WHITE), noise).xyz[1])
    return float(np.std(answers)), sum(seconds) / trials


def main() -> None:
    trials = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    for what, noise in METERS.items():
        print(f"{what}: shot {noise.shot:g}, floor {noise.floor:g}, read {noise.read:g}")
        print("   cd/m²   standard error       asked for      two seconds each    ratio")
        for light in LIGHTS:
            error, seconds = ours(light, noise, trials)
            one = float(noise.sd(np.array([light]), FIXED_SECONDS)[0])
            count = max(1, ceil((one / error) ** 2 - 0.05))
            fixed = count * (FIXED_SECONDS + OVERHEAD_SECONDS)
            print(
                f"{light:8g} {error:10.5f} ({100 * error / light:5.2f} %) {seconds:9.2f} s "
                f"{count:6d} x 2 s = {fixed:6.2f} s {fixed / seconds:8.2f}"
            )


if __name__ == "__main__":
    main()
