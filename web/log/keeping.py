"""Which monitor is judged, what is kept aside; all of it out, and a span of it away."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta

from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views import View

from web.builds.shell import SignedIn, own_build
from web.log.forms import SpanForm
from web.log.models import Aside, Entry, LogBook, SeriesDay, Source
from web.log.store import series_csv, site_of, take_rows


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
        after = end + timedelta(days=1)  # by the calendar: a day of 23 or of 25 hours ends at its midnight too
        high = datetime(after.year, after.month, after.day, tzinfo=zone).astimezone(UTC)
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
