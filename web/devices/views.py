"""Keys of devices, and what a controller told last."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views import View

from sundial.errors import BriefError
from web.builds.drawing import Scale
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, own_build
from web.devices.forms import TokenForm
from web.devices.models import MOST_TOKENS, Token, Turn, Upload
from web.jobs.models import Job
from web.log.store import site_of, source_named

PART = 8_000_000  # bytes of one piece of a file
LIVE = 60  # turns of a controller that are drawn


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
                return render(request, "devices/token.html", {"build": build, "secret": secret, "name": name})
            except BriefError as error:
                messages.error(request, error.message[:1].upper() + error.message[1:])
        return redirect("log:station", build.pk)


class Revoke(SignedIn, View):
    def post(self, request: HttpRequest, pk: int, token: int) -> HttpResponse:
        build = own_build(request, pk)
        get_object_or_404(Token, build=build, pk=token)
        Token.objects.filter(build=build, pk=token, revoked_at=None).update(revoked_at=timezone.now())
        return redirect("log:station", build.pk)


class Live(SignedIn, View):
    """What a controller that follows the table told last."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        turns = list(Turn.objects.filter(source__build=build).select_related("source")[:LIVE])
        context: dict[str, Any] = {"build": build, "turns": turns}
        if turns:
            zone = Results(build).scene.site.zone
            context |= {"last": turns[0], "when": f"{turns[0].at.astimezone(zone):%-d %B, %H:%M}", "path": turns_drawn(turns)}
        return render(request, "devices/_live.html", context)


def turns_drawn(turns: Sequence[Any]) -> str:
    """Angles of the first axis through the last turns, as steps: time across, the newest to the right."""
    ordered = sorted(turns, key=lambda turn: turn.at)
    angles = [float(turn.angles[0]) for turn in ordered]
    x = Scale(ordered[0].at.timestamp(), max(ordered[-1].at.timestamp(), ordered[0].at.timestamp() + 1), 10, 290)
    y = Scale(min(angles) - 2, max(angles) + 2, 76, 8)
    steps = [f"M{x(ordered[0].at.timestamp())} {y(angles[0])}"]
    steps += [f"H{x(turn.at.timestamp())}V{y(angle)}" for turn, angle in zip(ordered[1:], angles[1:], strict=True)]
    return "".join(steps)


def uploads_of(build: Build) -> list[tuple[Upload, Job | None]]:
    """The latest files that were confirmed, each with the task that takes it in."""
    found = list(Upload.objects.filter(build=build).exclude(state=Upload.State.LOOKED_AT)[:4])
    jobs = Job.objects.filter(build=build, kind="intake", digest__in=[f"upload-{one.pk}" for one in found])
    by_digest = {job.digest: job for job in jobs}
    return [(one, by_digest.get(f"upload-{one.pk}")) for one in found]


def shown_on_the_log(build: Build) -> dict[str, Any]:
    """Files on their way, and the keys that devices have."""
    return {"uploads": uploads_of(build), "tokens": Token.objects.filter(build=build), "part_bytes": PART}
