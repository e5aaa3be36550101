"""Files that the stations make of a build: one view for all of them."""

from __future__ import annotations

import re
from collections.abc import Mapping

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import URLPattern, path, reverse
from django.views import View

from web.builds.asking import Pending, ask
from web.builds.models import Build
from web.builds.registry import Export, Station
from web.builds.results import Results
from web.builds.shell import SignedIn, own_build


class ExportFile(SignedIn, View):
    """One file of a build; a dear one is made by a worker, and this page waits for it."""

    export: Export | None = None

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build, export = own_build(request, pk), self.export
        assert export is not None  # noqa: S101  (set by its address)
        results = Results(build)
        if export.result:
            params: Mapping[str, str] = export.params(build) if export.params else {}
            if export.live:
                params = {**params, "live": request.build_absolute_uri(reverse(export.live, args=[pk]))}
            found = ask(results, export.result, params, again="again" in request.GET)
            if isinstance(found, Pending):
                return render(request, "builds/waiting.html", {"build": build, "pending": found, "export": export})
            if "waited" in request.GET:  # the page that waited offers it; its address alone is the file
                return render(request, "builds/ready.html", {"build": build})
            content = found
        else:
            content = export.make(build, results)  # type: ignore[misc]
        return as_download(HttpResponse(content, content_type=export.content_type), build, export.ending)


def export_paths(station: Station) -> list[URLPattern]:
    """Addresses of a station's files."""
    return [path(export.path, ExportFile.as_view(export=export), name=export.name) for export in station.exports]


def as_download(response: HttpResponse, build: Build, ending: str) -> HttpResponse:
    """Name a download after its build; browsers save it and never show it as a page."""
    stem = re.sub(r"[^a-z0-9]+", "-", build.name.lower()).strip("-") or "build"
    name = re.sub(r"[^A-Za-z0-9._-]+", "-", ending)
    response["Content-Disposition"] = f'attachment; filename="{stem}-{name}"'
    return response
