"""Which names are one person: look-alikes by compatibility and by case are; accents tell people apart."""

from __future__ import annotations

import unicodedata


def name_key(name: str) -> str:
    """What stands for a name: "Maren", "MAREN" and "ｍａｒｅｎ" have one, "zöe" and "zoe" two.

    Compatibility caseless matching (The Unicode Standard, section 3.13, D146).
    """
    return unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", name).casefold()).strip()


def name_in_logs(request: object, credentials: dict[str, str] | None = None) -> str:
    """The name under which tries are counted: its key in plain ASCII, so that no collation takes two people for one."""
    posted = getattr(request, "POST", {})
    name = (credentials or {}).get("username") or posted.get("username") or ""
    return name_key(str(name)).encode("ascii", "backslashreplace").decode()[:250]
