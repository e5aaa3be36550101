"""Tries that failed are counted, and told to the owner of the name at the next sign-in."""

from __future__ import annotations

from typing import Any

from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.contrib import messages
from django.contrib.auth.models import User
from django.contrib.auth.signals import user_logged_in, user_login_failed
from django.db.models import F
from django.db.models.signals import post_delete
from django.dispatch import receiver
from django.http import HttpRequest
from django.utils import timezone

from web.accounts.models import Account
from web.accounts.names import name_in_logs, name_key
from web.accounts.throttle import FAILED_SIGN_INS, address_of

WORTH_TELLING = 3  # tries: fewer are one's own typing


@receiver(user_login_failed)
def _count(sender: Any, credentials: dict[str, Any], request: HttpRequest | None = None, **kwargs: Any) -> None:
    if request is not None:
        FAILED_SIGN_INS.add(address_of(request))
    key = name_key(str(credentials.get("username") or ""))
    Account.objects.filter(name_key=key).update(failed=F("failed") + 1, failed_at=timezone.now())


@receiver(user_logged_in)
def _tell(sender: Any, request: HttpRequest, user: User, **kwargs: Any) -> None:
    account = Account.objects.filter(user=user).first()
    if account is None or not account.failed:
        return
    if account.failed >= WORTH_TELLING and account.failed_at:
        when = f"{account.failed_at:%d %B, %H:%M} UTC".lstrip("0")
        messages.warning(
            request,
            f"Since your last sign-in a wrong password was tried {account.failed} times under your name, last on {when}. "
            "If that was not you, change your password.",
        )
    Account.objects.filter(pk=account.pk).update(failed=0, failed_at=None)


@receiver(post_delete, sender=User)
def _forget(sender: Any, instance: User, **kwargs: Any) -> None:
    """The log of sign-ins goes with the account."""
    name = name_in_logs(None, {"username": instance.username})
    for log in (AccessAttempt, AccessFailureLog, AccessLog):
        log.objects.filter(username=name).delete()
