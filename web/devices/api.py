"""The door for devices: readings and events, with a token, in batches that may be sent twice."""

from __future__ import annotations

import csv
import io
import uuid
from datetime import UTC, datetime, timedelta
from typing import Annotated, Any

import numpy as np
from django.core.cache import cache
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import NinjaAPI, Schema, Status
from ninja.errors import ValidationError as NinjaValidationError
from ninja.security import HttpBearer
from pydantic import AwareDatetime, ConfigDict, Field, ValidationError, model_validator

from sundial.bench.table import as_data, sun_table
from sundial.errors import BriefError
from sundial.record.entries import AnyEntry
from sundial.record.stream import TOO_MUCH
from web.builds.models import Build
from web.builds.results import Results
from web.callers import CALLERS
from web.devices.models import MOST_TURNS, Token, Turn, digest_of
from web.log.models import LogBook, Source
from web.log.store import Taken, add_entry, nameplate_of, set_aside, take_rows

MOST_ROWS = 5_000  # of one batch
MOST_EVENTS = 50
A_MINUTE = 240  # requests of one token
AHEAD = timedelta(minutes=10)
EARLIEST = datetime(2000, 1, 1, tzinfo=UTC)
Answer = Status[dict[str, Any]]
Number = Annotated[float, Field(ge=0, le=2_000_000, allow_inf_nan=False)]


class Row(Schema):
    """One reading: its time with an offset from UTC, and power (W), or volts and amps."""

    model_config = ConfigDict(extra="forbid")

    time: AwareDatetime
    power: Number | None = None
    volts: Annotated[float, Field(ge=0, le=2000, allow_inf_nan=False)] | None = None
    amps: Annotated[float, Field(ge=0, le=2000, allow_inf_nan=False)] | None = None

    @model_validator(mode="after")
    def _tells_something(self) -> Row:
        if self.power is None and (self.volts is None or self.amps is None):
            raise ValueError("give power, or volts and amps")
        return self

    @property
    def watts(self) -> float:
        return self.power if self.power is not None else (self.volts or 0.0) * (self.amps or 0.0)


class Event(Schema):
    """Something for the time line; ``id`` makes it one however often it is sent."""

    model_config = ConfigDict(extra="forbid")

    id: uuid.UUID
    entry: AnyEntry


class Turned(Schema):
    """Where a controller turned its mount to: degrees of one axis or two."""

    model_config = ConfigDict(extra="forbid")

    time: AwareDatetime
    angles: Annotated[list[Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]], Field(min_length=1, max_length=2)]
    why: Annotated[str, Field(max_length=80)] = ""


class Batch(Schema):
    """Readings in any order, events, and turns of a controller. The same again adds nothing. ``step``: seconds of an interval, where it is known."""

    model_config = ConfigDict(extra="forbid")

    readings: Annotated[list[Row], Field(max_length=MOST_ROWS)] = []
    events: Annotated[list[Event], Field(max_length=MOST_EVENTS)] = []
    turns: Annotated[list[Turned], Field(max_length=MOST_EVENTS)] = []
    step: Annotated[float, Field(ge=1, le=7200)] | None = None


class Kept(Schema):
    """What became of a batch: readings that were new, known already, known with another value (the first one stays), kept aside until the
    person says that they are true, and left out because their time cannot be; events that were new and known."""

    added: int
    known: int
    differing: int
    aside: int
    left_out: int
    events_added: int
    events_known: int
    turns_added: int = 0
    notes: list[str] = []


class Refused(Schema):
    """Why nothing was kept, in words, with the place of each wrong value."""

    detail: str
    errors: list[str] = []


class TokenAuth(HttpBearer):
    """``Authorization: Bearer sundial_...``; a revoked token, or one of a build that was thrown away, is told as none."""

    def authenticate(self, request: HttpRequest, token: str) -> Token | None:
        if not token.startswith("sundial_") or len(token) > 100:
            return None
        found = Token.objects.select_related("source", "build").filter(digest=digest_of(token), revoked_at=None).first()
        if found is None or found.build.deleted_at is not None:
            return None
        CALLERS.remember(request.META, f"device {found.pk}")
        return found


