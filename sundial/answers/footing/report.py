"""What a screen or the command line shows of the footing: loads of each foot, what it needs, and whether what is there is enough."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite, pi

from sundial.brief.model import FootingBrief
from sundial.errors import BriefError
from sundial.footing.capacity import NOTHING, bearing_soil, feet_on_line, load_height
from sundial.footing.posts import depth_needed, lateral_capacity, pier_weight
from sundial.footing.settling import Settling, remedy, settling
from sundial.footing.snow import SLIDES, ground_load, pile_height
from sundial.footing.soils import concrete_weight, soil_named, source
from sundial.quantities import FORCE, PRESSURE, Units, fine_length, rough_length, told_quantity
from sundial.scene import Scene
from sundial.wind.held import feet_in_all, foot_capacity, resting_by_row, snow_load
from sundial.wind.members import feet_pressures, load_paths
from sundial.wind.site import air_of, assumed_structure, gusts_of, own_tilts, rig_of, wind_of
from sundial.wind.stance import stance
from sundial.wind.standing import pushes, standing

GRAVEL_STRIP = 0.3  # m to each side of where rain falls from the lower edge (thumb)


@dataclass(frozen=True)
class FootLoad:
    """One foot, at the tilt and with the wind that ask most of it, N: ``down`` with snow and what is stored, ``up`` pulled, ``level``
    pushed."""

    down: float
    up: float
    level: float
    feet: int


@dataclass(frozen=True)
class RowOfFeet:
    """One row of ``load.feet`` feet, by ``name``, at what asks most of it; ``depth``, ``bearing`` and ``uplift_margin`` as of a
    :class:`FootingReport`."""

    name: str
    load: FootLoad
    bearing: float | None
    uplift_margin: float | None
    depth: float | None


@dataclass(frozen=True)
class FootingReport:
    """``depth`` m that a post or pier needs, the most of ``lateral``, ``uplift`` and ``frost`` (None: not a thing in the ground).
    ``bearing`` Pa under a foot (None: a screw) against ``allowed`` (None: nothing presumed); ``uplift_margin``: what holds it down over what pulls (None:
    nothing pulls). ``enough``: None where it is not told how deep it is. ``why`` in a sentence. ``drip`` m before the front support
    where rain leaves the lower edge, from and to. ``failing``: names of the rows whose own load the footing does not hold."""

    kind: str
    load: FootLoad
    load_height: float
    bearing: float | None
    allowed: float | None
    uplift_margin: float | None
    depth: float | None
    lateral: float | None
    uplift: float | None
    frost: float
    told_depth: float | None
    level_capacity: float | None
    enough: bool | None
    why: str
    soil: str
    snow_on_glass: float
    snow_pile: float
    drip: tuple[float, float]
    settling: tuple[Settling, ...]
    notes: tuple[str, ...]
    sources: tuple[str, ...]
    rows: tuple[RowOfFeet, ...] = ()
    remedy: str = ""
    failing: tuple[str, ...] = ()


def footing_report(scene: Scene, units: Units = "metric") -> FootingReport:
    """The footing of a scene, its words in ``units``. BriefError where its brief tells none, or the soil bears nothing."""
    footing = _footing_of(scene)
    soil, by_row = bearing_soil(footing) if footing.kind != "ballast" else soil_named(footing.soil), row_loads(scene)
    load = _of_worst(scene, by_row)
    allowed = None if footing.fresh_fill or footing.kind == "screw" else soil.bearing
    needs = _needs(scene, load)
    enough, why = _verdict(scene, load, needs.depth, needs.margin, needs.bearing, allowed, wind_of(scene).factor, units)
    rows, failing = [], []
    for name, each in by_row.items():
        own = _needs(scene, each)
        if _verdict(scene, each, own.depth, own.margin, own.bearing, allowed, wind_of(scene).factor, units)[0] is False:
            failing.append(name)
        rows.append(RowOfFeet(name, each, own.bearing, own.margin, own.depth))
    capacity = needs.capacity
    return FootingReport(
        footing.kind, load, load_height(scene), needs.bearing, allowed, needs.margin, needs.depth, needs.lateral, needs.uplift,
        footing.frost_depth, footing.depth, capacity if capacity is None or isfinite(capacity) else None, enough, why, soil.say,
        *_snow(scene), _drip(scene), tuple(_settled(scene)), tuple(_notes(scene, load, units)),
        (source(), "post formula: IBC 1807.3.2.1, unconstrained"), tuple(rows),
        remedy([(one.date, one.levels) for one in footing.levels], footing.thread, units), tuple(failing),
    )  # fmt: skip


@dataclass(frozen=True)
class _Needs:
    """What a foot under a load needs, as in a report, and what it holds sideways as deep as it is, N."""

    lateral: float | None
    uplift: float | None
    depth: float | None
    capacity: float | None
    margin: float | None
    bearing: float | None


def _needs(scene: Scene, load: FootLoad) -> _Needs:
    footing = _footing_of(scene)
    soil, area, weight, height = soil_named(footing.soil), pi / 4 * footing.diameter**2, 0.0, load_height(scene)
    lateral = uplift = depth = margin = capacity = None
    if footing.kind in ("post", "pier") and soil.lateral is not None:
        lateral = depth_needed(load.level, footing.diameter, height, soil.lateral)
        uplift = load.up * wind_of(scene).factor / (area * concrete_weight())
        depth = max(lateral, uplift, footing.frost_depth)
        as_dug = footing.depth or depth
        weight = pier_weight(as_dug, footing.diameter)
        capacity = lateral_capacity(as_dug, footing.diameter, height, soil.lateral)
        margin = weight / load.up if load.up > 0 else None
    elif footing.kind == "screw":
        held = foot_capacity(scene)
        margin = held.up / load.up if held is not None and load.up > 0 else None
    bearing = None if footing.kind == "screw" else (load.down + weight) / area  # a screw has no area: its maker rates it
    return _Needs(lateral, uplift, depth, capacity, margin, bearing)


def _footing_of(scene: Scene) -> FootingBrief:
    if scene.brief.footing is None:
        raise BriefError("footing", "is missing: say what stands in, or on, the ground")
    return scene.brief.footing


def foot_load(scene: Scene) -> FootLoad:
    """What one foot bears at the worst of the mount's tilts, of the wind's directions and of all gusts up to the strongest."""
    return _of_worst(scene, row_loads(scene))


def _of_worst(scene: Scene, rows: dict[str, FootLoad]) -> FootLoad:
    """The most that a foot of any row bears."""
    down, up, level = (max(getattr(row, way) for row in rows.values()) for way in ("down", "up", "level"))
    return FootLoad(down, up, level, feet_in_all(scene))


def row_loads(scene: Scene) -> dict[str, FootLoad]:
    """The same of a foot of each row, front first, with how many stand in it."""
    rig, air, footing = rig_of(scene), air_of(scene), scene.brief.footing
    tilts, strongest = own_tilts(scene), gusts_of(scene).strongest
    pressures = standing(rig, air, tilts, refuse=False).pressure(strongest)
    told, rests = footing.feet if footing else None, resting_by_row(scene)
    found: dict[str, FootLoad] = {}
    for tilt, strong in zip(tilts, pressures, strict=True):
        how = stance(rig, float(tilt))
        for push in [push for each in pushes(rig, air, how).values() for push in each]:
            for q in feet_pressures(rig, how, push, float(strong)):
                held = load_paths(rig, how, push, q).feet
                for row, reaction in enumerate(held):
                    feet = feet_on_line(told, len(held), reaction.count)
                    share, rest = reaction.count / feet, rests[min(row, len(rests) - 1)]
                    so_far = found.get(reaction.name, FootLoad(rest, 0.0, 0.0, feet))
                    found[reaction.name] = FootLoad(
                        max(so_far.down, reaction.down * share + rest),
                        max(so_far.up, -reaction.down * share),
                        max(so_far.level, abs(reaction.level) * share),
                        feet,
                    )
    return found


def _snow(scene: Scene) -> tuple[float, float]:
    """Snow on the glass, N, at the tilt that keeps most of it, and the height of what slides off the steepest, m."""
    snow, array, tilts = scene.brief.snow, scene.array, own_tilts(scene)
    if snow is None:
        return 0.0, 0.0
    ground = ground_load(snow.load, snow.depth)
    pile = max(pile_height(float(tilt), ground, array.slope_length, snow.slides) for tilt in tilts)
    return snow_load(scene), pile


def _drip(scene: Scene) -> tuple[float, float]:
    """Where the lower edge drips, m before the front support, over the mount's tilts."""
    rig = rig_of(scene)
    ends = [-stance(rig, float(tilt)).low[0] for tilt in own_tilts(scene)]
    return min(ends) - GRAVEL_STRIP, max(ends) + GRAVEL_STRIP


