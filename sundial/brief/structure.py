"""From a brief's words about the frame to a structure; what cannot be built is refused with the measure's path."""

from __future__ import annotations

from math import hypot
from typing import Any

from sundial.brief.sections.structure import (
    ActuatorBrief,
    JackBrief,
    LegsBrief,
    PoleBrief,
    PropBrief,
    StructureBrief,
    WallBrief,
    WedgeBrief,
)
from sundial.errors import BriefError
from sundial.frame.structure import Jack, Legs, Pole, Prop, Structure, Wall, Wedge


def structure_of(brief: StructureBrief, clearance: float, slope_length: float) -> Structure:
    """The structure that a brief's ``frame`` describes, under an array of ``slope_length`` m whose lower edge is ``clearance`` m
    over the ground unless the frame says how high it stands."""
    common = {
        "front_height": clearance if brief.front_height is None else brief.front_height,
        **{name: getattr(brief, name) for name in ("overhang", "slope", "cross_slope", "mass", "depth", "frames")},
    }
    if brief.overhang >= slope_length:
        raise BriefError("frame.overhang", f"is longer than the glass up the slope ({slope_length:.2f} m)")
    if isinstance(brief, LegsBrief):
        _on_rail("frame.support_spacing", brief.overhang, brief.support_spacing, slope_length)
        return _some_hole(
            Legs(spacing=brief.support_spacing, rear_heights=tuple(brief.rear_heights or ()), **common), "rear_heights"
        )
    if isinstance(brief, PropBrief):
        return _prop(brief, common, slope_length)
    if isinstance(brief, PoleBrief):
        return _pole(brief, common, slope_length)
    if isinstance(brief, JackBrief):
        _on_rail("frame.rail_point", brief.overhang, brief.rail_point, slope_length)
        return _jack(brief, "frame", common)
    if isinstance(brief, WallBrief):
        if brief.lower_height > common["front_height"] + slope_length:
            raise BriefError("frame.lower_height", "lies over the upper edge at any tilt: a strut stands on the lower ledger")
        return Wall(lower_height=brief.lower_height, **common)
    if isinstance(brief, WedgeBrief):
        return _wedge(brief, common)
    raise TypeError(f"no structure is made of {type(brief).__name__}")


def _on_rail(path: str, start: float, further: float, slope_length: float) -> None:
    """BriefError for a hole ``further`` m up the rail from the one at ``start`` that lies past the end of the rail."""
    if start + further > slope_length + 1e-9:
        raise BriefError(
            path,
            f"lies past the end of the rail: {start + further:.2f} m from its lower end, and the glass is {slope_length:.2f} m",
        )


def _some_hole(structure: Structure, measure: str) -> Structure:
    """The structure, or BriefError where none of its combinations closes."""
    if structure.settings and not structure.holes:
        first = structure.unclosed[0]
        raise BriefError(f"frame.{measure}", f"no combination sets a tilt from 0 to 90 degrees: {first.why}")
    return structure


def _prop(brief: PropBrief, common: dict[str, Any], slope_length: float) -> Structure:
    if (brief.front_leg is None) != (brief.back_leg is None):
        missing = "front_leg" if brief.front_leg is None else "back_leg"
        raise BriefError(f"frame.{missing}", "is missing: a folding A-frame has two legs")
    count = len(brief.rail_points) * len(brief.lengths) * len(brief.base_holes)
    if count > 1000:
        raise BriefError("frame.base_holes", f"{count} combinations are too many; 1000 are the most")
    ends = {"rail_points": brief.front_leg, "base_holes": brief.base_length or brief.back_leg}
    for name, end in ends.items():
        for number, at in enumerate(getattr(brief, name)):
            if end is not None and at > end:
                raise BriefError(f"frame.{name}[{number}]", f"{at:g} m lies beyond the end of the bar ({end:g} m)")
    if brief.front_leg is None:
        for number, at in enumerate(brief.rail_points):
            _on_rail(f"frame.rail_points[{number}]", brief.overhang, at, slope_length)
    for name in ("rail_points", "lengths", "base_holes"):
        held = getattr(brief, name)
        for number, value in enumerate(held):
            if value in held[:number]:
                raise BriefError(f"frame.{name}[{number}]", f"{value:g} is there twice: name each once")
    legs = None if brief.front_leg is None or brief.back_leg is None else (brief.front_leg, brief.back_leg)
    prop = Prop(
        rail_points=tuple(brief.rail_points),
        lengths=tuple(brief.lengths),
        base_holes=tuple(brief.base_holes),
        legs=legs,
        base_length=None if legs else brief.base_length,
        **common,
    )
    return _some_hole(prop, "lengths")


