"""What the move panel says at each station and moment: pure functions, no Qt."""

from dataclasses import dataclass, replace

from aequitone.advice.roles import Role
from aequitone.desktop import stages
from aequitone.desktop.frame.key_hints import BENCH, LEAVE, LEDGER, MOVES, PATTERNS, VIEW_KEYS, VISITS, bench_keys
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove, AskReading, AskRemedy, Question
from aequitone.desktop.states import Act, BigLine, DialState, EntryState, KeyHint, PanelState, Station
from aequitone.desktop.stations.arrive.form import Draft, missing_for_white
from aequitone.desktop.stations.white import panel as white_panels
from aequitone.desktop.tools.bench import panel as bench_panels
from aequitone.handover import words
from aequitone.logbook import PassState
from aequitone.logbook.records import local_time
from aequitone.passes import AS_FOUND, PROOF, SET_ASIDE_BY_PERSON, WHITE, PassType, Snapshot
from aequitone.planning.pace import grey_pass_seconds, minutes_words, seconds_left


@dataclass(frozen=True)
class Asked:
    """What the runner waits for, and what was wrong with the last answer."""

    question: Question
    objection: str = ""


def arrive(draft: Draft, facts: Snapshot | None, message: str) -> PanelState:
    """At Arrive."""
    missing = missing_for_white(draft)
    if message:
        sentence = message
    elif missing:
        sentence = (
            f"Write down every control as found, before anything is turned. White will need {_list(missing)}."
        )
    else:
        sentence = (
            "Everything that White needs is noted. The range and step of each control are checked as you go on."
        )
    keys = [KeyHint("Ctrl+Enter", "note it, go on", Act.SAVE_ARRIVAL, main=True)]
    if draft.bench.simulated:
        keys.append(KeyHint("Ctrl+R", "fill from stand-in", Act.READ_CONTROLS))
    if draft.bench.simulated and draft.bench.link != "stand-in" and facts is not None:
        keys.append(KeyHint("Ctrl+M", "menu of the stand-in", Act.REMOTE))
    if facts is not None:
        keys += [KeyHint("Ctrl+N", "another visit", Act.NEW_VISIT), LEDGER]
    keys += [VISITS, BENCH]
    return PanelState(
        "Your move",
        True,
        (BigLine("Note the visit"),),
        sentence,
        keys=tuple(keys),
        outlook="Tab goes from field to field; typing on a cell changes it. Ctrl+Q closes, nothing is lost.",
    )


def interrupted(facts: Snapshot, message: str) -> PanelState:
    """A pass was under way when the program ended, or was stopped."""
    record = facts.interrupted
    assert record is not None
    when = f", the last at {local_time(record.last_reading):%H:%M}" if record.last_reading else ""
    readings = f"{record.readings} reading{'s' if record.readings != 1 else ''}"
    sentence = f"The pass {record.kind} was interrupted. {readings} kept{when}. Nothing needs to be read twice."
    return PanelState(
        "Your move",
        True,
        (BigLine("Go on from the"), BigLine("last reading")),
        f"{message} {sentence}".strip(),
        keys=(
            KeyHint("Enter", "go on", Act.GO_ON, main=True),
            KeyHint("X", "set this pass aside", Act.SET_ASIDE),
            *VIEW_KEYS,
        ),
    )


