"""Drawings of the wind: the frame blown at, the gust it stands at every tilt, the months, the footing and the beams."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, radians, tan
from typing import Any

from sundial.answers.beams.own import OwnBeam
from sundial.answers.beams.report import BeamReport
from sundial.answers.footing.report import FootingReport
from sundial.answers.wind.report import GustPoint, WindReport
from sundial.days import MONTH_NAMES
from sundial.frames.load_path import Member, Reaction
from sundial.quantities import FOOT, FORCE, POUND_FORCE, PRESSURE, Units, format_length, rough_length, told_quantity
from sundial.wind.standing import DIRECTIONS
from web.builds.drawing import Scale, Tick, nice_step, path, ticks
from web.builds.models import Build
from web.builds.results import Results
from web.frame.figures import SideView

LONGEST_ARROW = 72.0  # px: the greatest force of the drawing at the strongest gust
HIGHEST_MONTH = 58.0  # px
FROM = {"front": "from the front", "back": "from behind", "side": "along the row"}
FEET = {
    "fixing": "pulls a fixing out",
    "pulled": "pulls a foot out",
    "pushed": "pushes a foot over",
    "pressed": "presses a foot into the soil",
}
WAYS = {"tips": "tips over", "slides": "slides", "lifts": "lifts off", "breaks": "pulls its footing out", "never": "stands"}


def told_speed(speed: float | None, units: Units) -> str:
    """A gust as people read it: whole m/s or mph."""
    if speed is None:
        return "any gust"
    return f"{speed / 0.44704:.0f} mph" if units == "us" else f"{speed:.0f} m/s"


LETTERS = 14.0  # px that a line of words is high, with some room
FOOT_POUND = POUND_FORCE * FOOT  # Nm


@dataclass(frozen=True)
class Dot:
    """One tilt that the frame takes, on the curve."""

    x: float
    y: float
    tilt: float


@dataclass(frozen=True)
class Curve:
    """The gust that is stood at every tilt; ``months`` the lines of the year's gusts."""

    line: str
    area: str
    in_hand: str
    dots: list[Dot]
    tilts: list[Tick]
    gusts: list[Tick]
    band: tuple[float, float]
    band_text: str
    gust_y: float
    left: float
    right: float
    top: float
    base: float
    x0: float
    x_per_degree: float
    y_per_speed: float


def gust_curve(report: WindReport, units: Units) -> Curve:
    """The gust it stands against tilt, with the frame's holes on it and the year's gusts across it."""
    unit = 0.44704 if units == "us" else 1.0
    known = [point.gives_way for point in report.curve if point.gives_way is not None]
    most = max([report.gust, *report.months, *(min(gust, 1.6 * report.gust) for gust in known)]) / unit
    step = nice_step(most, 4)
    top = ceil(most / step) * step
    x, y = Scale(0, 90, 34, 330), Scale(0, top, 214, 14)

    def high(gust: float | None) -> float:
        return y(top if gust is None else min(gust / unit, top))

    line = [(x(point.tilt), high(point.gives_way)) for point in report.curve]
    return Curve(
        path(line),
        f"{path(line)}L{x.end} {y.start}L{x.start} {y.start}Z",
        path((x(point.tilt), high(point.allowed)) for point in report.curve),
        [Dot(x(point.tilt), high(point.gives_way), point.tilt) for point in report.own] if len(report.own) <= 24 else [],
        ticks(x, 15, "{:g}°"),
        ticks(y, step),
        (high(max(report.months)), high(min(report.months))),
        f"this place’s gusts, {min(report.months) / unit:.0f} to {max(report.months) / unit:.0f}"
        if report.months_told
        else "the strongest gust, of every month",
        high(report.gust),
        x.start,
        x.end,
        y.end,
        y.start,
        x.start,
        (x.end - x.start) / 90,
        (y.end - y.start) / top / unit,
    )


