"""Accounts: sign up, the demo, back in after a forgotten password, and leaving with everything."""

from __future__ import annotations

import tempfile
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, login, logout
from django.contrib.auth import views as auth
from django.contrib.auth.decorators import login_required
from django.contrib.auth.mixins import LoginRequiredMixin
from django.contrib.auth.signals import user_login_failed
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.urls import reverse_lazy
from django.views import View
from django.views.decorators.http import require_POST
from django.views.generic import FormView

from sundial.errors import BriefError
from web.accounts.data import begin, job_of, write_data
from web.accounts.demo import LIFE, new_visitor
from web.accounts.forms import CodeForm, DataForm, LeaveForm, MailForm, PasswordAgain, SignUpForm, UnitsForm
from web.accounts.models import Account, DataIn
from web.accounts.names import name_key
from web.accounts.recovery import SHOWN, is_code_of, new_code
from web.accounts.throttle import BETWEEN, CODES, SIGN_UPS, VISITORS, address_of, must_wait
from web.jobs.queue import QueueIsFull

BACKEND = "web.accounts.backends.NameBackend"


def _own(request: HttpRequest) -> Any:
    """The person with an account of their own; a visitor of the demo has none."""
    user = get_user_model().objects.get(pk=request.user.pk)  # type: ignore[misc]
    if user.account.is_visitor:
        raise Http404
    return user


def _slowly(request: HttpRequest, words: str) -> HttpResponse:
    return render(request, "accounts/slowly.html", {"words": words}, status=429)


class SignIn(auth.LoginView):
    """Name and password. An address that failed under many names is taken one try in ten seconds."""

    template_name = "accounts/login.html"
    extra_context = {"mail_on": settings.MAIL_ON}  # noqa: RUF012  (as Django declares it)

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if must_wait(request):
            return _slowly(
                request, f"There were many wrong passwords from where you are: wait {BETWEEN} seconds between two tries."
            )
        return super().post(request, *args, **kwargs)


class SignUp(FormView):
    """A new account; it is signed in at once, and shown its recovery code."""

    template_name = "accounts/signup.html"
    form_class = SignUpForm

    def get_initial(self) -> dict[str, Any]:
        return {"units": units_of_browser(self.request.headers.get("Accept-Language", ""))}

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if SIGN_UPS.add(address_of(request)) > settings.SIGN_UPS_AN_HOUR:
            return _slowly(request, "Many accounts were asked for from where you are within an hour: try again a little later.")
        return super().post(request, *args, **kwargs)

    def form_valid(self, form: Any) -> HttpResponse:
        user = form.save()
        code = new_code(user)
        login(self.request, user, backend=BACKEND)
        self.request.session[SHOWN] = code
        return redirect("accounts:recovery")


def _wrong_password(request: HttpRequest, form: PasswordAgain) -> None:
    """Count a wrong password as one at the door."""
    if "password" in form.errors:
        user_login_failed.send(__name__, credentials={"username": form.owner.get_username()}, request=request)


class SignOut(auth.LogoutView):
    """Out, and nothing of the person left on this browser: pages that it kept for places without a connection go with the session."""

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        return nothing_kept(super().post(request, *args, **kwargs))


def nothing_kept(response: HttpResponse) -> HttpResponse:
    """The same answer, upon which a browser forgets all that it kept of this site."""
    response["Clear-Site-Data"] = '"cache", "storage"'
    return response


class Recovery(LoginRequiredMixin, View):
    """Shows a recovery code once; asked again, makes a new one against the password."""

    def get(self, request: HttpRequest) -> HttpResponse:
        if "new" in request.GET:
            return render(request, "accounts/recovery_new.html", {"form": PasswordAgain(user=_own(request))})
        code = request.session.pop(SHOWN, None)
        if code is None:
            return redirect("accounts:account")
        response = render(request, "accounts/recovery.html", {"code": code})
        response["Cache-Control"] = "no-store"
        return response

    def post(self, request: HttpRequest) -> HttpResponse:
        user = _own(request)
        if must_wait(request):
            return _slowly(request, f"There were many wrong passwords: wait {BETWEEN} seconds between two tries.")
        form = PasswordAgain(request.POST, user=user)
        if not form.is_valid():
            _wrong_password(request, form)
            return render(request, "accounts/recovery_new.html", {"form": form}, status=422)
        request.session[SHOWN] = new_code(user)
        return redirect("accounts:recovery")


class Forgotten(FormView):
    """A new password against the recovery code; the code is used up by it, and a new one is shown."""

    template_name = "accounts/forgotten.html"
    form_class = CodeForm
    extra_context = {"mail_on": settings.MAIL_ON}  # noqa: RUF012  (as Django declares it)

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        key = name_key(request.POST.get("username", "")[:150])
        if must_wait(request) or CODES.count(key) >= settings.CODES_AN_HOUR:
            return _slowly(request, "There were many wrong codes within an hour: wait a little, then try again.")
        return super().post(request, *args, **kwargs)

    def form_valid(self, form: Any) -> HttpResponse:
        owner = form.owner()
        if not is_code_of(owner, form.cleaned_data["code"]):
            name = form.cleaned_data["username"]
            CODES.add(name_key(name))
            user_login_failed.send(__name__, credentials={"username": name}, request=self.request)
            form.add_error("code", "This is not the recovery code of that name.")
            return self.form_invalid(form)
        form.user = owner
        form.save()
        self.request.session.flush()
        login(self.request, owner, backend=BACKEND)
        self.request.session[SHOWN] = new_code(owner)
        return redirect("accounts:recovery")


