"""Into the log and out of it: entries, blocks of series, CSV."""

from __future__ import annotations

import io
import time
import uuid
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.record.blocks import DAY, DayBlock, by_day, merged, unpacked
from sundial.record.dialect import Columns
from sundial.record.entries import Move
from sundial.record.series import Series
from sundial.record.stream import Stream
from sundial.sun import Site
from web.builds.models import Build
from web.builds.results import Results
from web.log.models import MOST_ASIDE, MOST_ENTRIES, MOST_SOURCES, Aside, Entry, LogBook, SeriesDay, Source

Floats = NDArray[np.float64]


# -- entries --------------------------------------------------------------------------------------------------------------


@transaction.atomic
def add_entry(build: Build, entry: Any, client_id: uuid.UUID | None = None) -> tuple[Entry, bool]:
    """Write an entry of the core; the same ``client_id`` again changes nothing. A move says where the frame stands now. The entry, and
    whether it is new. BriefError where the log is full."""
    key = client_id or uuid.uuid4()
    Build.objects.select_for_update().get(pk=build.pk)  # one writer at a time: the same entry sent twice at once is one
    held = Entry.objects.filter(build=build, client_id=key).first()
    if held is not None:
        return held, False
    if Entry.objects.filter(build=build).count() >= MOST_ENTRIES:
        raise BriefError("", f"{MOST_ENTRIES} entries are the most one log may hold: delete a span of it first")
    row = _row_of(build, entry, key)
    row.save()
    _after(build)
    return row, True


def add_entries(build: Build, entries: Iterable[Any]) -> None:
    """Many at once, of a build of one's own that is being made again."""
    rows = [_row_of(build, entry, uuid.uuid4()) for entry in list(entries)[:MOST_ENTRIES]]
    Entry.objects.bulk_create(rows, batch_size=500)
    _after(build)


def _row_of(build: Build, entry: Any, key: uuid.UUID) -> Entry:
    data = entry.model_dump(mode="json", exclude_none=True)
    kind = data.pop("kind")
    return Entry(build=build, client_id=key, kind=kind, at=entry.at, data=data, due=getattr(entry, "due", None))


def _after(build: Build) -> None:
    """The last move is where it stands; judgements are stale."""
    last = Entry.objects.filter(build=build, kind="move", at__lte=timezone.now()).order_by("-at", "-pk").first()
    if last is not None:
        Build.objects.filter(pk=build.pk).update(stands_at=last.data["tilt"])
        build.stands_at = last.data["tilt"]
    LogBook.of(build).touch()


@transaction.atomic
def remove_entry(build: Build, entry: Entry) -> None:
    entry.delete()
    _after(build)


def moves_of(build: Build) -> list[Move]:
    """All moves, oldest first."""
    rows = Entry.objects.filter(build=build, kind="move").order_by("at", "pk")
    return [row.core for row in rows]


def site_of(build: Build) -> Site:
    """Where it stands, read off its brief: no sky is grown for it."""
    return Site(**Results(build).brief.site.model_dump())


def nameplate_of(build: Build) -> float:
    """W on the labels of its panels."""
    brief = Results(build).brief
    return float(brief.panel.power * brief.array.rows * brief.array.columns)


# -- series ---------------------------------------------------------------------------------------------------------------


def source_named(build: Build, name: str, utc_offset: float) -> Source:
    """The source of that name, made where there is none. BriefError where there are too many."""
    held = Source.objects.filter(build=build, name=name).first()
    if held is not None:
        return held
    if Source.objects.filter(build=build).count() >= MOST_SOURCES:
        raise BriefError("name", f"{MOST_SOURCES} monitors are the most for one build")
    source, _ = Source.objects.get_or_create(build=build, name=name, defaults={"utc_offset": utc_offset})
    LogBook.objects.filter(build=build, main=None).update(main=source)
    return source


@dataclass(frozen=True)
class Taken:
    """Rows that were new, known already, and known with another value; days that were touched for the first time."""

    added: int
    known: int
    differing: int
    new_days: int


