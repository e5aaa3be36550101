"""A jack or an actuator."""

from __future__ import annotations

from sundial.quantities import FEED, FORCE
from web.builds.fields import LengthField, QuantityField, WholeField
from web.frame.kinds.kind import Choice, FrameKind

ACTUATOR = {
    "base": "base_x", "rail_point": "jack_rail", "retracted": "retracted", "extended": "extended",
    "thrust": "jack_thrust", "speed": "jack_speed", "jacks": "jack_count",
}  # fmt: skip

KIND = FrameKind(
    choices=(Choice("jack", "A jack or actuator", "jack", ACTUATOR, optional=("thrust", "speed", "jacks")),),
    fields={
        "base_x": LengthField(
            -20,
            20,
            label="Its base behind the hinge",
            required=False,
        ),
        "base_z": LengthField(-20, 20, label="and above it", required=False, why="Below zero: under the hinge."),
        "jack_rail": LengthField(0.05, 20, label="Meets the rail", required=False, why="From the hinge along the rail."),
        "retracted": LengthField(0.05, 20, label="Retracted", required=False, why="From bolt to bolt."),
        "extended": LengthField(0.05, 20, label="Extended", required=False),
        "jack_thrust": QuantityField(FORCE, 1, 1_000_000, label="Rated for", required=False, why="Empty: not known."),
        "jack_count": WholeField(
            1, 20, label="Of them side by side", required=False, why="Alike, and moved together. Empty: one."
        ),
        "jack_speed": QuantityField(FEED, 0.0001, 1, label="Its speed", required=False),
    },
    template="frame/kinds/jack.html",
    usual={"base_x": 0.9, "base_z": -0.25, "jack_rail": 1.2, "retracted": 0.72, "extended": 1.3},
)
