"""Files of monitors, taken in by a worker: in pieces, with progress, and going on where a dead worker left."""

from __future__ import annotations

import hashlib
import io
import time
import zlib
from collections.abc import Iterator
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.db.models import F, QuerySet
from django.dispatch import receiver
from django.utils import timezone

from sundial.errors import BriefError
from sundial.record.dialect import Columns, guess
from sundial.record.stream import Stream
from web.builds.models import Build
from web.builds.quota import refuse_over
from web.builds.signals import purging
from web.devices.models import Chunk, Upload
from web.jobs.kinds import CannotBeAnswered, Kind, Report, register
from web.jobs.models import Job
from web.jobs.queue import submit
from web.log.models import LogBook, Source
from web.log.store import nameplate_of, set_aside, site_of, source_named, take_rows

MOST_FILE = 120_000_000  # bytes of one file
PIECE = 1_000_000  # bytes of one row of the database
SECONDS = 900
FORGOTTEN = timedelta(days=1)
MOST_WAITING = 6  # files of one build that were looked at and not taken in


def begin(build: Build, name: str, size: int, data: bytes) -> Upload:
    """Look at the first bytes of a file and keep them. BriefError where it is too large, or no series."""
    if size > MOST_FILE:
        raise BriefError("file", f"has {size / 1e6:.0f} MB; {MOST_FILE / 1e6:.0f} MB are the most: split it by years")
    found = guess(data, nameplate_of(build))
    columns = _remembered(build, found.heads) or found.columns
    _forget_old(build)
    per_row = len(data) / max(data.count(b"\n"), 1)
    told = {"heads": found.heads, "rows": found.rows, "notes": found.notes, "per_row": per_row}
    upload = Upload.objects.create(build=build, name=name[:120], size=size, guess=told, columns=vars(columns))
    more(upload, 0, data)
    return upload


def _forget_old(build: Build) -> None:
    """Files that nobody said a word about, or whose task was taken back long ago, go with their pieces."""
    for old in Upload.objects.filter(build=build, state=Upload.State.LOOKED_AT)[MOST_WAITING - 1 :]:
        old.delete()
    forget_abandoned(Upload.objects.filter(build=build))


def forget_abandoned(uploads: QuerySet[Upload]) -> int:
    """Delete those of some uploads that were begun a day ago or earlier and are neither in nor on their way; how many."""
    open_jobs = Job.objects.filter(kind="intake", state__in=Job.OPEN).values_list("digest", flat=True)
    waiting = [int(digest.removeprefix("upload-")) for digest in open_jobs]
    stale = uploads.filter(created_at__lt=timezone.now() - FORGOTTEN).exclude(state=Upload.State.IN).exclude(pk__in=waiting)
    count = stale.count()
    stale.delete()
    return count


def _remembered(build: Build, heads: tuple[str, ...]) -> Columns | None:
    """How files with these columns were read before."""
    for source in Source.objects.filter(build=build).order_by("-pk"):
        if source.columns:
            known = Columns(**source.columns)
            if {known.time, known.value, *([known.clock] if known.clock else [])} <= set(heads):
                return known
    return None