api = NinjaAPI(
    title="Crooked Sundial", version="1", description="Readings and events of devices.", docs_url=None, openapi_url=None,
    urls_namespace="api", auth=TokenAuth(),
)  # fmt: skip


@api.exception_handler(NinjaValidationError)
def refused(request: HttpRequest, error: NinjaValidationError) -> HttpResponse:
    """A batch that cannot be read: each wrong value by its place."""
    places = [f"{'.'.join(str(part) for part in one['loc'][2:]) or 'body'}: {one['msg']}"[:200] for one in error.errors[:20]]
    return api.create_response(request, {"detail": "Nothing was kept: some of it cannot be read.", "errors": places}, status=422)


ANSWERS: dict[int, Any] = {
    200: Kept,
    400: Refused,
    401: Refused,
    409: Refused,
    413: Refused,
    415: Refused,
    422: Refused,
    429: Refused,
}


@api.post("/readings", response=ANSWERS, operation_id="post_readings", summary="Keep readings and events")
def post_readings(request: HttpRequest, batch: Batch) -> Answer:
    """Readings in any order, and events. A batch is kept whole or not at all, and may be sent again: times that are known stay as they are."""
    token: Token = request.auth  # type: ignore[attr-defined]
    slow = _too_often(token)
    if slow:
        return slow
    source = Source.objects.get(pk=token.source_id)
    return _keep(token, source, batch)


@api.post("/readings.csv", response=ANSWERS, operation_id="post_readings_csv", summary="Keep readings as CSV", openapi_extra={
    "requestBody": {"required": True, "content": {"text/csv": {"schema": {"type": "string", "example": "time,power\n2026-06-21T12:00:00Z,1840\n"}}}},
})  # fmt: skip
def post_csv(request: HttpRequest) -> Answer:
    """The same as text/csv: a header ``time`` (ISO 8601 with offset) and ``power`` (W), or ``volts`` and ``amps``."""
    token: Token = request.auth  # type: ignore[attr-defined]
    slow = _too_often(token)
    if slow:
        return slow
    try:
        text = request.body.decode("utf-8")
    except UnicodeDecodeError:
        return Status(422, {"detail": "Nothing was kept: this is no UTF-8 text."})
    rows: list[Any] = []
    reader = csv.DictReader(io.StringIO(text))
    try:
        for row in reader:
            if len(rows) >= MOST_ROWS:
                return Status(413, {"detail": f"{MOST_ROWS} rows are the most of one batch."})
            rows.append(Row.model_validate({key: value for key, value in row.items() if key and value not in ("", None)}))
    except (ValidationError, csv.Error) as error:
        said = error.errors()[0]["msg"] if isinstance(error, ValidationError) else str(error)
        return Status(
            422,
            {
                "detail": f"Nothing was kept: row {max(reader.line_num, 1)} cannot be read.",
                "errors": [said[:200]],
            },
        )
    if not rows:
        return Status(422, {"detail": "Nothing was kept: there is no row under the header."})
    return _keep(token, Source.objects.get(pk=token.source_id), Batch(readings=rows))


TABLES: dict[int, Any] = {200: dict[str, Any], 401: Refused, 409: Refused, 422: Refused, 429: Refused}


@api.get("/sun-table", response=TABLES, operation_id="get_sun_table", summary="The sun table of a month")
def get_sun_table(
    request: HttpRequest, month: Annotated[int, Field(ge=1, le=12)], step: Annotated[float, Field(ge=0.1, le=45)] = 1.0
) -> Answer:
    """Angles of this build's mount by rows of ten minutes of local standard time, tenths of degrees; null while the sun is down."""
    token: Token = request.auth  # type: ignore[attr-defined]
    slow = _too_often(token)
    if slow:
        return slow
    build = Build.objects.whole().get(pk=token.build_id)
    try:
        return Status(200, as_data(sun_table(Results(build).study, month, step)))
    except BriefError as error:
        return Status(409, {"detail": f"There is no table: {error.message}."})


