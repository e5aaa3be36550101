"""What was done, and does it make what it should?"""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.contrib import messages
from django.contrib.staticfiles.storage import staticfiles_storage
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views import View

from sundial.errors import BriefError
from sundial.expected.learned import learned_sky, monthly_sky
from sundial.expected.missed import taken_over
from sundial.expected.moment import expected_at
from web.builds.asking import Pending, ask
from web.builds.editing import write
from web.builds.group import drafts_of_fellows
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import BesideStation, SignedIn, StationView, own_build
from web.jobs.queue import QueueIsFull
from web.log import words
from web.log.figures import beside_drawn, carpet, change_drawn, day_drawn, sky_drawn, year_drawn
from web.log.forms import FORMS, EntryForm, LogForm
from web.log.judging import (
    air_mark,
    both,
    day_to_show,
    how_kept,
    last_reading,
    learned_haze,
    reading_said,
    the_day,
    year_made,
)
from web.log.models import KINDS, Aside, Entry, Source
from web.log.photos import take_photo
from web.log.store import add_entry, moves_of, remove_entry
from web.numbers import whole
from web.requests import HtmxHttpRequest

A_PAGE = 9  # entries of the time line


class LogStation(StationView):
    """The time line, the day, the year, and what is to be done."""

    key = "log"
    form_class = LogForm

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        self.asked = request.GET
        return super().get(request, pk)

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        asked = getattr(self, "asked", {})
        found = log_context(build, results, asked.get("only", ""), asked.get("before", ""))
        source = _source_of(build, asked.get("source", ""))
        found |= series_context(build, results, source, found["moves"])
        found |= {
            "forms": {kind: form(build, results, prefix=None) for kind, form in FORMS.items()},
            "now_expected": expected_at(results.study, timezone.now(), build.stands_at, haze=found["haze"]),
            "holes": _holes(results),
        }
        return found


def _holes(results: Results) -> list[tuple[int, float]]:
    """Holes to tap, where the frame has a few; else the plan's tilts."""
    structure = results.study.scene.structure
    if structure is not None and structure.settings and 1 < len(structure.holes) <= 14:
        return [(hole.number, round(hole.plane.tilt, 1)) for hole in structure.holes]
    tilts = sorted({stretch.tilt for stretch in results.plan.chosen.stretches})
    return [(0, tilt) for tilt in tilts] if len(tilts) > 1 else []


def _source_of(build: Build, asked: str) -> Source | None:
    rows = Source.objects.of_build(build)
    return rows.filter(pk=whole(asked) or 0).first() or build.logbook.main or rows.first()


def log_context(build: Build, results: Results, only: str = "", before: str = "") -> dict[str, Any]:
    """The time line and what the moves and the last reading say."""
    zone, today = results.study.scene.site.zone, timezone.localdate()
    moves = moves_of(build)
    kept = how_kept(build, results, moves)
    rows = Entry.objects.filter(build=build)
    kinds = [kind for kind, _ in KINDS]
    if only in kinds:
        rows = rows.filter(kind=only)
    edge = Entry.objects.filter(build=build, pk=whole(before) or 0).first()
    rows = rows.filter(at__lt=edge.at) if edge else rows
    shown = list(rows.select_related("photo")[: A_PAGE + 1])
    haze = learned_haze(results)
    reading = last_reading(results, moves, haze)
    late = {made.done: made for made in kept.made if made.done is not None}
    line = [_line(results, entry, moves, late, haze, zone, today) for entry in shown[:A_PAGE]]
    return {
        "moves": moves,
        "haze": haze,
        "air": air_mark(haze),
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
        "day": None,
    }
    shown = day_to_show(source, build.chosen_day) or _this_year(build.chosen_day)
    made = the_day(results, source, shown, moves)
    found |= {"day": day_drawn(made), "day_made": made, "day_title": words.spoken(made.day, timezone.localdate())}
    year = year_made(results, source) if source is not None else None
    if year is None or not year.days:
        return found
    zone = results.study.scene.site.zone
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
        # Readings on the page that asks are told by what was known of the air before: they are shown anew.
        context["air_learned"] = request.GET.get("air", "") not in ("", air_mark(learned_haze(results)))
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
        "quiet": words.quiet_sentences(health),
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
        sky = monthly_sky(results.study.scene, learned.ghi, sum(learned.days))
        place = build.place
        place.sky_kind, place.dhi, place.seed, place.learned_days = "monthly", None, sky.seed, sky.learned_days
        place.ghi, place.temp_air, place.wind_speed = sky.ghi, sky.temp_air, [sky.wind_speed] * 12
        return f"The sky is {learned.words}, now; months without enough days keep their light."


class Add(SignedIn, BesideStation):
    """Log one thing. Sent by the page's script, by a phone that had no connection before, or by a plain form."""

    beside = "log"

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


class OwnBeside(SignedIn, View):
    """Another monitor of the same build beside the one that is judged: two arms of one rack, as if each had the whole nameplate."""

    def get(self, request: HttpRequest, pk: int, source: int) -> HttpResponse:
        build = own_build(request, pk)
        other, mine = get_object_or_404(Source, build=build, pk=source), build.logbook.main
        found = both((build, mine), (build, other)) if mine and mine.pk != other.pk else None
        drawn = beside_drawn(found) if found else None
        return render(
            request, "log/_beside.html", {"build": build, "rival": other, "mine": mine, "beside": found, "drawn": drawn}
        )


class BesideView(SignedIn, View):
    """Another build's monitor beside this one, per kW of nameplate."""

    def get(self, request: HttpRequest, pk: int, other: int) -> HttpResponse:
        build, rival = own_build(request, pk), own_build(request, other)
        mine, theirs = build.logbook.main, rival.logbook.main
        found = both((build, mine), (rival, theirs)) if mine and theirs else None
        drawn = beside_drawn(found) if found else None
        return render(request, "log/_beside.html", {"build": build, "rival": rival, "beside": found, "drawn": drawn})
