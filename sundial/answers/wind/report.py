"""What a screen or the command line shows of the wind: plain frozen data that can be stored and opened again."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot, sqrt

import numpy as np
from numpy.typing import NDArray

from sundial.answers.wind.places import Place, places_of
from sundial.errors import BriefError
from sundial.frames.load_path import GRAVITY, Member, Reaction
from sundial.quantities import FORCE, Units, told_quantity
from sundial.scene import Scene
from sundial.stands.registry import stands
from sundial.storms.position import WindPosition, wind_position
from sundial.storms.price import CapsPrice, caps_price
from sundial.storms.ways import EVERY_DEGREE, WindOfYear
from sundial.study import Study
from sundial.wind.caps import Breaks, Safe, breaks_at, safe
from sundial.wind.fixings import FixingLoad, driving, driving_speed, fixings_told, gust_of_fixings, worst_fixing
from sundial.wind.held import foot_capacity
from sundial.wind.members import glass_moment, load_paths
from sundial.wind.pressure import sources, velocity_pressure
from sundial.wind.site import ALL_YEAR, air_of, gusts_of, own_tilts, rig_of, stand_in, wind_of
from sundial.wind.stance import Rig, stance
from sundial.wind.standing import DIRECTIONS, Air, Standing, ballast_for, pushes, standing

Floats = NDArray[np.float64]
GUST_SPREAD = 0.10  # of a gust: a stated planning allowance
COEFFICIENT_SPREAD = 0.20  # of a coefficient: the same
SPREAD = hypot(2 * GUST_SPREAD, COEFFICIENT_SPREAD)  # of a force, to first order, the two independent
ESTIMATE = "planning estimate; local code and a licensed engineer decide"
FLAT_LIFT = 5.0  # degrees under which people take a plane for unloaded


@dataclass(frozen=True)
class GustPoint:
    """At one ``tilt``: the gusts, m/s as told, at which it tips, slides, lifts or its footing gives way (None: never); ``allowed`` with
    the factor in hand; what happens ``first``, with the wind from ``direction``, and how a foot gives way (``by_foot``: "pulled", "pushed",
    "pressed"; empty where none does first); ``ways``: what happens first from each direction, a foot's by how. Forces in N at the strongest gust: ``pressing`` and
    ``lifting`` square to the glass, ``uplift`` of the latter, ``level_force`` the greater of both."""

    tilt: float
    tips: float | None
    slides: float | None
    lifts: float | None
    breaks: float | None
    gives_way: float | None
    allowed: float | None
    first: str
    direction: str
    pressing: float
    lifting: float
    uplift: float
    level_force: float
    by_direction: tuple[float | None, float | None, float | None]
    by_foot: str = ""
    ways: tuple[str, str, str] = ("never", "never", "never")


@dataclass(frozen=True)
class Margin:
    """Load at which it gives way over the load of the strongest gust, with what the estimate leaves open; 1 is the brink."""

    value: float
    low: float
    high: float


@dataclass(frozen=True)
class From:
    """What parts and feet take with the wind from one direction."""

    direction: str
    members: tuple[Member, ...]
    reactions: tuple[Reaction, ...]


@dataclass(frozen=True)
class WindReport:
    """``curve``: every whole degree; ``own``: the tilts that the mount takes; ``flattest`` and ``steepest`` of these; ``at_tilt``: the one that ballast and loads are worked out for. ``months``: the
    gust of each month, and ``caps`` the highest tilt it allows (None: none stands). ``ballast`` kg on each side against tipping and
    lifting at the strongest gust and steepest tilt, ``ballast_sliding`` against sliding too (None: not what holds it). ``fixings``: what the worst
    one takes at the strongest gust, and ``driving`` on the road, at an ``air_speed`` m/s (None: not asked); ``raised`` m: height of what it stands on; ``places`` where a flap may
    be left."""

    gust: float
    pressure: float
    density: float
    anchored: bool
    carried_by: str
    factor: float
    curve: tuple[GustPoint, ...]
    own: tuple[GustPoint, ...]
    flattest: GustPoint
    steepest: GustPoint
    at_tilt: GustPoint
    months: tuple[float, ...]
    gusts_source: str
    caps: tuple[float | None, ...]
    in_plan: tuple[int, ...]
    price: CapsPrice | None
    price_trouble: str
    position: WindPosition
    margin: Margin | None
    ballast: float | None
    ballast_sliding: float | None
    loads: tuple[From, ...]
    moves_until: float | None
    notes: tuple[str, ...]
    sources: tuple[str, ...]
    fixings: FixingLoad | None = None
    driving: FixingLoad | None = None
    air_speed: float | None = None
    caution: str = ""
    raised: float = 0.0
    places: tuple[Place, ...] = ()

    @property
    def foreign(self) -> bool:
        """Whether it stands on somebody else's structure."""
        return stands()[self.carried_by]().foreign

    @property
    def carrier(self) -> str:
        """What takes the load, in a sentence."""
        return stands()[self.carried_by]().carrier

    @property
    def months_told(self) -> bool:
        """Whether months have gusts of their own; else the strongest holds all year."""
        return self.gusts_source != ALL_YEAR

    def at(self, tilt: float) -> GustPoint:
        """The point of the curve at the nearest whole degree."""
        return self.curve[int(min(max(round(tilt), 0), 90))]


