"""The trainer: invented days of invented builds with one or two hidden causes, to be named with few checks."""

from __future__ import annotations

import json
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cache, cached_property
from importlib.resources import files
from typing import Any

import numpy as np

from sundial.brief.read import brief_of
from sundial.diagnosis.case import season_of
from sundial.diagnosis.faults import CAUSES
from sundial.diagnosis.plant import PlayedDay, play, yard_of
from sundial.diagnosis.played import signs_of_played
from sundial.diagnosis.rules import Judged, Season, judged, priors, rule_base
from sundial.errors import BriefError
from sundial.study import Study, studied

METER = ("volts", "amps")  # what the hand meter says costs a check; the curve is free
METER_MINUTES = 4.0
GAVE_AWAY = 3
LABEL = {
    "voc": 37.2, "isc": 14.2, "vmp": 31.1, "imp": 13.85, "beta": -0.0027,
    "input": {"max_voltage": 600, "window": [80, 500], "max_current": 16},
}  # fmt: skip


@dataclass(frozen=True)
class Level:
    """How hard: its ``causes``, how many are ``hidden``, and how often clouds pass before them."""

    number: int
    name: str
    words: str
    causes: tuple[str, ...]
    hidden: int
    clouds: float


@cache
def _told() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((files("sundial.diagnosis") / "data" / "exercises.json").read_text("utf-8"))
    return found


@cache
def levels() -> tuple[Level, ...]:
    """The levels from 1. Source: data/exercises.json."""
    return tuple(
        Level(number, one["name"], one["words"], tuple(one["causes"]), one["hidden"], one["clouds"])
        for number, one in enumerate(_told()["levels"], 1)
    )


@cache
def _study(number: int) -> Study:
    one = _told()["builds"][number]
    return studied(
        brief_of(
            {
                "format": "crooked-sundial-brief", "version": 1, "name": one["name"], "electrics": LABEL, "sky": {"kind": "world"},
                "site": {key: one[key] for key in ("latitude", "longitude", "elevation", "timezone")},
                "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034, "blocks": 3},
                "array": {"rows": one["rows"], "columns": one["columns"], "azimuth": one["azimuth"], "clearance": 0.5},
                "mount": {"kind": "fixed", "tilt": one["tilt"]},
            }
        )
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class Exercise:
    """One invented day: of a level and a seed, the same ever again."""

    level: Level
    seed: int
    study: Study
    day: PlayedDay
    season: Season

    @cached_property
    def signs(self) -> dict[str, str]:
        """What the curve and the meter say."""
        return signs_of_played(self.day)

    @property
    def curve_signs(self) -> dict[str, str]:
        """What the curve alone says, which lies open from the start."""
        return {name: value for name, value in self.signs.items() if name not in METER}

    def evidence(self, asked: Collection[str]) -> dict[str, str]:
        """The curve and what these checks brought."""
        found = self.curve_signs
        for name in asked:
            found |= self.answer(name)
        return found

    def answer(self, check: str) -> dict[str, str]:
        """What a check brings: ``meter`` or a question's key. BriefError for a check that is not known."""
        if check == "meter":
            return {name: self.signs[name] for name in METER}
        if check not in rule_base().questions:
            raise BriefError("check", f"{check!r} is not a check")
        return {check: self.day.answers[check]}

    def minutes(self, asked: Collection[str]) -> float:
        """What these checks cost."""
        return sum(METER_MINUTES if name == "meter" else rule_base().questions[name].minutes for name in asked)

    def judged(self, asked: Collection[str]) -> Judged:
        """What the rule base makes of it after these checks."""
        return judged(self.evidence(asked), self.season)

    def hits(self, named: Sequence[str]) -> int:
        """How many of the hidden causes are among those named."""
        return len(set(named) & set(self.day.causes))

    def gave_away(self, cause: str) -> tuple[str, ...]:
        """What speaks most for a hidden cause, of the curve and of every check, strongest first."""
        base, prior = rule_base(), priors(self.season)
        place = CAUSES.index(cause)
        every = self.evidence(["meter", *base.questions])
        told = []
        for name, value in every.items():
            under = base.likelihood[name][value]
            told.append((float(under[place] / max(float((under * prior).sum()), 1e-9)), base.words(name, value)))
        told.sort(key=lambda pair: -pair[0])
        return tuple(words for ratio, words in told[:GAVE_AWAY] if ratio > 1.2)


def exercise(level: int, seed: int) -> Exercise:
    """The exercise of a level and a seed. BriefError for a level that is not there."""
    if not 1 <= level <= len(levels()):
        raise BriefError("level", f"must be from 1 to {len(levels())}")
    chosen = levels()[level - 1]
    random = np.random.default_rng([level, seed])
    study = _study(int(random.integers(len(_told()["builds"]))))
    day = date(2026, 1, 1) + timedelta(days=int(random.integers(365)))
    season = season_of(study.scene, day)
    possible = [cause for cause in chosen.causes if cause not in season.impossible]
    if season.temperature != "cold":
        possible = [cause for cause in possible if cause != "snow"]
    causes = [str(cause) for cause in random.choice(possible, chosen.hidden, replace=False)]
    sky = "broken" if random.uniform() < chosen.clouds else "clear"
    return Exercise(chosen, seed, study, play(yard_of(study, day), causes, seed, sky, certain=True), season)
