"""The demo account and its builds, put together from what each station brings. Everything in them is made up."""

from dataclasses import dataclass
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.models import User

from sundial.brief.read import FORMAT, VERSION, brief_of
from web.builds import registry
from web.builds.briefs import build_from_brief
from web.builds.models import Build

NAME = "demo"


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
)


def demo_brief(name: str) -> dict[str, Any]:
    """The brief of a demo build as data."""
    return {"format": FORMAT, "version": VERSION, "name": name, **registry.demo_builds()[name]}


def ensure_demo() -> User:
    """The demo user with the builds it ought to have; what a visitor changed in them stays changed."""
    user, new = get_user_model().objects.get_or_create(username=NAME, defaults={"first_name": "Ines"})
    if new:
        user.set_unusable_password()
        user.save()
    have = set(Build.objects.filter(owner=user, demo=True).values_list("name", flat=True))
    for shown in BUILDS:
        if shown.name not in have:
            about = {"where": shown.where, "currency": shown.currency, "units": shown.units}
            build_from_brief(user, brief_of(demo_brief(shown.name)), demo=True, chosen_day=shown.day, **about)  # type: ignore[arg-type]
    return user
