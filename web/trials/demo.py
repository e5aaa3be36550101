"""A trial of a demo build: made up, and seeded."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
from django.db import transaction
from django.utils import timezone

from sundial.trials.design import Design
from sundial.trials.model import Repeat
from web.builds.models import Build
from web.builds.results import Results
from web.trials.models import Trial

TRIED = "Honey house"


def play(build: Build) -> None:
    """What was tried at a demo build; nothing where a trial is there."""
    with transaction.atomic():
        Build.objects.select_for_update().get(pk=build.pk)
        if build.name == TRIED and not Trial.objects.filter(build=build).exists():
            _tried(build, Results(build).bare.brief.panel.power, timezone.localdate())


def _tried(build: Build, power: float, today: date) -> None:
    """One panel washed beside one that was left: a day alike, then three days changed over half-way, one of them into the shade."""
    design = Design(differs="clean", arms=["left", "washed"], values=[0.0, 0.04], nameplate=[power, power], elsewhere=True)
    random = np.random.default_rng(9)
    repeats = []
    for number in range(7):
        day, side = today - timedelta(days=30 - number // 2), 0 if number == 0 else (-1 if number % 2 == 0 else 1)
        base = 720 + 40 * random.standard_normal()
        ratio = 1.009 * 1.041**side * (1 + 0.006 * random.standard_normal())
        told = {"a": round(base), "b": round(base * ratio), "hours": 2.2, "on": day, "alike": side == 0, "swapped": side < 0}
        repeats.append(Repeat(**told, stopped="shade" if number == 4 else ""))
    Trial.from_told(
        build, {"design": design.model_dump(mode="json"), "repeats": [one.model_dump(mode="json") for one in repeats]}
    )
