"""Photos of moves and inspections: kept as they came, and drawn anew by a worker."""

from __future__ import annotations

from sundial.errors import BriefError
from web.builds.pictures import LARGEST, NO_PICTURE, settled
from web.builds.quota import refuse_over
from web.jobs.kinds import CannotBeAnswered, Kind, Report, register
from web.jobs.models import Job
from web.jobs.queue import submit
from web.log.models import Entry, Photo


def take_photo(entry: Entry, data: bytes) -> None:
    """Keep a photo as it came, and have it drawn anew. BriefError where it is none, or too large."""
    if len(data) > LARGEST:
        raise BriefError("photo", f"has {len(data) / 1e6:.0f} MB; {LARGEST / 1e6:.0f} MB are the most")
    if not data.startswith((b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff")):
        raise BriefError("photo", NO_PICTURE)
    refuse_over(entry.build.owner, len(data))
    Photo.objects.update_or_create(entry=entry, defaults={"raw": data, "words": ""})
    submit("photo", "photo", f"entry-{entry.pk}", entry.build.owner, entry.build, {"entry": entry.pk}, again=True, seconds=60)


def _photo(job: Job, report: Report) -> None:
    photo = Photo.objects.filter(entry=job.params["entry"], entry__build=job.build_id).first()
    if photo is None or not photo.raw:
        return
    try:
        made = settled(bytes(photo.raw))
    except BriefError as error:
        Photo.objects.filter(pk=photo.pk).update(raw=None, words=error.message[:200])
        raise CannotBeAnswered(error.message) from None
    values = {"kind": made.kind, "width": made.width, "height": made.height, "data": made.data}
    Photo.objects.filter(pk=photo.pk).update(raw=None, words="", **values)


register(Kind("photo", _photo, seconds=60))