def _too_often(token: Token) -> Answer | None:
    key = f"api:{token.pk}:{int(timezone.now().timestamp() // 60)}"
    cache.add(key, 0, timeout=120)
    try:
        count = cache.incr(key) or 0
    except ValueError:  # the cache is away: nothing is counted
        return None
    if count <= A_MINUTE:
        return None
    return Status(429, {"detail": f"{A_MINUTE} requests a minute are the most of one device: send more rows at once."})


def _may_be(time: datetime, now: datetime) -> bool:
    """Whether a device may have read something then; the year first, since the ends of the calendar fit no other offset."""
    return EARLIEST.year <= time.year <= now.year + 1 and EARLIEST <= time <= now + AHEAD


def _keep(token: Token, source: Source, batch: Batch) -> Answer:
    now = timezone.now()
    good = [row for row in batch.readings if _may_be(row.time, now)]
    left_out = len(batch.readings) - len(good)
    notes = []
    if left_out:
        early = sum(row.time.year < EARLIEST.year for row in batch.readings)
        if early:
            notes.append(f"{early} readings are from before 2000: the device's clock was not set.")
        if left_out - early:
            notes.append(f"{left_out - early} readings lie in the future: the device's clock is wrong.")
    rated = _rated(token)
    turns = [Turn(source=source, at=one.time, angles=one.angles, why=one.why) for one in batch.turns if _may_be(one.time, now)]
    aside = [(row.time.timestamp(), row.watts) for row in good if rated and row.watts > TOO_MUCH * rated]
    kept = [row for row in good if not rated or row.watts <= TOO_MUCH * rated]
    added = known = 0
    with transaction.atomic():
        if batch.step and abs(batch.step - source.step) > 0.5:
            Source.objects.filter(pk=source.pk).update(step=batch.step)
            source.step = batch.step
        taken = Taken(0, 0, 0, 0)
        if kept:
            unix = np.array([row.time.timestamp() for row in kept])
            taken = take_rows(source, unix, np.array([row.watts for row in kept]), source.step)
        if aside:
            set_aside(source, aside)
            notes.append(
                f"{len(aside)} readings show more than {TOO_MUCH:g} times the nameplate: kept aside until somebody says that they are true."
            )
        before = Turn.objects.filter(source=source).count() if turns else 0
        Turn.objects.bulk_create(turns, ignore_conflicts=True)
        turned = Turn.objects.filter(source=source).count() - before if turns else 0
        if before + turned > MOST_TURNS:
            Turn.objects.filter(
                pk__in=list(Turn.objects.filter(source=source).values_list("pk", flat=True)[MOST_TURNS:])
            ).delete()
        for event in batch.events:
            try:
                _, new = add_entry(token.build, event.entry, event.id)
            except BriefError as error:
                transaction.set_rollback(True)
                return Status(409, {"detail": f"Nothing was kept: {error.message}."})
            added, known = added + new, known + (not new)
        if token.used_at is None or now - token.used_at > timedelta(minutes=1):
            Token.objects.filter(pk=token.pk).update(used_at=now)
    if taken.new_days:  # a day is over: what is judged has grown
        LogBook.of(token.build).touch()
    return Status(200, {
        "added": taken.added, "known": taken.known, "differing": taken.differing, "aside": len(aside), "left_out": left_out,
        "events_added": added, "events_known": known, "turns_added": turned, "notes": notes,
    })  # fmt: skip


def _rated(token: Token) -> float:
    """W of the nameplate of a token's build, held for a minute."""
    key = f"api-rated:{token.build_id}"
    known = cache.get(key)
    if known is None:
        build = Build.objects.whole().get(pk=token.build_id)
        try:
            known = nameplate_of(build)
        except BriefError:
            known = 0.0
        cache.set(key, known, timeout=60)
    return float(known)


def openapi() -> dict[str, Any]:
    """The description of the door, as it is committed."""
    return dict(api.get_openapi_schema(path_prefix="/api/"))
