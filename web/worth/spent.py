"""What the whole build cost, as far as it is told on other pages; taken over at a button."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views import View

from sundial.errors import BriefError
from sundial.worth.known_costs import KnownCost, known_costs
from web.builds.editing import write
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, own_build


def known_of(results: Results) -> tuple[KnownCost, ...]:
    """What is known of the cost; boards and parts where The cutting has worked them out."""
    try:
        cutting = results.peek("cutting")
        frame = (None, 0, 0.0) if cutting is None else (cutting.total, cutting.unpriced, cutting.minutes)
        return known_costs(results.scene, *frame)
    except BriefError:
        return ()


class TakeKnown(SignedIn, View):
    """Takes what is known over as what the whole build cost."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build: Build = own_build(request, pk)
        total = round(sum(cost.amount for cost in known_of(Results(build))), 2)
        if not total:
            messages.error(request, "Nothing of its cost is known yet.")
        else:
            before = build.economics.spent
            build.economics.spent = total
            if write(build, build.version, [build.economics]):
                said = "" if before is None else f" Before, it was {before:g}: type that again to go back."
                messages.success(request, f"The whole build costs {total:g} now.{said}")
            else:
                messages.error(request, "It was changed in another tab just now: look again.")
        return redirect("worth:station", pk)
