"""The array as it stands in the yard: where its cells are, and what of itself is in its own way.

::

    n (out of the glass)          point = origin + s along + v up
     \\     up (up the slope)
      \\   /                      hinge: origin is the middle of the lower edge, which stays at its clearance
       \\ /____ along              centre_pivot:   origin is the middle of the array, on top of its pole
        O
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.frame.panels import Array
from sundial.shade.solids import Ball, Body, box
from sundial.shade.strings import Wired, Wiring
from sundial.shade.yard import Ground

Floats = NDArray[np.float64]
GAP = 0.02  # m between panels, as in the array's own lengths
GLASS = 0.04  # m, a panel's frame depth
# Where the sampled cells lie along a panel, as shares of a block's length and breadth, and how much glass each stands
# for. The outermost are the centres of the outermost cells: a shadow that creeps in from an edge is met when it has
# covered half a cell. A whole block has ten cells one after another, a half of a half-cut one eight or more.
FULL = ((0.05, 0.275, 0.5, 0.725, 0.95), (0.1625, 0.225, 0.225, 0.225, 0.1625))
HALF = ((0.06, 0.5, 0.94), (0.28, 0.44, 0.28))
ACROSS = (0.25, 0.75)
MOST_PANELS = 160  # beyond this, evenly chosen panels stand for their neighbours


@dataclass(frozen=True)
class Split:
    """The array in ``groups``: rows one "behind" the other, ``distance`` m from front edge to front edge; or columns
    side by side ("beside") with a gap of ``distance`` m."""

    groups: int
    how: Literal["behind", "beside"]
    distance: float


@dataclass(frozen=True)
class FramePart:
    """Something of the frame near the glass that turns with it: low and high ends in m ``along`` the row from the
    middle, ``up`` the slope from the lower edge, and ``off`` the glass (positive in front)."""

    name: str
    along: tuple[float, float]
    up: tuple[float, float]
    off: tuple[float, float]

    def __post_init__(self) -> None:
        for way in ("along", "up", "off"):
            low, high = getattr(self, way)
            if not low < high:
                raise BriefError(way, f"“{self.name}” must end ({high:g} m) beyond where it begins ({low:g} m)")
            if max(abs(low), abs(high)) > 60:
                raise BriefError(way, f"“{self.name}” reaches more than 60 m from the array: set it in the yard")


@dataclass(frozen=True)
class Spot:
    """Where the array stands, m. ``centre_pivot``: it turns about its middle on a pole, not about its lower edge."""

    x: float = 0.0
    y: float = 0.0
    split: Split | None = None
    parts: tuple[FramePart, ...] = ()
    centre_pivot: bool = False


@dataclass(frozen=True, eq=False)
class Samples:
    """Points on the glass: ``place`` (P, 2) along and up, ``group`` (P,), ``weight`` (P,) shares of the glass that sum to 1.

    Points lie block by block: ``cells`` of them in each half, ``halves`` in each block, so that values over the points
    reshape to (B, halves, cells). ``wired`` says which blocks share a current.
    """

    place: Floats
    group: NDArray[np.int64]
    weight: Floats
    cells: int
    halves: int
    wired: Wired
    panels: NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class ArrayGeometry:
    """An array at a spot on its ground, with its wiring."""

    array: Array
    spot: Spot = field(default_factory=Spot)
    ground: Ground = field(default_factory=Ground)
    wiring: Wiring = field(default_factory=Wiring)

    @cached_property
    def groups(self) -> int:
        return self.spot.split.groups if self.spot.split else 1

    @cached_property
    def shape(self) -> tuple[int, int]:
        """Rows and columns of one group."""
        rows, columns, split = self.array.rows, self.array.columns, self.spot.split
        if split is None or split.groups == 1:
            return rows, columns
        divided = rows if split.how == "behind" else columns
        if divided % split.groups:
            noun = "rows" if split.how == "behind" else "columns"
            raise BriefError("spot.split.groups", f"{divided} {noun} cannot be parted into {split.groups} equal groups")
        return (rows // split.groups, columns) if split.how == "behind" else (rows, columns // split.groups)

    @cached_property
    def size(self) -> tuple[float, float]:
        """Breadth along the row and length up the slope of one group, m."""
        rows, columns = self.shape
        step_along, step_up = self._pitch
        return columns * step_along - GAP, rows * step_up - GAP

    @property
    def _pitch(self) -> tuple[float, float]:
        panel = self.array.panel
        along, up = (panel.width, panel.length) if self.array.portrait else (panel.length, panel.width)
        return along + GAP, up + GAP

    @cached_property
    def height(self) -> float:
        """Height of the origin above ground: the clearance, or for a centre_pivot that with half the slope upright."""
        return self.array.clearance + (self.size[1] / 2 if self.spot.centre_pivot else 0.0)

    def axes(self, tilts: Floats, azimuths: Floats) -> Floats:
        """Unit vectors along, up and out of the glass (D, 3, 3) for facings (D,)."""
        t, a = np.radians(tilts), np.radians(azimuths)
        flat = np.zeros_like(t)
        along = np.stack([-np.cos(a), np.sin(a), flat], axis=-1)
        up = np.stack([-np.cos(t) * np.sin(a), -np.cos(t) * np.cos(a), np.sin(t)], axis=-1)
        out = np.stack([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)], axis=-1)
        found: Floats = np.stack([along, up, out], axis=1)
        return found

    @cached_property
    def origins(self) -> Floats:
        """Where each group stands (G, 3)."""
        split, spot = self.spot.split, self.spot
        turn = np.radians(self.array.azimuth)
        face, along = np.array([np.sin(turn), np.cos(turn)]), np.array([-np.cos(turn), np.sin(turn)])
        at = []
        for group in range(self.groups):
            plan = np.array([spot.x, spot.y])
            if split and split.how == "behind":
                plan = plan - face * split.distance * group
            elif split:
                plan = plan + along * (group - (self.groups - 1) / 2) * (self.size[0] + split.distance)
            at.append([plan[0], plan[1], self.ground.height(*plan) + self.height])
        return np.array(at)

    @cached_property
    def samples(self) -> Samples:
        array, panel = self.array, self.array.panel
        numbers = self._chosen
        rows, columns = self.shape
        row, column = numbers // array.columns, numbers % array.columns
        split = self.spot.split
        if split and split.how == "beside":
            group, column = column // columns, column % columns
        else:
            group, row = row // rows, row % rows
        step_along, step_up = self._pitch
        left = column * step_along - self.size[0] / 2
        low = row * step_up - (self.size[1] / 2 if self.spot.centre_pivot else 0.0)
        halves = 2 if panel.half_cut else 1
        rungs, shares = HALF if panel.half_cut else FULL
        block, half, rung, side = (
            part.ravel() for part in np.meshgrid(
                np.arange(panel.bypass_sections), np.arange(halves), np.arange(len(rungs)), np.arange(len(ACROSS)), indexing="ij"
            )
        )  # fmt: skip
        across = (block + np.array(ACROSS)[side]) / panel.bypass_sections * panel.width
        lengthwise = (half + np.array(rungs)[rung]) / halves * panel.length
        on_along, on_up = (across, lengthwise) if array.portrait else (lengthwise, across)
        place = np.stack([(left[:, None] + on_along).ravel(), (low[:, None] + on_up).ravel()], axis=1)
        weight = np.tile(np.array(shares)[rung], len(numbers))
        cells = len(rungs) * len(ACROSS)
        return Samples(place, np.repeat(group, len(block)), weight / weight.sum(), cells, halves, self._wired(numbers), numbers)

    @cached_property
    def _chosen(self) -> NDArray[np.int64]:
        """Panels that are traced (indices from 0): all, or evenly chosen ones in a large array."""
        count = self.array.count
        if count <= MOST_PANELS:
            return np.arange(count)
        return np.unique(np.linspace(0, count - 1, MOST_PANELS).round().astype(np.int64))

    def _wired(self, numbers: NDArray[np.int64]) -> Wired:
        blocks = self.array.panel.bypass_sections
        at = {int(panel): index for index, panel in enumerate(numbers)}
        strings = []
        for string in self.wiring.groups(self.array.count):
            held = [at[panel] for panel in string if panel in at]
            if held:
                strings.append((np.array(held)[:, None] * blocks + np.arange(blocks)).ravel())
        return Wired(strings)

    def points(self, tilts: Floats, azimuths: Floats) -> Floats:
        """The sample points (D, P, 3) for facings (D,)."""
        axes, samples = self.axes(tilts, azimuths), self.samples
        flat: Floats = self.origins[samples.group] + samples.place @ axes[:, :2]
        return flat

    @cached_property
    def ball(self) -> Ball:
        """A ball that holds the glass whichever way it turns."""
        middle = self.origins.mean(axis=0)
        arm = np.linalg.norm(self.samples.place, axis=1).max()
        aside = np.linalg.norm(self.origins - middle, axis=1).max()
        return Ball(middle, float(aside + arm), float(self.origins[:, 2].min() - arm))

    def middles(self, tilt: float, azimuth: float) -> Floats:
        """The middle of each traced panel (N, 3), for the light of the dome."""
        points = self.points(np.array([tilt]), np.array([azimuth]))[0]
        found: Floats = points.reshape(len(self.samples.panels), -1, 3).mean(axis=1)
        return found

    def corners(self, tilt: float, azimuth: float) -> Floats:
        """The four corners of each group (G, 4, 3), lower left first, round the glass."""
        axes = self.axes(np.array([tilt]), np.array([azimuth]))[0]
        breadth, length = self.size
        low = -length / 2 if self.spot.centre_pivot else 0.0
        flat = np.array([[-breadth / 2, low], [breadth / 2, low], [breadth / 2, low + length], [-breadth / 2, low + length]])
        at: Floats = self.origins[:, None, :] + flat @ axes[:2]
        return at

    def group_body(self) -> Body:
        """One group's glass as a thin box in its own plane (along, up, out)."""
        breadth, length = self.size
        low = -length / 2 if self.spot.centre_pivot else 0.0
        return box([-breadth / 2, low, -GLASS], [breadth / 2, low + length, -0.001])

    def part_body(self, part: FramePart) -> Body:
        """A part of the frame as a box in the plane of the glass."""
        shift = -self.size[1] / 2 if self.spot.centre_pivot else 0.0
        return box([part.along[0], part.up[0] + shift, part.off[0]], [part.along[1], part.up[1] + shift, part.off[1]])
