"""The person's own picture under the plan of the yard: taken as it comes, shown once a worker has drawn it anew.

What a camera writes beside the picture (where it was taken, when, with what) does not survive that, nor does anything else
that is no picture.
"""

from __future__ import annotations

import hashlib
import json
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.urls import reverse
from django.views import View

from sundial.errors import BriefError
from web.builds.models import Build
from web.builds.pictures import LARGEST, NO_PICTURE, settled
from web.builds.quota import refuse_over
from web.builds.shell import SignedIn, own_build
from web.jobs.broker import broker_is_up
from web.jobs.kinds import CannotBeAnswered, Kind, Report, register
from web.jobs.models import Job
from web.jobs.queue import QueueIsFull, submit
from web.shade.models import Picture


def take(build: Build, data: bytes) -> None:
    """Keep a picture as it came, and have it drawn anew. The one before stays in sight until then."""
    Picture.objects.update_or_create(yard=build.yard, defaults={"raw": data, "words": ""})
    digest = hashlib.sha256(data).hexdigest()
    try:
        submit("picture", "picture", digest, build.owner, build, again=True, seconds=60)
    except QueueIsFull:
        raise BriefError(
            "picture", "Enough is being worked out for you already: choose it again when one of it is done."
        ) from None


def _draw_anew(job: Job, report: Report) -> None:
    picture = Picture.objects.filter(yard__build=job.build_id).first()
    if picture is None or not picture.raw:
        return
    raw = bytes(picture.raw)
    mine = Picture.objects.filter(pk=picture.pk, raw=raw)  # another one may have come meanwhile
    try:
        made = settled(raw)
    except BriefError as error:
        mine.update(raw=None, words=error.message[:200])
        raise CannotBeAnswered(error.message) from None
    mine.update(raw=None, words="", kind=made.kind, width=made.width, height=made.height, data=made.data)


register(Kind("picture", _draw_anew, seconds=60))


class YardPicture(SignedIn, View):
    """Show, take or drop the picture."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        picture = Picture.objects.filter(yard__build=own_build(request, pk)).first()
        if picture is None or not picture.data:
            raise Http404
        response = HttpResponse(bytes(picture.data), content_type=picture.kind)
        response["Cache-Control"] = "private, max-age=600"
        return response

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        if request.POST.get("drop"):
            Picture.objects.filter(yard=build.yard).delete()
            return JsonResponse({"dropped": True})
        upload = request.FILES.get("file")
        if upload is None:
            return JsonResponse({"error": "Choose a picture first."}, status=422)
        if upload.size > LARGEST:  # type: ignore[operator]
            return JsonResponse(
                {"error": f"That picture has {upload.size / 1e6:.0f} MB; {LARGEST / 1e6:.0f} MB are the most."},  # type: ignore[operator]
                status=422,
            )
        data = upload.read()
        if not data.startswith((b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff")):
            return JsonResponse({"error": NO_PICTURE}, status=422)
        try:
            refuse_over(request.user, len(data))
            take(build, data)
        except BriefError as error:
            return JsonResponse({"error": error.message[:1].upper() + error.message[1:]}, status=422)
        return JsonResponse({"wait": reverse("shade:picture-state", args=[build.pk])}, status=202)


class PictureState(SignedIn, View):
    """Whether the picture that was sent can be shown: its size then, or what is wrong with it."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        picture = Picture.objects.filter(yard=build.yard).only("raw", "words", "width", "height").first()
        if picture is None:
            raise Http404
        if picture.raw is None:
            answer: dict[str, Any] = {"width": picture.width, "height": picture.height}
            return JsonResponse({"error": picture.words} if picture.words else answer)
        job = Job.objects.filter(build=build, kind="picture").order_by("-created_at").first()
        if job is not None and job.state not in (*Job.OPEN, Job.State.DONE):
            return JsonResponse({"error": f"{job.words or 'It was taken back.'} Choose the picture again."})
        return JsonResponse({"waiting": True, "later": not broker_is_up()})


def place_of(about: bytes) -> dict[str, float] | None:
    """Where the picture lies, from the file beside it in a zip of all data; None where that makes no sense."""
    names = ("x", "y", "width", "height", "scale")
    try:
        place = json.loads(about).get("place")
        found = {name: float(place[name]) for name in names}
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError):
        return None
    return found if all(abs(value) < 1e6 for value in found.values()) and found["scale"] > 0 else None
