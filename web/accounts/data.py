"""Everything of a person as one zip, and an account made anew from it.

``about.json`` says who it is and how each build is shown; each build has a folder with its brief, the weather file that the
brief names, and what no brief carries (a picture of the yard).
"""

from __future__ import annotations

import io
import json
import lzma
import zipfile
import zlib
from collections.abc import Mapping
from dataclasses import dataclass
from typing import IO, Any

from django.contrib.auth.models import User
from django.db import DataError, IntegrityError, transaction
from django.utils import timezone

from sundial.brief.read import read_brief
from sundial.errors import BriefError
from web.builds import registry
from web.builds.briefs import build_from_brief, export_data
from web.builds.models import CURRENCIES, UNITS, Build
from web.builds.quota import refuse_over
from web.builds.views import MOST_BUILDS

FORMAT, VERSION = "crooked-sundial-data", 1
SHOWN = ("where", "units", "currency", "open_sky", "chosen_day", "stands_at")
MOST_FILES, MOST_BYTES = 2000, 200_000_000  # of an unpacked zip
LARGEST = 16_000_000  # bytes of one file in it
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
            about = {name: getattr(build, name) for name in SHOWN}
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
        found |= {f"own/{name}": data for name, data in part.keepsakes().items()}
    return found


def _inside(brief: Mapping[str, Any], path: str) -> Any:
    """What a brief has under a path (``sky.file``); None where it has nothing there."""
    found: Any = brief
    for key in path.split("."):
        found = found.get(key) if isinstance(found, Mapping) else None
    return found


@dataclass(frozen=True)
class TakenIn:
    """What came of a zip: builds made, and in words what was left out."""

    builds: int
    left_out: tuple[str, ...]


def read_data(user: User, data: bytes) -> TakenIn:
    """Make the builds of a zip of data again, for this person. BriefError where it is none, or holds too much."""
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
    if Build.objects.filter(owner=user).count() + len(listed) > MOST_BUILDS:
        raise BriefError("", f"{MOST_BUILDS} builds are the most one person may have")
    refuse_over(user, sum(info.file_size for name, info in infos.items() if "/files/" in name or "/own/" in name))
    made, left_out = 0, []
    for number, shown in enumerate(listed, 1):
        try:
            with transaction.atomic():  # a build is taken in whole or not at all
                _build_again(user, zipped, infos, shown if isinstance(shown, dict) else {})
            made += 1
        except BriefError as error:
            left_out.append(f"Build {number} of the zip was left out: {error}.")
        except UNREADABLE:
            left_out.append(f"Build {number} of the zip was left out: its files cannot be read.")
    return TakenIn(made, tuple(left_out))


def _read(zipped: zipfile.ZipFile, infos: Mapping[str, zipfile.ZipInfo], name: str) -> bytes:
    if infos[name].file_size > LARGEST:
        raise BriefError("", f"{name} has more than {LARGEST / 1e6:.0f} MB")
    with zipped.open(name) as stream:
        return stream.read(LARGEST + 1)


def _build_again(user: User, zipped: zipfile.ZipFile, infos: Mapping[str, zipfile.ZipInfo], shown: Mapping[str, Any]) -> None:
    folder = str(shown.get("folder", ""))
    brief = read_brief(_read(zipped, infos, f"{folder}/brief.json"))
    files: dict[str, bytes] = {}
    for model in registry.parts():
        for key in model().file_digests():
            named = _inside(brief.model_dump(), key)
            if isinstance(named, str):
                files[key] = _read(zipped, infos, f"{folder}/files/{named}")
    build = build_from_brief(user, brief, None, files, **_about(shown))
    own = {name.rpartition("/")[2]: _read(zipped, infos, name) for name in infos if name.startswith(f"{folder}/own/")}
    for model in registry.parts():
        model.of(build).take_keepsakes(own)
    if shown.get("thrown_away") is True:
        Build.objects.filter(pk=build.pk).update(deleted_at=timezone.now())


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
