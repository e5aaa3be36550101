"""What was done, and does it make what it should?"""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.contrib import messages
from django.contrib.staticfiles.storage import staticfiles_storage
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views import View

from sundial.errors import BriefError
from sundial.expected.learned import learned_sky, monthly_sky
from sundial.expected.missed import taken_over
from sundial.expected.moment import expected_at
from sundial.record.dialect import Columns
from web.builds.asking import Pending, ask
from web.builds.editing import write
from web.builds.group import drafts_of_fellows
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, StationView, own_build
from web.jobs.models import Job
from web.jobs.queue import QueueIsFull
from web.log import words
from web.log.figures import beside_drawn, carpet, change_drawn, day_drawn, sky_drawn, year_drawn
from web.log.forms import FORMS, ColumnsForm, EntryForm, LogForm, SpanForm, TokenForm
from web.log.jobs import begin, is_whole, more, take_in, take_photo
from web.log.judging import (
    both,
    day_to_show,
    how_kept,
    last_reading,
    learned_haze,
    reading_said,
    the_day,
    year_made,
)
from web.log.models import KINDS, MOST_TOKENS, Aside, Entry, LogBook, SeriesDay, Source, Token, Upload
from web.log.store import add_entry, moves_of, remove_entry, series_csv, site_of, source_named, take_rows

A_PAGE = 9  # entries of the time line
PART = 8_000_000  # bytes of one piece of a file


class LogStation(StationView):
    """The time line, the day, the year, and what is to be done."""

    key = "log"
    form_class = LogForm

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        self.asked = request.GET
        return super().get(request, pk)

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        asked = getattr(self, "asked", {})
        found = log_context(build, results, asked.get("only", ""), asked.get("before", ""))
        source = _source_of(build, asked.get("source", ""))
        found |= series_context(build, results, source, found["moves"])
        found |= {
            "forms": {kind: form(build, results, prefix=None) for kind, form in FORMS.items()},
            "part_bytes": PART,
            "now_expected": expected_at(results.study, timezone.now(), build.stands_at, haze=found["haze"]),
            "holes": _holes(results),
        }
        return found


def _holes(results: Results) -> list[tuple[int, float]]:
    """Holes to tap, where the frame has a few; else the plan's tilts."""
    structure = results.study.structure
    if structure is not None and structure.settings and 1 < len(structure.holes) <= 14:
        return [(hole.number, round(hole.plane.tilt, 1)) for hole in structure.holes]
    tilts = sorted({stretch.tilt for stretch in results.plan.chosen.stretches})
    return [(0, tilt) for tilt in tilts] if len(tilts) > 1 else []


def _source_of(build: Build, asked: str) -> Source | None:
    rows = Source.objects.of_build(build)
    if asked.isascii() and asked.isdecimal():
        chosen = rows.filter(pk=int(asked)).first()
        if chosen is not None:
            return chosen
    return build.logbook.main or rows.first()


def log_context(build: Build, results: Results, only: str = "", before: str = "") -> dict[str, Any]:
    """The time line and what the moves and the last reading say."""
    zone, today = results.study.site.zone, timezone.localdate()
    moves = moves_of(build)
    kept = how_kept(build, results, moves)
    rows = Entry.objects.filter(build=build)
    kinds = [kind for kind, _ in KINDS]
    if only in kinds:
        rows = rows.filter(kind=only)
    if before.isascii() and before.isdecimal():
        edge = Entry.objects.filter(build=build, pk=int(before)).first()
        rows = rows.filter(at__lt=edge.at) if edge else rows
    shown = list(rows.select_related("photo")[: A_PAGE + 1])
    haze = learned_haze(results)
    reading = last_reading(results, moves, haze)
    late = {made.done: made for made in kept.made if made.done is not None}
    line = [_line(results, entry, moves, late, haze, zone, today) for entry in shown[:A_PAGE]]
    return {
        "moves": moves,
        "haze": haze,
        "kept": kept,
        "line": line,
        "more_before": shown[A_PAGE - 1].pk if len(shown) > A_PAGE else None,
        "only": only if only in kinds else "",
        "kinds": KINDS,
        "reading": reading,
        "reading_words": words.reading_words(reading) if reading else "",
        "moved": words.move_sentence(results, kept.last, moves[-1] if moves else None, zone, today),
        "now_said": words.now_sentence(reading, today, zone),
        "due": due_of(build, today),
        "entries": Entry.objects.filter(build=build).count() if not line else len(line),
    }