def _settled(scene: Scene) -> list[Settling]:
    footing = scene.brief.footing
    if footing is None or not footing.levels:
        return []
    spacing = footing.spacing or rig_of(scene).span
    return settling([(one.date, one.levels) for one in footing.levels], spacing)


def _verdict(
    scene: Scene,
    load: FootLoad,
    depth: float | None,
    margin: float | None,
    bearing: float | None,
    allowed: float | None,
    factor: float,
    units: Units,
) -> tuple[bool | None, str]:
    footing = _footing_of(scene)
    if allowed is not None and bearing is not None and bearing > allowed:
        return (
            False,
            f"each foot presses {told_quantity(bearing, PRESSURE, units)}; this soil is presumed to bear {told_quantity(allowed, PRESSURE, units)}: "
            "a wider foot",
        )
    if footing.kind in ("post", "pier"):
        if depth is None:
            return None, "the soil's lateral bearing is not known"
        if footing.depth is None:
            return None, f"it needs {rough_length(depth, units)}; say how deep it is"
        dug = rough_length(footing.depth, units)
        if footing.depth < footing.frost_depth:
            return False, f"{dug} is above the frost, which goes {rough_length(footing.frost_depth, units)} deep"
        if footing.depth < depth - 1e-9:
            return False, f"{dug} is less than the {rough_length(depth, units)} that the wind asks"
        return True, f"{dug} is at least the {rough_length(depth, units)} that the wind asks"
    if footing.kind == "screw":
        if margin is None:
            return True, "nothing pulls at it; what pushes sideways its maker must answer for"
        words = f"its rating, reduced for the soil, is {margin:.1f} times the pull; {factor:g} is wanted"
        return margin >= factor, words
    if load.up > 0:
        return (
            False,
            f"one foot is pulled up by {told_quantity(load.up, FORCE, units)} at the strongest gust: more ballast, or something that holds",
        )
    return True, "nothing is pulled up at the strongest gust"


