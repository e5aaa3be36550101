"""A joint on a pole, with or without a jack."""

from __future__ import annotations

from sundial.quantities import FEED, FORCE
from web.builds.fields import LengthField, NumberField, QuantityField, WholeField
from web.frame.fields import TiltsField
from web.frame.kinds.kind import Choice, FrameKind, Told

JOINT = {"height": "pole_height", "offset": "offset", "min_tilt": "pole_min", "max_tilt": "pole_max"}
SCREW = {
    "base": "screw_x", "rail_point": "screw_rail", "retracted": "screw_retracted", "extended": "screw_extended",
    "thrust": "screw_thrust", "speed": "screw_speed", "jacks": "screw_count",
}  # fmt: skip


def _no_jack(told: Told) -> bool:
    return not told.get("jack")


KIND = FrameKind(
    choices=(
        Choice(
            "pole", "A joint on a pole", "pole", {**JOINT, "holes": "pole_holes"}, optional=("offset", "holes"), is_it=_no_jack
        ),
        Choice(
            "pole-jack",
            "A pole and a jack",
            "pole",
            {**JOINT, **SCREW},
            optional=("offset", "thrust", "speed", "jacks"),
            inside="jack",
            inner=tuple(SCREW),
        ),
    ),
    fields={
        "pole_height": LengthField(0.2, 20, label="Joint above ground", required=False),
        "offset": LengthField(
            0, 3, small=True, label="Glass before the joint", required=False, why="How far the glass sits before the pivot."
        ),
        "pole_min": NumberField(0, 90, label="Flattest", unit="°", required=False),
        "pole_max": NumberField(0, 90, label="Steepest", unit="°", required=False),
        "pole_holes": TiltsField(
            label="Tilts of its holes",
            required=False,
            why="Of a joint that a bolt holds: 10, 20, 30. Empty: any tilt between the two.",
        ),
        "screw_x": LengthField(
            -3,
            3,
            small=True,
            label="Its lower end behind the joint",
            required=False,
            why="A bracket on the pole, or a clamp round it.",
        ),
        "screw_z": LengthField(-20, 20, label="and above it", required=False, why="Below zero: down the pole."),
        "screw_rail": LengthField(0.05, 20, label="Meets the rail", required=False, why="From the joint up the rail."),
        "screw_retracted": LengthField(0.05, 20, label="Jack screwed in", required=False, why="From bolt to bolt."),
        "screw_extended": LengthField(0.05, 20, label="Screwed out", required=False),
        "screw_thrust": QuantityField(FORCE, 1, 1_000_000, label="Rated for", required=False, why="Empty: not known."),
        "screw_count": WholeField(
            1, 20, label="Of them side by side", required=False, why="Alike, and turned together. Empty: one."
        ),
        "screw_speed": QuantityField(FEED, 0.0001, 1, label="Its speed", required=False, why="Where a motor turns it."),
    },
    template="frame/kinds/pole.html",
    usual={
        "pole_height": 2.4,
        "offset": 0.1,
        "pole_min": 15.0,
        "pole_max": 60.0,
        "screw_x": 0.08,
        "screw_z": -0.72,
        "screw_rail": 0.62,
        "screw_retracted": 0.98,
        "screw_extended": 1.26,
    },
)
