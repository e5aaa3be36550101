"""What a screen or the command line shows of the beams of a build."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, radians

import numpy as np

from sundial.answers.beams.own import OwnBeam, own_beams
from sundial.beams.bending import Load, bent, longest_span, margin, sag_line, side_by_side
from sundial.beams.sections import Duration, Section, heat_change, parse_section, sources
from sundial.brief.model import BeamBrief
from sundial.errors import BriefError
from sundial.footing.snow import ground_load, shape_coefficient
from sundial.frames.load_path import GRAVITY
from sundial.scene import Scene
from sundial.wind.pressure import velocity_pressure
from sundial.wind.site import air_of, gusts_of, own_tilts, rig_of
from sundial.wind.stance import stance
from sundial.wind.standing import pushes, standing

LIFTING = "wind lifting"
DRAWN = 20  # places of a field
MOST_MEMBERS = 4  # side by side, that a note looks for
HEAT = 50.0  # K between a winter night and black metal in the summer sun (the trade's figure)


@dataclass(frozen=True)
class BeamReport:
    """One beam at its worst load: ``deflection`` m against ``limit`` m, ``stress`` Pa against ``allowed`` Pa, ``margin`` the lesser of
    the two, ``max_span`` m; ``load`` N/m of what is worst, ``loads`` N/m of each kind by name; ``why``: which of both limits it.
    ``beyond`` m by which it reaches past its supports; ``free_end``: its sag is that of such an end; ``line``: m
    from its first support, and the sag there, m."""

    name: str
    section: str
    span: float
    spacing: float
    members: int
    deflection: float
    limit: float
    stress: float
    allowed: float
    margin: float
    max_span: float
    worst: str
    load: float
    loads: dict[str, float]
    why: str
    beyond: tuple[float, float] = (0.0, 0.0)
    free_end: bool = False
    carries: str = "glass"
    line: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class HeatGap:
    """How much longer a row of ``length`` m gets over ``kelvin``, m, and how much more than steel beside it."""

    material: str
    length: float
    kelvin: float
    change: float
    beside_steel: float


@dataclass(frozen=True)
class BeamsReport:
    """All ``beams``; ``notes`` on the worst; ``own``: pieces of the frame that may be taken as beams."""

    beams: tuple[BeamReport, ...]
    heat: tuple[HeatGap, ...]
    sources: tuple[str, ...]
    notes: tuple[str, ...] = ()
    own: tuple[OwnBeam, ...] = ()


def beams_report(scene: Scene) -> BeamsReport:
    """Every beam of a scene, and the heat gaps of its row. BriefError names the beam whose section is not known."""
    found = tuple(_beam(scene, beam, number) for number, beam in enumerate(scene.brief.beams))
    row = scene.array.breadth
    return BeamsReport(
        found, tuple(heat_gap(material, row, HEAT) for material in ("aluminium", "steel", "glass", "timber")), sources(),
        tuple(_notes(scene, found)), own_beams(scene),
    )  # fmt: skip


def heat_gap(material: str, length: float, kelvin: float) -> HeatGap:
    """What heat does to one length, and against steel of the same length."""
    change = heat_change(material, length, kelvin)
    return HeatGap(material, length, kelvin, change, abs(change - heat_change("steel", length, kelvin)))


def _beam(scene: Scene, beam: BeamBrief, number: int) -> BeamReport:
    try:
        single = parse_section(beam.section)
    except ValueError as error:
        raise BriefError(f"beams[{number}].section", str(error)) from None
    section = side_by_side(single, beam.members, beam.joined)
    floor = beam.carries == "floor"
    alone = [Load("its own weight", section.mass * GRAVITY, "permanent")] if floor else line_loads(scene, section, beam.spacing)
    loads = alone
    beside = beam.load + _stored(scene, beam, number)
    if beside:
        loads = [
            one
            if one.name == LIFTING
            else Load(f"{one.name}, and what it carries", one.per_metre + beside, _as_long(one.duration))
            for one in alone  # lifted while nothing lies there
        ]
    worst = min(loads, key=lambda load: margin(section, beam.span, load, beam.outdoors, beam.beyond))
    left = margin(section, beam.span, worst, beam.outdoors, beam.beyond)
    shape = bent(section, beam.span, worst.per_metre, beam.beyond)
    strained, allowed = shape.moment / section.modulus, section.allowed(worst.duration, beam.outdoors)
    far = "its free end bends too far" if shape.free_end else "it bends too far"
    why = far if shape.limit / max(shape.sag, 1e-12) <= allowed / max(strained, 1e-9) else "its material is strained too much"
    return BeamReport(
        beam.name, beam.section, beam.span, beam.spacing, beam.members, shape.sag, shape.limit, strained, allowed, left,
        longest_span(section, loads, beam.outdoors, beam.beyond), worst.name, worst.per_metre,
        {load.name: load.per_metre for load in loads}, why if left < 1 else "", beam.beyond, shape.free_end, beam.carries,
        _line(section, beam, worst.per_metre),
    )  # fmt: skip


def _line(section: Section, beam: BeamBrief, per_metre: float) -> tuple[tuple[float, float], ...]:
    """The bending line as it is drawn: both ends, both supports and some places between."""
    whole = sag_line(section, beam.span, per_metre, beam.beyond)
    field = [one for one in whole if 0 <= one[0] <= beam.span]
    return tuple(
        [one for one in whole if one[0] < 0] + field[:: len(field) // DRAWN] + [one for one in whole if one[0] > beam.span]
    )


def _notes(scene: Scene, found: Sequence[BeamReport]) -> list[str]:
    """What the worst beam lacks, and what would do."""
    if not found:
        return []
    number = min(range(len(found)), key=lambda at: found[at].margin)
    worst, beam = found[number], scene.brief.beams[number]
    if worst.margin >= 1:
        return [f"The worst of them is {worst.name}: it bears {worst.margin:.1f} times what comes, worst under {worst.worst}."]
    notes = [f"The worst of them is {worst.name}: it bears {worst.margin:.2f} of what comes under {worst.worst}; {worst.why}."]
    for members in range(beam.members + 1, MOST_MEMBERS + 1):
        more = _beam(scene, beam.model_copy(update={"members": members}), number)
        if more.margin >= 1:
            notes.append(f"{members} of them side by side bear {more.margin:.1f} times that.")
            break
    if worst.max_span > 0:
        notes.append(f"As it is, it may span {worst.max_span:.2f} m: one more support does it.")
    return notes


def _as_long(duration: Duration) -> Duration:
    """What is stored lies for months (medium; EN 1995-1-1:2004, table 2.2), whatever comes on top of it for a moment."""
    return "medium" if duration == "permanent" else duration


def _stored(scene: Scene, beam: BeamBrief, number: int) -> float:
    """Its share of what is stored, N/m: the whole spread evenly over the metres of all beams that carry it. BriefError where nothing is
    said to be stored."""
    if not beam.stored:
        return 0.0
    footing = scene.brief.footing
    if footing is None or footing.stored <= 0:
        raise BriefError(f"beams[{number}].stored", "nothing is said to be stored: give footing.stored, kg, or a load a metre")
    metres = sum(one.span * one.members for one in scene.brief.beams if one.stored)
    return footing.stored * GRAVITY * beam.members / metres


def line_loads(scene: Scene, section: Section, spacing: float) -> list[Load]:
    """Even loads square to the glass along a beam that carries ``spacing`` m of it, N/m: weight alone, with snow, with snow and wind
    pressing, and wind lifting against the weight. Each at the tilt of the mount that makes it greatest."""
    array, snow = scene.array, scene.brief.snow
    weight = array.panel.mass / array.panel.area * GRAVITY * spacing + section.mass * GRAVITY
    tilts = [float(tilt) for tilt in own_tilts(scene)]
    lean = [cos(radians(tilt)) for tilt in tilts]
    still = [weight * c for c in lean]
    ground = ground_load(snow.load, snow.depth) if snow else 0.0
    white = [
        shape_coefficient(tilt, snow.slides if snow else True) * ground * spacing * c * c
        for tilt, c in zip(tilts, lean, strict=True)
    ]
    found = [Load("weight", max(still), "permanent")]
    if ground:
        found.append(Load("weight and snow", max(a + b for a, b in zip(still, white, strict=True)), "medium"))
    if scene.brief.wind is not None:
        pressed, lifted = _wind(scene, tilts)
        down = [a + b + c * spacing for a, b, c in zip(still, white, pressed, strict=True)]
        up = [c * spacing - a for a, c in zip(still, lifted, strict=True)]
        found.append(Load("weight, snow and wind pressing" if ground else "weight and wind pressing", max(down), "short"))
        found.append(Load(LIFTING, max(max(up), 0.0), "short"))
    return found


def _wind(scene: Scene, tilts: list[float]) -> tuple[list[float], list[float]]:
    """Wind pressing and lifting at each tilt, Pa of glass, at the strongest gust."""
    rig, air, strongest = rig_of(scene), air_of(scene), gusts_of(scene).strongest
    speeds = standing(rig, air, np.array(tilts), refuse=False).speed_up
    pressed, lifted = [], []
    for tilt, speed in zip(tilts, speeds, strict=True):
        q = velocity_pressure(strongest * float(speed), air.density)
        blown = pushes(rig, air, stance(rig, tilt))
        pressed.append(blown["front"][0].normal / rig.area * q)
        lifted.append(blown["back"][0].normal / rig.area * q)
    return pressed, lifted
