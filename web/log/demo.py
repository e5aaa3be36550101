"""What happened to the demo builds since they stand. Everything in it is made up, seeded, and ends yesterday."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone

from sundial.days import date_of_day
from sundial.errors import BriefError
from sundial.expected.moment import expected_at
from sundial.expected.simulate import simulate
from sundial.record.entries import Change, Inspection, Move, Note, Reading
from sundial.record.moves import tilt_at_times
from web.builds.models import Build
from web.builds.results import Results
from web.log.models import LogBook, Source
from web.log.store import add_entries, source_named, take_rows

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {"log": {"meter_error": 0.02}},
    "Lookout pole": {"log": {"meter_error": 0.03}},
}
PLAYED = {"Honey house": ("tree", "dirt"), "Lookout pole": ()}
WASHED = "Lookout pole"
DAYS = 420


@transaction.atomic
def play(build: Build) -> None:
    """A year and more of a demo build's log; nothing where it has one."""
    held = LogBook.objects.select_for_update().filter(build=build).first()
    if build.name not in PLAYED:
        return
    results = Results(build)
    if held is not None and held.revision:
        return
    study, zone = results.study, results.study.scene.site.zone
    today = timezone.localdate()
    first = today - timedelta(days=DAYS)
    entries = [*_moves(results, first, today), *_care(first, today, zone)]
    moves = [entry for entry in entries if isinstance(entry, Move)]
    start = datetime(first.year, first.month, first.day, tzinfo=zone).timestamp()
    unix = np.asarray(start + 300.0 * np.arange(DAYS * 288), dtype=np.float64)
    tilt = tilt_at_times(moves, unix + 150) if moves else None
    played = simulate(study, first, DAYS, 300, PLAYED[build.name], seed=7, tilt=tilt)
    entries += [Change(at=_at(day, 15, zone), what="rain") for day in played.washes]
    entries += _readings(results, played.series, moves, today, zone)
    if build.name == WASHED:
        washed = today - timedelta(days=150)
        entries.append(Change(at=_at(washed, 16, zone), what="cleaned", note="Dust off the mesa, with a soft brush."))
        dusty = played.series.unix < datetime(washed.year, washed.month, washed.day, 16, 20, tzinfo=zone).timestamp()
        played.series.power[dusty] *= 0.951
    source = source_named(build, "Shed meter", study.scene.site.standard_offset)
    take_rows(source, played.series.unix, played.series.power, 300.0)
    Source.objects.filter(pk=source.pk).update(step=300.0)
    add_entries(build, entries)


def _at(day: date, hour: int, zone: Any) -> datetime:
    return datetime(day.year, day.month, day.day, hour, 20, tzinfo=zone)


def _moves(results: Results, first: date, today: date) -> list[Any]:
    """As the plan has them, two to nine days late, the last one in time."""
    chosen = results.plan.chosen
    if not chosen.moves or results.plan.moved_by_motor:
        return []
    zone = results.study.scene.site.zone
    starts = sorted(
        (date_of_day(stretch.start, year), stretch.tilt)
        for year in range(first.year, today.year + 1)
        for stretch in chosen.stretches
    )
    found: list[Any] = []
    for number, (start, tilt) in enumerate(one for one in starts if first < one[0] < today):
        late = (9, 2, 3)[number % 3]
        day = min(start + timedelta(days=late), today - timedelta(days=1))
        before = chosen.tilt_by_day[(start.timetuple().tm_yday - 3) % 365]
        found.append(Move(at=_at(day, 10, zone), tilt=tilt, before=before, planned=start, minutes=11, by="Ines"))
    return found


def _care(first: date, today: date, zone: Any) -> list[Any]:
    half, lately = first + timedelta(days=DAYS // 2), today - timedelta(days=70)
    return [
        Note(at=_at(first, 9, zone), note="The meter hangs in the shed, left of the door."),
        Inspection(at=_at(half, 11, zone), what="bolts", fine=True, due=half + timedelta(days=182)),
        Inspection(at=_at(lately, 11, zone), what="bolts", fine=True, due=lately + timedelta(days=182)),
        Inspection(
            at=_at(lately, 12, zone),
            what="growth",
            fine=False,
            due=today + timedelta(days=9),
            note="Brambles under the lower edge.",
        ),
    ]


def _readings(results: Results, series: Any, moves: list[Any], today: date, zone: Any) -> list[Any]:
    """A look at the display at the brightest moment of some of the last days."""
    found: list[Any] = []
    for ago in (41, 18, 3, 1):
        day = today - timedelta(days=ago)
        low = datetime(day.year, day.month, day.day, tzinfo=zone).timestamp()
        at = (series.unix >= low) & (series.unix < low + 86400)
        place = int(np.argmax(np.where(at, series.power, -1)))
        when = datetime.fromtimestamp(float(series.unix[place]), zone)
        try:
            stood = tilt_at_times(moves, np.array([series.unix[place]]))[0]
            clear = expected_at(results.study, when, None if np.isnan(stood) else float(stood)).clear_power
        except BriefError:
            continue
        share = float(series.power[place]) / max(clear, 1.0)
        sky = "clear" if share > 0.9 else "haze" if share > 0.7 else "broken"
        found.append(Reading(at=when, power=round(float(series.power[place])), sky=sky))
    return found
