"""What the views draw: plain values, built by stages.py, compared to find out what to redraw."""

from dataclasses import dataclass
from enum import Enum

from aequitone.reference import Verdict


class Station(Enum):
    """The stations of the visit, in the order of work."""

    ARRIVE = "Arrive"
    PREPARE = "Prepare"
    AS_FOUND = "As found"
    LEVELS = "Levels"
    WHITE = "White"
    TONE = "Tone"
    PROOF = "Proof"
    HAND_OVER = "Hand over"


class Act(Enum):
    """What a key can do."""

    SAVE_ARRIVAL = "save arrival"
    READ_CONTROLS = "read controls"
    KEEP_READING = "keep reading"
    BEGIN = "begin"
    GO_ON = "go on"
    PAUSE = "pause"
    LEAVE = "leave"
    SET_ASIDE = "set aside"
    TURNED = "turned"
    PUT_BACK = "put back"
    READ_AGAIN = "read again"
    STOP_HERE = "stop here"
    PASS_OVER = "pass over"
    TRY_AGAIN = "try again"
    NEXT_STATION = "next station"
    MAKE_REPORT = "make report"
    OPEN_REPORT = "open report"
    CLOSE_VISIT = "close visit"
    NEW_VISIT = "new visit"
    DARKEN = "darken"
    TABLE = "table"
    MOVES = "moves"
    COPY = "copy"
    REMOTE = "remote"
    PATTERNS = "patterns"
    BENCH = "bench"
    READ_ONCE = "read once"
    LIVE = "read live"
    WARM_UP = "warm-up"
    DELAY = "delay"
    FIND_REFRESH = "refresh"
    CORRECT = "correct"
    CHECK_MODE = "check the mode"
    ADD_INSTRUMENT = "add instrument"
    STOP_BENCH = "stop at the bench"
    IMPORT = "import"
    LIGHT = "another light"
    VISITS = "visits"
    OPEN_VISIT = "open visit"
    VISIT_AGAIN = "visit this screen again"
    RENAME = "rename"
    PUT_AWAY = "put the client away"
    SHOW_AWAY = "show who was put away"
    REGISTER_UNDO = "undo in the logbook"
    LEDGER = "controls"
    MOMENT_EARLIER = "earlier moment"
    MOMENT_LATER = "later moment"
    OTHER_EARLIER = "compare with an earlier moment"
    OTHER_LATER = "compare with a later moment"
    ONLY_CHANGED = "only what differs"
    SCOPE_REACH = "what it acts on"
    SCOPE_SIGNALS = "on which signals"
    SCOPE_COPIED = "whether it is copied"
    PUT_ALL_BACK = "put all back"
    WHY = "why this move"
    WATCH = "watch it while turning"
    WATCHED = "turned while watched"
    SOUND = "sound while watching"
    MATCH_WHITE = "the white read is wanted"
    STOP_FIGURE = "another stop figure"
    STOP_FORMULA = "by another formula"
    PAIR = "at another pair of levels"
    EVENNESS = "uniformity"
    LINE_DONE = "line done"
    LINE_NOT_HERE = "line does not apply"
    LINE_LEFT = "line left as it is"
    LINE_UNDO = "line undone"
    LINE_UP = "line above"
    LINE_DOWN = "line below"
    PICTURE = "test picture"
    BY_EYE = "by eye"
    EYE_TURNED = "turned by eye"
    EYE_SKIP = "skip this question"
    LEAVE_EYE = "leave by eye"
    BLINK = "blinking picture"
    ANSWER_1 = "first answer"
    ANSWER_2 = "second answer"
    ANSWER_3 = "third answer"
    ANSWER_4 = "fourth answer"
    ANSWER_5 = "fifth answer"
    ANSWER_6 = "sixth answer"
    DEBT_ON_AGAIN = "on again"
    DEBT_LEAVE_OFF = "leave off"
    DEBT_CLIENT = "client's choice"
    DEBT_UNDO = "take the last answer back"


ANSWERS = (Act.ANSWER_1, Act.ANSWER_2, Act.ANSWER_3, Act.ANSWER_4, Act.ANSWER_5, Act.ANSWER_6)


@dataclass(frozen=True)
class KeyHint:
    """A key that works now, what it does, and whether it is the next step."""

    key: str
    words: str
    act: Act
    main: bool = False
    wide: bool = False
    """Whether its words need a row of their own."""


@dataclass(frozen=True)
class StripState:
    """The line on top."""

    who: str
    what: str
    time: str
    saved: str


@dataclass(frozen=True)
class RouteStop:
    """A station on the route."""

    station: Station
    minutes: str
    done: bool
    reachable: bool


@dataclass(frozen=True)
class RouteState:
    """The route, and the station in view."""

    stops: tuple[RouteStop, ...]
    here: Station


@dataclass(frozen=True)
class BigLine:
    """A control and how far, in words to be read while standing."""

    label: str
    amount: str = ""
    detail: str = ""


@dataclass(frozen=True)
class ReadingFigure:
    """The live reading."""

    label: str
    luminance: float
    target: float | None


@dataclass(frozen=True)
class DeltaFigure:
    """A ΔE 2000 with its spread."""

    label: str
    value: float
    sd: float
    verdict: Verdict


