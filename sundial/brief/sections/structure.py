"""What the frame is built from: its kind and measures, from which its tilts, lengths and angles follow."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from sundial.brief.sections.base import BriefSection, Upright

Length = Annotated[float, Field(gt=0, le=20, description="m")]
Lengths = Annotated[list[Length], Field(min_length=1, max_length=40)]
Across = Annotated[float, Field(ge=-45, le=45, description="degrees")]


class StructureBrief(BriefSection):
    """What every kind is asked: how high and on what ground it stands, and what its moving part weighs."""

    front_height: Annotated[
        float | None, Field(ge=0, le=20, description="height of the front support or hinge, m; left out: array.clearance")
    ] = None
    overhang: Annotated[float, Field(ge=0, le=10, description="glass below the front support, m along the slope")] = 0.0
    slope: Annotated[Across, Field(description="degrees by which the ground falls the way the array faces")] = 0.0
    cross_slope: Annotated[Across, Field(description="degrees by which it falls to the right as you look at the glass")] = 0.0
    mass: Annotated[float, Field(ge=0, le=2000, description="of rails and purlins that move with the panels, kg")] = 0.0
    depth: Annotated[float, Field(ge=0, le=1, description="of legs and props, measured along the cut's slant, m")] = 0.09
    frames: Annotated[int, Field(ge=1, le=60, description="trestles side by side along the row")] = 2


class LegsBrief(StructureBrief):
    kind: Literal["legs"]
    support_spacing: Annotated[Length, Field(description="between front and rear support along the slope, m")]
    rear_heights: Annotated[
        Lengths | None,
        Field(description="rear legs that are swapped, or holes of telescoping ones; left out: cut to mount.tilts"),
    ] = None


class PropBrief(StructureBrief):
    kind: Literal["prop"]
    rail_points: Annotated[Lengths, Field(description="holes in the rail, m from the hinge")]
    lengths: Annotated[Lengths, Field(description="of the prop, or holes of the spreader bar, m")]
    base_holes: Annotated[Lengths, Field(description="holes in the base bar (or the back leg), m from the hinge")]
    base_length: Annotated[Length | None, Field(description="of the base bar, m")] = None
    front_leg: Annotated[
        Length | None, Field(description="a folding A-frame: from its hinge at the top down to the front foot, m")
    ] = None
    back_leg: Annotated[Length | None, Field(description="a folding A-frame: from its hinge at the top to the back foot, m")] = (
        None
    )


class ActuatorBrief(BriefSection):
    """An actuator or screw jack between a base and the rail: with the hinge the third corner of a triangle."""

    base: Annotated[tuple[float, float], Field(description="of the actuator, m behind and above the hinge")]
    rail_point: Annotated[Length, Field(description="where it meets the rail, m from the hinge")]
    retracted: Length
    extended: Length
    thrust: Annotated[float | None, Field(gt=0, le=1e6, description="what it is rated for, N")] = None
    speed: Annotated[float | None, Field(gt=0, le=10, description="of its stroke, m/s")] = None


class PoleBrief(StructureBrief):
    kind: Literal["pole"]
    height: Annotated[Length, Field(description="of the joint above ground, m")]
    offset: Annotated[float, Field(ge=0, le=3, description="of the glass before the joint, m")] = 0.0
    min_tilt: Upright = 0.0
    max_tilt: Upright = 90.0
    joint: Annotated[float | None, Field(ge=0, le=20, description="up the slope, m; left out: the middle")] = None
    holes: Annotated[
        list[Upright] | None, Field(max_length=60, description="tilts of its pinch-bolt holes; left out: any between the two")
    ] = None
    jack: Annotated[
        ActuatorBrief | None,
        Field(description="an actuator or screw jack between the pole and the rail, measured from the joint; it sets the tilt"),
    ] = None


class JackBrief(ActuatorBrief, StructureBrief):
    kind: Literal["jack"]


class WallBrief(StructureBrief):
    kind: Literal["wall"]
    lower_height: Annotated[float, Field(ge=0, le=20, description="of the lower ledger on the wall, m")]


class WedgeBrief(StructureBrief):
    kind: Literal["wedge"]
    rise: Annotated[float, Field(ge=0, le=20, description="m")]
    slope_length: Annotated[Length | None, Field(description="from the low end to the high end along the board, m")] = None
    run: Annotated[Length | None, Field(description="the same on the level, m")] = None


Structure = Annotated[LegsBrief | PropBrief | PoleBrief | JackBrief | WallBrief | WedgeBrief, Field(discriminator="kind")]
