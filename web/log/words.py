"""Sentences of the log."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from sundial.days import MONTH_NAMES
from sundial.expected.health import Health
from sundial.record.moves import Made
from web.builds.results import Results
from web.log.judging import ReadingSaid
from web.log.models import Entry

SKY = {"clear": "clear", "haze": "thin haze", "broken": "broken cloud", "overcast": "overcast"}
THIN, SPACE = "\u202f", "\u00a0"  # both unbreakable
SMALL = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def spoken(day: date, today: date | None = None) -> str:
    """12 September; with its year where that is another."""
    year = "" if today is None or day.year == today.year else f" {day.year}"
    return f"{day.day} {MONTH_NAMES[day.month - 1]}{year}"


def shortly(day: date, today: date) -> str:
    """12 Sep; with its year where that is another."""
    year = "" if day.year == today.year else f" {day.year}"
    return f"{day.day} {MONTH_NAMES[day.month - 1][:3]}{year}"


def watts(value: float) -> str:
    """184 W, 2.31 kW."""
    return f"{value:.0f}{SPACE}W" if value < 995 else f"{value / 1000:.2f}{SPACE}kW"


def days_late(late: int) -> str:
    count = abs(late)
    named = SMALL[count] if count < len(SMALL) else str(count)
    days = "day" if count == 1 else "days"
    return "on the day" if late == 0 else f"{named} {days} {'late' if late > 0 else 'early'}"


def hole_or_tilt(results: Results, tilt: float) -> str:
    """hole 7 where the frame has holes and one of them sets it; else the tilt."""
    structure = results.study.scene.structure
    if structure is not None and structure.settings:
        near = min(structure.holes, key=lambda hole: abs(hole.plane.tilt - tilt), default=None)
        if near is not None and abs(near.plane.tilt - tilt) <= 0.6:
            return f"hole {near.number}"
    return _degrees(tilt)


def _degrees(value: float) -> str:
    return f"{round(value, 1):g}°"


def move_sentence(results: Results, made: Made | None, last: Any, zone: ZoneInfo, today: date) -> str:
    """Moved to hole 7 on 12 September, two days late: cost 0.3 kWh."""
    if last is None:
        return ""
    on = last.at.astimezone(zone).date()
    start = f"Moved to {hole_or_tilt(results, last.tilt)} on {spoken(on, today)}"
    if made is None or made.late is None:
        if made is not None and made.done is None and made.cost > 0.05:
            return (
                f"{start}; since {spoken(made.start, today)} the plan wants {_degrees(made.tilt)}: cost {_kwh(made.cost)} so far."
            )
        return f"{start}."
    if made.cost > 0.05:
        return f"{start}, {days_late(made.late)}: cost {_kwh(made.cost)}."
    return f"{start}, {days_late(made.late)}."


def _kwh(value: float) -> str:
    return f"{value:.1f}{SPACE}kWh" if value < 20 else f"{value:.0f}{SPACE}kWh"


def percent_of(share: float) -> str:
    return f"{share * 100:.0f}{THIN}%"


def now_sentence(found: ReadingSaid | None, today: date, zone: ZoneInfo) -> str:
    """Now: 184 W, 96 % of what this sun gives."""
    if found is None or found.said is None or found.said.watts is None:
        return ""
    on = found.entry.at.astimezone(zone).date()
    when = "Now" if on == today else f"On {spoken(on, today)}"
    said, shown = found.said, watts(found.said.watts)
    if said.of_expected is None:
        return f"{when}: {shown}; the sun is down."
    under = "" if found.reading.sky == "clear" else f" under {SKY[found.reading.sky]}"
    return f"{when}: {shown}, {percent_of(said.of_expected)} of what this sun gives{under}."


def reading_words(found: ReadingSaid) -> str:
    """Whether it was a fair test, and of what."""
    said = found.said
    if said is None:
        other = found.other
        if other is None:
            return ""
        return (
            "the first of its kind: the next are set against it"
            if other.share is None
            else f"{percent_of(other.share)} of its usual for this sun"
        )
    parts = []
    if said.of_nameplate is not None:
        parts.append(f"{percent_of(said.of_nameplate)} of the nameplate")
    if said.within is not None and found.reading.sky != "clear":
        low, high = watts(said.now.low), watts(said.now.high)
        parts.append(f"{'within' if said.within else 'outside'} the {low} to {high} that {SKY[found.reading.sky]} leaves")
    parts.append("a fair test" if said.fair else f"no fair test: {said.why_not[0]}")
    if said.throttled:
        parts.append("; ".join(said.throttled))
    if said.now.voc is not None and found.reading.volts is not None:
        parts.append(f"expect {said.now.vmp:.1f} V each at work, {said.now.voc:.1f} V open")
    return "; ".join(parts)


def line_of(results: Results, entry: Entry, today: date) -> str:
    """An entry in one line."""
    data = entry.data
    if entry.kind == "move":
        before = f", from {_degrees(data['before'])}" if data.get("before") is not None else ""
        to = hole_or_tilt(results, data["tilt"])
        return f"moved to {to}{before}" if not to.startswith("hole") else f"moved to {to} ({_degrees(data['tilt'])}){before}"
    if entry.kind == "reading":
        if data.get("quantity") is not None:
            return f"read {data['quantity']:g} {data.get('unit', '')}"
        reading = entry.core
        value = watts(reading.watts) if reading.watts is not None else ""
        pair = f" ({reading.volts:g} V, {reading.amps:g} A)" if reading.volts is not None and reading.power is None else ""
        return f"read {value}{pair}"
    if entry.kind == "inspection":
        return f"looked at the {data['what']}: {'in order' if data.get('fine', True) else 'not in order'}"
    if entry.kind == "change":
        return {"rain": "heavy rain", "other": "a change"}.get(data["what"], data["what"])
    return str(data["note"])


def due_words(due: date, today: date) -> str:
    """When an inspection is due."""
    if due < today:
        return f"was due on {spoken(due, today)}"
    return "due today" if due == today else f"due on {spoken(due, today)}"


def soon(due: date, today: date) -> bool:
    return due <= today + timedelta(days=14)


def quiet_sentences(health: Health) -> list[str]:
    """What was looked for and not found, and what could not be judged: what was not judged is not praised."""
    judged = health.level is not None
    fine = [
        words
        for words, there in (
            ("no throttling", not health.throttled_minutes), ("no sudden loss", judged and not health.step),
            ("no shade that the survey lacks", judged and not health.shade), ("the clock is right", health.clock == 0),
        )
        if there
    ]  # fmt: skip
    found = []
    if not (health.throttled_minutes or health.step or health.shade or health.clock) and fine:
        told = fine[0] if len(fine) == 1 else f"{', '.join(fine[:-1])}, and {fine[-1]}"
        found.append(f"{told[0].upper()}{told[1:]}.")
    if not judged:
        found.append("Not judged yet, for want of clear days: sudden losses, shade that the survey lacks, dirt and ageing.")
    if health.clock is None:
        found.append("Whether its clock is right cannot be told yet.")
    return found
