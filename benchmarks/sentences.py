"""Sentences against the truth: what Levels, White, Tone and Proof say on screens of the zoo, kind by kind.

    PYTHONPATH=. .venv/bin/python benchmarks/sentences.py FIRST COUNT [kept|work]

A memory by link on COUNT warm screens from number FIRST on. Every note is checked against the truth of the screen
as it stands at that moment, every last word at the end of its station. A figure with a ± is right within twice
that and what a picture moves by itself; one without within what an eye sees. Kinds that only tell what is done
next, or what is planned, are not checked: they are listed at the end.
"""

import re
import sys
import tempfile
from collections import Counter, defaultdict
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from benchmarks.best import bent
from benchmarks.white_balance import corrected
from benchmarks.zoo import STATIONS, chosen, true_errors

from aequitone.advice.points import BEND
from aequitone.advice.points.drive import GAMMA
from aequitone.advice.points.near_black import GOOD_LIGHT, NEAR_BLACK, wanted_light
from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array
from aequitone.logbook import open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import NotReadyError, begin, carry_out
from aequitone.procedures.runner import Event, NobodyThere, StepBegun
from aequitone.procedures.steps import Note
from aequitone.reference import Target, target_named
from aequitone.signal import SignalFormat, grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.zoo import zoo_screen

# What light and a ΔE move by themselves between a reading and the truth of a screen at rest.
_LIGHT, _DE = 0.03, 0.15
# What is said of a window, or of light near black, counts as right within so much.
_SHARE, _NEAR = 0.03, 0.05
# Steps that a setting may lie beside the right one.
_STEPS = 1.5
_WARM_SECONDS = 5400.0
_LADDER = tuple(float(percent) for percent in range(100, 0, -5))


@dataclass
class Scene:
    """A screen as it stands, by the truth."""

    bench: StandInBench
    target_name: str
    format: SignalFormat
    settings: Mapping[str, int] | None = None
    """Where its controls stand; None for as they do."""

    @property
    def target(self) -> Target:
        return target_named(self.target_name)

    def light(self, percent: float = 100.0, window: float | None = None) -> float:
        """Luminance of a grey, cd/m²."""
        format_ = self.format if window is None else replace(self.format, window=window)
        return float(self.bench.screen.steady(grey_patch(percent, format_))[1])

    def errors(self, *percents: float) -> list[float]:
        """ΔE 2000 at levels in %."""
        return true_errors(self.bench, self.target_name, percents)

    def off(self, role: str, setting: float) -> float:
        """By how many steps a setting lies beside the right one."""
        control = next(each for each in self.bench.screen.controls() if each.role == role)
        right = control.factory + self.bench.screen.unit.neutral[role] * control.step
        return abs(setting - right) / control.step

    def at(self, role: str, by: float) -> "Scene":
        """The same screen with a control so many steps from where it stands."""
        screen = self.bench.screen
        control = next(each for each in screen.controls() if each.role == role)
        to = int(np.clip(screen.settings()[role] + round(by) * control.step, control.lowest, control.highest))
        return replace(self, settings={**self.stands, role: to})

    @property
    def stands(self) -> dict[str, int]:
        """Where all controls stand."""
        return dict(self.settings or self.bench.screen.settings())

    def signal_light(self, percents: Sequence[float]) -> Array:
        """XYZ (n, 3) of greys in the middle of the screen, whatever is around them."""
        signal = np.repeat(np.array(percents)[:, None] / 100.0, 3, axis=1)
        return np.asarray(self.bench.screen.light_of_signal(signal, self.stands))

    def misses(self) -> Array:
        """How far light near black is off, in logarithm."""
        black = self.light(0.0)
        wanted = wanted_light(self.target, np.array(NEAR_BLACK), self.light(), black)
        return np.asarray(np.log(np.maximum([self.light(percent) for percent in NEAR_BLACK], 1e-6) / wanted))


def _figures(words: re.Match[str]) -> list[float]:
    return [float(each) for each in words.groups() if each is not None]


def _light(words: re.Match[str], scene: Scene) -> bool:
    _, said, *sd = _figures(words)
    return abs(scene.light() / said - 1.0) <= _LIGHT + 2.0 * sum(sd) / said


def _black_edge(words: re.Match[str], scene: Scene) -> bool:
    setting, sd = _figures(words)
    return scene.off("black-level", setting) <= _STEPS + 2.0 * sd


