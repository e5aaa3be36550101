"""Trials of a build: their design, the run sheet for a day, repeats, and what they show."""

from __future__ import annotations

import uuid
from datetime import date, timedelta
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views import View

from sundial.errors import BriefError
from sundial.trials.design import Design, Predicted, kinds, next_day, predicted, run_sheet
from sundial.trials.model import MOST
from sundial.trials.planned import repeats_needed
from sundial.trials.result import TrialResult, signed, trial_result
from sundial.trials.spots import repeats_of_spots
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, own_build
from web.trials.figures import trial_drawn
from web.trials.forms import DesignForm, RepeatForm, SpotsForm
from web.trials.models import MOST_TRIALS, Trial, TrialRepeat


class Trials(SignedIn, View):
    """All trials of a build, and the five questions of a new one."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        differs = request.GET.get("differs", "tilt")
        if differs not in kinds():
            differs = "tilt"
        power = Results(build).bare.brief.panel.power
        form = DesignForm(differs, initial=DesignForm.start(differs, power))
        return render(request, "trials/list.html", _list_context(build, form))

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        differs = request.POST.get("differs", "")
        if differs not in kinds():
            raise Http404
        form = DesignForm(differs, request.POST)
        if form.is_valid() and Trial.objects.filter(build=build).count() >= MOST_TRIALS:
            form.add_error(None, f"{MOST_TRIALS} trials are the most for one build: delete one first.")
        if not form.is_valid():
            return render(request, "trials/list.html", _list_context(build, form), status=422)
        needed = repeats_needed(form.cleaned_data["gain"], form.cleaned_data["scatter"], form.design.swap)
        design = form.design.model_copy(update={"repeats": needed or MOST})
        trial = Trial.objects.create(build=build, design=design.model_dump(mode="json"))
        return redirect("trials:trial", build.pk, trial.pk)


def _list_context(build: Build, form: DesignForm) -> dict[str, Any]:
    rows = [(trial, trial.core, *result_of(trial)) for trial in Trial.objects.filter(build=build).prefetch_related("repeats")]
    data = form.data if form.is_bound else form.initial
    return {
        "build": build, "form": form, "trials": rows, "kinds": [(key, kind["name"]) for key, kind in kinds().items()],
        "needed": _needed(data), "page": "trials:list",
    }  # fmt: skip


def _needed(data: Any) -> int | None:
    """Repeats by what stands in the form, where that can be read."""
    try:
        shares = [float(str(data.get(name)).replace(",", ".")) for name in ("gain", "scatter")]
        if not isinstance(data.get("gain"), float):
            shares = [share / 100 for share in shares]
        return repeats_needed(shares[0], shares[1], bool(data.get("swap")))
    except (TypeError, ValueError, BriefError):
        return None


def result_of(trial: Trial) -> tuple[TrialResult | None, str]:
    """What a trial shows, or why it shows nothing yet."""
    measured = trial.measured
    if measured is None:
        return None, "No repeat is logged yet."
    try:
        return trial_result(measured), ""
    except BriefError as error:
        return None, f"{error.message[:1].upper()}{error.message[1:]}."


class OneTrial(SignedIn, View):
    """The run sheet of a day, the repeats, and the result."""

    def get(self, request: HttpRequest, pk: int, trial: int) -> HttpResponse:
        build = own_build(request, pk)
        row = get_object_or_404(Trial.objects.prefetch_related("repeats"), build=build, pk=trial)
        return render(request, "trials/trial.html", trial_context(build, row, request.GET.get("day", "")))


def trial_context(build: Build, trial: Trial, asked: str = "", form: RepeatForm | None = None) -> dict[str, Any]:
    """Everything that the page of a trial shows."""
    today = timezone.localdate()
    design, results = trial.core, Results(build)
    day = _day(asked, today) or first_day(results, design, today)
    found, why = result_of(trial)
    alike = design.alike_first and not trial.repeats.all()
    context: dict[str, Any] = {
        "build": build, "trial": trial, "design": design, "told": design.told, "result": found, "why": why, "day": day, "today": today,
        "alike": alike, "page": "trials:list", "rows": list(zip(trial.repeats.all(), found.said if found else [None] * MOST, strict=False)),
        "earlier": day - timedelta(days=1), "later": day + timedelta(days=1), "now": timezone.now(),
    }  # fmt: skip
    try:
        context["sheet"] = run_sheet(results.study, design, day, alike)
    except BriefError as error:
        context["no_sheet"] = error.message
        context["next_day"] = next_day(results.study, design, day)
    expected = _expected(results, trial, design, day)
    if expected is not None:
        context["predicted"] = expected
        if expected.ratio is not None:
            context["predicted_words"] = signed(expected.ratio)
            context["confirmed"] = _against(found, expected.ratio)
    if found is not None:
        context["drawn"] = trial_drawn(found, expected.ratio if expected else None)
    sides = [one.core for one in trial.repeats.all() if not one.core.alike]
    order = "alike" if alike else "swapped" if design.swap and sides and not sides[-1].swapped else "set"
    context["spots"] = SpotsForm(results.scene.site.zone, initial={"on": min(day, today)})
    context["form"] = form or RepeatForm(initial={"on": min(day, today), "unit": "Wh", "order": order, "client_id": uuid.uuid4()})
    return context


def _day(asked: str, today: date) -> date | None:
    try:
        day = date.fromisoformat(asked)
    except ValueError:
        return None
    return day if abs((day - today).days) <= 800 else None


def first_day(results: Results, design: Design, today: date) -> date:
    """Today where it leaves a window, else the next day by weeks that does; today where none does."""
    try:
        run_sheet(results.study, design, today)
    except BriefError:
        try:
            return next_day(results.study, design, today) or today
        except BriefError:
            return today
    return today


def _expected(results: Results, trial: Trial, design: Design, day: date) -> Predicted | None:
    """What the core expects on the middle day of the repeats; without one, on the day shown. None where that day leaves no window."""
    made = sorted(row.core.on for row in trial.repeats.all() if row.core.on is not None)
    try:
        return predicted(results.study, design, made[len(made) // 2] if made else day)
    except BriefError:
        return None


def _against(found: TrialResult | None, expected: float) -> str:
    """Whether a trial confirms or contradicts what the core expects."""
    if found is None or found.low is None or found.high is None:
        return ""
    if found.low <= expected <= found.high:
        return "the trial agrees with it" if found.shown else "the trial does not speak against it, nor for it yet"
    return "the trial contradicts it: one of the two is wrong"


class AddRepeat(SignedIn, View):
    """Log one repeat; the same one sent twice is one."""

    @transaction.atomic
    def post(self, request: HttpRequest, pk: int, trial: int) -> HttpResponse:
        build = own_build(request, pk)
        row = get_object_or_404(Trial.objects.select_for_update(), build=build, pk=trial)
        form = RepeatForm(request.POST)
        if form.is_valid() and row.repeats.count() >= MOST:
            form.add_error(None, f"{MOST} repeats are the most.")
        if not form.is_valid():
            return render(request, "trials/trial.html", trial_context(build, row, form.data.get("on", ""), form), status=422)
        data = form.repeat.model_dump(mode="json")
        TrialRepeat.objects.get_or_create(
            trial=row, client_id=form.cleaned_data["client_id"] or uuid.uuid4(), defaults={"data": data}
        )
        return redirect("trials:trial", build.pk, row.pk)


class AddSpots(SignedIn, View):
    """Log spot readings as repeats: the weaker design."""

    @transaction.atomic
    def post(self, request: HttpRequest, pk: int, trial: int) -> HttpResponse:
        build = own_build(request, pk)
        row = get_object_or_404(Trial.objects.select_for_update(), build=build, pk=trial)
        results = Results(build)
        form = SpotsForm(results.scene.site.zone, request.POST)
        if form.is_valid():
            try:
                found = repeats_of_spots(row.core.place(results.study), form.spots)
                if row.repeats.count() + len(found) > MOST:
                    raise BriefError("spots", f"would make more than {MOST} repeats")
                order = {"swapped": request.POST.get("order") == "swapped", "alike": request.POST.get("order") == "alike"}
                TrialRepeat.objects.bulk_create(
                    [TrialRepeat(trial=row, data=one.model_copy(update=order).model_dump(mode="json")) for one in found]
                )
                return redirect("trials:trial", build.pk, row.pk)
            except BriefError as error:
                form.add_error("lines", error.message[:1].upper() + error.message[1:] + ".")
        return render(
            request, "trials/trial.html", trial_context(build, row, form.data.get("on", "")) | {"spots": form}, status=422
        )


class RemoveRepeat(SignedIn, View):
    def post(self, request: HttpRequest, pk: int, trial: int, repeat: int) -> HttpResponse:
        build = own_build(request, pk)
        get_object_or_404(TrialRepeat, trial__build=build, trial=trial, pk=repeat).delete()
        return redirect("trials:trial", build.pk, trial)


class RemoveTrial(SignedIn, View):
    def post(self, request: HttpRequest, pk: int, trial: int) -> HttpResponse:
        build = own_build(request, pk)
        get_object_or_404(Trial, build=build, pk=trial).delete()
        messages.success(request, "The trial and its repeats are deleted.")
        return redirect("trials:list", build.pk)
