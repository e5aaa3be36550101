"""What stands in a yard: buildings, trees, fences, walls, posts, rails and other arrays on level or sloping ground.

Plan coordinates in metres about any origin, x east, y north (true). Heights are above the ground where the thing stands.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np

from sundial.errors import BriefError
from sundial.shade.ground import Ground, Layer, Point, check_height, check_name, check_points
from sundial.shade.leaves import BARE_LIGHT, LEAF_LIGHT
from sundial.shade.other_array import OtherArray
from sundial.shade.solids import Column, Ellipsoid, box, prism

Top = Literal["flat", "lean-to", "gable"]
MOST_THINGS = 200
WALL_THICKNESS, FENCE_THICKNESS = 0.3, 0.04  # m, where nothing else is said
TRUNK = 0.06  # trunk radius as a share of the crown's, where nothing else is said (thumb)


@dataclass(frozen=True)
class Building:
    """``footprint`` corners in order; ``height`` of the eaves. A "gable" has its ridge at height ``ridge`` along
    ``roof_azimuth``; a "lean-to" rises from ``height`` on the side toward ``roof_azimuth`` to ``ridge`` opposite."""

    name: str
    footprint: tuple[Point, ...]
    height: float
    top: Top = "flat"
    ridge: float | None = None
    roof_azimuth: float = 180.0

    def __post_init__(self) -> None:
        check_name(self)
        if len(self.footprint) < 3:
            raise BriefError("footprint", f"“{self.name}” needs at least three corners")
        check_points("footprint", self.footprint)
        shape = self.outline
        if not shape.is_valid:
            raise BriefError("footprint", f"the outline of “{self.name}” crosses itself: give its corners in order around it")
        if shape.area < 1e-4:
            raise BriefError("footprint", f"the outline of “{self.name}” holds no ground")
        check_height("height", self.name, self.height)
        if self.top != "flat":
            if self.ridge is None:
                raise BriefError("ridge", f"“{self.name}” has a sloped top: give the height of its ridge")
            check_height("ridge", self.name, self.ridge)
            if self.ridge < self.height:
                raise BriefError(
                    "ridge", f"the ridge of “{self.name}” ({self.ridge:g} m) lies under its eaves ({self.height:g} m)"
                )

    @cached_property
    def outline(self):  # type: ignore[no-untyped-def]
        """The footprint as a shapely polygon."""
        from shapely import Polygon

        return Polygon(self.footprint)

    def layers(self, ground: Ground) -> list[Layer]:
        from shapely import constrained_delaunay_triangles

        middle = self.outline.centroid
        base = ground.height(middle.x, middle.y)
        low = min(ground.height(x, y) for x, y in self.footprint)
        hull = self.outline.convex_hull
        if hull.area - self.outline.area < 1e-6 * hull.area:
            pieces = [hull]
        else:
            pieces = list(constrained_delaunay_triangles(self.outline).geoms)
        tops = self._tops(base)
        bodies = tuple(prism(np.asarray(piece.exterior.coords)[:-1], min(base, low) - 0.5, tops) for piece in pieces)
        return [Layer(bodies, np.zeros(12))]

    def _tops(self, base: float) -> list[tuple[float, float, float]]:
        if self.top == "flat":
            return [(base + self.height, 0.0, 0.0)]
        turn = np.radians(self.roof_azimuth + (90 if self.top == "gable" else 0))
        u = np.array([np.sin(turn), np.cos(turn)])  # across the ridge, or down the lean-to
        along = np.array(self.footprint) @ u
        low, high = along.min(), along.max()
        rise = float(self.ridge or self.height) - self.height
        if self.top == "lean-to":
            fall = rise / (high - low)
            return [(base + self.height + fall * high, -fall * u[0], -fall * u[1])]
        pitch = rise / ((high - low) / 2)
        return [
            (base + self.height + pitch * high, -pitch * u[0], -pitch * u[1]),
            (base + self.height - pitch * low, pitch * u[0], pitch * u[1]),
        ]


@dataclass(frozen=True)
class Tree:
    """Trunk at ``at``; an ellipsoid of a crown from ``crown_base`` to ``height``. ``leaf_months`` 1 to 12; the crown
    lets ``light_in_leaf`` and ``light_bare`` through."""

    name: str
    at: Point
    crown_radius: float
    height: float
    crown_base: float = 1.5
    trunk_radius: float | None = None
    leaf_months: frozenset[int] = frozenset(range(1, 13))
    light_in_leaf: float = LEAF_LIGHT
    light_bare: float = BARE_LIGHT

    def __post_init__(self) -> None:
        check_name(self)
        check_points("at", [self.at])
        check_height("height", self.name, self.height)
        if not 0 < self.crown_radius <= 40:
            raise BriefError("crown_radius", f"the crown of “{self.name}” must have a radius of more than 0 and at most 40 m")
        if self.crown_base < 0:
            raise BriefError("crown_base", f"the crown of “{self.name}” begins under the ground: give 0 or more")
        if self.crown_base >= self.height:
            raise BriefError(
                "crown_base", f"the crown of “{self.name}” begins ({self.crown_base:g} m) above its top ({self.height:g} m)"
            )
        for path, share in (("light_in_leaf", self.light_in_leaf), ("light_bare", self.light_bare)):
            if not 0 <= share <= 1:
                raise BriefError(path, f"the light that “{self.name}” lets through must be a share from 0 to 1")

    @cached_property
    def outline(self):  # type: ignore[no-untyped-def]
        from shapely import Point as Spot

        return Spot(self.at).buffer(self.crown_radius)

    @property
    def stem(self) -> float:
        """Radius of the trunk, m."""
        return max(0.05, TRUNK * self.crown_radius) if self.trunk_radius is None else self.trunk_radius

    def layers(self, ground: Ground) -> list[Layer]:
        x, y = self.at
        base = ground.height(x, y)
        leaf = np.isin(np.arange(1, 13), sorted(self.leaf_months))
        half = (self.height - self.crown_base) / 2
        crown = Ellipsoid(np.array([x, y, base + self.crown_base + half]), np.array([self.crown_radius, self.crown_radius, half]))
        layers = [Layer((crown,), np.where(leaf, self.light_in_leaf, self.light_bare))]
        if self.stem > 0:
            trunk = Column(np.array([x, y]), self.stem, base - 0.5, base + self.crown_base + half)
            layers.append(Layer((trunk,), np.zeros(12)))
        return layers


@dataclass(frozen=True)
class Barrier:
    """A fence or wall along ``line``; ``open`` is the share of light that gets through. Its top follows the ground."""

    name: str
    line: tuple[Point, ...]
    height: float
    open: float = 0.0
    thickness: float = FENCE_THICKNESS

    def __post_init__(self) -> None:
        check_name(self)
        if len(self.line) < 2:
            raise BriefError("line", f"“{self.name}” needs two ends")
        check_points("line", self.line)
        check_height("height", self.name, self.height)
        if not 0 <= self.open <= 1:
            raise BriefError("open", f"the open share of “{self.name}” must be from 0 to 1")
        _check_run(self)

    @cached_property
    def outline(self):  # type: ignore[no-untyped-def]
        return _strip(self)

    def layers(self, ground: Ground) -> list[Layer]:
        slope = ground.gradient
        bodies = []
        for start, end in zip(self.line, self.line[1:], strict=False):
            a, b = np.array(start), np.array(end)
            run = b - a
            length = np.sqrt(run @ run)
            if length < 1e-6:
                continue
            aside = np.array([-run[1], run[0]]) / length * self.thickness / 2
            low = min(ground.height(*a), ground.height(*b)) - 0.5
            top = [(self.height, float(slope[0]), float(slope[1]))]
            bodies.append(prism(np.array([a + aside, a - aside, b - aside, b + aside]), low, top))
        return [Layer(tuple(bodies), np.full(12, self.open))]


@dataclass(frozen=True)
class Post:
    """A round post or pole, ``width`` across, from the ground (or from ``base``) up to ``height``."""

    name: str
    at: Point
    height: float
    width: float = 0.1
    base: float = 0.0

    def __post_init__(self) -> None:
        check_name(self)
        check_points("at", [self.at])
        check_height("height", self.name, self.height)
        if not 0 < self.width <= 20:
            raise BriefError("width", f"“{self.name}” must be more than 0 and at most 20 m wide")
        if not 0 <= self.base < self.height:
            raise BriefError("base", f"“{self.name}” must begin from 0 m up to under its top ({self.height:g} m)")

    @cached_property
    def outline(self):  # type: ignore[no-untyped-def]
        from shapely import Point as Spot

        return Spot(self.at).buffer(self.width / 2)

    def layers(self, ground: Ground) -> list[Layer]:
        foot = ground.height(*self.at)
        low = foot + self.base if self.base else foot - 0.5
        return [Layer((Column(np.array(self.at), self.width / 2, low, foot + self.height),), np.zeros(12))]


@dataclass(frozen=True)
class Canopy:
    """A level slab on nothing of its own: a roof's edge, a balcony. ``footprint`` four square corners in order; its underside ``under`` m over the ground."""

    name: str
    footprint: tuple[Point, ...]
    under: float
    thickness: float = 0.2

    def __post_init__(self) -> None:
        check_name(self)
        check_points("footprint", self.footprint)
        check_height("under", self.name, self.under)

    @cached_property
    def outline(self):  # type: ignore[no-untyped-def]
        from shapely import Polygon

        return Polygon(self.footprint)

    def layers(self, ground: Ground) -> list[Layer]:
        middle = self.outline.centroid
        low = ground.height(middle.x, middle.y) + self.under
        corners = np.array(self.footprint)
        along, aside = corners[1] - corners[0], corners[3] - corners[0]
        size = (float(np.linalg.norm(along)), float(np.linalg.norm(aside)))
        frame = np.array([[*along / size[0], 0.0], [*aside / size[1], 0.0], [0.0, 0.0, 1.0]])
        return [Layer((box([0, 0, 0], [*size, self.thickness], frame, np.array([*corners[0], low])),), np.zeros(12))]


