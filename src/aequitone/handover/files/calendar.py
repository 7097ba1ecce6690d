"""The next visit for a calendar (RFC 5545)."""

from datetime import timedelta
from pathlib import Path

from aequitone import __version__
from aequitone.handover.coming_again import visit_comes_again
from aequitone.logbook import VisitRecord
from aequitone.logbook.model import now
from aequitone.logbook.records import local_time


def calendar_text(visit: VisitRecord) -> bytes:
    """An entry for the whole day on which to come again, with the reasons."""
    from icalendar import Calendar, Event

    left = visit.closed or visit.started
    again = visit_comes_again(visit)
    event = Event()
    # The same visit makes the same entry: a calendar that takes it twice has it once.
    event.add("uid", f"visit-{visit.id}-{visit.started:%Y%m%dT%H%M%S}@aequitone")
    event.add("dtstamp", local_time(now()))
    event.add("dtstart", again.day)
    event.add("dtend", again.day + timedelta(days=1))
    event.add("summary", f"Look at {visit.screen} again: {visit.client}")
    event.add("location", visit.room)
    event.add("description", f"Last calibrated {local_time(left):%d %B %Y}: {again.why}. {again.sooner_words}")
    event.add("transp", "TRANSPARENT")
    calendar = Calendar()
    calendar.add("prodid", f"-//Aequitone//Aequitone {__version__}//EN")
    calendar.add("version", "2.0")
    calendar.add_component(event)
    text: bytes = calendar.to_ical()
    return text


def write_calendar(visit: VisitRecord, path: Path) -> None:
    """Write the entry into a file."""
    path.write_bytes(calendar_text(visit))
