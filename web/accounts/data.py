"""Everything of a person as one zip, and an account made anew from it.

``about.json`` says who it is and how each build is shown; each build has a folder with its brief, the weather file that the
brief names, and what no brief carries (a picture of the yard).
"""

from __future__ import annotations

import hashlib
import io
import json
import lzma
import zipfile
import zlib
from collections.abc import Mapping
from dataclasses import dataclass
from typing import IO, Any
from uuid import UUID, uuid5

from django.contrib.auth.models import User
from django.db import DataError, IntegrityError, transaction
from django.utils import timezone

from sundial.brief.read import read_brief
from sundial.errors import BriefError
from web.accounts.models import DataIn
from web.builds import registry
from web.builds.briefs import build_from_brief, export_data
from web.builds.models import CURRENCIES, UNITS, Build
from web.builds.quota import refuse_over
from web.builds.views import MOST_BUILDS
from web.jobs.kinds import CannotBeAnswered, Kind, Report, register
from web.jobs.models import Job
from web.jobs.queue import submit

FORMAT, VERSION = "crooked-sundial-data", 1
NAMESPACE = UUID("6f0d3b52-6a0e-4c2b-9a57-2f7c1f2c9d11")  # of the marks of builds that were taken in
SECONDS = 900
SHOWN = ("where", "units", "currency", "open_sky", "chosen_day", "stands_at")
MOST_FILES, MOST_BYTES = 2000, 200_000_000  # of an unpacked zip
LARGEST = 16_000_000  # bytes of one file in it
MOST_COMING = 3  # zips of one person on their way
# What reading a zip that is broken, or made by hand, can come to: packed bytes that cannot be unpacked, and values of another
# shape or size than the ones written, down to what the database refuses to hold (but not a
# database that is away).
UNREADABLE = (
    zipfile.BadZipFile, zlib.error, lzma.LZMAError, EOFError, OSError, RuntimeError,
    LookupError, ValueError, TypeError, AttributeError, ArithmeticError, DataError, IntegrityError,
)  # fmt: skip


def write_data(user: User, out: IO[bytes]) -> None:
    """Write the zip of a person's data; builds that are thrown away but can be taken back are in it too."""
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as zipped:
        told = []
        for number, build in enumerate(Build.objects.filter(owner=user).whole().order_by("pk").iterator(), 1):
            folder = f"builds/{number:03}"
            try:
                held = export_data(build)
            except BriefError:
                continue  # a weather file was never chosen: there is no brief of it
            about = {name: getattr(build, name) for name in SHOWN} | {"key": str(build.creation_key)}
            told.append({"folder": folder, **about, "thrown_away": build.deleted_at is not None})
            zipped.writestr(f"{folder}/brief.json", json.dumps(held, indent=1, ensure_ascii=False))
            for name, data in _files_of(build, held).items():
                zipped.writestr(f"{folder}/{name}", data)
        about_user = {"name": user.username, "email": user.email, "since": user.date_joined.date().isoformat()}
        head = {"format": FORMAT, "version": VERSION, "written": timezone.now().date().isoformat()}
        zipped.writestr("about.json", json.dumps({**head, **about_user, "builds": told}, indent=1, ensure_ascii=False))


def _files_of(build: Build, brief: Mapping[str, Any]) -> dict[str, bytes]:
    found: dict[str, bytes] = {}
    for model in registry.parts():
        part = model.of(build)
        for key, digest in part.file_digests().items():
            name = _inside(brief, key)
            data = part.file(name) if digest and isinstance(name, str) else None
            if data is not None:
                found[f"files/{name}"] = data
    for keeper in registry.keepers():
        found |= {f"own/{name}": data for name, data in keeper.of(build).keepsakes().items()}
    return found


def _inside(brief: Mapping[str, Any], path: str) -> Any:
    """What a brief has under a path (``sky.file``); None where it has nothing there."""
    found: Any = brief
    for key in path.split("."):
        found = found.get(key) if isinstance(found, Mapping) else None
    return found


@dataclass(frozen=True)
class Archive:
    """A zip of “My data” that was looked through: its files by name, and what it tells of each build."""

    zipped: zipfile.ZipFile
    infos: Mapping[str, zipfile.ZipInfo]
    builds: tuple[Mapping[str, Any], ...]


