"""Drawings of the wiring: the strings on the array, and their voltages between the limits of the input."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from sundial.answers.electrics.report import ElectricsReport, cable_path
from sundial.cutting.longer import longer_numbers
from web.builds.drawing import Scale, spread
from web.builds.results import Results


@dataclass(frozen=True)
class PanelDrawn:
    """A panel of the wiring's drawing."""

    number: int
    x: float
    y: float
    width: float
    height: float
    string: int

    @property
    def bottom(self) -> float:
        return round(self.y + self.height, 1)


@dataclass(frozen=True)
class LeadDrawn:
    """The cable from panel to panel, and whether the leads fall short."""

    d: str
    short: bool


@dataclass(frozen=True)
class WiringDrawn:
    """The array from the front with its strings: panels, leads, and where plus and minus leave."""

    panels: list[PanelDrawn]
    leads: list[LeadDrawn]
    poles: list[tuple[float, float, str]]
    width: float
    height: float


def wiring_drawn(
    results: Results,
    report: ElectricsReport,
    strings: Sequence[Sequence[int]] | None = None,
    numbers: Sequence[Sequence[int]] | None = None,
) -> WiringDrawn:
    """The wiring as it is, or other ``strings`` instead, on a longer array of panels with these ``numbers``, lowest row first."""
    array, label = results.study.scene.array, results.brief.electrics
    if numbers:
        array = replace(array, rows=len(numbers), columns=len(numbers[0]))
    else:
        numbers = longer_numbers(array.rows, array.columns, 0, 0, "up")
    place_of = {number: (row, column) for row, line in enumerate(numbers) for column, number in enumerate(line)}
    wide, high = (array.panel.width, array.panel.length) if array.portrait else (array.panel.length, array.panel.width)
    scale = min(330 / array.breadth, 190 / array.slope_length)
    w, h, gap = wide * scale, high * scale, 0.02 * scale

    def corner(number: int) -> tuple[float, float]:
        row, column = place_of[number]
        return 14 + column * (w + gap), 14 + (array.rows - 1 - row) * (h + gap)

    shown = strings if strings is not None else report.strings
    of = {panel: which for which, string in enumerate(shown) for panel in string}
    panels = [
        PanelDrawn(
            number, round(corner(number)[0], 1), round(corner(number)[1], 1), round(w, 1), round(h, 1), of.get(number, 0) % 6
        )
        for number in sorted(place_of)
    ]
    short = {(joint.start, joint.end) for joint in report.joints if joint.extension} if strings is None else set()
    leads: list[LeadDrawn] = []
    poles: list[tuple[float, float, str]] = []
    for string in shown:
        path = cable_path(label, string) if label else list(string)
        middles = [(corner(number)[0] + w / 2, corner(number)[1] + h * 0.3) for number in path]
        for place, (one, other) in enumerate(zip(middles, middles[1:], strict=False)):
            bend = f"Q{(one[0] + other[0]) / 2:.1f} {min(one[1], other[1]) - 10:.1f} {other[0]:.1f} {other[1]:.1f}"
            leads.append(LeadDrawn(f"M{one[0]:.1f} {one[1]:.1f}{bend}", (path[place], path[place + 1]) in short))
        ends = [(middles[0], "+"), (middles[-1], "−")] if len(middles) > 1 else [(middles[0], "±")]
        poles += [(round(x, 1), round(y + 4, 1), sign) for (x, y), sign in ends]
    return WiringDrawn(panels, leads, poles, round(array.breadth * scale + 28, 1), round(array.slope_length * scale + 28, 1))


@dataclass(frozen=True)
class Mark:
    """One voltage on the scale."""

    y: float
    text: str
    value: str
    over: bool


@dataclass(frozen=True)
class Thermometer:
    """Voltages of the string between the limits of its input."""

    window_y: float
    window_height: float
    limit_y: float
    limit_text: str
    low_text: str
    high_text: str
    high_y: float
    low_y: float
    bar_y: float
    bar_height: float
    marks: list[Mark]


def thermometer(results: Results, report: ElectricsReport) -> Thermometer | None:
    """None where nothing is told of the input."""
    label = results.brief.electrics
    if label is None or label.input is None or results.brief.wiring.kind == "own":
        return None
    (low, high), bears = label.input.window, label.input.max_voltage
    y = Scale(0, max(bears, report.cold_voltage) * 1.08, 232, 12)
    cold, hot = report.cold_voltage, report.hot_voltage
    places = spread([y(cold), y(hot), y(bears)], 18, 14, 230)
    marks = [
        Mark(places[0], "coldest morning, open", f"{cold:.0f} V", cold > bears),
        Mark(places[1], "hottest noon, at work", f"{hot:.0f} V", not low <= hot <= high),
    ]
    return Thermometer(
        y(high), round(y(low) - y(high), 1), y(bears), f"bears {bears:g} V", f"from {low:g} V", f"to {high:g} V", y(high), y(low),
        y(cold), round(232 - y(cold), 1), marks,
    )  # fmt: skip
