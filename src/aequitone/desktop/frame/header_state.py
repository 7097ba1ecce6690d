"""What stands around the station in view: strip, route and status line; pure functions, no Qt."""

from collections.abc import Sequence

from aequitone.advice.technology import technology_of
from aequitone.desktop.frame.state import MOST_KEYS, FootState, RouteState, RouteStop, StripState
from aequitone.desktop.station import Station
from aequitone.logbook import BenchChoice
from aequitone.logbook.records import Connection
from aequitone.passes import PASSES, Snapshot
from aequitone.planning.pace import clock_words, short_minutes_words
from aequitone.reference import target_named
from aequitone.signal import Transfer


def strip(snapshot: Snapshot | None, stations: Sequence[Station]) -> StripState:
    """The strip on top."""
    if snapshot is None:
        return StripState("New visit", "", "", "nothing entered yet")
    visit = snapshot.visit
    used = snapshot.seconds(*PASSES)
    planned = sum(station.seconds(snapshot) for station in on_route(snapshot, stations))
    return StripState(
        f"{visit.client}, {visit.room}",
        "  ·  ".join((visit.screen, *_job(snapshot), visit.input, visit.memory, target_named(visit.target).label)),
        f"{clock_words(used)} of {clock_words(planned)} planned",
        "every reading saved",
    )


def _job(snapshot: Snapshot) -> tuple[str, ...]:
    """Which of several jobs it is."""
    ids = [job.id for job in snapshot.jobs]
    if len(ids) < 2 or snapshot.visit.job_id not in ids:
        return ()
    return (f"job {ids.index(snapshot.visit.job_id) + 1} of {len(ids)}, F6",)


def route(snapshot: Snapshot | None, stations: Sequence[Station], here: str) -> RouteState:
    """The stations with their minutes: spent where done, planned where ahead."""
    stops = []
    for number, station in enumerate(on_route(snapshot, stations), 1):
        key = f"Ctrl {number}" if number <= MOST_KEYS else ""
        if snapshot is None:
            first = number == 1
            stops.append(RouteStop(station.id, station.title, "", False, first, key if first else ""))
            continue
        done = is_done(snapshot, stations, station)
        minutes = _minutes(snapshot, station, done=done)
        stops.append(RouteStop(station.id, station.title, minutes, done, True, key))
    return RouteState(tuple(stops), here)


def fits(snapshot: Snapshot, station: Station) -> bool:
    """Whether a station has work in the job that is worked on: some set SDR only."""
    return not station.passes or station.passes[0].fits(snapshot)


def on_route(snapshot: Snapshot | None, stations: Sequence[Station]) -> tuple[Station, ...]:
    """The stations of the job that is worked on: in HDR, Peak stands where Levels stand in SDR."""
    if snapshot is None:
        return tuple(each for each in stations if not each.passes or each.passes[0].fits_signal(Transfer.GAMMA))
    return tuple(each for each in stations if fits(snapshot, each) or each.is_done(snapshot))


def first_open(snapshot: Snapshot, stations: Sequence[Station]) -> str:
    """The first station whose work is not done; the last where all are."""
    left = (each for each in stations if fits(snapshot, each))
    return next((each.id for each in left if not is_done(snapshot, stations, each)), stations[-1].id)


def is_done(snapshot: Snapshot, stations: Sequence[Station], station: Station) -> bool:
    """Whether a station's work is done; an optional one counts as done once a later one has measured."""
    if station.is_done(snapshot):
        return True
    later = stations[list(stations).index(station) + 1 :]
    return station.optional and any(snapshot.done(each.passes[0]) for each in later if each.of == "job")


def _minutes(snapshot: Snapshot, station: Station, *, done: bool) -> str:
    seconds = station.seconds(snapshot)
    if not done or not station.passes:
        # Nothing where a screen has no control that is set there.
        return f"about {short_minutes_words(seconds)}" if seconds else ""
    return f"took {short_minutes_words(seconds)}" if snapshot.seconds(*station.passes) else "done"


def foot(bench: BenchChoice) -> FootState:
    """The instruments line."""
    meter = {
        Connection.BY_HAND: "by hand, one reading a level",
        Connection.STANDIN: f"stand-in “{bench.scenario}”",
        Connection.INSTRUMENT: "connected",
    }[bench.meter]
    if bench.meter_mode:
        meter += f", set to {technology_of(bench.meter_mode).words or bench.meter_mode}"
    if bench.correction_id:
        meter += ", corrected"
    patterns = {
        Connection.STANDIN: "stand-in",
        Connection.BY_HAND: "by hand",
        Connection.SCREEN: "this computer's screen",
        Connection.INSTRUMENT: "connected",
    }[bench.patterns]
    refresh = f", refreshed every {bench.refresh_every:g} s" if bench.refresh_every else ""
    link = {Connection.STANDIN: "stand-in, by link", Connection.INSTRUMENT: "connected"}.get(bench.link, "by hand")
    return FootState(
        f"Meter  {meter}", f"Patterns  {patterns}, {bench.format.label}{refresh}", f"Screen link  {link}"
    )