def wind_report(study: Study, gust: float | None = None, tilt: float | None = None, units: Units = "metric") -> WindReport:
    """Everything the wind's screen shows, notes in ``units``; ``gust`` m/s takes the place of the strongest, ``tilt`` degrees of the steepest. BriefError where the brief says nothing of
    the wind, or the frame cannot stand in still air."""
    wind, rig, air = wind_of(study.scene), rig_of(study.scene), air_of(study.scene)
    months = gusts_of(study.scene)
    strongest = months.strongest if gust is None else gust
    found = safe(study.scene)
    own = own_tilts(study.scene)
    standing(rig, air, own)  # refuses what falls over in still air
    curve = _points(study.scene, rig, air, EVERY_DEGREE, strongest, refuse=False)
    mine = _points(study.scene, rig, air, own, strongest)
    low, high = mine[0], mine[-1]
    at = high if tilt is None else _points(study.scene, rig, air, np.array([tilt]), strongest)[0]
    price, trouble = None, ""
    try:
        price = caps_price(study, found)
    except BriefError as error:
        trouble = error.message
    worst = min(mine, key=lambda one: (one.gives_way if one.gives_way is not None else 1e9, -one.tilt))
    margin = None
    if worst.gives_way is not None:
        brink = (worst.gives_way / strongest) ** 2
        margin = Margin(brink, brink / (1 + SPREAD), brink / (1 - SPREAD))
    ballast = sliding = None
    if not rig.anchored:
        ballast, sliding = (ballast_for(rig, air, at.tilt, strongest, wind.factor, slide) for slide in (False, True))
    how = stance(rig, at.tilt)
    speed = float(standing(rig, air, np.array([at.tilt]), refuse=False).speed_up[0])
    pressure = velocity_pressure(strongest * speed, air.density)
    held = _set_by(study.scene, at.tilt)
    loads = []
    legs = study.scene.structure is not None or not fixings_told(study.scene)  # else there is nothing between glass and fixings
    for name, each in pushes(rig, air, how).items() if legs else ():
        for push in each[-1:] if name == "side" else each:
            path = load_paths(rig, how, push, pressure, held)
            loads.append(From(name, tuple(path.members), tuple(path.reactions)))
    position, stand = wind_position(study, WindOfYear(study, found)), stand_in(study.scene)
    return WindReport(
        strongest, pressure, air.density, rig.anchored, stand.on, wind.factor, curve, mine, low, high, at,
        tuple(months.months.tolist()), months.source, tuple(None if np.isnan(cap) else float(cap) for cap in found.highest),
        tuple(wind.in_plan), price, trouble, position, margin,
        ballast if ballast is None or np.isfinite(ballast) else None,
        sliding if sliding is None or np.isfinite(sliding) else None, tuple(loads), _moves_until(study.scene, rig, air),
        tuple(_notes(study.scene, rig, found, mine, position, units)), (*sources(), months.source),
        worst_fixing(study.scene, strongest, tilt), driving(study.scene), _air_speed(study.scene), stand.caution, study.scene.raised,
        places_of(study, strongest, lambda tilts: _points(study.scene, rig, air, np.array(tilts), strongest)),
    )  # fmt: skip