def _notes(scene: Scene, load: FootLoad, units: Units) -> list[str]:
    footing, notes, snow = _footing_of(scene), [], scene.brief.snow
    if footing.fresh_fill:
        notes.append(f"Fresh fill settles: it {NOTHING.split(':')[0]}. Level it again, and write the levels down.")
    if footing.kind == "screw":
        notes.append(
            f"Its maker answers for pressing ({told_quantity(load.down, FORCE, units)} on one) and for what pushes sideways "
            f"({told_quantity(load.level, FORCE, units)}) too."
        )
    if assumed_structure(scene).feet_in_all == 1 and load.feet > 1:
        notes.append("A pole has one foot; its load is shared among those you told.")
    if snow is not None:
        steepest = float(own_tilts(scene)[-1])
        _, pile = _snow(scene)
        if snow.slides and pile > 0.05:
            notes.append(f"What slides off heaps up about {rough_length(pile, units)} high under the lower edge.")
            if pile > scene.array.clearance:
                notes.append("That reaches the lower edge: it then no longer slides, and shades the bottom row.")
        if steepest < SLIDES and snow.slides:
            notes.append(f"Under {SLIDES:.0f}° snow stays on the glass for days; it slides off by itself only when steeper.")
    return notes + [
        f"Since the first reading neighbouring feet parted by {fine_length(one.worst, units)}; {fine_length(one.allowed, units)} is the most "
        "(L/200): shim it before the glass takes the twist."
        for one in _settled(scene)[-1:]
        if one.uneven
    ]
