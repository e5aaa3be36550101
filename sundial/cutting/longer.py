"""Making an old rack longer: how much rail is added, which clamps move, and what the longer rack is."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil
from typing import TYPE_CHECKING

from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.scene import Scene


@dataclass(frozen=True)
class Longer:
    """``columns`` more. ``needed`` m of rail beyond the old one, ``extension`` m as it is cut (a whole number of hole pitches), on each of
    ``rails``; end clamps that ``move``, mid clamps ``added``; panels ``before`` and ``after``; ``load`` times as much wind and weight on
    the rack, ``span`` m that the row is longer than its frames stand apart, and whether another frame is wanted."""

    columns: int
    needed: float
    extension: float
    rails: int
    move: int
    added: int
    panels_before: int
    panels_after: int
    load: float
    breadth: float
    overhang: float
    more_frames: int


def extension(columns: int, width: float, gap: float, pitch: float) -> tuple[float, float]:
    """Rail that ``columns`` more panels of ``width`` m ask for, and that as it is cut: up to the next whole ``pitch`` of the channel's
    holes, so that no cut falls on a hole (0: none). m."""
    needed = columns * (width + gap)
    return needed, needed if pitch <= 0 else ceil(needed / pitch - 1e-9) * pitch


def lengthen(scene: Scene) -> Longer | None:
    """What ``cutting.longer`` columns ask of the rack as it stands; None for none. BriefError where it turns on a pole."""
    cutting, array, structure = scene.brief.cutting, scene.array, scene.structure
    if not cutting.longer:
        return None
    if structure is not None and not structure.row_grows:
        raise BriefError("cutting.longer", "a pole carries what its joint was made for: it is not made longer")
    width = array.panel.width if array.portrait else array.panel.length
    needed, cut = extension(cutting.longer, width, cutting.gap, cutting.hole_pitch)
    rails = max(cutting.purlins, 2) * array.rows
    wind = scene.brief.wind
    outermost = wind.width if wind and wind.width else array.breadth * 0.6
    frames = structure.frames if structure else 2
    bay = outermost / max(frames - 1, 1)
    breadth = array.breadth + needed
    reach = (array.breadth - outermost) / 2 + needed  # the rail beyond the last frame, all on one side
    more = max(ceil((reach - bay / 2) / bay - 1e-9), 0) if reach > bay / 2 else 0
    return Longer(
        cutting.longer, needed, cut, rails, rails, rails * cutting.longer, array.count, array.count + array.rows * cutting.longer,
        (array.columns + cutting.longer) / array.columns, breadth, reach, more,
    )  # fmt: skip