@transaction.atomic
def take_rows(source: Source, unix: Floats, power: Floats, step: float | None = None) -> Taken:
    """Merge rows into the blocks of their days; one writer of a source at a time, since a day that is not there yet cannot be locked."""
    Source.objects.select_for_update().get(pk=source.pk)
    offset = source.utc_offset * 3600
    blocks = {block.day: block for block in by_day(unix + offset, power)}
    held = {row.day: row for row in SeriesDay.objects.filter(source=source, day__in=list(blocks))}
    added = differing = new_days = 0
    fresh, changed = [], []
    for day, block in blocks.items():
        row = held.get(day)
        step_of = merged(unpacked(day, bytes(row.data)) if row else None, block)
        added, differing = added + step_of.added, differing + step_of.differing
        if not step_of.added:
            continue
        values = {
            "count": len(step_of.block.seconds),
            "energy": energy_of(step_of.block, step or source.step),
            "data": step_of.block.packed(),
        }
        if row is None:
            new_days += 1
            fresh.append(SeriesDay(source=source, day=day, **values))
        else:
            for name, value in values.items():
                setattr(row, name, value)
            changed.append(row)
    SeriesDay.objects.bulk_create(fresh, batch_size=100)
    if changed:
        SeriesDay.objects.bulk_update(changed, ["count", "energy", "data"], batch_size=100)
    rows = sum(len(block.seconds) for block in blocks.values())
    return Taken(added, rows - added, differing, new_days)


def energy_of(block: DayBlock, step: float) -> float:
    """Wh of a block: each row counts until the next, at most one and a half steps."""
    if not len(block.seconds):
        return 0.0
    apart = np.diff(block.seconds.astype(float), append=block.seconds[-1] + step)
    return float((block.power * np.minimum(apart, 1.5 * step)).sum() / 3600)


def set_aside(source: Source, pairs: Sequence[tuple[float, float]]) -> int:
    """Keep readings until somebody says whether they are true; how many are new."""
    room = MOST_ASIDE - Aside.objects.filter(source=source).count()
    rows = [Aside(source=source, at=datetime.fromtimestamp(at, UTC), power=power) for at, power in pairs[: max(room, 0)]]
    before = Aside.objects.filter(source=source).count()
    Aside.objects.bulk_create(rows, ignore_conflicts=True)
    return Aside.objects.filter(source=source).count() - before


def series_of(source: Source, first: int | None = None, last: int | None = None) -> Series | None:
    """The rows of a source between two of its days (counting from 1970, both in), as one series; None where there are none."""
    rows = SeriesDay.objects.filter(source=source).order_by("day")
    if first is not None:
        rows = rows.filter(day__gte=first)
    if last is not None:
        rows = rows.filter(day__lte=last)
    times, values = [], []
    for day, data in rows.values_list("day", "data").iterator(chunk_size=400):
        block = unpacked(day, bytes(data))
        times.append(block.unix - source.utc_offset * 3600)
        values.append(np.asarray(block.power, dtype=np.float64))
    if not times:
        return None
    unix, power = np.concatenate(times), np.concatenate(values)
    return Series(unix, power, step_of(unix, source.step))


def step_of(unix: Floats, otherwise: float) -> float:
    """Seconds from row to row, as most of them are."""
    if len(unix) < 3:
        return otherwise
    return float(np.clip(np.median(np.diff(unix)), 1.0, 7200.0))


def day_number(source: Source, when: datetime) -> int:
    """The source's day of a moment."""
    return int((when.timestamp() + source.utc_offset * 3600) // DAY)


def series_csv(source: Source) -> Iterator[bytes]:
    """All rows of a source as CSV, day by day."""
    yield b"time,power_w\n"
    rows = SeriesDay.objects.filter(source=source).order_by("day")
    for day, data in rows.values_list("day", "data").iterator(chunk_size=200):
        block = unpacked(day, bytes(data))
        times = np.datetime_as_string((block.unix - source.utc_offset * 3600).astype("datetime64[s]"))
        yield "".join(f"{at}Z,{watts:.1f}\n" for at, watts in zip(times, block.power, strict=True)).encode()


PART = 8_000_000  # bytes of one file in the zip of all data


def series_parts(source: Source) -> Iterator[bytes]:
    """The same in files of a bounded size, each with its header."""
    rows = series_csv(source)
    head, size = next(rows), 0
    held: list[bytes] = []
    for day in rows:
        if held and size + len(day) > PART:
            yield head + b"".join(held)
            held, size = [], 0
        held.append(day)
        size += len(day)
    if held:
        yield head + b"".join(held)


def take_csv(build: Build, name: str, data: bytes) -> None:
    """Take in what :func:`series_csv` wrote."""
    site = site_of(build)
    source = source_named(build, name, site.standard_offset)
    columns = Columns(time="time", power="power_w", unit="W", time_format="ISO8601", delimiter=",", decimal=".")
    stream = Stream(site, columns, time.time())
    for piece in stream.pieces(io.BytesIO(data)):
        take_rows(source, piece.unix, piece.power, stream.step)
    if stream.step:
        Source.objects.filter(pk=source.pk).update(step=stream.step)
    LogBook.of(build).touch()