def _black_setting(words: re.Match[str], scene: Scene) -> bool:
    """Whether it lifts no black and swallows nothing there; on a screen of its own tone no setting does both."""
    (setting,) = _figures(words)
    if scene.off("black-level", setting) <= _STEPS:
        return True
    stands = scene.stands["black-level"]
    control = next(each for each in scene.bench.screen.controls() if each.role == "black-level")
    there = scene.at("black-level", (setting - stands) / control.step)
    lower = scene.at("black-level", (setting - stands) / control.step - 3.0)
    lifted = there.signal_light([0.0])[0, 1] > 1.3 * lower.signal_light([0.0])[0, 1] + 1e-5 * scene.light()
    four, three = there.signal_light([4.0, 3.0])[:, 1]
    return not lifted and bool(four > 1.05 * three)


def _contrast(words: re.Match[str], scene: Scene) -> bool:
    """Below where the first channel is said to stop all of them rise up to white, and above it one does not."""
    first, sd = min(map(float, re.findall(r"[RGB] at ([\d.]+)", words[0]))), float(words[1])
    control = next(each for each in scene.bench.screen.controls() if each.role == "contrast")
    by, doubt = (first - scene.stands["contrast"]) / control.step, 2.0 + 2.0 * sd / control.step

    def rise(steps: float) -> float:
        low, high = np.log(np.maximum(REC709.rgb(scene.at("contrast", steps).signal_light([97.0, 100.0])), 1e-6))
        return float((high - low).min() / (GAMMA * -np.log(0.97)))

    return rise(by - doubt) > 0.25 and rise(by + doubt) < 0.75


def _white(words: re.Match[str], scene: Scene) -> bool:
    said, sd, white, at = _figures(words)
    true = scene.errors(80.0, 30.0)
    return abs(max(true) - said) <= 2.0 * sd + _DE and abs(scene.errors(at)[0] - white) <= 2.0 * sd + 2.0 * _DE


def _ladder(words: re.Match[str], scene: Scene) -> bool:
    said, sd, worst, at = _figures(words)
    true = float(np.mean(scene.errors(*_LADDER)))
    return abs(true - said) <= 2.0 * sd + _DE and abs(scene.errors(at)[0] - worst) <= 1.0


def _ladder_alone(words: re.Match[str], scene: Scene) -> bool:
    (said, *sd) = _figures(words)
    return abs(float(np.mean(scene.errors(*_LADDER))) - said) <= 2.0 * sum(sd) + _DE + 0.1 * (not sd)


def _ramp(words: re.Match[str], scene: Scene) -> bool:
    """Whether the ramp is as smooth as it was said to be, with a tenth of what a step is not known by."""
    smooth = bent(scene.bench, scene.bench.screen.settings()) <= 1.1 * BEND
    return smooth or not words[0].startswith("Ramps stay smooth")


def _near_black_right(_words: re.Match[str], scene: Scene) -> bool:
    """All within a tenth; what is darkest the meter may not tell."""
    return bool((np.abs(scene.misses()[:-2]) <= GOOD_LIGHT + _NEAR).all())


def _near_black_off(words: re.Match[str], scene: Scene) -> bool:
    """Every level that is named is off, as far as the meter can tell it."""
    named = [float(each) for each in re.findall(r"([\d.]+) %", words[1])]
    if words[0].find(" from ") > 0:
        named = [percent for percent in NEAR_BLACK if percent <= named[0]]
    off = dict(zip(NEAR_BLACK, np.abs(scene.misses()), strict=True))
    return all(off[percent] >= GOOD_LIGHT - _NEAR for percent in named)


def _nearer_gamma(words: re.Match[str], scene: Scene) -> bool:
    return bool(scene.misses()[:-2].mean() < 0.0) is (words[1] == "dark")


def _every_window(_words: re.Match[str], scene: Scene) -> bool:
    return scene.light(window=1.0) >= (1.0 - _SHARE) * scene.light(window=0.05)


def _full_field(words: re.Match[str], scene: Scene) -> bool:
    share = scene.light(window=1.0) / scene.light(window=0.05)
    return abs(share - float(words[1]) / 100.0) <= _SHARE


def _windows(words: re.Match[str], scene: Scene) -> bool:
    return scene.light(window=float(words[1]) / 100.0) >= (1.0 - _SHARE) * scene.light(window=0.05)


