"""Levels by eye: one question at a time about a test picture, and where an answer leads.

By eye is honest for black, white, sharpness, geometry, and, by one channel's light, for colour and tint. It is
not for white balance or colour management: the eye adapts to whatever white it looks at.
"""

from dataclasses import dataclass, replace

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import Role

NOT_BY_EYE = (
    "White balance and colour management cannot be judged by eye: the eye takes the white it sees for white "
    "within minutes. Leave the presets nearest to the target, or use a meter."
)
# Steps are meant for a control of a hundred; others move by the same share of their range.
_USUAL_STEPS = 100


@dataclass(frozen=True)
class EyeAnswer:
    """An answer that can be given, and by how many steps the control stands too high (or, below 0, too low)."""

    words: str
    too_high: int


@dataclass(frozen=True)
class EyeQuestion:
    """What to look at, and what to say of it. The first answer is the one that is hoped for."""

    role: Role | None
    picture: str
    ask: str
    answers: tuple[EyeAnswer, ...]
    before: str = ""
    """What has to be arranged first."""


QUESTIONS: tuple[EyeQuestion, ...] = (
    EyeQuestion(
        None,
        "geometry",
        "Do all arrow tips touch the edges, and is the circle round?",
        (
            EyeAnswer("yes, all of it", 0),
            EyeAnswer("tips are cut off: switch overscan off, and look again", 1),
            EyeAnswer("the circle is not round: correct the aspect ratio, and look again", 1),
        ),
    ),
    EyeQuestion(
        Role.BLACK_LEVEL,
        "black-steps",
        "From which hour on do you see a disc? Ten, eleven and twelve lie below black.",
        (
            EyeAnswer("from one o'clock, just so", 0),
            EyeAnswer("also at ten, eleven or twelve", 3),
            EyeAnswer("from two or three o'clock", -1),
            EyeAnswer("from four to six o'clock", -3),
            EyeAnswer("only from seven to nine", -5),
            EyeAnswer("none at any hour", -10),
        ),
        "Make the room as dark as for viewing, and give your eyes five minutes.",
    ),
    EyeQuestion(
        Role.CONTRAST,
        "white-steps",
        "Up to which hour can you tell the beads from their ring, in all four rings?",
        (
            EyeAnswer("up to six o'clock, or beyond", 0),
            EyeAnswer("up to four or five", 2),
            EyeAnswer("one ring loses its beads before the others", 3),
            EyeAnswer("up to two or three", 6),
            EyeAnswer("at no hour", 12),
        ),
    ),
    EyeQuestion(
        Role.SHARPNESS,
        "sharpness",
        "Are there rings beside the lines and blocks?",
        (
            EyeAnswer("no rings, and the gratings are crisp", 0),
            EyeAnswer("yes, pale or dark rings", 6),
            EyeAnswer("no rings, but all is soft", -6),
        ),
    ),
    EyeQuestion(
        Role.COLOUR,
        "colour-bars",
        "By blue light alone: the patch below the white bar, is it as bright as the bar?",
        (
            EyeAnswer("just as bright", 0),
            EyeAnswer("brighter than the bar", 3),
            EyeAnswer("darker than the bar", -3),
        ),
        "Switch the screen to show its blue channel alone, or look through a blue filter.",
    ),
    EyeQuestion(
        Role.TINT,
        "colour-bars",
        "By blue light alone: do the patches below cyan and magenta match their bars?",
        (
            EyeAnswer("both match", 0),
            EyeAnswer("the one below cyan is brighter, below magenta darker", 3),
            EyeAnswer("the one below magenta is brighter, below cyan darker", -3),
        ),
        "Blue alone, as before.",
    ),
)


@dataclass(frozen=True)
class EyeSearch:
    """One control on its way; `low` and `high`: settings known to be too low and too high."""

    question: EyeQuestion
    control: ControlState | None
    low: int | None = None
    high: int | None = None
    alike: int = 0
    """How many answers in a row went the same way: above 0 too high, below 0 too low."""
    done: bool = False
    words: str = ""

    def answered(self, answer: EyeAnswer) -> tuple["EyeSearch", Move | None]:
        """The search after an answer, and the move it leads to; no move where nothing is to be turned."""
        control = self.control
        if answer.too_high == 0:
            stands = "" if control is None else f" {control.name} stays at {control.value}."
            return replace(self, done=True, words=f"Right.{stands}"), None
        if control is None:
            return replace(self, words="Correct it, then look again."), None
        low = control.value if answer.too_high < 0 else self.low
        high = control.value if answer.too_high > 0 else self.high
        way = 1 if answer.too_high > 0 else -1
        alike = self.alike + way if self.alike * way > 0 else way
        # Whoever gives the same answer again has further to go than they thought.
        wide = abs(answer.too_high) * 2 ** (abs(alike) - 1)
        share = max(1, round(wide * control.steps / _USUAL_STEPS)) * control.step
        to = control.value + (-share if answer.too_high > 0 else share)
        if low is not None and high is not None:
            if high - low <= control.step:
                return self._between(low, high)
            if not low < to < high:
                to = control.snapped((low + high) / 2.0)
        to = min(max(to, control.lowest), control.highest)
        if to == control.value:
            end = "highest" if answer.too_high < 0 else "lowest"
            return replace(self, done=True, words=f"{control.name} is at its {end} setting and stays there."), None
        move = control.moved_to(to)
        return replace(self, control=replace(control, value=to), low=low, high=high, alike=alike), move

    def _between(self, low: int, high: int) -> tuple["EyeSearch", Move | None]:
        """Two neighbours, the one too low, the other too high: black keeps its shadows, all else its lights."""
        assert self.control is not None
        to = high if self.question.role == Role.BLACK_LEVEL else low
        words = f"Right lies between {low} and {high}; {self.control.name} stays at {to}."
        found = replace(self, control=replace(self.control, value=to), low=low, high=high, done=True, words=words)
        return found, self.control.moved_to(to) if to != self.control.value else None


def questions_for(controls: dict[Role, ControlState]) -> tuple[EyeSearch, ...]:
    """The questions for a screen whose controls stand like this; geometry is always asked."""
    return tuple(
        EyeSearch(question, controls.get(question.role) if question.role else None)
        for question in QUESTIONS
        if question.role is None or question.role in controls
    )