def due_of(build: Build, today: date) -> list[tuple[str, str, bool]]:
    """Inspections that are due next: what, when, and whether soon. The latest of each kind counts."""
    found: dict[str, date] = {}
    for entry in Entry.objects.filter(build=build, kind="inspection", due__isnull=False).order_by("at"):
        found[entry.data["what"]] = entry.due  # type: ignore[assignment]
    ordered = sorted(found.items(), key=lambda pair: pair[1])
    return [(what, words.due_words(due, today), words.soon(due, today)) for what, due in ordered]


def _line(
    results: Results, entry: Entry, moves: Any, late: dict[date, Any], haze: tuple[float | None, ...], zone: ZoneInfo, today: date
) -> dict[str, Any]:
    on = entry.at.astimezone(zone)
    said, share = "", ""
    if entry.kind == "reading":
        found = reading_said(results, entry, moves, haze)
        said = words.reading_words(found)
        if found.said and found.said.of_expected is not None:
            share = words.percent_of(found.said.of_expected)
    elif entry.kind == "move" and on.date() in late:
        made = late[on.date()]
        share = words.days_late(made.late)
    photo = getattr(entry, "photo", None)
    note = entry.data.get("note", "") if entry.kind != "note" else ""
    return {
        "entry": entry, "when": words.shortly(on.date(), today), "clock": f"{on:%H:%M}", "text": words.line_of(results, entry, today),
        "said": said, "share": share, "note": note, "photo": photo if photo and photo.data else None,
    }  # fmt: skip


def series_context(build: Build, results: Results, source: Source | None, moves: Any) -> dict[str, Any]:
    """The pictures of what a monitor showed."""
    found: dict[str, Any] = {
        "source": source,
        "sources": list(Source.objects.of_build(build)),
        "aside": Aside.objects.filter(source__build=build).select_related("source")[:12],
        "uploads": list(Upload.objects.filter(build=build).exclude(state=Upload.State.LOOKED_AT)[:4]),
        "tokens": Token.objects.filter(build=build),
        "day": None,
    }
    shown = day_to_show(source, build.chosen_day) or _this_year(build.chosen_day)
    made = the_day(results, source, shown, moves)
    found |= {"day": day_drawn(made), "day_made": made, "day_title": words.spoken(made.day, timezone.localdate())}
    year = year_made(results, source) if source is not None else None
    if year is None or not year.days:
        return found
    zone = results.study.site.zone
    stood = [(move.at.astimezone(zone).date(), words.hole_or_tilt(results, move.tilt)) for move in moves]
    first = min(year.days)
    return found | {
        "there": (words.spoken(first, timezone.localdate()), words.spoken(max(year.days), timezone.localdate())),
        "carpet": carpet(year, shown),
        "year": year_drawn(year, [(day, text) for day, text in stood if day >= first]),
        "months": year.months,
        "year_made": sum(month.made for month in year.months),
        "year_planned": sum(month.planned for month in year.months),
        "rivals": _rivals(build),
    }


def _this_year(day: int) -> date:
    found = date(2025, 1, 1) + timedelta(days=day)
    return date(timezone.localdate().year, found.month, found.day)


def _rivals(build: Build) -> list[Build]:
    """Other builds of this person that a monitor shows too."""
    return list(Build.objects.of(build.owner_id).exclude(pk=build.pk).filter(sources__isnull=False).distinct()[:8])


