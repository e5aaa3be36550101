"""The recovery code: shown once, kept hashed, good for one new password."""

from __future__ import annotations

import re
import secrets

from django.contrib.auth.hashers import check_password, make_password
from django.contrib.auth.models import User

LETTERS = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ"  # nothing that is mistaken for something else
GROUPS, LONG = 5, 4  # 20 letters of 5 bits: 100 bits
SHOWN = "recovery-code"  # key of the session that carries it to the page that shows it


def new_code(user: User) -> str:
    """A new code for a person; the old one is void."""
    code = "-".join("".join(secrets.choice(LETTERS) for _ in range(LONG)) for _ in range(GROUPS))
    user.account.recovery = make_password(_bare(code))
    user.account.save(update_fields=["recovery"])
    return code


def is_code_of(user: User | None, typed: str) -> bool:
    """Whether this is the person's code; takes as long for a person who is not there."""
    held = user.account.recovery if user is not None else ""
    if not held:
        make_password(_bare(typed))
        return False
    return check_password(_bare(typed), held)


def _bare(code: str) -> str:
    return re.sub(r"[^0-9A-Z]", "", code.upper()[:100])