_NUMBER = r"(-?\d+(?:\.\d+)?)"
_N = _NUMBER.replace("(-", "(?:-", 1)
KINDS: tuple[tuple[str, str, Callable[[re.Match[str], Scene], bool]], ...] = (
    ("light as set", rf"\w[\w ]* at {_NUMBER} gives {_NUMBER} ± {_NUMBER} cd/m² of", _light),
    ("light along with contrast", rf"\w[\w ]* at {_NUMBER}, turned along with contrast, gives {_NUMBER}", _light),
    ("black begins to rise", rf"Black begins to rise at {_NUMBER} ± {_NUMBER}", _black_edge),
    ("black belongs, or is right", rf"\w[\w ]* (?:is right|belongs) at {_NUMBER}\b", _black_setting),
    ("black is right as found", rf"\w[\w ]* at {_NUMBER}, as found, is right", _black_setting),
    ("channels stop rising", rf"Channels stop rising: .*[RGB] at {_N}.*± {_NUMBER}", _contrast),
    ("same light in every window", r"White has the same light in every window", _every_window),
    ("a full field's light", rf"A full white field has {_NUMBER} %", _full_field),
    ("windows that are not limited", rf"Windows up to {_NUMBER} % of the area are not limited", _windows),
    (
        "White's last word",
        rf"[\w .]*: ΔE {_NUMBER} ± {_NUMBER} at the worse of the two levels, {_NUMBER} at {_NUMBER} %",
        _white,
    ),
    (
        "Tone's last word",
        rf"ΔE {_N} → {_NUMBER} ± {_NUMBER} on average, at worst {_NUMBER} at {_NUMBER} %",
        _ladder,
    ),
    ("Tone: no level was turned", rf"No level was turned: ΔE {_NUMBER} ± {_NUMBER} on average", _ladder_alone),
    ("Tone: the ladder is at", rf"The ladder is at ΔE {_NUMBER} on average", _ladder_alone),
    ("Tone: the ramp", r"(?:Ramps stay smooth|Look at a ramp|Each level acts by itself)", _ramp),
    ("near black is right", r"Near black is right", _near_black_right),
    ("near black is off", r"Near black, light (?:at|from) (.+) is off", _near_black_off),
    ("near black too dark or bright", r"It is too (dark|bright), and bringing it in", _nearer_gamma),
)


@dataclass(frozen=True)
class Checked:
    """A sentence that was said, its kind ("" for none that is checked) and whether it was right."""

    kind: str
    words: str
    right: bool
    number: int


def checked(text: str, scene: Scene, number: int) -> list[Checked]:
    """Every sentence of a text, against the truth now."""
    told = []
    for words in re.split(r"(?<=[.?!]) +(?=[A-Z])", text):
        found = next(((name, match, check) for name, how, check in KINDS if (match := re.match(how, words))), None)
        if found is None:
            told.append(Checked("", re.sub(_N, "#", words), True, number))
        else:
            name, match, check = found
            told.append(Checked(name, words, check(match, scene), number))
    return told


def run_one(number: int) -> list[Checked]:
    """One memory by link, and what was said on the way."""
    scenario, told = zoo_screen(number), []
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        bench = build_bench(scenario, number)
        bench.clock.sleep(_WARM_SECONDS)
        visit = begin_standin_visit(logbook, scenario, f"zoo {number}", number)
        note_as_found(logbook, visit, bench.link.values())
        care = logbook.visit(visit.id).bench.care
        ports = replace(bench.bench(), meter=corrected(bench, care))
        scene = Scene(bench, visit.target, visit.bench.format)

        def hear(event: Event) -> None:
            if isinstance(event, StepBegun) and isinstance(event.step, Note):
                told.extend(checked(event.step.text, scene, number))

        for kind in STATIONS:
            try:
                prepared = begin(logbook, visit.id, kind)
            except NotReadyError:
                continue
            result = carry_out(logbook, prepared, ports, NobodyThere(), hear, care=care)
            told.extend(checked(kind.words(result), scene, number))
        logbook.close()
    return [each for each in told if each.words]


def main() -> None:
    first, amount = int(sys.argv[1]), int(sys.argv[2])
    numbers = chosen(first, amount, kept="work" not in sys.argv[3:])
    with ProcessPoolExecutor() as pool:
        told = [each for of_one in pool.map(run_one, numbers) for each in of_one]
    said, wrong = Counter(each.kind for each in told), defaultdict[str, list[Checked]](list)
    for each in told:
        if not each.right:
            wrong[each.kind].append(each)
    print(f"{len(numbers)} screens, {len(told)} sentences, {said['']} of kinds that are not checked")
    for name, *_ in KINDS:
        share = 1.0 - len(wrong[name]) / max(1, said[name])
        print(f"  {name:32s} right {said[name] - len(wrong[name]):4d} of {said[name]:4d}, {share * 100.0:5.1f} %")
    for name, *_ in KINDS:
        for each in wrong[name][:3]:
            print(f"  zoo {each.number}: {each.words}")
    print("not checked:")
    for words, count in Counter(each.words for each in told if not each.kind).most_common(12):
        print(f"  {count:4d}  {words[:150]}")


if __name__ == "__main__":
    main()