class Judged(SignedIn, View):
    """Is it what it should be? Worked out by a worker, and polled."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        context: dict[str, Any] = {"build": build, "target": "#judged", "what": "Is it what it should be?"}
        if build.logbook.main is None:
            return render(request, "log/_judged.html", context | {"nothing": True})
        try:
            found = ask(results, "judgement", again="again" in request.GET)
        except BriefError as error:
            return render(request, "log/_judged.html", context | {"nothing": True, "why": error.message})
        if isinstance(found, Pending):
            return render(request, "builds/_pending.html", context | {"pending": found})
        return render(request, "log/_judged.html", context | judged_context(build, results, found))


def judged_context(build: Build, results: Results, found: Any) -> dict[str, Any]:
    """The figures of a judgement, and what may be taken over."""
    health = found.health
    horizon = [point[:2] for point in (build.yard.to_brief().get("horizon") or [])]
    changes = [(one, change_drawn(one.change) if one.change else None) for one in reversed(found.changes)]
    months = [
        (MONTH, share, days) for MONTH, share, days in zip("JFMAMJJASOND", health.clearness, health.clearness_days, strict=True)
    ]
    return {
        "judged": found,
        "health": health,
        "sky": sky_drawn(health.shade, horizon) if health.shade else None,
        "changes": changes,
        "clearness": months,
        "learnable": any(share is not None and days >= 20 for _, share, days in months),
        "level_low": health.level[0] * (1 - build.logbook.meter_error) if health.level else None,
        "level_high": health.level[0] * (1 + build.logbook.meter_error) if health.level else None,
    }


class TakeOver(SignedIn, View):
    """Take over what was learned: a thing that the survey missed into the skyline, or the sky itself."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        found = results.peek("judgement")
        if found is None:
            messages.error(request, "That was worked out from an older state: it is being looked at again.")
            return redirect("log:station", build.pk)
        try:
            said = self._sky(build, results, found) if request.POST.get("what") == "sky" else self._shade(build, request, found)
            part = build.place if request.POST.get("what") == "sky" else build.yard
            sharing = drafts_of_fellows(build, [part])
            for one in (build, *(fellow for fellow, _ in sharing)):
                Results(one).check()
        except (BriefError, ValueError, IndexError) as error:
            messages.error(request, error.message if isinstance(error, BriefError) else "That thing is not there any more.")
            return redirect("log:station", build.pk)
        if not write(build, build.version, [part], sharing):
            messages.error(request, "Somebody changed this build meanwhile: look, and press once more.")
            return redirect("log:station", build.pk)
        messages.success(request, said)
        return redirect("log:station", build.pk)

    @staticmethod
    def _shade(build: Build, request: HttpRequest, found: Any) -> str:
        thing = found.health.shade[int(request.POST.get("number", "0"))]
        held = build.yard.skyline
        solid = [[r["azimuth"], r["elevation"]] for r in held if r.get("kind", "solid") == "solid"]
        soft = [r for r in held if r.get("kind", "solid") != "solid"]
        known = {(r["azimuth"], r["elevation"]): r for r in held}
        points = taken_over(solid, thing)
        made = [known.get((a, e), {"azimuth": a, "elevation": e, "kind": "solid"}) for a, e in points]
        taken = {reading["azimuth"] for reading in made}
        merged = made + [reading for reading in soft if reading["azimuth"] not in taken]
        build.yard.skyline = sorted(merged, key=lambda reading: float(reading["azimuth"]))
        return f"Taken into the skyline: {thing.start:.0f}° to {thing.end:.0f}°, up to {thing.top:.0f}°. The plan counts it now."

    @staticmethod
    def _sky(build: Build, results: Results, found: Any) -> str:
        learned = learned_sky(results.study, found.health.clearness, found.health.clearness_days)
        sky = monthly_sky(results.study, learned.ghi, sum(learned.days))
        place = build.place
        place.sky_kind, place.dhi, place.seed, place.learned_days = "monthly", None, sky.seed, sky.learned_days
        place.ghi, place.temp_air, place.wind_speed = sky.ghi, sky.temp_air, [sky.wind_speed] * 12
        return f"The sky is {learned.words}, now; months without enough days keep their light."


