"""Signing in by name, whatever its case and width."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.backends import ModelBackend
from django.contrib.auth.models import User
from django.core.exceptions import PermissionDenied
from django.http import HttpRequest

from web.accounts.names import name_key


class NameBackend(ModelBackend):
    """Finds the person by the key of the name. What it refuses no other backend is asked."""

    def authenticate(
        self, request: HttpRequest | None, username: str | None = None, password: str | None = None, **kwargs: Any
    ) -> User | None:
        if username is None or password is None:
            return None
        user = User.objects.filter(account__name_key=name_key(username)).first()
        if user is None:
            User().set_password(password)  # as long as for a name that is there
        elif user.check_password(password) and self.user_can_authenticate(user):
            return user
        raise PermissionDenied