@require_POST
def demo(request: HttpRequest) -> HttpResponse:
    """One click into an own copy of the demo, which lives for a day; exists only while the demo is on."""
    if not settings.DEMO:
        raise Http404
    if request.user.is_authenticated and request.user.account.is_visitor:
        return redirect("builds:list")
    if VISITORS.add(address_of(request)) > settings.VISITORS_AN_HOUR:
        return _slowly(request, "Many looked round the demo from where you are within an hour: come again a little later.")
    login(request, new_visitor(), backend=BACKEND)
    request.session.set_expiry(int(LIFE.total_seconds()))
    return redirect("builds:list")


def units_of_browser(languages: str) -> str:
    """A guess from the language that a browser asks for first: English of the United States is read in feet, other English in either, all else in
    metres."""
    first = languages.split(",")[0].split(";")[0].strip().lower()
    if first in ("en-us", "en-lr", "my", "my-mm"):
        return "us"
    return "" if not first or first.startswith("en") or first == "*" else "metric"


@login_required
def account(request: HttpRequest) -> HttpResponse:
    held: Account = request.user.account  # type: ignore[union-attr]
    form = UnitsForm(request.POST or None, instance=held)
    if request.method == "POST" and form.is_valid():
        form.save()
        messages.success(request, "New builds begin so. Those that are there stay as they are shown.")
        return redirect("accounts:account")
    context = {"visitor": held, "mail_on": settings.MAIL_ON, "units_form": form}
    return render(request, "accounts/account.html", context | data_in_context(request))


class ChangeMail(LoginRequiredMixin, View):
    """The mail address of the account."""

    def get(self, request: HttpRequest) -> HttpResponse:
        user = _own(request)
        return render(request, "accounts/mail.html", {"form": MailForm(instance=user, user=user)})

    def post(self, request: HttpRequest) -> HttpResponse:
        user = _own(request)
        if must_wait(request):
            return _slowly(request, f"There were many wrong passwords: wait {BETWEEN} seconds between two tries.")
        form = MailForm(request.POST, instance=user, user=user)
        if not form.is_valid():
            _wrong_password(request, form)
            return render(request, "accounts/mail.html", {"form": form}, status=422)
        form.save()
        messages.success(request, "The mail address is kept." if form.cleaned_data["email"] else "No mail address is kept.")
        return redirect("accounts:account")


class MyData(LoginRequiredMixin, View):
    """Everything of a person as a zip; and builds made anew from one."""

    def get(self, request: HttpRequest) -> HttpResponseBase:
        out = tempfile.TemporaryFile()  # noqa: SIM115  (the response closes it)
        write_data(request.user, out)  # type: ignore[arg-type]
        out.seek(0)
        response = FileResponse(out, as_attachment=True, filename="crooked-sundial-my-data.zip", content_type="application/zip")
        response["Cache-Control"] = "no-store"
        return response

    def post(self, request: HttpRequest) -> HttpResponse:
        form = DataForm(request.POST, request.FILES)
        if not form.is_valid():
            messages.error(request, f"Nothing was taken in. {' '.join(str(line) for line in form.errors['archive'])}")
            return redirect("accounts:account")
        try:
            begin(_own(request), form.cleaned_data["archive"].read())
        except BriefError as error:
            messages.error(request, f"Nothing was taken in: {error.message}.")
        except QueueIsFull:
            messages.error(
                request, "Nothing was taken in: enough is being worked out for you already. Try again when one of it is done."
            )
        return redirect("accounts:account")


class DataState(LoginRequiredMixin, View):
    """How far the latest zip is; the page asks again until it is in."""

    def get(self, request: HttpRequest) -> HttpResponse:
        return render(request, "accounts/_data_in.html", data_in_context(request))


def data_in_context(request: HttpRequest) -> dict[str, Any]:
    coming = DataIn.objects.defer("data").filter(owner_id=request.user.pk).first()
    return {"coming": coming, "job": job_of(coming) if coming else None}


class DeleteAccount(LoginRequiredMixin, View):
    """Deletes the person and everything of theirs, after the word is typed."""

    def get(self, request: HttpRequest) -> HttpResponse:
        return render(request, "accounts/delete.html", {"form": LeaveForm()})

    def post(self, request: HttpRequest) -> HttpResponse:
        form = LeaveForm(request.POST)
        if not form.is_valid():
            return render(request, "accounts/delete.html", {"form": form}, status=422)
        person = get_user_model().objects.get(pk=request.user.pk)  # type: ignore[misc]
        person.delete()  # first: where it fails, one is still signed in
        logout(request)
        messages.success(request, "Your account and all its builds are gone.")
        return nothing_kept(redirect("home"))


class PasswordByMail(auth.PasswordResetView):
    """Asks for a link by mail; what is answered does not tell whether there is such an address."""

    template_name = "accounts/by_mail.html"
    email_template_name = "accounts/mail_link.txt"
    subject_template_name = "accounts/mail_link_subject.txt"
    success_url = reverse_lazy("accounts:by-mail-sent")

    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
        if not settings.MAIL_ON:
            raise Http404
        if request.method == "POST" and CODES.add(f"mail {address_of(request)}") > settings.CODES_AN_HOUR:
            return _slowly(request, "Many links were asked for from where you are within an hour: try again a little later.")
        return super().dispatch(request, *args, **kwargs)


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form that waited too long: say what to do, and lose nothing that the page still shows."""
    return render(request, "csrf.html", status=403)