class Add(SignedIn, View):
    """Log one thing. Sent by the page's script, by a phone that had no connection before, or by a plain form."""

    def post(self, request: HttpRequest, pk: int, kind: str) -> HttpResponse:
        build = own_build(request, pk)
        if kind not in FORMS:
            raise Http404
        results = Results(build)
        form = FORMS[kind](build, results, request.POST, request.FILES)
        photo = request.FILES.get("photo")
        if form.is_valid():
            try:
                with transaction.atomic():
                    entry, new = add_entry(build, form.made, form.cleaned_data["client_id"])
                    if photo is not None and new:
                        take_photo(entry, photo.read())
            except (BriefError, QueueIsFull) as error:
                said = (
                    error.message
                    if isinstance(error, BriefError)
                    else "Enough is being worked out for you: send the photo later."
                )
                path = error.path if isinstance(error, BriefError) else "photo"
                form.add_error(path if path in form.fields else None, said[:1].upper() + said[1:])
        return self._answer(request, build, form)

    def _answer(self, request: HttpRequest, build: Build, form: EntryForm) -> HttpResponse:
        scripted = request.headers.get("X-Log") == "1"
        if form.errors and scripted:
            errors = {name: " ".join(map(str, found)) for name, found in form.errors.items()}
            return JsonResponse({"errors": errors}, status=422)
        if scripted:
            return JsonResponse({"kept": True, "stands": build.stands_at})
        if form.errors:
            station = LogStation()
            context = station.context(build)
            context["form"] = LogForm(build)
            if "forms" in context:
                context["forms"][form.kind] = form
                context["open_form"] = form.kind
            return render(request, "log/station.html", context, status=422)
        messages.success(request, "Logged.")
        return redirect("log:station", build.pk)


class Remove(SignedIn, View):
    def post(self, request: HttpRequest, pk: int, entry: int) -> HttpResponse:
        build = own_build(request, pk)
        remove_entry(build, get_object_or_404(Entry, build=build, pk=entry))
        return redirect("log:station", build.pk)


class ShowPhoto(SignedIn, View):
    def get(self, request: HttpRequest, pk: int, entry: int) -> HttpResponse:
        row = get_object_or_404(Entry.objects.select_related("photo"), build=own_build(request, pk), pk=entry)
        photo = getattr(row, "photo", None)
        if photo is None or not photo.data:
            raise Http404
        response = HttpResponse(bytes(photo.data), content_type=photo.kind)
        response["Cache-Control"] = "private, max-age=600"
        return response


class Field(SignedIn, View):
    """The page for the phone: three big buttons, and what became of what was typed."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        context: dict[str, Any] = {"build": build}
        try:
            plan = ask(results, "plan")
            if not isinstance(plan, Pending):
                context |= log_context(build, results)
                context |= {"forms": {kind: form(build, results) for kind, form in FORMS.items()}, "holes": _holes(results)}
        except BriefError as error:
            context["trouble"] = str(error)
        return render(request, "log/field.html", context)


class FieldWorker(SignedIn, View):
    """The script that keeps that page in the phone: served under it, which is as far as it reaches."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        own_build(request, pk)
        with staticfiles_storage.open("js/shed-worker.js") as script:
            answer = HttpResponse(script.read(), content_type="text/javascript; charset=utf-8")
        answer["Cache-Control"] = "no-cache"
        return answer


# -- files ----------------------------------------------------------------------------------------------------------------