def grey_idle(facts: Snapshot, station: Station, message: str) -> PanelState:
    """As found or Proof, nothing running."""
    kind = stages.STATION_PASS[station]
    found = facts.result(AS_FOUND) if kind is AS_FOUND else facts.result(PROOF)
    extra = bench_keys(facts)
    if found is None:
        plan = kind.make_plan(facts)
        time = minutes_words(grey_pass_seconds(plan, facts.pace))
        before = (
            "Warm the screen up for 30 minutes first; nothing measured before that counts as a baseline."
            if kind is AS_FOUND
            else "The same pass as at the start, so that the two can be laid side by side."
        )
        lines = (BigLine("Read grey"), BigLine("as found" if kind is AS_FOUND else "once more"))
        finding = _finding(facts, kind)
        if finding:
            lines, message, before = (BigLine("Mend the signal,"), BigLine("read again")), "", finding
        return PanelState(
            "Your move",
            True,
            lines,
            f"{message} {before}".strip(),
            keys=(
                KeyHint("Enter", "begin", Act.BEGIN, main=True),
                KeyHint("F", "take it from a file", Act.IMPORT),
                *extra,
                *VIEW_KEYS,
            ),
            outlook=f"{plan.readings} readings, about {time}.",
        )
    notes = facts.notes(AS_FOUND) if kind is AS_FOUND else facts.notes(PROOF)
    sentence = " ".join((*notes, words.found_words(found)))
    preset = any(control.role is Role.GAMMA for control in facts.controls)
    if kind is AS_FOUND and (tone := words.tone_words(found, preset=preset)):
        sentence = f"{tone} {sentence}"
    earlier = facts.result(AS_FOUND)
    if kind is PROOF and earlier is not None:
        sentence = words.compared_words(earlier, found) + " " + sentence
    return PanelState(
        "Your move",
        True,
        (BigLine("Go on to"), BigLine("Levels" if kind is AS_FOUND else "Hand over")),
        f"{message} {sentence}".strip(),
        delta=stages.mean_delta(found),
        dial=stages.casts(found),
        keys=(
            KeyHint("Enter", "next station", Act.NEXT_STATION, main=True),
            KeyHint("B", "measure it again", Act.BEGIN),
            *extra,
            *VIEW_KEYS,
        ),
    )


def closed(facts: Snapshot, station: Station) -> PanelState:
    """A station of a visit that is closed: to look at, not to measure."""
    found = {Station.AS_FOUND: facts.result(AS_FOUND), Station.PROOF: facts.result(PROOF)}.get(station)
    white = facts.result(WHITE)
    sentence = words.found_words(found) if found else white.words if white else "Nothing was read here."
    return PanelState(
        "Closed",
        False,
        (BigLine("Visit closed"),),
        f"{facts.visit.started:%d %B %Y}. {sentence if station is not Station.ARRIVE else ''}".strip(),
        delta=stages.mean_delta(found) if found else None,
        dial=stages.casts(found) if found else None,
        keys=(KeyHint("Ctrl+N", "another visit", Act.NEW_VISIT, main=True), VISITS, LEDGER, *VIEW_KEYS),
    )


def elsewhere(kind: PassType, number: int) -> PanelState:
    """Another station is looked at while a pass runs."""
    return PanelState(
        "A pass is running",
        False,
        (BigLine(kind.key.capitalize()),),
        f"Ctrl+{number} goes back to it.",
        keys=(KeyHint("P", "pause or go on", Act.PAUSE), LEAVE, *VIEW_KEYS),
    )


def running(
    facts: Snapshot,
    kind: PassType,
    live: Live | None,
    asked: Asked | None,
    trail: DialState | None,
    message: str,
    *,
    why: bool = False,
    heard: bool = False,
) -> PanelState:
    """A pass over grey runs at this station.

    `why`: the person wants to know why of a move; `heard`: what is watched is heard as well.
    """
    if (answer := answering(facts, kind, live, asked)) is not None:
        return answer
    if asked is not None and isinstance(asked.question, AskMove):
        return white_panels.moving(asked.question, facts, live, trail, message, why=why)
    if live is not None and live.watched is not None and not live.paused:
        return white_panels.watching(live.watched, facts, live, message, heard=heard)
    if live is None:
        return PanelState("Measuring", False, (BigLine("Beginning"),), keys=(LEAVE, *VIEW_KEYS))
    return _measuring(facts, kind, live, trail, why=why)


def answering(facts: Snapshot, kind: PassType, live: Live | None, asked: Asked | None) -> PanelState | None:
    """What is asked that is the same in every pass: trouble, a patch by hand, a reading to be typed."""
    if asked is None:
        return None
    if isinstance(asked.question, AskRemedy):
        return _trouble(asked.question)
    if by_hand := bench_panels.asked(asked.question):
        return by_hand
    if isinstance(asked.question, AskReading):
        return _typing(asked, asked.question, facts, kind, live)
    return None


