"""Accounts: sign up, the demo, and leaving with everything."""

from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, login, logout
from django.contrib.auth.decorators import login_required
from django.contrib.auth.mixins import LoginRequiredMixin
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views import View
from django.views.decorators.http import require_POST
from django.views.generic import FormView

from web.accounts.demo import NAME, ensure_demo
from web.accounts.forms import LeaveForm, SignUpForm

BACKEND = "django.contrib.auth.backends.ModelBackend"


class SignUp(FormView):
    """A new account; it is signed in at once."""

    template_name = "accounts/signup.html"
    form_class = SignUpForm

    def form_valid(self, form: Any) -> HttpResponse:
        login(self.request, form.save(), backend=BACKEND)
        return redirect("builds:list")


@require_POST
def demo(request: HttpRequest) -> HttpResponse:
    """One click into the demo builds; exists only while the demo is on."""
    if not settings.DEMO:
        raise Http404
    login(request, ensure_demo(), backend=BACKEND)
    return redirect("builds:list")


@login_required
def account(request: HttpRequest) -> HttpResponse:
    return render(request, "accounts/account.html", {"is_demo": request.user.username == NAME})


class DeleteAccount(LoginRequiredMixin, View):
    """Deletes the person and everything of theirs, after the word is typed."""

    def get(self, request: HttpRequest) -> HttpResponse:
        return render(request, "accounts/delete.html", {"form": LeaveForm()})

    def post(self, request: HttpRequest) -> HttpResponse:
        form = LeaveForm(request.POST)
        if not form.is_valid():
            return render(request, "accounts/delete.html", {"form": form}, status=422)
        if request.user.username == NAME:
            messages.error(request, "The demo account stays.")
            return redirect("accounts:account")
        person = get_user_model().objects.get(pk=request.user.pk)  # type: ignore[misc]
        logout(request)
        person.delete()
        messages.success(request, "Your account and all its builds are gone.")
        return redirect("home")


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form that waited too long: say what to do, and lose nothing that the page still shows."""
    return render(request, "csrf.html", status=403)