@dataclass(frozen=True)
class Forces:
    """What the strongest gust brings at every tilt: pressing and lifting square to the glass, and the upward part, kN or lbf."""

    pressing: str
    lifting: str
    uplift: str
    tilts: list[Tick]
    forces: list[Tick]
    left: float
    right: float
    labels: list[Words]


@dataclass(frozen=True)
class Words:
    """A label, px."""

    x: float
    y: float
    text: str


def force_curves(report: WindReport, units: Units) -> Forces:
    """Forces against tilt at the strongest gust."""
    unit = POUND_FORCE if units == "us" else 1000.0
    lines = {name: [getattr(point, name) / unit for point in report.curve] for name in ("pressing", "lifting", "uplift")}
    most = max(max(values) for values in lines.values())
    step = nice_step(most, 3)
    x, y = Scale(0, 90, 34, 330), Scale(0, ceil(most / step) * step, 134, 14)
    drawn = {name: path((x(tilt), y(value)) for tilt, value in enumerate(values)) for name, values in lines.items()}
    labels = [
        Words(x(88), y(lines["lifting"][80]) - 6, "lifts"),
        Words(x(88), y(lines["pressing"][70]) + 16, "presses"),
        Words(x(70), y(lines["uplift"][58]) + 14, "of it upward"),
    ]
    return Forces(
        drawn["pressing"], drawn["lifting"], drawn["uplift"], ticks(x, 15, "{:g}°"), ticks(y, step), x.start, x.end, labels
    )


def worst_fixing(report: WindReport) -> float:
    """The greatest pull of one foot or fixing, N."""
    return max((-reaction.down for one in report.loads for reaction in one.reactions), default=0.0)


@dataclass(frozen=True)
class Month:
    """One month: its gust, the highest tilt that is allowed in it, and what that costs."""

    number: int
    name: str
    letter: str
    height: float
    cap: float | None
    text: str
    gust: float
    price: float | None
    needs: bool
    on: bool

    @property
    def told(self) -> bool:
        """Whether its price is worth a number: a month may gain where a stretch now lies better for it."""
        return self.price is not None and abs(self.price) >= 0.05


def months_of(report: WindReport) -> list[Month]:
    """The twelve months with their caps; one ``needs`` a cap where the steepest tilt is not allowed."""
    high = max(report.steepest.tilt, *(cap or 0 for cap in report.caps), 1.0)
    steepest = max((cap for cap in report.caps if cap is not None), default=report.steepest.tilt)
    steepest = max(steepest, report.steepest.tilt - 0.01)
    found = []
    for index, cap in enumerate(report.caps):
        text = "none" if cap is None else f"{cap:.0f}°" if abs(cap - round(cap)) < 0.05 else f"{cap:.1f}°"
        found.append(
            Month(
                index + 1, MONTH_NAMES[index], MONTH_NAMES[index][0], round((cap or 0) / high * HIGHEST_MONTH, 1), cap, text,
                report.months[index], None if report.price is None else report.price.months[index],
                cap is None or cap < steepest - 0.01, index + 1 in report.in_plan,
            )
        )  # fmt: skip
    return found


def blow_data(report: WindReport, ballast: float, feet: tuple[tuple[float, float], ...]) -> dict[str, Any]:
    """What the browser needs to blow at the frame: by whole degree the forces for a told gust of 1 m/s, N, and the gusts at which it
    gives way from each direction."""
    square = report.gust**2
    by_direction = {
        name: [None if (gust := point.by_direction[index]) is None else round(gust, 2) for point in report.curve]
        for index, name in enumerate(DIRECTIONS)
    }
    side = report.curve[0]
    forces = {
        "front": [round(point.pressing / square, 4) for point in report.curve],
        "back": [round(point.lifting / square, 4) for point in report.curve],
        "side": [round(side.lifting / square, 4)] * len(report.curve),
    }
    most = max(max(forces["front"]), max(forces["back"])) * square
    return {
        "gives": by_direction,
        "ways": {name: [point.ways[index] for point in report.curve] for index, name in enumerate(DIRECTIONS)},
        "stands": [None if point.gives_way is None else round(point.gives_way, 2) for point in report.curve],
        "forces": forces,
        "scale": LONGEST_ARROW / most,
        "gust": report.gust,
        "factor": report.factor,
        "anchored": report.anchored,
        "ballast": ballast,
        "feet": [list(foot) for foot in feet],
    }