@dataclass(frozen=True)
class DialState:
    """Casts in u'v' as (warm, green): the trail so far, the last being now."""

    trail: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class SliderState:
    """A control on its range: where it stands, and where it is to go."""

    channel: str
    name: str
    lowest: int
    highest: int
    value: int
    to: int | None = None


@dataclass(frozen=True)
class EntryState:
    """A reading to be typed in."""

    prompt: str
    objection: str = ""
    text: str = ""
    """What stands there to begin with."""
    letters: bool = False
    """Whether words are typed, and not figures."""


@dataclass(frozen=True)
class PanelState:
    """The move panel: one thing to do now."""

    heading: str
    yours: bool
    lines: tuple[BigLine, ...] = ()
    sentence: str = ""
    reading: ReadingFigure | None = None
    delta: DeltaFigure | None = None
    dial: DialState | None = None
    sliders: tuple[SliderState, ...] = ()
    entry: EntryState | None = None
    keys: tuple[KeyHint, ...] = ()
    outlook: str = ""
    progress: float | None = None


@dataclass(frozen=True)
class LadderRow:
    """A grey level: what is wanted and what is seen."""

    percent: float
    target_rgb: tuple[int, int, int]
    seen_rgb: tuple[int, int, int] | None = None
    luminance: float | None = None
    light: float | None = None
    cast: tuple[float, float] | None = None
    word: str = ""
    delta: float | None = None
    sd: float = 0.0
    verdict: Verdict | None = None
    ghost: float | None = None
    ghost_rgb: tuple[int, int, int] | None = None
    here: bool = False
    left_out: int = 0
    """Answers of the meter that did not belong."""
    xyz: tuple[float, float, float] | None = None


@dataclass(frozen=True)
class LadderState:
    """The grey ladder."""

    title: str
    subtitle: str
    rows: tuple[LadderRow, ...]
    brackets: tuple[tuple[str, float, float], ...] = ()
    """Name, highest and lowest percent that the controls of this name reach."""
    active: str = ""
    """The bracket that the present move acts on."""


class Mark(Enum):
    """How a line of the checklist stands."""

    OPEN = "open"
    DONE = "done"
    LEFT = "left as it is"
    NOT_HERE = "does not apply"


@dataclass(frozen=True)
class ChecklistRow:
    """A line of the checklist."""

    title: str
    detail: str
    mark: Mark
    here: bool = False


@dataclass(frozen=True)
class LineState:
    """A line on a sweep's picture: settings across, values up, with whiskers."""

    name: str
    points: tuple[tuple[float, float, float], ...]
    """Setting, value, and its spread."""
    channel: str = ""


@dataclass(frozen=True)
class LevelRow:
    """A control of levels: where it was found, where it stands, and what a sweep said."""

    role: str
    name: str
    lowest: int
    highest: int
    found: int
    now: int
    exact: float | None = None
    sd: float = 0.0
    note: str = ""
    here: bool = False


@dataclass(frozen=True)
class LevelsPage:
    """The picture of Levels: the controls above, the curve of one below."""

    rows: tuple[LevelRow, ...]
    title: str = ""
    lines: tuple[LineState, ...] = ()
    at: float | None = None
    """The recommended place, between two settings as often as not."""
    at_sd: float = 0.0
    setting: int | None = None
    across: str = ""
    facts: tuple[tuple[str, str], ...] = ()
    """Figures of the whole, such as contrast, each with its name."""


@dataclass(frozen=True)
class MoveRow:
    """A move that was made: what was expected of it, and what came, all in words."""

    number: str
    move: str
    before: str
    expected: str
    expected_sd: str
    after: str
    after_sd: str
    said: str


@dataclass(frozen=True)
class TonePoint:
    """A level on the picture of Tone: how far its light is off, in %."""

    percent: float
    light: float
    sd: float
    verdict: Verdict | None
    """None where no judgement by ΔE is given: near black."""
    de2000: float = 0.0
    here: bool = False


@dataclass(frozen=True)
class TonePage:
    """The picture of Tone: light against the target above, the corrections of the ramp below."""

    points: tuple[TonePoint, ...]
    ghosts: tuple[TonePoint, ...] = ()
    band: tuple[tuple[float, float, float], ...] = ()
    """Level, and the light in % below and above the target that nobody can see."""
    corrections: tuple[LineState, ...] = ()
    """For each channel its settings over the levels, in steps from the middle."""
    presets: tuple[LineState, ...] = ()
    """What the screen's gamma presets gave, as light in % off the target."""
    subtitle: str = ""
    facts: tuple[tuple[str, str], ...] = ()
    """Figures of the whole, each with its name."""


@dataclass(frozen=True)
class LedgerRow:
    """A control: what it is, and its settings at two moments in the screen's own words."""

    role: str
    name: str
    role_words: str
    range: str
    factory: str
    reach: str
    copied: str
    before: str
    after: str
    differs: bool


@dataclass(frozen=True)
class LedgerPage:
    """The controls at two moments; `at` is the row that is looked at."""

    first: str
    second: str
    rows: tuple[LedgerRow, ...]
    at: int = 0


@dataclass(frozen=True)
class FootState:
    """The instruments in one line."""

    meter: str
    patterns: str
    link: str
