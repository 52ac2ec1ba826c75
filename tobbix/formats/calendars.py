"""Days as a calendar file that any calendar reads: iCalendar, RFC 5545."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

from icalendar import Calendar, Event


@dataclass(frozen=True, slots=True)
class Dated:
    """Something that is due on a day; ``uid`` stays the same for the same thing, so that a calendar does not hold it
    twice."""

    uid: str
    day: date
    text: str


def write_calendar(days: Iterable[Dated], written_on: date) -> bytes:
    """A calendar with an event of a whole day for each."""
    calendar = Calendar()
    calendar.add("prodid", "-//Tobbix//Tobbix//EN")
    calendar.add("version", "2.0")
    for dated in days:
        event = Event()
        event.add("uid", dated.uid)
        event.add("dtstamp", datetime.combine(written_on, time(), UTC))
        event.add("dtstart", dated.day)
        event.add("dtend", dated.day + timedelta(days=1))
        event.add("summary", dated.text)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
