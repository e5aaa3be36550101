"""The files that a log becomes."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone
from icalendar import Alarm, Calendar, Event

from web.builds.models import Build
from web.builds.results import Results
from web.builds.tables import csv_text
from web.log.models import Entry

FIELDS = (
    "tilt", "before", "minutes", "by", "power", "volts", "amps", "with_load", "sky", "battery", "panel_temp", "quantity", "unit",
    "what", "fine", "due",
)  # fmt: skip


def table(build: Build, results: Results) -> str:
    """All entries as CSV, oldest first."""
    rows = [
        (entry.at.isoformat(), entry.kind, *(entry.data.get(name, "") for name in FIELDS), entry.data.get("note", ""))
        for entry in Entry.objects.filter(build=build).order_by("at", "pk")
    ]
    return csv_text(("time", "kind", *FIELDS, "note"), rows)


def inspections(build: Build, results: Results) -> bytes:
    """Each inspection that is due, as an all-day event with a reminder; importing again updates it."""
    latest: dict[str, Entry] = {}
    for entry in Entry.objects.filter(build=build, kind="inspection", due__isnull=False).order_by("at"):
        latest[entry.data["what"]] = entry
    calendar = Calendar()
    calendar.add("prodid", "-//Crooked Sundial//Log//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"{build.name}: inspections")
    for what, entry in sorted(latest.items()):
        event, alarm = Event(), Alarm()
        event.add("uid", f"build-{build.creation_key}-inspect-{what}@crooked-sundial")
        event.add("sequence", entry.pk)
        event.add("dtstamp", timezone.now())
        event.add("dtstart", entry.due)
        event.add("dtend", entry.due + timedelta(days=1))  # type: ignore[operator]
        event.add("transp", "TRANSPARENT")
        event.add("summary", f"{build.name}: look at the {what}")
        event.add("description", "Calm weather, nobody alone on a ladder; panels are live whenever light falls on them.")
        alarm.add("action", "DISPLAY")
        alarm.add("description", f"Look at the {what}")
        alarm.add("trigger", timedelta(hours=-16))
        event.add_component(alarm)
        calendar.add_component(event)
    return calendar.to_ical()
