"""Another array of panels as a thing of the yard: what its glass keeps from those behind it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from sundial.errors import BriefError
from sundial.frame.panels import FRAME_DEPTH, plane_axes
from sundial.shade.ground import Floats, Ground, Layer, Point, check_name, check_points
from sundial.shade.solids import Body, Ellipsoid, Solid, box

Follows = Literal["nothing", "axis", "sun"]
SIDES = 16  # of the drum that a rolling array is counted as
LARGEST = 200.0  # m


@dataclass(frozen=True)
class OtherArray:
    """Glass of ``breadth`` along the row and ``slope_length`` up the slope, m, standing at ``at``: under the middle of its lower
    edge, or at the foot of its pole where it turns about its middle (``on_pole``). ``clearance``: of the lower edge; on a pole,
    of the lower edge as it stands upright. ``tilt`` (12,) by month.

    What follows the sun is counted as the body whose shadow is as large as that of glass square to the sun: a ball for one
    that follows it all round, a drum about its axis (``axis_tilt``, falling toward ``axis_azimuth``) for one that rolls. That
    is exact in area while the limits are not reached, and not in shape.
    """

    name: str
    at: Point
    azimuth: float
    tilt: tuple[float, ...]
    breadth: float
    slope_length: float
    clearance: float = 0.5
    on_pole: bool = False
    follows: Follows = "nothing"
    axis_tilt: float = 0.0
    axis_azimuth: float = 180.0

    def __post_init__(self) -> None:
        check_name(self)
        check_points("at", [self.at])
        for path in ("breadth", "slope_length"):
            if not 0 < getattr(self, path) <= LARGEST:
                raise BriefError(path, f"“{self.name}” must be more than 0 and at most {LARGEST:g} m")

    @property
    def _pivot(self) -> float:
        """Height over ground of what it turns about, m."""
        return self.clearance + (self.slope_length / 2 if self.on_pole else 0.0)

    def origin(self, ground: Ground) -> Floats:
        """What the glass turns about (3,)."""
        return np.array([*self.at, ground.height(*self.at) + self._pivot])

    @cached_property
    def outline(self):  # type: ignore[no-untyped-def]
        """The ground under it at its flattest, as a shapely polygon."""
        from shapely import MultiPoint

        flattest = min(self.tilt, key=abs)
        return MultiPoint(self.corners(flattest, Ground())[:, :2]).convex_hull

    def corners(self, tilt: float, ground: Ground) -> Floats:
        """The four corners (4, 3), lower left first, round the glass."""
        low = -self.slope_length / 2 if self.on_pole else 0.0
        half, high = self.breadth / 2, low + self.slope_length
        flat = np.array([[-half, low], [half, low], [half, high], [-half, high]])
        corners: Floats = self.origin(ground) + flat @ self._axes(tilt)[:2]
        return corners

    def _axes(self, tilt: float) -> Floats:
        axes: Floats = plane_axes(np.array([tilt]), np.array([self.azimuth]))[0]
        return axes

    def layers(self, ground: Ground) -> list[Layer]:
        origin = self.origin(ground)
        if self.follows == "sun":
            radius = np.sqrt(self.breadth * self.slope_length / np.pi)
            return [Layer((Ellipsoid(origin, np.full(3, radius)),), np.zeros(12))]
        if self.follows == "axis":
            return [Layer((self._drum(origin),), np.zeros(12))]
        by_month = np.array(self.tilt)
        return [Layer((self._glass(tilt, origin),), np.where(by_month == tilt, 0.0, 1.0)) for tilt in np.unique(by_month)]

    def _glass(self, tilt: float, origin: Floats) -> Solid:
        low = -self.slope_length / 2 if self.on_pole else 0.0
        ends = [-self.breadth / 2, low, -FRAME_DEPTH], [self.breadth / 2, low + self.slope_length, 0.0]
        return box(*ends, self._axes(tilt), origin)

    def _drum(self, origin: Floats) -> Body:
        """A drum with ``SIDES`` sides about the axis, as wide on the mean over all sides as the glass is across the axis."""
        t, a = np.radians([self.axis_tilt, self.axis_azimuth])
        axis = np.array([np.sin(a) * np.cos(t), np.cos(a) * np.cos(t), -np.sin(t)])
        level = np.array([-np.cos(a), np.sin(a), 0.0])
        third = np.cross(axis, level)
        # A level axis runs along the row; a tilted one up the slope.
        length, width = (self.slope_length, self.breadth) if self.axis_tilt else (self.breadth, self.slope_length)
        step = 2 * np.pi / SIDES
        inner = width * np.pi / (2 * SIDES * np.tan(step / 2))  # the mean width of a polygon is its girth over pi
        turn = np.arange(SIDES) * step
        sides = np.cos(turn)[:, None] * level + np.sin(turn)[:, None] * third
        normals = np.concatenate([sides, [axis, -axis]])
        offsets = normals @ origin + np.array([*[inner] * SIDES, length / 2, length / 2])
        rim = (np.cos(turn + step / 2)[:, None] * level + np.sin(turn + step / 2)[:, None] * third) * inner / np.cos(step / 2)
        corners = origin + np.concatenate([rim + axis * length / 2, rim - axis * length / 2])
        edges = [(i, (i + 1) % SIDES) for i in range(SIDES)]
        edges += [(i, end) for end in (SIDES, SIDES + 1) for i in range(SIDES)]
        return Body(normals, offsets, corners, np.array(edges))
