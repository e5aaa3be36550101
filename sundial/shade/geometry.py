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
from sundial.frame.panels import FRAME_DEPTH, Array, plane_axes
from sundial.shade.cells import WIDE, CellGrid
from sundial.shade.ground import Ground
from sundial.shade.solids import Ball, Body, box
from sundial.shade.strings import Wired, Wiring

Floats = NDArray[np.float64]
GAP = 0.02  # m between panels, as in the array's own lengths
MOST_PANELS = 160  # beyond this, evenly chosen rows and columns stand for their neighbours
MOST_BYTES = 1024  # of a line of cells written out: about as many panels side by side


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
class Sections:
    """Bypass sections of the traced ``panels`` (N,), panel by panel: ``place`` (B, 2) of their middles along and up, ``group``
    (B,). ``wired`` says which share a current."""

    place: Floats
    group: NDArray[np.int64]
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
        return plane_axes(tilts, azimuths)

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
    def cells(self) -> CellGrid:
        """The cells of the traced panels of each group: across a panel runs along the row where it stands upright, up the
        slope where it lies."""
        panel, portrait = self.array.panel, self.array.portrait
        rows, columns = self._traced_rows, self._traced_columns
        low = -self.size[1] / 2 if self.spot.centre_pivot else 0.0
        left = np.asarray(columns * self._pitch[0] - self.size[0] / 2, dtype=float)
        foot = np.asarray(rows * self._pitch[1] + low, dtype=float)
        numbers = self._numbers if portrait else self._numbers.transpose(0, 2, 1)  # (G, lengthwise, across)
        return CellGrid(
            left if portrait else foot,
            foot if portrait else left,
            panel.width,
            panel.length,
            panel.bypass_sections,
            2 if panel.half_cut else 1,
            self.groups,
            np.argsort(numbers, axis=None),
        )

    @cached_property
    def sections(self) -> Sections:
        panel, cells = self.array.panel, self.cells
        across = (np.arange(panel.bypass_sections) + 0.5) / panel.bypass_sections * panel.width + cells.across[:, None]
        grid = np.stack(np.broadcast_arrays(across[None], (cells.lengthwise + panel.length / 2)[:, None, None]), axis=-1)
        if not self.array.portrait:
            grid = grid[..., ::-1]
        place = np.tile(grid.reshape(-1, panel.bypass_sections, 2), (self.groups, 1, 1))[cells.order].reshape(-1, 2)
        group = np.repeat(np.arange(self.groups), cells.order.size // self.groups)[cells.order]
        numbers = np.sort(self._numbers, axis=None)
        return Sections(place, np.repeat(group, panel.bypass_sections), self._wired(numbers), numbers)

    @cached_property
    def _numbers(self) -> NDArray[np.int64]:
        """Indices (from 0) of the traced panels by group, row and column."""
        split, (rows, columns) = self.spot.split, self.shape
        group = np.arange(self.groups)[:, None, None]
        beside = bool(split) and split.how == "beside"  # type: ignore[union-attr]
        row = self._traced_rows[:, None] + (0 if beside else group * rows)
        column = self._traced_columns + (group * columns if beside else 0)
        return np.asarray(row * self.array.columns + column)

    @cached_property
    def _traced_rows(self) -> NDArray[np.int64]:
        return _evenly(self.shape[0], self._traced_share, MOST_PANELS if self.array.portrait else self._most_across)

    @cached_property
    def _traced_columns(self) -> NDArray[np.int64]:
        return _evenly(self.shape[1], self._traced_share, self._most_across if self.array.portrait else MOST_PANELS)

    @property
    def _most_across(self) -> int:
        """Panels side by side whose cells are looked at."""
        return MOST_BYTES // (self.array.panel.bypass_sections * WIDE)

    @property
    def _traced_share(self) -> float:
        """Share of the rows, and of the columns, that is traced."""
        return min(1.0, float(np.sqrt(MOST_PANELS / self.array.count)))

    def _wired(self, numbers: NDArray[np.int64]) -> Wired:
        blocks = self.array.panel.bypass_sections
        at = {int(panel): index for index, panel in enumerate(numbers)}
        strings = []
        for string in self.wiring.groups(self.array.count):
            held = [at[panel] for panel in string if panel in at]
            if held:
                strings.append((np.array(held)[:, None] * blocks + np.arange(blocks)).ravel())
        return Wired(
            strings or [np.arange(len(numbers) * blocks)]
        )  # none of those that are looked at is wired: all stand for them

    def points(self, place: Floats, group: NDArray[np.int64], tilts: Floats, azimuths: Floats) -> Floats:
        """Points ``place`` (P, 2) on the glass of their ``group`` (P,) for facings (D,): (D, P, 3)."""
        found: Floats = self.origins[group] + place @ self.axes(tilts, azimuths)[:, :2]
        return found

    @cached_property
    def ball(self) -> Ball:
        """A ball that holds the glass whichever way it turns."""
        middle = self.origins.mean(axis=0)
        arm = np.linalg.norm(self._flat_corners, axis=1).max()
        aside = np.linalg.norm(self.origins - middle, axis=1).max()
        return Ball(middle, float(aside + arm), float(self.origins[:, 2].min() - arm))

    def middles(self, tilt: float, azimuth: float) -> Floats:
        """The middle of each traced section (B, 3), for the light of the dome."""
        sections = self.sections
        found: Floats = self.points(sections.place, sections.group, np.array([tilt]), np.array([azimuth]))[0]
        return found

    @property
    def _flat_corners(self) -> Floats:
        """The corners of a group along and up (4, 2), lower left first, round the glass."""
        breadth, length = self.size
        low = -length / 2 if self.spot.centre_pivot else 0.0
        return np.array([[-breadth / 2, low], [breadth / 2, low], [breadth / 2, low + length], [-breadth / 2, low + length]])

    def corners(self, tilt: float, azimuth: float) -> Floats:
        """The four corners of each group (G, 4, 3), lower left first, round the glass."""
        axes = self.axes(np.array([tilt]), np.array([azimuth]))[0]
        at: Floats = self.origins[:, None, :] + self._flat_corners @ axes[:2]
        return at

    def group_body(self) -> Body:
        """One group's glass as a thin box in its own plane (along, up, out)."""
        breadth, length = self.size
        low = -length / 2 if self.spot.centre_pivot else 0.0
        return box([-breadth / 2, low, -FRAME_DEPTH], [breadth / 2, low + length, -0.001])

    def part_body(self, part: FramePart) -> Body:
        """A part of the frame as a box in the plane of the glass."""
        shift = -self.size[1] / 2 if self.spot.centre_pivot else 0.0
        return box([part.along[0], part.up[0] + shift, part.off[0]], [part.along[1], part.up[1] + shift, part.off[1]])


def _evenly(count: int, share: float, most: int) -> NDArray[np.int64]:
    """Indices of evenly chosen ones among ``count``: the ``share`` of them, at most ``most``."""
    chosen = max(1, min(round(count * share), most))
    return np.unique(np.linspace(0, count - 1, chosen).round().astype(np.int64)) if chosen > 1 else np.array([count // 2])