def _pole(brief: PoleBrief, common: dict[str, Any], slope_length: float) -> Structure:
    if brief.max_tilt < brief.min_tilt:
        raise BriefError("frame.max_tilt", f"must not be under the flattest tilt ({brief.min_tilt:g} degrees)")
    if brief.joint is not None and brief.joint > slope_length:
        raise BriefError("frame.joint", f"lies beyond the upper edge: the glass is {slope_length:.2f} m up the slope")
    if brief.jack is not None and brief.holes:
        raise BriefError("frame.holes", "a joint that a jack sets has no holes: give either")
    screw = None
    if brief.jack is not None:
        at = slope_length / 2 if brief.joint is None else brief.joint
        _on_rail("frame.jack.rail_point", at, brief.jack.rail_point, slope_length)
        hinged = {**common, "front_height": brief.height, "overhang": 0.0, "slope": 0.0, "cross_slope": 0.0}
        screw = _jack(brief.jack, "frame.jack", hinged)
    pole = Pole(
        height=brief.height, ends=(brief.min_tilt, brief.max_tilt), offset=brief.offset, joint=brief.joint,
        pins=tuple(brief.holes or ()), screw=screw, **common,
    )  # fmt: skip
    steepest = max(brief.holes or pole.span or ())
    low = pole.lower_edge(steepest, slope_length)
    if low < 0:
        raise BriefError(
            "frame.height",
            f"at {steepest:g} degrees the lower edge would stand {-low:.2f} m in the ground: a longer pole, or less tilt",
        )
    return pole


def _jack(brief: ActuatorBrief, path: str, common: dict[str, Any]) -> Jack:
    if brief.extended <= brief.retracted:
        raise BriefError(f"{path}.extended", f"must be longer than retracted ({brief.retracted:g} m)")
    far = hypot(*brief.base)
    if far < 0.01:
        raise BriefError(f"{path}.base", "the actuator needs a base away from the hinge: at it, it has no lever")
    nearest, farthest = abs(brief.rail_point - far), brief.rail_point + far
    if brief.extended <= nearest or brief.retracted >= farthest:
        raise BriefError(
            f"{path}.extended",
            f"this stroke reaches no tilt: base and rail point are {nearest:.2f} to {farthest:.2f} m apart, whatever the tilt",
        )
    jack = Jack(
        base=brief.base, rail_point=brief.rail_point, stroke=(brief.retracted, brief.extended), thrust=brief.thrust,
        speed=brief.speed, **common,
    )  # fmt: skip
    if jack.span is None:
        raise BriefError(f"{path}.extended", "this stroke reaches no tilt from 0 to 90 degrees: move its base or its rail point")
    return jack


def _wedge(brief: WedgeBrief, common: dict[str, Any]) -> Structure:
    if (brief.slope_length is None) == (brief.run is None):
        raise BriefError("frame.run", "give either slope_length (along the board) or run (on the level), not both")
    if brief.slope_length is not None and brief.rise > brief.slope_length:
        raise BriefError("frame.rise", f"is more than the board is long ({brief.slope_length:g} m)")
    wedge = Wedge(rise=brief.rise, slope_length=brief.slope_length, run=brief.run, **common)
    _ = wedge.settings
    return wedge