class FileIn(SignedIn, View):
    """A file of a monitor: its first piece is looked at and shown."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        file = request.FILES.get("file")
        try:
            if file is None or not file.name:
                raise BriefError("file", "choose a file first")
            told = request.POST.get("size", "")
            size = int(told) if told.isascii() and told.isdecimal() else int(file.size or 0)
            upload = begin(build, request.POST.get("name") or file.name, size, file.read())
        except BriefError as error:
            said = error.message[:1].upper() + error.message[1:]
            if request.headers.get("X-Log") == "1":
                return JsonResponse({"error": said}, status=422)
            messages.error(request, f"Nothing was taken in. {said}")
            return redirect("log:station", build.pk)
        if request.headers.get("X-Log") == "1":
            return JsonResponse({"upload": upload.pk, "size": upload.size})
        return redirect("log:file", build.pk, upload.pk)


class FilePart(SignedIn, View):
    """More of a file."""

    def post(self, request: HttpRequest, pk: int, upload: int) -> HttpResponse:
        build = own_build(request, pk)
        row = get_object_or_404(Upload, build=build, pk=upload, state=Upload.State.LOOKED_AT)
        file, first = request.FILES.get("file"), request.POST.get("first", "")
        if file is None or not (first.isascii() and first.isdecimal()) or int(first) + int(file.size or 0) > row.size:
            return JsonResponse({"error": "That piece does not fit: choose the file again."}, status=422)
        try:
            more(row, int(first), file.read())
        except BriefError as error:
            return JsonResponse({"error": error.message}, status=422)
        return JsonResponse({"whole": is_whole(row)})


class FileShown(SignedIn, View):
    """How a file is read, to be confirmed or put right."""

    def get(self, request: HttpRequest, pk: int, upload: int) -> HttpResponse:
        build = own_build(request, pk)
        row = get_object_or_404(Upload, build=build, pk=upload)
        if row.state != Upload.State.LOOKED_AT:
            return redirect("log:station", build.pk)
        return self._page(
            request, build, row, ColumnsForm(row.guess["heads"], Columns(**row.columns), initial=self._initial(build, row))
        )

    @staticmethod
    def _initial(build: Build, row: Upload) -> dict[str, Any]:
        held = Columns(**row.columns)
        same = next((one.name for one in Source.objects.of_build(build) if one.columns == row.columns), "")
        return {
            "source": same or "Monitor", "time": held.time, "clock": held.clock, "time_format": held.time_format or "ISO8601",
            "value": held.value, "kind": held.kind or "power", "unit": held.unit or "W", "zone": held.zone,
        }  # fmt: skip

    def post(self, request: HttpRequest, pk: int, upload: int) -> HttpResponse:
        build = own_build(request, pk)
        row = get_object_or_404(Upload.objects.select_related("build"), build=build, pk=upload, state=Upload.State.LOOKED_AT)
        form = ColumnsForm(row.guess["heads"], Columns(**row.columns), request.POST)
        if form.is_valid():
            try:
                take_in(row, form.columns(), form.cleaned_data["source"])
                return redirect("log:station", build.pk)
            except BriefError as error:
                form.add_error("source" if error.path == "name" else None, error.message[:1].upper() + error.message[1:])
            except QueueIsFull:
                form.add_error(None, "Enough is being worked out for you already: press again when one of it is done.")
        return self._page(request, build, row, form, 422)

    @staticmethod
    def _page(request: HttpRequest, build: Build, row: Upload, form: ColumnsForm, status: int = 200) -> HttpResponse:
        notes = row.guess["notes"]
        return render(request, "log/file.html", {"build": build, "upload": row, "form": form, "notes": notes}, status=status)


class FileState(SignedIn, View):
    """How far a file is; the page asks again until it is in."""

    def get(self, request: HttpRequest, pk: int, upload: int) -> HttpResponse:
        build = own_build(request, pk)
        row = get_object_or_404(Upload, build=build, pk=upload)
        job = Job.objects.filter(build=build, kind="intake", digest=f"upload-{row.pk}").first()
        response = render(request, "log/_upload.html", {"build": build, "upload": row, "job": job})
        if row.state == Upload.State.IN and "coming" in request.GET:
            response["HX-Trigger"] = "figures-stale"
        return response


# -- devices --------------------------------------------------------------------------------------------------------------


class NewToken(SignedIn, View):
    """A key for a device; it is shown once."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        form = TokenForm(request.POST)
        if not form.is_valid():
            messages.error(request, "Give the device a name.")
        elif Token.objects.filter(build=build, revoked_at=None).count() >= MOST_TOKENS:
            messages.error(request, f"{MOST_TOKENS} devices are the most: take one's key away first.")
        else:
            try:
                name = form.cleaned_data["name"]
                source = source_named(build, name, site_of(build).standard_offset)
                _, secret = Token.made(build, source, name)
                return render(request, "log/token.html", {"build": build, "secret": secret, "name": name})
            except BriefError as error:
                messages.error(request, error.message[:1].upper() + error.message[1:])
        return redirect("log:station", build.pk)


