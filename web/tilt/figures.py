"""Drawings of the tilt plan."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from sundial.answers.plan.report import PlanReport, StretchCurve
from web.builds.drawing import Scale, Tick, month_ticks, path, ticks, year_pieces

Y_NINETY = Scale(0, 90, 272, 20)
X_YEAR = Scale(0, 365, 40, 548)


@dataclass(frozen=True)
class Box:
    """A rectangle, px."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class Words:
    """A label, px."""

    x: float
    y: float
    text: str


@dataclass(frozen=True)
class YearPicture:
    """The plan over the year."""

    noon: str
    ideal: str
    steps: list[str]
    bands: list[Box]
    slack: list[Box]
    labels: list[Words]
    angles: list[Tick]
    months: list[Tick]
    x: float
    left: float
    right: float
    noon_label: Words
    ideal_label: Words


def year_picture(plan: PlanReport, day: int, stepped: bool) -> YearPicture:
    """Noon sun, the best tilt of each day, the plan as steps with bands, and the window of each move."""
    x, y = X_YEAR, Y_NINETY
    stretches = plan.chosen.stretches
    bands, slack, labels = [], [], []
    for index, stretch in enumerate(stretches):
        pieces = year_pieces(stretch.start, stretch.days)
        for first, past in pieces:
            bands.append(_box(x(first), y(stretch.band[1]), x(past), y(stretch.band[0])))
        if plan.chosen.moves:
            for first, past in year_pieces(stretch.earliest, (stretch.latest - stretch.earliest) % 365 or 1):
                slack.append(_box(x(first), y.end, x(past), y.start))
        first, past = max(pieces, key=lambda piece: piece[1] - piece[0])
        wide = x(past) - x(first)
        if wide > 30:
            text = f"{stretch.tilt:.0f}°" if abs(stretch.tilt - round(stretch.tilt)) < 0.05 else f"{stretch.tilt:.1f}°"
            if stepped and wide > 75:
                text = f"hole {plan.reachable.index(stretch.tilt) + 1} · {text}"
            neighbour = stretches[index - 1].tilt if len(stretches) > 1 else 0
            above = stretch.tilt >= neighbour or stretch.tilt < 8
            middle = (x(first) + x(past)) / 2 if wide > 75 or len(stretches) > 2 else x(first) + wide / 2
            if abs(middle - x(day)) < 48 and wide > 150:  # out of the chosen day's line
                middle = x(day) + (-56 if x(day) - x(first) > wide / 2 else 56)
            labels.append(Words(middle, y(stretch.tilt) + (-7 if above else 17), text))
    peak = max(range(365), key=lambda d: plan.noon[d])
    noon_label = Words(min(max(x(peak), 90), 500), y(min(plan.noon[peak], 84)) - 7, "noon sun height")
    return YearPicture(
        path((x(d), y(min(max(plan.noon[d], 0), 90))) for d in range(0, 365, 2)),
        path((x(d), y(_smooth(plan.every_day.tilt_by_day, d))) for d in range(0, 365, 3)),
        _steps(plan),
        bands,
        slack,
        labels,
        ticks(y, 15, "{:g}°"),
        month_ticks(x),
        x(day),
        x.start,
        x.end,
        noon_label,
        _clear_of(
            [*labels, noon_label],
            _ideal_places(plan),
        ),
    )


def _ideal_places(plan: PlanReport) -> list[Words]:
    """Places for the label of the thin line, above it: those that the plan's own line does not cross, where there are any."""
    places = [
        (d, Words(X_YEAR(d), Y_NINETY(_smooth(plan.every_day.tilt_by_day, d)) - 8, "best each day")) for d in range(40, 330, 10)
    ]
    free = [words for day, words in places if not _crossed(plan, day, words)]
    return free or [words for _, words in places]


def _crossed(plan: PlanReport, day: int, words: Words) -> bool:
    """Whether the plan's steps or risers run through a label about 60 days wide that is centred on a day."""
    line = [Y_NINETY(tilt) for tilt in plan.chosen.tilt_by_day[day - 34 : day + 34]]
    pairs = zip(line, line[1:], strict=False)
    return any(min(pair) < words.y + 5 and max(pair) > words.y - 13 for pair in pairs)


def _clear_of(taken: list[Words], places: list[Words]) -> Words:
    """The place that is farthest from the labels already there; a label is about four times as wide as high."""

    def room(place: Words) -> float:
        return min(((place.x - other.x) / 4) ** 2 + (place.y - other.y) ** 2 for other in taken)

    return max(places, key=room)


def _smooth(tilts: tuple[float, ...], day: int) -> float:
    """Fortnight's mean: the best tilt of single days jumps with the weather."""
    return sum(tilts[(day + i) % 365] for i in range(-14, 15)) / 29


def _box(x0: float, y0: float, x1: float, y1: float) -> Box:
    return Box(round(x0, 1), round(y0, 1), round(x1 - x0, 1), round(y1 - y0, 1))


def _steps(plan: PlanReport) -> list[str]:
    """The plan as one line from January to December with upright risers at the moves."""
    tilts = plan.chosen.tilt_by_day
    points = [(X_YEAR(0), Y_NINETY(tilts[0]))]
    for day in range(1, 365):
        if tilts[day] != tilts[day - 1]:
            points += [(X_YEAR(day), Y_NINETY(tilts[day - 1])), (X_YEAR(day), Y_NINETY(tilts[day]))]
    points.append((X_YEAR(365), Y_NINETY(tilts[364])))
    return [path(points)]


@dataclass(frozen=True)
class Stem:
    """One number of settings in the gain curve."""

    settings: int
    x: float
    y: float
    on: bool
    pays: bool
    text: str


@dataclass(frozen=True)
class GainCurve:
    """Gain against the number of settings, with the ceiling; the chosen stem's label stands at ``on_x``, ``on_y``."""

    stems: list[Stem]
    base: float
    ceiling: float
    ceiling_text: str
    on_x: float
    on_y: float
    on_anchor: str


def gain_curve(plan: PlanReport, paying: int) -> GainCurve:
    y = Scale(0, max(plan.ceiling, 1e-6), 96, 24)
    x = Scale(1, 12, 9, 207)
    chosen = plan.chosen.settings
    stems = [
        Stem(
            p.settings,
            x(p.settings),
            y(max(p.share, 0)),
            p.settings == chosen,
            p.settings == paying,
            f"{p.share * 100:+.1f} %",
        )
        for p in plan.curve
    ]
    late = chosen > 8
    on_y = next((stem.y for stem in stems if stem.on), 96.0)
    return GainCurve(
        stems,
        96,
        y(plan.ceiling),
        f"a new tilt every day {plan.ceiling * 100:+.1f} %",
        x(chosen) + (-9 if late else 9),
        min(on_y + 16, 90),
        "end" if late else "start",
    )


def curve_chart(curve: StretchCurve) -> dict[str, Any]:
    """Energy against tilt of the chosen stretch, for the chart."""
    return {
        "tilts": list(curve.tilts),
        "energy": [round(value, 1) for value in curve.energy],
        "band": list(curve.band),
        "tilt": curve.tilt,
    }