def _air_speed(scene: Scene) -> float | None:
    told = scene.brief.stand
    return None if told is None or told.road_speed is None else driving_speed(told.road_speed)


def refuse_wind(scene: Scene) -> None:
    """BriefError where the wind part of a brief cannot be worked with; no plan is computed."""
    if scene.brief.wind is None:
        return
    safe(scene)
    standing(rig_of(scene), air_of(scene), own_tilts(scene))
    worst_fixing(scene, 1.0)


def _points(scene: Scene, rig: Rig, air: Air, tilts: np.ndarray, gust: float, refuse: bool = True) -> tuple[GustPoint, ...]:
    stood = standing(rig, air, tilts, refuse)
    held = foot_capacity(scene)
    broken = breaks_at(rig, air, tilts, held) if rig.anchored and held is not None else None
    breaks = np.full(len(tilts), np.inf) if broken is None else broken.least
    by_fixings = gust_of_fixings(scene, rig, air, tilts)
    if by_fixings is not None:
        breaks = np.minimum(breaks, by_fixings.min(axis=0))
    factor = sqrt(wind_of(scene).factor)
    q = stood.pressure(gust)
    front, back = DIRECTIONS.index("front"), DIRECTIONS.index("back")
    others = [one for one in (None if broken is None else broken.gusts, by_fixings) if one is not None]
    kinds = [stood.tips, stood.slides, stood.lifts, *others]
    found = []
    for index, tilt in enumerate(tilts):
        least = min(float(stood.gives_way[index]), float(breaks[index]))
        first, direction = stood.first(index)
        by_foot = ""
        if by_fixings is not None and by_fixings[:, index].min() <= least:
            first, by_foot, direction = "breaks", "fixing", DIRECTIONS[int(by_fixings[:, index].argmin())]
        elif broken is not None and breaks[index] < stood.gives_way[index]:
            first, (by_foot, direction) = "breaks", broken.first(index)
        pressing, lifting = (float(stood.normal[row, index] * q[index]) for row in (front, back))
        level = max(float(stood.level[row, index] * q[index]) for row in (front, back))
        each = [min(float(kind[d, index]) for kind in kinds) for d in range(3)]
        found.append(
            GustPoint(
                tilt=float(tilt), tips=_known(float(stood.tips[:, index].min())), slides=_known(float(stood.slides[:, index].min())),
                lifts=_known(float(stood.lifts[:, index].min())), breaks=_known(float(breaks[index])), gives_way=_known(least),
                allowed=_known(least / factor), first=first, direction=direction, pressing=pressing, lifting=lifting,
                uplift=float(stood.up[back, index] * q[index]), level_force=level,
                by_direction=(_known(each[0]), _known(each[1]), _known(each[2])), by_foot=by_foot,
                ways=tuple(_way(stood, broken, by_fixings, row, index) for row in range(3)),  # type: ignore[arg-type]
            )
        )  # fmt: skip
    return tuple(found)