def opened(user: User, data: bytes) -> Archive:
    """Look through a zip for this person, builds not yet. BriefError where it is none of ours, or holds too much."""
    try:
        zipped = zipfile.ZipFile(io.BytesIO(data))
        infos = {info.filename: info for info in zipped.infolist()}
        if len(infos) > MOST_FILES or sum(info.file_size for info in infos.values()) > MOST_BYTES:
            raise BriefError("", f"that zip holds more than {MOST_FILES} files or {MOST_BYTES / 1e6:.0f} MB")
        about = json.loads(_read(zipped, infos, "about.json"))
    except BriefError:
        raise
    except UNREADABLE:
        raise BriefError("", "this is no zip that “My data” has written") from None
    listed = about.get("builds") if isinstance(about, dict) and about.get("format") == FORMAT else None
    if not isinstance(listed, list):
        raise BriefError("", "this is no zip that “My data” has written: about.json does not say so")
    if len(listed) > MOST_BUILDS:
        raise BriefError("", f"{MOST_BUILDS} builds are the most one person may have")
    refuse_over(user, sum(info.file_size for name, info in infos.items() if "/files/" in name or "/own/" in name))
    return Archive(zipped, infos, tuple(one if isinstance(one, dict) else {} for one in listed))


def take_in(coming: DataIn, report: Report) -> None:
    """Make the builds of a zip again, all of them or none. Those that this person has already, by their mark, stay as they are. A worker
    that takes this up again goes on where the one before it died; until the last build is there, none is shown."""
    user = coming.owner
    archive = opened(user, bytes(coming.data or b""))
    marks = [_mark(user, archive, shown) for shown in archive.builds]
    mine = set(coming.made.values())
    there = {mark for mark, shown in zip(marks, archive.builds, strict=True) if _is_there(user, mark, shown, mine)}
    if (
        Build.objects.filter(owner=user).exclude(pk__in=mine).count() + len(marks) - sum(mark in there for mark in marks)
        > MOST_BUILDS
    ):
        raise BriefError("", f"{MOST_BUILDS} builds are the most one person may have")
    refused: list[str] = []
    for number, (mark, shown) in enumerate(zip(marks, archive.builds, strict=True), 1):
        if mark not in there and str(number) not in coming.made:
            try:
                Build.objects.filter(owner=user, creation_key=mark[1]).delete()  # half of it, left by a worker that died
                build = _build_again(user, archive, shown, mark[1])
            except BriefError as error:
                refused.append(f"Build {number} of the zip: {error}.")
            except UNREADABLE:
                refused.append(f"Build {number} of the zip: its files cannot be read.")
            else:
                coming.made[str(number)] = build.pk
                coming.save(update_fields=["made"])
        report(number, len(marks))
    if refused:
        Build.objects.filter(owner=user, creation_key__in=[mark[1] for mark in marks if mark not in there]).delete()
        DataIn.objects.filter(pk=coming.pk).update(made={}, state=DataIn.State.REFUSED, words=refused[:20], data=None)
        raise CannotBeAnswered(refused[0])
    thrown = [
        coming.made[str(n)]
        for n, shown in enumerate(archive.builds, 1)
        if shown.get("thrown_away") is True and str(n) in coming.made
    ]
    with transaction.atomic():
        Build.objects.filter(owner=user, pk__in=coming.made.values()).exclude(pk__in=thrown).update(deleted_at=None)
        DataIn.objects.filter(pk=coming.pk).update(
            state=DataIn.State.IN, taken=len(coming.made), known=sum(mark in there for mark in marks), data=None, words=[]
        )


def _is_there(user: User, mark: tuple[UUID, UUID], shown: Mapping[str, Any], mine: set[int]) -> bool:
    """Whether the person has a build already; one that was thrown away since is made again."""
    same = Build.objects.filter(owner=user, creation_key__in=mark).exclude(pk__in=mine)
    return (same if shown.get("thrown_away") is True else same.filter(deleted_at=None)).exists()