def told_feet(build: Build, results: Results, side: SideView) -> tuple[tuple[float, float], ...]:
    """The lines that it is told to stand on, px in the side view; none where its kind says them."""
    study = results.study
    front, back = build.wind.front_foot, build.wind.back_foot
    if front is None or back is None or side.built is None or study.scene.structure is None:
        return ()
    (x, y), scale = side.built.origin, side.built.scale
    fall = tan(radians(study.scene.structure.slope))
    return tuple((round(x + foot * scale, 1), round(y - foot * fall * scale, 1)) for foot in sorted((front, back)))


def headline(report: WindReport, units: Units) -> str:
    """The answer in a sentence."""
    low, high = report.flattest, report.steepest
    if report.fixings is not None:
        load = report.fixings
        held = f"one of its {load.count} fixings takes {_told(load.pull, units)} of pull and {_told(load.shear, units)} along"
        if report.driving is not None and report.driving.together > load.together:
            road = f"{_told(report.driving.pull, units)} of pull on the road"
            return f"One of its {load.count} fixings takes {road}, and {_told(load.pull, units)} standing at {told_speed(report.gust, units)}."
        if high.gives_way is None:
            return f"At {told_speed(report.gust, units)} {held}."
        return (
            f"Its fixings give way at {told_speed(weakest(report).gives_way, units)}: at {told_speed(report.gust, units)} {held}."
        )
    if report.foreign and high.gives_way is None:
        return f"At {told_speed(report.gust, units)} it pulls {_told(high.uplift, units)} up on the {report.carrier}."
    if high.gives_way is None and low.gives_way is None:
        return f"Anchored: at {told_speed(report.gust, units)} the wind asks {_told(high.level_force, units)} sideways of what holds it."
    worst = weakest(report)
    how = (
        f"{'Anchored' if report.anchored else 'Loose on the ground'} {_gives_way(worst)} at {told_speed(worst.gives_way, units)}"
    )
    if abs(high.tilt - low.tilt) < 0.5:
        return f"{how}."
    other = low if worst.tilt != low.tilt else high
    apart = f"at {told_speed(other.gives_way, units)}" if other.gives_way is not None else "in no gust"
    return f"{how} {_stood(worst, report)}, {apart} {_stood(other, report)}."


def _told(newtons: float, units: Units) -> str:
    return told_quantity(newtons, FORCE, units)


@dataclass(frozen=True)
class FixingRow:
    """What the worst fixing takes, in words for a table."""

    when: str
    at: str
    pull: str
    shear: str
    where: str
    margin: float | None


def fixing_rows(report: WindReport, units: Units) -> list[FixingRow]:
    """The worst fixing while it stands, and on the road."""
    found = []
    for load, when, speed in (
        (report.fixings, "standing", report.gust),
        (report.driving, "driving, against the wind", report.air_speed),
    ):
        if load is not None:
            at = f"{told_speed(speed, units)}, {load.tilt:.0f}°, {told_quantity(load.pressure, PRESSURE, units)}"
            found.append(FixingRow(when, at, _told(load.pull, units), _told(load.shear, units), load.line, load.margin))
    return found


def weakest(report: WindReport) -> GustPoint:
    """The tilt of its own at which the lowest gust makes it give way; the steeper of two alike."""
    return min(report.own, key=lambda one: (one.gives_way if one.gives_way is not None else float("inf"), -one.tilt))