def more(upload: Upload, first: int, data: bytes) -> None:
    """Keep more of a file, from its byte ``first`` on; what is there already is passed over."""
    if first % PIECE:
        raise BriefError("file", "came in pieces that do not fit together: choose it again")
    pieces = [
        Chunk(upload=upload, number=(first + at) // PIECE, data=zlib.compress(data[at : at + PIECE], 3))
        for at in range(0, len(data), PIECE)
    ]
    refuse_over(upload.build.owner, sum(len(piece.data) for piece in pieces))
    Chunk.objects.bulk_create(pieces, ignore_conflicts=True, batch_size=4)


def is_whole(upload: Upload) -> bool:
    return upload.chunks.count() == max(1, -(-upload.size // PIECE))


def take_in(upload: Upload, columns: Columns, source_name: str) -> Job:
    """Take a file in, as its person has confirmed it; a worker does it."""
    if not is_whole(upload):
        raise BriefError("file", "has not arrived whole: choose it again")
    site = site_of(upload.build)
    with transaction.atomic():
        source = source_named(upload.build, source_name, site.standard_offset)
        Source.objects.filter(pk=source.pk).update(columns=vars(columns))
        Upload.objects.filter(pk=upload.pk).update(columns=vars(columns), source=source, state=Upload.State.COMING)
        return submit(
            "intake", "intake", f"upload-{upload.pk}", upload.build.owner, upload.build, {"upload": upload.pk}, seconds=SECONDS
        )


def go_on(upload: Upload) -> None:
    """Take up again, where it stopped, what was given up, ended or taken back."""
    with transaction.atomic():
        submit(
            "intake", "intake", f"upload-{upload.pk}", upload.build.owner, upload.build, {"upload": upload.pk}, again=True,
            seconds=SECONDS,
        )  # fmt: skip


class _Pieces(io.RawIOBase):
    """The pieces of an upload as one file, inflated one after the other."""

    def __init__(self, upload: Upload) -> None:
        super().__init__()
        self.hash = hashlib.sha256()
        self._rows: Iterator[Any] = iter(range(-(-upload.size // PIECE) or 1))
        self._upload, self._left = upload, b""

    def readable(self) -> bool:
        return True

    def readinto(self, buffer: Any) -> int:
        while not self._left:
            number = next(self._rows, None)
            if number is None:
                return 0
            row = Chunk.objects.filter(upload=self._upload, number=number).values_list("data", flat=True).first()
            if row is None:
                return 0
            self._left = zlib.decompress(bytes(row))
            self.hash.update(self._left)
        count = min(len(buffer), len(self._left))
        buffer[:count], self._left = self._left[:count], self._left[count:]
        return count


def _intake(job: Job, report: Report) -> None:
    upload = Upload.objects.select_related("build", "source").filter(pk=job.params["upload"]).first()
    if upload is None or upload.source is None or upload.state == Upload.State.IN:
        return
    build = Build.objects.whole().get(pk=upload.build_id)
    skip = max(upload.rows - 1, 0)  # a counter needs the row before
    step = upload.source.step if skip else None
    stream = Stream(site_of(build), Columns(**upload.columns), time.time(), nameplate_of(build), step)
    pieces = _Pieces(upload)
    expected = max(1, round(upload.size / max(upload.guess.get("per_row", 24.0), 1.0)))
    try:
        for piece in stream.pieces(io.BufferedReader(pieces, PIECE), skip=skip):
            with transaction.atomic():
                taken = take_rows(upload.source, piece.unix, piece.power, stream.step)
                set_aside(upload.source, piece.aside)
                Upload.objects.filter(pk=upload.pk).update(
                    rows=skip + stream.tally.rows, added=F("added") + taken.added, known=F("known") + taken.known,
                    differing=F("differing") + taken.differing,
                )  # fmt: skip
            report(min(skip + stream.tally.rows, expected), expected)
    except BriefError as error:
        Upload.objects.filter(pk=upload.pk).update(state=Upload.State.REFUSED, notes=[str(error)])
        LogBook.of(build).touch()
        raise CannotBeAnswered(str(error)) from None
    if stream.step:
        Source.objects.filter(pk=upload.source.pk).update(step=stream.step)
    Upload.objects.filter(pk=upload.pk).update(
        state=Upload.State.IN, notes=stream.tally.notes(), digest=pieces.hash.hexdigest() if not skip else ""
    )
    Chunk.objects.filter(upload=upload).delete()
    LogBook.of(build).touch()


@receiver(purging)
def abandoned_files(sender: Any, **_: Any) -> None:
    """Files that nobody came back to keep taking room of their person's."""
    forget_abandoned(Upload.objects.all())


register(Kind("intake", _intake, seconds=SECONDS, resumes=True))
