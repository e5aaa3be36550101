"""What a screen or the command line shows of a frame: its holes, pieces, edges, weights and what ground does to it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from sundial.errors import BriefError
from sundial.frames.kind import Hole, Structure, Unclosed
from sundial.frames.loads import Loosened, Thrust, loosened, thrusts
from sundial.frames.pieces import Piece
from sundial.plan.drilling import Drilling, OneProp, one_prop, where_to_drill
from sundial.quantities import FORCE, Units, format_length, rough_length, told_quantity

if TYPE_CHECKING:
    from sundial.scene import Scene
    from sundial.study import Study

LADDER = 2.0  # m: an upper edge over it is worked on from a ladder
SPLASH = 0.3  # m: a lower edge under it meets snow, splash and grass


@dataclass(frozen=True)
class Standing:
    """The frame at one tilt (``tilt`` degrees from level in the side view): edges m, true facing degrees, what an inclinometer
    reads on each part, and what happens when it is loosened."""

    hole: int
    tilt: float
    true_tilt: float
    true_azimuth: float
    lower_edge: float
    upper_edge: float
    readings: dict[str, float]
    set_by: dict[str, float]
    error: float
    loosened: Loosened | None


@dataclass(frozen=True)
class FrameReport:
    """``standings`` by tilt; ``unreached`` stretches of angle without a hole; ``twins``: holes of one tilt; ``unclosed``
    combinations; ``pieces``; ``moving_mass`` kg; ``thrusts`` of a jack by tilt, ``travel_seconds`` end to end; ``notes`` in words."""

    kind: str
    standings: list[Standing]
    unreached: list[tuple[float, float]]
    twins: list[tuple[int, int]]
    unclosed: list[Unclosed]
    pieces: list[Piece]
    moving_mass: float
    thrusts: list[Thrust]
    travel_seconds: float | None
    notes: list[str]


def frame_report(scene: Scene, units: Units = "metric") -> FrameReport:
    """The frame of a study, its notes in ``units``; BriefError where its brief does not say what it is built from."""
    structure, array = scene.structure, scene.array
    if structure is None:
        raise BriefError("frame", "is missing: say what the frame is built from")
    holes = _holes(scene, structure)
    length, facing = array.slope_length, scene.set_out
    mass = array.count * array.panel.mass + structure.mass
    standings = []
    for hole in holes:
        plane, low = hole.plane, structure.lower_edge(hole.tilt, length)
        high = structure.upper_edge(hole.tilt, length)
        if low < -1e-9:
            raise BriefError(
                "frame.overhang", f"at {hole.tilt:.1f} degrees the lower edge would stand {-low:.2f} m in the ground"
            )
        standings.append(
            Standing(
                hole.number, hole.tilt, plane.tilt, (facing + plane.turn) % 360, low, high, structure.readings(hole.tilt),
                hole.set_by, hole.error, loosened(structure, hole.tilt, length, mass),
            )
        )  # fmt: skip
    tilts = [hole.tilt for hole in holes]
    pushed, jack = thrusts(structure, tilts, length, mass), structure.jack
    seconds = jack.travel(structure.span) / jack.speed if jack and jack.speed and structure.span else None
    cut = structure.pieces(tilts if len(tilts) <= 12 or structure.span is None else tilts[:1], length, array.breadth)
    return FrameReport(
        scene.brief.frame.kind if scene.brief.frame else "", standings, structure.unreached, structure.twins, structure.unclosed,
        cut, mass, pushed, seconds, _notes(standings, structure, pushed, units),
    )  # fmt: skip


def _holes(scene: Scene, structure: Structure) -> list[Hole]:
    """The frame's own holes, or the mount's tilts where they are cut to."""
    if structure.says_tilts:
        return structure.holes
    fixed = scene.brief.mount.fixed_tilt
    wanted = [float(tilt) for tilt in scene.reachable] if fixed is None else [fixed]
    return [Hole(number, tilt, {}, structure.plane(tilt)) for number, tilt in enumerate(wanted, 1)]


def _notes(standings: list[Standing], structure: Structure, pushed: list[Thrust], units: Units) -> list[str]:
    notes = []

    def told(metres: float) -> str:
        return format_length(metres, units) if units == "us" else f"{metres:.2f} m"

    low, high = min(one.lower_edge for one in standings), max(one.upper_edge for one in standings)
    if low < SPLASH:
        notes.append(
            f"The lower edge comes down to {told(low)}: snow, splash and grass reach it under {format_length(SPLASH, units)}."
        )
    if high > LADDER:
        over = rough_length(LADDER, units) if units == "us" else format_length(LADDER)
        notes.append(f"The upper edge goes up to {told(high)}: over {over} is work from a ladder.")
    rated = structure.jack.thrust if structure.jack else None
    if rated is not None and pushed:
        worst = max(pushed, key=lambda one: abs(one.force))
        if abs(worst.force) > rated:
            notes.append(
                f"At {worst.tilt:.0f} degrees the weight alone asks {told_quantity(abs(worst.force), FORCE, units)}; the actuator is rated for "
                f"{told_quantity(rated, FORCE, units)}."
            )
    return notes


def drilling_report(study: Study, pitch: float, loss: float) -> Drilling:
    """Where to drill the bar of a study's frame for its plan: places ``pitch`` m apart, at most the share ``loss`` given away.
    BriefError for a frame without a bar."""
    bar = None if study.scene.structure is None else study.scene.structure.bar
    if bar is None:
        raise BriefError("frame.kind", "only a prop with holes, or a folding A-frame, has a bar to drill")
    return where_to_drill(
        study.surface(),
        study.constraints(),
        study.scene.site.latitude,
        study.brief.plan.settings,
        bar,
        pitch,
        loss,
        bar.bar_length,
    )


def other_prop(study: Study, pitch: float) -> OneProp | None:
    """The one prop, with two holes ``pitch`` m apart or a multiple of it, for the two tilts that a plan of two settings would choose
    among all whole degrees; None where it chooses one, where no prop does it, or for a folding A-frame."""
    bar = None if study.scene.structure is None else study.scene.structure.bar
    if bar is None or not bar.one_prop:
        return None
    wanted = sorted({stretch.tilt - bar.slope for stretch in study.plans(every_tilt=True).with_settings(2).stretches})
    if len(wanted) != 2 or wanted[0] <= 0:
        return None
    try:
        found = one_prop(bar.rail_points[0], (wanted[0], wanted[1]), pitch, bar.bar_length)
    except BriefError:
        return None
    return replace(found, tilts=(found.tilts[0] + bar.slope, found.tilts[1] + bar.slope))
