"""Drawings of what it is worth."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from sundial.answers.worth.report import WorthReport
from web.builds.drawing import Scale, Tick, nice_step, spread, ticks


@dataclass(frozen=True)
class Mark:
    """One way in the drawing: filled when priced, hollow at the most it may cost when not."""

    x: float
    y: float
    label_x: float
    label_y: float
    anchor: str
    text: str
    kind: str

    @property
    def leader_y(self) -> float:
        """Where the line to its words ends: at the middle of their letters."""
        return round(self.label_y - 4, 1)


@dataclass(frozen=True)
class WorthPicture:
    """Extra kWh against extra cost, with the line of what it may cost."""

    marks: list[Mark]
    line: tuple[float, float, float, float]
    pays: str
    costs: list[Tick]
    gains: list[Tick]
    left: float
    right: float
    top: float
    base: float
    line_x: float
    line_y: float
    line_anchor: str


def worth_picture(worth: WorthReport) -> WorthPicture | None:
    """None where no way gives more than the base."""
    rows = [row for row in worth.comparison.rows if row.extra_kwh > 1]
    if not rows:
        return None
    per_kwh = worth.kwh_over_life
    most = max(max(r.extra_cost or 0, r.money.break_even_cost if r.extra_cost is None else 0) for r in rows) or 100.0
    top = max(r.extra_kwh for r in rows) * 1.12
    x, y = Scale(0, most * 1.1, 46, 440), Scale(0, top, 250, 24)
    points = []
    for row in rows:
        cost = row.extra_cost if row.extra_cost is not None else max(row.money.break_even_cost, 0)
        kind = "panels" if row.panels_only else "priced" if row.extra_cost is not None else "open"
        points.append(
            (
                x(max(cost, 0)),
                y(row.extra_kwh),
                (row.name.partition(": ")[2] or row.name).partition(" at the")[0] if row.panels_only else row.name,
                kind,
            )
        )
    places = spread([point[1] for point in points], 17, 34, 246)
    marks = []
    for (px, py, text, kind), ly in zip(points, places, strict=True):
        end = px > 250
        # Marks that stand close together share the place where their labels begin.
        near = [x for x, y, *_ in points if abs(x - px) < 50 and abs(y - py) < 40]
        short = text if len(text) < 30 else f"{text[:28]}…"
        marks.append(
            Mark(px, py, min(near) - 12 if end else max(near) + 12, round(ly + 4, 1), "end" if end else "start", short, kind)
        )
    reach = min(x.high, top * per_kwh) if per_kwh > 0 else 0.0
    end_kwh = reach / per_kwh if per_kwh > 0 else top
    line = (x(0), y(0), x(reach), y(end_kwh))
    pays = f"M{x(0)} {y(0)} L{x(reach)} {y(end_kwh)} L{x(reach)} {y.end} L{x(0)} {y.end} Z"
    step_x, step_y = nice_step(x.high, 5), nice_step(y.high, 4)
    places_on_line = [(x(reach * share), y(end_kwh * share)) for share in (0.72, 0.6, 0.85, 0.97, 0.5, 0.4, 0.32, 0.24)]
    line_x, line_y = next((place for place in places_on_line if _free(place, marks)), places_on_line[0])
    steep = line_x - LINE_WORDS < x.start  # no room to the left of it
    if steep:
        line_x, line_y = line[2] + 10, line[3] + 12
    return WorthPicture(
        marks, line, pays, ticks(x, step_x), ticks(y, step_y), x.start, x.end, y.end, y.start, line_x, line_y,
        "start" if steep else "end",
    )  # fmt: skip


LETTER, LINE, LINE_WORDS = 6.6, 15.0, 140.0  # drawing units: a letter's width, a line's height, the width of the line's own words


def _free(place: tuple[float, float], marks: list[Mark]) -> bool:
    """Whether the line's own words, which end at ``place``, stand clear of every mark and its words."""
    left, right = place[0] - LINE_WORDS, place[0]
    for mark in marks:
        width = len(mark.text) * LETTER
        start = mark.label_x - width if mark.anchor == "end" else mark.label_x
        words = start < right and start + width > left and abs(mark.label_y - place[1]) < LINE
        itself = left - 8 < mark.x < right + 8 and abs(mark.y - place[1]) < LINE
        if words or itself:
            return False
    return True


def swing_chart(worth: WorthReport) -> dict[str, Any]:
    """What the verdict hangs on, for the chart."""
    return {
        "rows": [
            {"name": s.name, "low": s.low, "high": s.high, "npvLow": round(s.npv_low, 1), "npvHigh": round(s.npv_high, 1)}
            for s in worth.swings[:8]
        ],
        "base": round(worth.verdict.focus.money.npv or 0, 1) if worth.verdict.focus else 0,
    }
