"""Taking long work back."""

from __future__ import annotations

from django.contrib.auth.mixins import LoginRequiredMixin
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils.http import url_has_allowed_host_and_scheme
from django.views import View

from web.jobs.models import Job
from web.jobs.queue import cancel


class Cancel(LoginRequiredMixin, View):
    """Cancels one of this person's jobs; another's is not told apart from none."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        cancel(get_object_or_404(Job, pk=pk, owner=request.user))
        back = request.POST.get("back", "")
        if back and url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()}):
            return redirect(back)
        return HttpResponse(status=204)