def _gives_way(point: GustPoint) -> str:
    by_foot = {
        "fixing": "a fixing gives way",
        "pulled": "a foot is pulled out",
        "pushed": "a foot is pushed over",
        "pressed": "a foot is pressed in",
    }
    free = {"tips": "it tips", "slides": "it slides", "lifts": "it lifts off"}
    return by_foot.get(point.by_foot) or free.get(point.first, "it gives way")


def _stood(point: GustPoint, report: WindReport) -> str:
    """At which tilt that is, in words."""
    if point.tilt == report.steepest.tilt:
        return "when steep"
    return "when flat" if point.tilt < 3 else f"at {point.tilt:.0f}°"


def footing_trouble(footing: FootingReport | None, units: Units) -> str:
    """What a footing lacks that is told, in a sentence for the first line; empty where it is enough."""
    if footing is None or footing.enough is not False:
        return ""
    rows = footing.failing
    where = (
        ""
        if len(footing.rows) < 2
        else ", at every foot"
        if len(rows) == len(footing.rows)
        else f", at the {' and the '.join(rows)}"
    )
    return f"The footing is the weakest{where}: {footing.why}."


def drip_words(report: FootingReport, units: Units) -> str:
    """Where rain leaves the lower edge: a strip of gravel."""
    ends = [f"{rough_length(abs(end), units)} {'before' if end >= 0 else 'behind'}" for end in (report.drip[1], report.drip[0])]
    return f"Rain leaves the lower edge between {ends[0]} and {ends[1]} the front support: lay gravel there."


def stretch_words(months: list[Month]) -> str:
    """Months that need a cap, in words: ``November to March``; the year turns round."""
    wanted = [month.needs for month in months]
    if all(wanted):
        return "all year"
    starts = [i for i in range(12) if wanted[i] and not wanted[i - 1]]
    words = []
    for start in starts:
        past = next(i for i in range(start, start + 13) if not wanted[i % 12])
        first, last = MONTH_NAMES[start], MONTH_NAMES[(past - 1) % 12]
        words.append(first if first == last else f"{first} to {last}")
    return " and ".join(words)


@dataclass(frozen=True)
class FootingDrawing:
    """A foot in the ground, to scale: px."""

    x: float
    width: float
    ground: float
    depth: float
    needed: float | None
    frost: float | None
    needed_text: str
    depth_text: str
    frost_text: str
    width_text: str
    push: float
    scale_px: float
    scale_text: str

    @property
    def half(self) -> float:
        return self.width / 2

    @property
    def depth_y(self) -> float:
        """Where the depth is written: half-way down, clear of the line of the frost."""
        half = self.depth / 2
        return self.frost + LETTERS if self.frost is not None and abs(half - self.frost) < LETTERS else half


def footing_drawing(report: FootingReport, diameter: float, units: Units) -> FootingDrawing:
    """One foot from the side, with what it needs below ground and the frost."""
    buried = report.kind in ("post", "pier")
    depth = report.told_depth or report.depth or 0.0
    below = max(depth, report.depth or 0.0, report.frost, 0.4)
    scale = min(118 / below, 70 / max(report.load_height, 0.3), 90 / max(diameter, 0.1))
    ground, unit = 96.0, FOOT if units == "us" else 1.0
    step = nice_step(90 / scale / unit, 1)
    return FootingDrawing(
        110.0, round(max(diameter * scale, 5.0), 1), ground, round(depth * scale, 1) if buried else 0.0,
        round(report.depth * scale, 1) if buried and report.depth else None,
        round(report.frost * scale, 1) if report.frost else None,
        f"needs {rough_length(report.depth, units)}" if report.depth else "",
        rough_length(depth, units) if buried and report.told_depth else "",
        f"frost {rough_length(report.frost, units)}" if report.frost else "",
        format_length(diameter, units),
        round(report.load_height * scale, 1),
        round(step * unit * scale, 1),
        f"{step:g} {'ft' if units == 'us' else 'm'}",
    )  # fmt: skip