def _measuring(facts: Snapshot, kind: PassType, live: Live, trail: DialState | None, *, why: bool) -> PanelState:
    state = live.state if kind is WHITE else None
    heading = "Paused" if live.paused else "Turning" if live.turning else "Measuring"
    lines: tuple[BigLine, ...] = (BigLine(live.shown),)
    keys = [KeyHint("P", "go on" if live.paused else "pause", Act.PAUSE, main=live.paused), LEAVE]
    sentence, outlook, progress, reasons = live.note, "", None, False
    if live.first_look and not sentence:
        sentence = "Is it the signal that the target means? A few greys and muted colours tell."
    if state is not None:
        if live.turning and state.proposed is not None:
            lines = stages.move_lines(state.proposed)
            sentence = state.proposed.expected.words + "." if state.proposed.expected else ""
            if why:
                sentence, reasons = state.why, True
            keys.append(white_panels.why_key(why=why))
        if state.trips:
            keys.append(KeyHint("Z", "put it back", Act.PUT_BACK))
        keys += [
            KeyHint("R", "read again", Act.READ_AGAIN),
            KeyHint("S", "good enough, stop", Act.STOP_HERE),
            MOVES,
        ]
        outlook = white_panels.trips_words(len(state.trips))
    elif kind is not WHITE:
        plan = kind.make_plan(facts)
        left = seconds_left(plan, facts.pace, live.done, live.white or 100.0)
        outlook = f"{live.done} of {live.total or plan.readings} readings, about {minutes_words(left)} left."
        progress = live.done / max(1, live.total or plan.readings)
    return PanelState(
        heading,
        live.paused,
        lines,
        sentence,
        reading=None if live.turning else live.reading,
        # Reasons take the room of the pictures.
        delta=None if reasons else stages.delta_of(state) if state else live.delta,
        dial=None if reasons else trail if state else live.dial,
        sliders=stages.sliders(state.controls, state.proposed if live.turning else None)
        if state and not reasons
        else (),
        keys=(*keys, *VIEW_KEYS),
        outlook=outlook,
        progress=progress,
    )


def _typing(asked: Asked, question: AskReading, facts: Snapshot, kind: PassType, live: Live | None) -> PanelState:
    grey = kind.from_file
    total = (live.total if live else 0) or (kind.make_plan(facts).readings if grey else 0)
    again = (KeyHint("Z", "the last one again", Act.PUT_BACK),) if live and live.done and grey else ()
    state = typing(asked, question, facts.visit.bench.entry_form)
    return replace(
        state,
        reading=live.reading if live and not asked.objection else None,
        keys=(state.keys[0], *again, KeyHint("P", "pause", Act.PAUSE), LEAVE, *bench_keys(facts), *VIEW_KEYS),
        outlook=f"Reading {live.done + 1} of {total}." if live and grey else "",
    )


def typing(asked: Asked, question: AskReading, form: str) -> PanelState:
    """A reading is to be typed; `form`: "xyY" or "XYZ"."""
    figures = "X, Y, Z, all in cd/m²" if form == "XYZ" else "x, y, and Y in cd/m²"
    return PanelState(
        "Your move",
        True,
        (BigLine("Type the reading"), BigLine(question.patch.name)),
        "" if asked.objection else f"As the meter shows it: {figures}. 0 alone stands for no light.",
        entry=EntryState(f"{', '.join(form)} for {question.patch.name}", asked.objection),
        keys=(
            KeyHint("Enter", "keep this reading", Act.KEEP_READING, main=True),
            KeyHint("Esc", "stop", Act.STOP_BENCH),
        ),
    )


def _trouble(question: AskRemedy) -> PanelState:
    return PanelState(
        "Your move",
        True,
        (BigLine("An instrument"), BigLine("needs you")),
        f"{question.sentence}. Every reading up to here is kept.",
        keys=(KeyHint("Enter", "try again", Act.TRY_AGAIN, main=True), LEAVE, PATTERNS, *VIEW_KEYS),
    )


def _finding(facts: Snapshot, kind: PassType) -> str:
    """What stopped the last pass of a kind, where a finding did and not the person; "" otherwise."""
    last = [record for record in facts.passes if record.kind == kind.key][-1:]
    if last and last[0].state is PassState.SET_ASIDE and last[0].outcome != SET_ASIDE_BY_PERSON:
        return last[0].outcome
    return ""


def _list(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