class Revoke(SignedIn, View):
    def post(self, request: HttpRequest, pk: int, token: int) -> HttpResponse:
        build = own_build(request, pk)
        get_object_or_404(Token, build=build, pk=token)
        Token.objects.filter(build=build, pk=token, revoked_at=None).update(revoked_at=timezone.now())
        return redirect("log:station", build.pk)


class MainSource(SignedIn, View):
    """Which of two monitors is judged."""

    def post(self, request: HttpRequest, pk: int, source: int) -> HttpResponse:
        build = own_build(request, pk)
        chosen = get_object_or_404(Source, build=build, pk=source)
        LogBook.objects.filter(build=build).update(main=chosen)
        return redirect("log:station", build.pk)


class AsideSaid(SignedIn, View):
    """Readings kept aside: they are true, or they go."""

    @transaction.atomic
    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        rows = list(Aside.objects.select_for_update().filter(source__build=build).select_related("source"))
        if request.POST.get("true") == "1":
            by_source: dict[int, list[Aside]] = {}
            for row in rows:
                by_source.setdefault(row.source_id, []).append(row)
            import numpy as np

            for group in by_source.values():
                unix = np.array([row.at.timestamp() for row in group])
                take_rows(group[0].source, unix, np.array([row.power for row in group]))
        Aside.objects.filter(pk__in=[row.pk for row in rows]).delete()
        build.logbook.touch()
        return redirect("log:station", build.pk)


# -- out, and away --------------------------------------------------------------------------------------------------------


class SeriesOut(SignedIn, View):
    """All rows of a source as CSV."""

    def get(self, request: HttpRequest, pk: int, source: int) -> StreamingHttpResponse:
        row = get_object_or_404(Source, build=own_build(request, pk), pk=source)
        response = StreamingHttpResponse(series_csv(row), content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = f'attachment; filename="series-{row.pk}.csv"'
        return response


class LogOut(SignedIn, View):
    """All entries as JSON."""

    def get(self, request: HttpRequest, pk: int) -> StreamingHttpResponse:
        build = own_build(request, pk)

        def pieces() -> Iterator[str]:
            yield "["
            for number, entry in enumerate(Entry.objects.filter(build=build).order_by("at", "pk").iterator(chunk_size=500)):
                yield ("," if number else "") + "\n" + json.dumps(entry.told, ensure_ascii=False)
            yield "\n]\n"

        response = StreamingHttpResponse(pieces(), content_type="application/json")
        response["Content-Disposition"] = 'attachment; filename="log.json"'
        return response


class DeleteSpan(SignedIn, View):
    """Delete what was logged, or what a monitor showed, between two days."""

    @transaction.atomic
    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        form = SpanForm(request.POST)
        if not form.is_valid():
            messages.error(request, " ".join(str(error) for errors in form.errors.values() for error in errors))
            return redirect("log:station", build.pk)
        start, end = form.cleaned_data["start"], form.cleaned_data["end"]
        zone = site_of(build).zone
        low = datetime(start.year, start.month, start.day, tzinfo=zone).astimezone(UTC)
        high = datetime(end.year, end.month, end.day, tzinfo=zone).astimezone(UTC) + timedelta(days=1)
        entries = days = 0
        if request.POST.get("entries") == "1":
            entries, _ = Entry.objects.filter(build=build, at__gte=low, at__lt=high).delete()
        if request.POST.get("series") == "1":
            epoch = date(1970, 1, 1)
            rows = SeriesDay.objects.filter(source__build=build, day__gte=(start - epoch).days, day__lte=(end - epoch).days)
            days, _ = rows.delete()
        build.logbook.touch()
        messages.success(request, f"Deleted: {entries} entries and {days} days of monitors.")
        return redirect("log:station", build.pk)


class BesideView(SignedIn, View):
    """Another build's monitor beside this one, per kW of nameplate."""

    def get(self, request: HttpRequest, pk: int, other: int) -> HttpResponse:
        build, rival = own_build(request, pk), own_build(request, other)
        mine, theirs = build.logbook.main, rival.logbook.main
        found = both((build, mine), (rival, theirs)) if mine and theirs else None
        drawn = beside_drawn(found) if found else None
        return render(request, "log/_beside.html", {"build": build, "rival": rival, "beside": found, "drawn": drawn})
