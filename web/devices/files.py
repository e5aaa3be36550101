"""A monitor's file on its way in: looked at, shown, confirmed, followed."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views import View

from sundial.errors import BriefError
from sundial.record.dialect import Columns
from web.builds.models import Build
from web.builds.shell import SignedIn, own_build
from web.devices.forms import ColumnsForm
from web.devices.jobs import begin, go_on, is_whole, more, take_in
from web.devices.models import Upload
from web.jobs.models import Job
from web.jobs.queue import QueueIsFull
from web.log.models import Source
from web.numbers import whole


class FileIn(SignedIn, View):
    """A file of a monitor: its first piece is looked at and shown."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        file = request.FILES.get("file")
        try:
            if file is None or not file.name:
                raise BriefError("file", "choose a file first")
            size = whole(request.POST.get("size"))
            size = int(file.size or 0) if size is None else size
            upload = begin(build, request.POST.get("name") or file.name, size, file.read())
        except BriefError as error:
            said = error.message[:1].upper() + error.message[1:]
            if request.headers.get("X-Log") == "1":
                return JsonResponse({"error": said}, status=422)
            messages.error(request, f"Nothing was taken in. {said}")
            return redirect("log:station", build.pk)
        if request.headers.get("X-Log") == "1":
            return JsonResponse({"upload": upload.pk, "size": upload.size})
        return redirect("devices:file", build.pk, upload.pk)


class FilePart(SignedIn, View):
    """More of a file."""

    def post(self, request: HttpRequest, pk: int, upload: int) -> HttpResponse:
        build = own_build(request, pk)
        row = get_object_or_404(Upload, build=build, pk=upload, state=Upload.State.LOOKED_AT)
        file, first = request.FILES.get("file"), whole(request.POST.get("first"))
        if file is None or first is None or first + int(file.size or 0) > row.size:
            return JsonResponse({"error": "That piece does not fit: choose the file again."}, status=422)
        try:
            more(row, first, file.read())
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
        return render(request, "devices/file.html", {"build": build, "upload": row, "form": form, "notes": notes}, status=status)


class FileState(SignedIn, View):
    """How far a file is; the page asks again until it is in."""

    def get(self, request: HttpRequest, pk: int, upload: int) -> HttpResponse:
        build = own_build(request, pk)
        row = get_object_or_404(Upload, build=build, pk=upload)
        response = self._shown(request, build, row)
        if row.state == Upload.State.IN and "coming" in request.GET:
            response["HX-Trigger"] = "figures-stale"
        return response

    def post(self, request: HttpRequest, pk: int, upload: int) -> HttpResponse:
        """Goes on with a file that was given up, ended or taken back."""
        build = own_build(request, pk)
        row = get_object_or_404(Upload.objects.select_related("build"), build=build, pk=upload, state=Upload.State.COMING)
        try:
            go_on(row)
        except QueueIsFull:
            return self._shown(
                request, build, row, "Enough is being worked out for you already: press again when one of it is done."
            )
        return self._shown(request, build, row)

    @staticmethod
    def _shown(request: HttpRequest, build: Build, row: Upload, trouble: str = "") -> HttpResponse:
        job = Job.objects.filter(build=build, kind="intake", digest=f"upload-{row.pk}").first()
        return render(request, "devices/_upload.html", {"build": build, "upload": row, "job": job, "trouble": trouble})
