"""The signs of a played day, whole played cases by the hundred, and how the interview fares on them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from sundial.diagnosis.case import season_of
from sundial.diagnosis.faults import CAUSES
from sundial.diagnosis.plant import PlayedDay, Yard, play, yard_of
from sundial.diagnosis.rules import Season, judged, next_questions, priors, settled
from sundial.diagnosis.signs import Curve, sign_of_amps, sign_of_look, sign_of_volts, signs_of_curve
from sundial.study import Study


def signs_of_played(day: PlayedDay) -> dict[str, str]:
    """What the monitor and the hand meter say of a played day."""
    curve = Curve(day.unix, day.measured, day.expected)
    found = signs_of_curve(curve, day.joined)
    found["look"] = sign_of_look(float(day.expected[day.look]), float(day.expected.max()))
    found["volts"] = sign_of_volts(day.volts, day.joined.blocks, day.joined.panels)
    found["amps"] = sign_of_amps(day.amps, day.joined.strings)
    return found


def cases(
    studies: Sequence[Study], count: int, seed: int, evenly: bool = False, every: int = 1
) -> Iterator[tuple[Study, PlayedDay, Season]]:
    """``count`` played days of these builds, each with one hidden cause: drawn as often as the season has it, or all alike (``evenly``). A fifth
    of the days that cloud does not spoil have clouds of their own. ``every``: days of the year from one that may be played to the next."""
    random = np.random.default_rng(seed)
    yards: dict[tuple[int, date], Yard] = {}
    for _ in range(count):
        study = studies[int(random.integers(len(studies)))]
        day = date(2026, 1, 1) + timedelta(days=every * int(random.integers(365 // every)))
        season = season_of(study.scene, day)
        chance = priors(season)
        if evenly:
            chance = (chance > 0) / (chance > 0).sum()
        cause = CAUSES[int(random.choice(len(CAUSES), p=chance))]
        if (id(study), day) not in yards:
            yards[id(study), day] = yard_of(study, day)
        sky = "clear" if random.uniform() < 0.8 else "broken"
        yield study, play(yards[id(study), day], [cause], int(random.integers(2**31)), sky), season


@dataclass(frozen=True)
class Interviewed:
    """How an interview went: the cause ``hidden``, the three likeliest named after it, ``asked`` questions, and at each step the probability of the
    likeliest with whether it was right."""

    hidden: str
    named: tuple[str, ...]
    asked: tuple[str, ...]
    steps: tuple[tuple[float, bool], ...]


def interviewed(day: PlayedDay, season: Season, most: int = 6) -> Interviewed:
    """Judge a played day and ask, as the screen does, until one suspect is sure or ``most`` questions are asked."""
    evidence = signs_of_played(day)
    asked: list[str] = []
    steps: list[tuple[float, bool]] = []
    while True:
        found = judged(evidence, season)
        top = found.suspects[0]
        steps.append((top.probability, top.cause.key == day.causes[0]))
        questions = () if settled(found) or len(asked) >= most else next_questions(found, evidence)
        if not questions:
            named = tuple(one.cause.key for one in found.suspects[:3])
            return Interviewed(day.causes[0], named, tuple(asked), tuple(steps))
        key = questions[0].question.key
        evidence[key] = day.answers[key]
        asked.append(key)