@dataclass(frozen=True)
class Rail:
    """A level bar between two points with its top at ``height`` at each end above the ground there, ``thickness`` m thick."""

    name: str
    line: tuple[Point, Point]
    height: float
    thickness: float = 0.05

    def __post_init__(self) -> None:
        check_name(self)
        if len(self.line) != 2:
            raise BriefError("line", f"“{self.name}” is a bar between two points")
        check_points("line", self.line)
        check_height("height", self.name, self.height)
        _check_run(self)

    @cached_property
    def outline(self):  # type: ignore[no-untyped-def]
        return _strip(self)

    def layers(self, ground: Ground) -> list[Layer]:
        (ax, ay), (bx, by) = self.line
        a = np.array([ax, ay, ground.height(ax, ay) + self.height])
        b = np.array([bx, by, ground.height(bx, by) + self.height])
        length = float(np.linalg.norm(b - a))
        along = (b - a) / length
        aside = np.array([-along[1], along[0], 0.0])
        aside /= np.linalg.norm(aside)
        frame = np.array([along, aside, np.cross(along, aside)])
        half = self.thickness / 2
        return [Layer((box([0, -half, -self.thickness], [length, half, 0], frame, a),), np.zeros(12))]


Thing = Building | Tree | Barrier | Post | Canopy | Rail | OtherArray


