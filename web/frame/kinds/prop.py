"""A prop with holes, and a folding A-frame: a brief tells both in the same words."""

from __future__ import annotations

from web.builds.fields import LengthField
from web.frame.fields import LengthsField
from web.frame.kinds.kind import Choice, FrameKind, Told

HOLES = {"rail_points": "rail_points", "lengths": "prop_lengths", "base_holes": "base_holes"}


def _one_rail(told: Told) -> bool:
    return not told.get("front_leg")


KIND = FrameKind(
    choices=(
        Choice(
            "prop",
            "A prop with holes",
            "prop",
            {**HOLES, "base_length": "bar_length"},
            optional=("base_length",),
            is_it=_one_rail,
        ),
        Choice("a-frame", "A folding A-frame", "prop", {"front_leg": "front_leg", "back_leg": "back_leg", **HOLES}),
    ),
    fields={
        "front_leg": LengthField(0.1, 20, label="Front leg", required=False, why="From the hinge at the top to the front foot."),
        "back_leg": LengthField(0.1, 20, label="Back leg", required=False, why="From the hinge at the top to the back foot."),
        "base_holes": LengthsField(
            label="Holes in the base bar",
            required=False,
            why="Each from the hinge: 1.5, 1.2, 0.9, or 0.6 to 1.5 by 0.1.",
            source="Tape along the bar, hinge to hole.",
        ),
        "rail_points": LengthsField(label="Holes in the rail", required=False, why="Each from the hinge: 1.1, or several."),
        "prop_lengths": LengthsField(
            label="Prop", required=False, why="From bolt to bolt; several if it has holes or there are several."
        ),
        "bar_length": LengthField(
            0.05, 20, label="The whole base bar", required=False, why="So far holes can be drilled. Empty: not known."
        ),
    },
    template="frame/kinds/prop.html",
    usual={"rail_points": [1.1], "prop_lengths": [0.8], "base_holes": [1.5, 1.2, 0.9], "front_leg": 2.2, "back_leg": 2.0},
)