def _mark(user: User, archive: Archive, shown: Mapping[str, Any]) -> tuple[UUID, UUID]:
    """By which one build is known again: the mark it had where the zip was written (of older zips: of what it says), and the
    one that it has with this person once it was taken in from there."""
    try:
        told = UUID(str(shown.get("key")))
    except ValueError:
        name = f"{shown.get('folder', '')}/brief.json"
        try:
            held = _read(archive.zipped, archive.infos, name)
        except (BriefError, *UNREADABLE):
            held = name.encode("utf-8", "replace")
        told = uuid5(NAMESPACE, hashlib.sha256(held + repr(sorted(_about(shown).items())).encode()).hexdigest())
    return told, uuid5(NAMESPACE, f"{user.pk} {told}")


def _read(zipped: zipfile.ZipFile, infos: Mapping[str, zipfile.ZipInfo], name: str) -> bytes:
    if infos[name].file_size > LARGEST:
        raise BriefError("", f"{name} has more than {LARGEST / 1e6:.0f} MB")
    with zipped.open(name) as stream:
        return stream.read(LARGEST + 1)


def _build_again(user: User, archive: Archive, shown: Mapping[str, Any], key: UUID) -> Build:
    """One build with all that it had, thrown away as yet: it is shown when all of them are there."""
    folder, zipped, infos = str(shown.get("folder", "")), archive.zipped, archive.infos
    brief = read_brief(_read(zipped, infos, f"{folder}/brief.json"))
    files: dict[str, bytes] = {}
    for model in registry.parts():
        for name in model().file_digests():
            named = _inside(brief.model_dump(), name)
            if isinstance(named, str):
                files[name] = _read(zipped, infos, f"{folder}/files/{named}")
    # Short, since it holds the person's row; what takes long comes after it.
    build = build_from_brief(user, brief, key, files, **_about(shown), deleted_at=timezone.now())
    own = {name.rpartition("/")[2]: _read(zipped, infos, name) for name in infos if name.startswith(f"{folder}/own/")}
    for keeper in registry.keepers():
        keeper.of(build).take_keepsakes(own)
    return build


def _about(shown: Mapping[str, Any]) -> dict[str, Any]:
    """How a build is shown, of what makes sense in the zip."""
    found: dict[str, Any] = {}
    where, day, stands = shown.get("where"), shown.get("chosen_day"), shown.get("stands_at")
    if isinstance(where, str):
        found["where"] = where[:80]
    for name, choices in (("units", UNITS), ("currency", CURRENCIES)):
        if isinstance(shown.get(name), str) and shown[name] in dict(choices):
            found[name] = shown[name]
    if isinstance(day, int) and 0 <= day < 365:
        found["chosen_day"] = day
    if isinstance(stands, (int, float)) and -90 <= stands <= 90:
        found["stands_at"] = float(stands)
    return found | {"open_sky": shown.get("open_sky") is True}


def begin(user: User, data: bytes) -> DataIn:
    """Keep a zip and have a worker take it in. BriefError where it is none of ours, or holds too much."""
    opened(user, data)
    digest = hashlib.sha256(data).hexdigest()
    with transaction.atomic():
        DataIn.objects.filter(owner=user).exclude(digest=digest).exclude(state=DataIn.State.COMING).delete()
        if DataIn.objects.filter(owner=user, state=DataIn.State.COMING).exclude(digest=digest).count() >= MOST_COMING:
            raise BriefError("", "other zips of yours are still being taken in: wait for them")
        coming, _ = DataIn.objects.update_or_create(
            owner=user, digest=digest, defaults={"data": data, "state": DataIn.State.COMING, "words": [], "made": {}}
        )
        submit("data-in", "data-in", f"data-{coming.pk}", user, params={"data_in": coming.pk}, again=True, seconds=SECONDS)
    return coming


def job_of(coming: DataIn) -> Job | None:
    """The latest task that takes it in."""
    return Job.objects.filter(owner=coming.owner_id, kind="data-in", digest=f"data-{coming.pk}").order_by("-pk").first()


def _run(job: Job, report: Report) -> None:
    coming = DataIn.objects.select_related("owner").filter(pk=job.params["data_in"]).first()
    if coming is None or coming.state != DataIn.State.COMING:
        return
    try:
        take_in(coming, report)
    except BriefError as error:
        DataIn.objects.filter(pk=coming.pk).update(state=DataIn.State.REFUSED, words=[str(error)], data=None)
        raise CannotBeAnswered(str(error)) from None


register(Kind("data-in", _run, seconds=SECONDS, resumes=True))