def _check_run(thing: Barrier | Rail) -> None:
    if not 0 < thing.thickness <= 5:
        raise BriefError("thickness", f"“{thing.name}” must be more than 0 and at most 5 m thick")
    if _run(thing.line) < 1e-3:
        raise BriefError("line", f"“{thing.name}” has no length")


def _strip(thing: Barrier | Rail):  # type: ignore[no-untyped-def]
    """Its plan as a shapely polygon."""
    from shapely import LineString

    return LineString(thing.line).buffer(thing.thickness / 2, cap_style="flat")


def _run(line: Sequence[Point]) -> float:
    return float(sum(np.hypot(b[0] - a[0], b[1] - a[1]) for a, b in zip(line, line[1:], strict=False)))


@dataclass(frozen=True)
class Yard:
    """Everything near the panels. Names tell things apart: each is there once."""

    things: tuple[Thing, ...] = ()
    ground: Ground = field(default_factory=Ground)

    def __post_init__(self) -> None:
        if len(self.things) > MOST_THINGS:
            raise BriefError(
                "yard.objects", f"holds {len(self.things)} things; {MOST_THINGS} are the most: leave out what casts no shade"
            )
        seen: dict[str, int] = {}
        for index, thing in enumerate(self.things):
            if thing.name in seen:
                raise BriefError(f"yard.objects[{index}].name", f"“{thing.name}” is there twice: give each thing its own name")
            seen[thing.name] = index

    @cached_property
    def layers(self) -> list[list[Layer]]:
        """The solids of each thing, in the order of ``things``."""
        return [thing.layers(self.ground) for thing in self.things]