@dataclass(frozen=True)
class BeamDrawing:
    """A beam bent by its load: the sag drawn so many times too large."""

    beam: BeamReport
    number: int
    line: str
    limit: str
    times: int
    sag_text: str
    limit_text: str
    span_text: str
    longest_text: str
    ok: bool
    supports: list[float]
    beyond_text: str


def beam_drawing(beam: BeamReport, number: int, units: Units) -> BeamDrawing:
    """The bending line of its worst load, the sag drawn so many times too large; dashed as far as it may sag."""
    width, times = 250.0, 10
    (start, _), (end, _) = beam.line[0], beam.line[-1]
    scale = width / (end - start)
    deepest = max(abs(sag) for _, sag in beam.line) or 1.0

    def bent(by: float) -> str:
        down = min(deepest * by * times * scale, 40.0) / (deepest * by or 1.0)
        return path((10 + (at - start) * scale, 16 + sag * by * down) for at, sag in beam.line)

    def small(metres: float) -> str:
        return f"{metres / 0.0254:.2f} in" if units == "us" else f"{metres * 1000:.1f} mm"

    supports = [round(10 + (at - start) * scale, 1) for at in (0.0, beam.span)]
    beyond = [format_length(over, units) for over in beam.beyond if over]
    return BeamDrawing(
        beam, number, bent(1.0), bent(beam.limit / beam.deflection if beam.deflection else 1.0), times, small(beam.deflection),
        small(beam.limit), format_length(beam.span, units), rough_length(beam.max_span, units) if units == "us" else f"{beam.max_span:.2f} m", beam.margin >= 1,
        supports, " + ".join(beyond),
    )  # fmt: skip


@dataclass(frozen=True)
class OwnBeamRow:
    """A piece of the frame that may be taken as a beam."""

    number: int
    beam: OwnBeam
    beyond_text: str


def own_beam_rows(beams: Sequence[OwnBeam], units: Units) -> list[OwnBeamRow]:
    return [
        OwnBeamRow(number, one, " + ".join(format_length(round(over, 3), units) for over in one.beyond if over))
        for number, one in enumerate(beams)
    ]


def point_words(point: GustPoint, units: Units) -> str:
    """One tilt in words, for the table behind the drawing."""
    if point.first == "never":
        return WAYS["never"]
    return f"{FEET.get(point.by_foot, WAYS[point.first])}, wind {FROM[point.direction]}"


def parts_of(report: WindReport, units: Units) -> list[tuple[str, int, str, str]]:
    """What one of each part takes with the wind in front and behind: name, how many, and both in words."""
    if not report.loads:
        return []
    front, back = (next(one for one in report.loads if one.direction == name) for name in ("front", "back"))
    found = []
    for pressed, lifted in zip(front.members, back.members, strict=True):
        each = [_taken(member, units) for member in (pressed, lifted)]
        found.append((pressed.name, pressed.count, each[0], each[1]))
    for down, up in zip(front.reactions, back.reactions, strict=True):
        into = f"into the {report.carrier}" if "foot" in down.name and "actuator" not in down.name else "into what bears it"
        found.append((f"{down.name}, {into}", down.count, _pushed(down, units), _pushed(up, units)))
    return found


def _taken(member: Member, units: Units) -> str:
    if member.moment is not None:
        return f"{member.moment / FOOT_POUND:.0f} lbf ft" if units == "us" else f"{member.moment / 1000:.1f} kNm"
    force = member.force or 0.0
    told = told_quantity(abs(force), FORCE, units)
    if "bolt" in member.name:
        return f"{told} across"
    return f"{told} {'pressed' if force >= 0 else 'pulled'}"


def _pushed(reaction: Reaction, units: Units) -> str:
    way, along = "down" if reaction.down >= 0 else "up", "back" if reaction.level >= 0 else "forward"
    down, level = (told_quantity(abs(one), FORCE, units) for one in (reaction.down, reaction.level))
    return f"{down} {way}, {level} {along}"