def _way(stood: Standing, broken: Breaks | None, by_fixings: Floats | None, row: int, index: int) -> str:
    """What happens first at a tilt with the wind from one direction."""
    found = [(float(getattr(stood, kind)[row, index]), kind) for kind in ("tips", "slides", "lifts")]
    if broken is not None:
        found.append((float(broken.gusts[row, index]), broken.ways[row][index]))
    if by_fixings is not None:
        found.append((float(by_fixings[row, index]), "fixing"))
    gust, way = min(found)
    return way if np.isfinite(gust) else "never"


def _known(gust: float) -> float | None:
    return gust if np.isfinite(gust) else None


def _set_by(scene: Scene, tilt: float) -> dict[str, float]:
    """What sets the told frame to the nearest of its tilts."""
    structure = scene.structure
    if structure is None or not structure.says_tilts or not structure.holes:
        return {}
    return min(structure.holes, key=lambda hole: abs(hole.tilt - tilt)).set_by


def _moves_until(scene: Scene, rig: Rig, air: Air) -> float | None:
    """The gust, m/s as told, up to which the rated thrust of a jack can still lay the panels down from every tilt against wind from the
    back, and hold them against wind from the front; None where no thrust is told."""
    jack = scene.structure.jack if scene.structure else None
    if jack is None or jack.thrust is None:
        return None
    least = np.inf
    tilts = own_tilts(scene)
    for tilt, speed in zip(tilts, standing(rig, air, tilts, refuse=False).speed_up, strict=True):
        how = stance(rig, float(tilt))
        lever = jack.lever(float(tilt))
        for push in [push for name in ("front", "back") for push in pushes(rig, air, how)[name]]:
            still, blown = glass_moment(rig, how, push, 0.0) / lever, glass_moment(rig, how, push, 1.0) / lever
            per_pascal = blown - still
            if abs(per_pascal) < 1e-12:
                continue
            limit = jack.jacks * (jack.thrust if per_pascal > 0 else -jack.thrust)
            q = max((limit - still) / per_pascal, 0.0)
            least = min(least, sqrt(2 * q / air.density) / speed)
    return float(least)


def _notes(scene: Scene, rig: Rig, found: Safe, own: tuple[GustPoint, ...], position: WindPosition, units: Units) -> list[str]:
    wind, notes = wind_of(scene), []
    split = scene.brief.spot.split
    if split is not None and split.groups > 1:
        notes.append("Several rows: each is taken as if it stood alone in the wind, which is cautious for all but the first.")
    if scene.yard.things:
        notes.append(
            "Walls and trees near by are not counted as shelter: that is cautious, but for what speeds up round a corner."
        )
    if gusts_of(scene).source == ALL_YEAR:
        notes.append("Months are not told: the strongest gust is taken for every one of them.")
    if scene.structure is None and not fixings_told(scene):
        notes.append("No frame is told: legs under both edges are assumed. Tell what it is built from in The frame.")
    if wind.blocked:
        notes.append("Something is stacked underneath: the air cannot pass, and lifts harder.")
    flat = own[0]
    if flat.tilt <= FLAT_LIFT:
        notes.append(f"Flat is not unloaded: {told_quantity(flat.uplift, FORCE, units)} of lift stay at the strongest gust.")
    stand = stand_in(scene)
    if rig.anchored and stand.told and stand.foreign:
        notes.append(
            f"The load goes into the {stand.carrier_in_full}: whether it bears that is for whoever knows how it was built."
        )
    if rig.anchored and not np.isfinite(found.gives_way).any():
        what = "a fixing's rating is told" if fixings_told(scene) else "the footing says what each foot is held for"
        notes.append(f"Anchored: no gust is named until {what}.")
    if position.flat_stands is not None and position.flat_stands < found.months.max():
        notes.append("Even laid down it does not stand every month's gust with the factor in hand.")
    weight = rig.mass * GRAVITY
    if not rig.anchored and any(one.uplift > weight for one in own):
        notes.append("The strongest gust lifts more than all of it weighs.")
    if stand.anchors and wind.anchored is None and not stand.told:
        notes.append("Taken as anchored, as poles and wall frames are: say so if it is not.")
    return notes
