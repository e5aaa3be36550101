"""The plan as an iCalendar file (RFC 5545): all-day events whose UIDs stay, so that importing again updates them."""

from __future__ import annotations

from datetime import date, timedelta

from django.utils import timezone
from icalendar import Alarm, Calendar, Event

from sundial.answers.plan.report import PlanReport
from sundial.days import date_of_day, day_of_date, spoken_day
from sundial.plan.today import SAME
from web.builds.models import Build

EARLY = 60  # days before a move within which standing so already means that it is done


def moves_calendar(build: Build, plan: PlanReport, today: date) -> bytes:
    """One yearly event a move, from its next date on."""
    calendar = Calendar()
    calendar.add("prodid", "-//Crooked Sundial//Tilt plan//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"{build.name}: tilt moves")
    for number, stretch in enumerate(plan.chosen.stretches if plan.chosen.moves else (), 1):
        when = date_of_day(stretch.start, today.year)
        if when < today:
            when = date_of_day(stretch.start, today.year + 1)
        done_early = build.stands_at is not None and abs(build.stands_at - stretch.tilt) <= SAME and (when - today).days <= EARLY
        if done_early and plan.chosen.tilt_by_day[day_of_date(today)] != stretch.tilt:
            when = date_of_day(stretch.start, when.year + 1)
        calendar.add_component(_event(build, plan, number, stretch, when))
    late = _late(build, plan, today)
    if late is not None:
        calendar.add_component(late)
    return calendar.to_ical()


def _late(build: Build, plan: PlanReport, today: date) -> Event | None:
    """The move that should have been made by now, from today on, where the log says that it stands otherwise."""
    wanted = plan.chosen.tilt_by_day[day_of_date(today)]
    if not plan.chosen.moves or build.stands_at is None or abs(build.stands_at - wanted) <= SAME or plan.moved_by_motor:
        return None
    event = Event()
    event.add("uid", f"build-{build.creation_key}-late@crooked-sundial")
    event.add("sequence", build.version)
    event.add("dtstamp", timezone.now())
    event.add("dtstart", today)
    event.add("dtend", today + timedelta(days=1))
    event.add("transp", "TRANSPARENT")
    event.add("summary", f"{build.name}: still at {build.stands_at:g}°, the plan wants {wanted:g}°")
    event.add("description", "Pick the next calm day. Two people, no wind; local code and the maker's manual decide.")
    return event


def _event(build: Build, plan: PlanReport, number: int, stretch, when: date) -> Event:
    hole = f", hole {plan.reachable.index(stretch.tilt) + 1}" if build.frame.mount.get("kind") == "stepped" else ""
    window = f"{spoken_day(stretch.earliest)} to {spoken_day(stretch.latest)}"
    event = Event()
    event.add("uid", f"build-{build.creation_key}-move-{number}@crooked-sundial")
    event.add("sequence", build.version)
    event.add("dtstamp", timezone.now())
    event.add("dtstart", when)
    event.add("dtend", when + timedelta(days=1))
    event.add("rrule", {"freq": "yearly"})
    event.add("transp", "TRANSPARENT")
    event.add("summary", f"{build.name}: tilt to {stretch.tilt:g}°{hole}")
    event.add(
        "description",
        f"Set the panels to {stretch.tilt:g}° from level{hole}. Any day from {window} will do: pick a calm one. "
        "Two people, no wind; local code and the maker's manual decide.",
    )
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", f"Tilt to {stretch.tilt:g}°{hole}")
    alarm.add("trigger", timedelta(hours=-16))
    event.add_component(alarm)
    return event
