"""The list of jobs; pure functions, no Qt."""

from collections.abc import Sequence
from dataclasses import dataclass

from aequitone.advice.own_picture import OwnWish, own_target
from aequitone.advice.technology import usual_light
from aequitone.desktop.station import Station
from aequitone.desktop.tools.jobs.state import JobRow, JobsPage
from aequitone.logbook.records import JobRecord
from aequitone.passes import PROOF, Snapshot
from aequitone.planning.pace import minutes_words
from aequitone.reference import target_named


@dataclass(frozen=True)
class Template:
    """A kind of job that is often wanted beside another."""

    memory: str
    target: str
    """The tone and what it makes of black; gamut and white are those of the present job."""
    light: float
    """Times the light that the present job wants; 0 for what the screen gives."""
    gamut: str = ""
    """Where it is not that of the present job."""
    depth: int | None = None
    """Bits of its signal, where it is not that of the present job."""


NIGHT = Template("Night", "2.4/added", 1.0)
DAY = Template("Day", "2.2/added", 1.5)
GAME = Template("Game", "2.2/added", 1.0)
OWN = Template("Their own", "2.2/added", 1.0)
HDR = Template("HDR film", "pq/added", 0.0, "p3in2020", 10)


def templated(template: Template, snapshot: Snapshot) -> tuple[str, float]:
    """The target and the light in cd/m² of a job by a template, beside the present one."""
    visit = snapshot.visit
    gamut, _, rest = visit.target.partition("-")
    white = rest.partition("=")[0].partition("@")[2]
    if snapshot.hdr:
        # The container of HDR is not what a memory of SDR is sent in.
        gamut = "rec709"
    target = target_named(f"{template.gamut or gamut}-{template.target}{'@' + white if white else ''}")
    return target.name, round(template.light * (visit.light or usual_light(visit.technology)))


def own_job(snapshot: Snapshot, wish: OwnWish) -> tuple[str, float]:
    """The target and the light in cd/m² of a client's own picture, beside the present job as the reference."""
    visit = snapshot.visit
    target = own_target(target_named(visit.target), wish)
    return target.name, round((1.0 + wish.light / 100.0) * (visit.light or usual_light(visit.technology)))


def jobs_page(snapshot: Snapshot, stations: Sequence[Station], at: int) -> JobsPage:
    """Order, state and minutes of all jobs."""
    rows = tuple(_row(job, snapshot, seconds_ahead(job, snapshot, stations)) for job in snapshot.jobs)
    return JobsPage(rows, min(at, len(rows) - 1))


def total_words(snapshot: Snapshot, stations: Sequence[Station]) -> str:
    """What all jobs have taken, and will take."""
    spent = sum(job.seconds for job in snapshot.jobs)
    ahead = sum(seconds_ahead(job, snapshot, stations) for job in snapshot.jobs)
    left = f"about {minutes_words(ahead)} ahead" if ahead else "nothing ahead"
    return f"{minutes_words(spent)} spent, {left}."


def is_done(job: JobRecord) -> bool:
    """Whether it was measured at the end."""
    return PROOF.key in job.done


def seconds_ahead(job: JobRecord, snapshot: Snapshot, stations: Sequence[Station]) -> float:
    """What a job still takes, by what the stations say of the present one."""
    if job.left_out or is_done(job):
        return 0.0
    return sum(
        station.passes[0].seconds(snapshot, snapshot.pace)
        for station in stations
        if station.of == "job"
        and station.passes
        and station.passes[0].key not in job.done
        and station.passes[0].fits_signal(job.transfer)
    )


def _row(job: JobRecord, snapshot: Snapshot, seconds: float) -> JobRow:
    passes = "1 pass" if len(job.done) == 1 else f"{len(job.done)} passes"
    state = "left out" if job.left_out else "done" if is_done(job) else f"{passes} done"
    if not job.done and not job.left_out:
        state = "open"
    light = job.light or usual_light(snapshot.visit.technology)
    minutes = f"about {minutes_words(seconds)}" if seconds else minutes_words(job.seconds)
    target = target_named(job.target)
    return JobRow(
        job.input,
        job.memory,
        target.tone.label if job.hdr else f"{target.tone.label}, {light:g} cd/m²",
        f"{target.label}, {job.depth}-bit {job.range}" + ("" if job.hdr else f", {light:g} cd/m²"),
        state,
        minutes,
        job.id == snapshot.visit.job_id,
    )
