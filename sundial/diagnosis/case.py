"""A case: what is known of a real build that reads low, as evidence for the rule base."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from sundial.brief_section import BriefSection
from sundial.days import MONTH_NAMES, MONTH_OF_HOUR
from sundial.diagnosis.returns import returns_of
from sundial.diagnosis.rules import Asked, Cause, Judged, Season, check, judged, next_questions, settled
from sundial.diagnosis.signs import Curve, level_of, sign_of_amps, sign_of_look, sign_of_volts, signs_of_curve
from sundial.diagnosis.wired import Wired, wired
from sundial.doors import in_years
from sundial.errors import BriefError
from sundial.expected.conditions import clear_light, unix_of
from sundial.expected.moment import expected_at, expected_series, facing_at, shade_of
from sundial.record.entries import Reading
from sundial.record.series import Series
from sundial.scene import Scene
from sundial.study import Study

Floats = NDArray[np.float64]
EVERY = 300.0
COLD, HOT, NO_SNOW = 6.0, 19.0, 12.0  # degC of the month's mean
OFF = 5.0  # degrees between the log's tilt and the plan's that count as off
SHADED = 0.05  # of the direct light, known to be taken: the look was at a shaded hour


class Evidence(BriefSection):
    """What somebody gives: when they looked and what the meter showed (``watts``, or ``volts`` and ``amps``), the ``tilt`` that was read off, a
    ``series`` of a monitor (a file beside this one) with the day to look at, ``answers`` to questions by their key, days since rain or
    cleaning, and whether something was changed in the last weeks."""

    at: datetime | None = None
    on: date | None = None
    watts: Annotated[float | None, Field(ge=0, le=2e6)] = None
    volts: Annotated[float | None, Field(ge=0, le=2000)] = None
    amps: Annotated[float | None, Field(ge=0, le=2000)] = None
    tilt: Annotated[float | None, Field(ge=-90, le=90)] = None
    series: str = ""
    answers: dict[str, str] = {}
    dry_days: Annotated[float | None, Field(ge=0, le=3650)] = None
    changed: bool = False

    @model_validator(mode="after")
    def _of_these_years(self) -> Evidence:
        for name in ("at", "on"):
            day = getattr(self, name)
            if day is not None:
                try:
                    in_years(day, name)
                except BriefError as error:
                    raise ValueError(f"{name}: {error.message}") from None
        return self

    @property
    def power(self) -> float | None:
        """W, told or of volts and amps."""
        if self.watts is not None:
            return self.watts
        return None if self.volts is None or self.amps is None else self.volts * self.amps


@dataclass(frozen=True, eq=False)
class Case:
    """``evidence`` for the rule base, by name, with ``known`` those that came from data and not from a question; ``season``; the ``curve``
    (None: no series); ``missing``: share that the day lacked (None: not known); how the panels are ``joined``; ``notes`` for a person."""

    evidence: Mapping[str, str]
    known: frozenset[str]
    season: Season
    curve: Curve | None
    missing: float | None
    joined: Wired
    notes: tuple[str, ...]

    @property
    def judged(self) -> Judged:
        found = judged(self.evidence, self.season)
        return replace(found, suspects=tuple(replace(one, cause=self.named(one.cause)) for one in found.suspects))

    def named(self, cause: Cause) -> Cause:
        """A cause as it is called on this build: of how many strings one is dead."""
        if cause.key != "string":
            return cause
        return replace(cause, name=f"One of {self.joined.count} {self.joined.name}s gives nothing")

    @property
    def questions(self) -> tuple[Asked, ...]:
        """What to ask next; nothing where one suspect is sure."""
        found = self.judged
        return () if settled(found) else next_questions(found, self.evidence)

    def returns(self, cause: str, energy: float) -> float:
        """kWh a year that mending a cause gives back, of what the plan has."""
        return returns_of(cause, energy, self.joined, self.missing)


def season_of(scene: Scene, day: date, changed: bool = False, dry_days: float | None = None, overdue: bool = False) -> Season:
    """What the month, the place and the log say before anything is looked at."""
    here = day.month - 1 == MONTH_OF_HOUR
    weather = scene.weather
    mean = float(weather.temp_air[here].mean())
    diffuse = float(weather.dhi[here].sum() / max(float(weather.ghi[here].sum()), 1.0))
    label = scene.brief.electrics
    impossible = {"window"} if label is None or label.input is None else set()
    joined = wired(scene)
    if scene.array.count < 2:
        impossible |= {"overlap"}
    if joined.panels < 2:
        impossible |= {"reversed"}
    impossible |= {"string"} if joined.strings < 2 else {"panel"} if joined.panels < 2 else set()
    if mean > NO_SNOW:
        impossible |= {"snow"}
    warmth = "cold" if mean < COLD else "hot" if mean > HOT else "mild"
    return Season(warmth, min(max((diffuse - 0.2) / 0.5, 0.0), 1.0), changed, dry_days, overdue, frozenset(impossible))


def case_of(
    study: Study,
    told: Evidence,
    series: Series | None = None,
    stood: float | None = None,
    history: Mapping[str, str] | None = None,
) -> Case:
    """The case of a build. ``series`` of a monitor; ``stood``: the tilt of the log; ``history``: answers that the log gives by itself, which an
    answer of the person overrules. BriefError for an answer that is not known, volts without amps, a day without light or a series without it."""
    check(told.answers)
    if (told.volts is None) != (told.amps is None):
        raise BriefError("amps" if told.amps is None else "volts", "is missing: volts and amps belong together")
    day = _day(study.scene, told, series)
    joined = wired(study.scene)
    evidence: dict[str, str] = {}
    notes: list[str] = []
    curve = None
    if series is not None:
        curve = curve_of(study, series, day)
        evidence |= signs_of_curve(curve, joined)
    if told.power is not None or told.volts is not None:
        evidence |= _of_reading(study, told, curve, joined, notes)
    planned = float(
        facing_at(study, np.array([datetime(day.year, day.month, day.day, 12, tzinfo=study.scene.site.zone).timestamp()]))[0][0]
    )
    lean = told.tilt if told.tilt is not None else stood
    overdue = lean is not None and abs(lean - planned) > OFF
    known = set(evidence) | set(history or {})
    for name, value in (history or {}).items():
        evidence[name] = value
    if lean is not None:
        evidence["tilt"] = "off" if overdue else "as told"
        known |= {"tilt"}
        if overdue:
            notes.append(f"It stands at {lean:g} degrees; the plan has {planned:.0f} for that day.")
    evidence |= told.answers
    season = season_of(study.scene, day, told.changed, told.dry_days, overdue)
    if not evidence:
        notes.append(
            f"Nothing is known yet: this is only what is usual in {MONTH_NAMES[day.month - 1]}. The first answer changes it."
        )
    missing = None
    if curve is not None and evidence.get("curve") == "smooth":
        lit = curve.lit
        missing = 1 - float(curve.measured[lit].sum() / curve.expected[lit].sum())
    return Case(evidence, frozenset(known - set(told.answers)), season, curve, missing, joined, tuple(notes))


def _day(scene: Scene, told: Evidence, series: Series | None) -> date:
    zone = scene.site.zone
    if told.on is not None:
        return told.on
    if told.at is not None:
        return (told.at if told.at.tzinfo else told.at.replace(tzinfo=zone)).astimezone(zone).date()
    if series is not None and len(series.unix):
        return datetime.fromtimestamp(float(series.unix[len(series.unix) // 2]), zone).date()
    raise BriefError("on", "is missing: say on which day, or when, you looked")


def curve_of(study: Study, series: Series, day: date) -> Curve:
    """The day of a series on a grid of even intervals, beside what a cloudless sky would give with the plan's tilt and the shade that is known.
    BriefError where the series has nothing on it."""
    start = datetime(day.year, day.month, day.day, tzinfo=study.scene.site.zone)
    after = start.date() + timedelta(days=1)
    low, high = start.timestamp(), datetime(after.year, after.month, after.day, tzinfo=study.scene.site.zone).timestamp()
    inside = (series.unix >= low) & (series.unix < high)
    if not inside.any():
        raise BriefError("on", f"the series holds nothing on {day.isoformat()}")
    step = max(EVERY, series.step)
    unix = np.asarray(np.arange(low, high, step), dtype=np.float64)
    place = ((series.unix[inside] - low) // step).astype(np.int64)
    count = np.bincount(place, minlength=len(unix))[: len(unix)]
    total = np.bincount(place, series.power[inside], minlength=len(unix))[: len(unix)]
    expected = expected_series(study, unix + step / 2)
    there = count > 0
    return Curve(unix[there], total[there] / count[there], expected[there])


def _of_reading(study: Study, told: Evidence, curve: Curve | None, joined: Wired, notes: list[str]) -> dict[str, str]:
    """Signs of a reading: its light, its volts and amps, and the level where no curve tells it."""
    if told.at is None:
        raise BriefError("at", "is missing: say when the meter was read")
    now = expected_at(study, told.at)
    if now.elevation <= 0:
        raise BriefError("at", "the sun is down then: nothing can be said")
    local = told.at if told.at.tzinfo else told.at.replace(tzinfo=study.scene.site.zone)
    best = _best_of_day(study, local.astimezone(study.scene.site.zone).date())
    found = {"look": sign_of_look(now.clear_power, best)}
    shades = known_shade(study, told.at)
    if shades:
        found["look"] = "early or late"
        words = ", ".join(f"{name} takes {100 * share:.0f} % of the direct light" for name, share in shades)
        notes.append(f"At {local:%H:%M} {words}: that is in the survey and in the plan.")
    power, panels, strings = told.power, joined.panels, joined.strings
    of_all = 1.0  # what the amps have to be taken by to be those of all strings
    if told.volts is not None and told.amps is not None and now.vmp is not None:
        of_one = panels > 1 and 0.7 < told.volts / now.vmp < 1.3
        each = 1 if of_one else panels
        if of_one:
            notes.append(f"{told.volts:g} V are those of one panel.")
        found["volts"] = sign_of_volts(told.volts / (now.vmp * each), joined.blocks // panels * each, each)
        through = now.clear_power / (now.vmp * panels * strings)
        if strings > 1 and 0.8 < told.amps / max(through, 1e-9) < 1.2:
            own = f"{told.amps:g} A are what one of the {joined.count} {joined.name}s gives"
            if strings == 2:
                notes.append(f"{own}: where you read them at the leads of one alone, nothing is missing.")
            else:
                notes.append(f"{own}, so they are taken as read at the leads of one alone.")
                of_all = strings
        found["amps"] = sign_of_amps(told.amps * of_all / (through * strings), strings) if through > 0 else "none"
    if power is not None and now.clear_power > 0 and curve is None:
        found["level"] = level_of(power * (of_all if told.watts is None else 1.0) / now.clear_power, joined)
    return found


def _best_of_day(study: Study, day: date) -> float:
    start = datetime(day.year, day.month, day.day, tzinfo=study.scene.site.zone).timestamp()
    return float(expected_series(study.open_sky, np.asarray(start + 600.0 * np.arange(144), dtype=np.float64)).max())


def known_shade(study: Study, when: datetime) -> list[tuple[str, float]]:
    """What of the survey takes direct light from the panels at a moment: each thing's name and the share that it takes, most first."""
    unix = np.array([unix_of(study.scene.site, when)])
    light = clear_light(study.scene, unix)
    shade = shade_of(study.scene, light)
    if shade is None or light.up[0] <= 0:
        return []
    tilts, azimuths = facing_at(study, unix)
    whole = float(np.broadcast_to(shade.of_facing(tilts, azimuths).direct, (1,))[0])
    if 1 - whole < SHADED:
        return []
    found = []
    for name in (thing.name for thing in study.scene.yard.things):
        without = float(np.broadcast_to(shade.of_facing(tilts, azimuths, frozenset({name})).direct, (1,))[0])
        if without - whole >= SHADED:
            found.append((name, without - whole))
    return sorted(found, key=lambda pair: -pair[1]) or [("the skyline", 1 - whole)]


def answers_of_reading(reading: Reading) -> dict[str, str]:
    """What a logged reading answers by itself: the sky, the battery, and the load test."""
    found: dict[str, str] = {"sky": reading.sky}
    if reading.battery:
        found["battery"] = "full" if reading.battery in ("full", "nearly full") else "not full"
    watts = reading.watts
    if reading.with_load is not None and watts is not None:
        found["load"] = "rises" if reading.with_load > 1.05 * max(watts, 25.0) else "same"
    return found
