"""The demo: an original put together from what each station brings, and a copy of it for every visitor. All of it is made up."""

from __future__ import annotations

import json
import secrets
from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from sundial.brief.read import FORMAT, VERSION, brief_of
from web.accounts.models import Account
from web.builds import registry
from web.builds.briefs import build_from_brief
from web.builds.models import Build, StoredResult

ORIGINAL = "demo-original"
VISITOR = "demo-visitor-"
LIFE = timedelta(days=1)  # of a visitor's copy


@dataclass(frozen=True)
class DemoBuild:
    """How a demo build is shown."""

    name: str
    where: str
    currency: str
    units: str
    day: int


BUILDS = (
    DemoBuild("Honey house", "Sorrel Hill", "€", "metric", 315),
    DemoBuild("Kiln pergola", "Tern Bay", "$", "metric", 171),
    DemoBuild("Lookout pole", "Cinder Mesa", "$", "us", 79),
    DemoBuild("Goat trailer", "Fennel Flat", "€", "metric", 183),
)


def demo_brief(name: str) -> dict[str, Any]:
    """The brief of a demo build as data."""
    return {"format": FORMAT, "version": VERSION, "name": name, **registry.demo_builds()[name]}


def _made_from(brief: dict[str, Any]) -> UUID:
    """The key of the original build that is made from a brief: another brief, another key."""
    return uuid5(NAMESPACE_URL, json.dumps(brief, sort_keys=True))


def is_reserved(name: str) -> bool:
    """Whether a name belongs to the demo."""
    return name == "demo" or name.startswith("demo-")


def ensure_demo() -> User:
    """The original, with the builds as they ought to be: what is missing is made, and what another version made otherwise is made
    anew. Nobody signs in as it."""
    user, new = get_user_model().objects.get_or_create(username=ORIGINAL, defaults={"first_name": "Ines"})
    if new:
        user.set_unusable_password()
        user.save()
    keys = {shown: _made_from(demo_brief(shown.name)) for shown in BUILDS}
    Build.objects.filter(owner=user, demo=True).exclude(creation_key__in=keys.values()).delete()
    have = set(Build.objects.filter(owner=user, demo=True).values_list("creation_key", flat=True))
    for shown, key in keys.items():
        if key not in have:
            about = {"where": shown.where, "currency": shown.currency, "units": shown.units}
            build_from_brief(user, brief_of(demo_brief(shown.name)), key, demo=True, chosen_day=shown.day, **about)  # type: ignore[arg-type]
    return user


@transaction.atomic
def new_visitor() -> User:
    """A passing visitor with an own copy of the demo, what is worked out for it included."""
    original = ensure_demo()
    user = User(username=f"{VISITOR}{secrets.token_hex(8)}", first_name="Ines")
    user.set_unusable_password()
    user.save()
    Account.objects.filter(user=user).update(demo_until=timezone.now() + LIFE)
    for build in Build.objects.of(original).order_by("pk"):
        twin = build.copy(owner=user, name=build.name)
        stored = StoredResult.objects.filter(build=build).only("kind", "digest", "payload")
        StoredResult.objects.bulk_create(
            [StoredResult(build=twin, kind=one.kind, digest=one.digest, payload=one.payload) for one in stored]
        )
    return user
