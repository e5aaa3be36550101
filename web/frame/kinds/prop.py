"""A prop with holes, and a folding A-frame: a brief tells both in the same words."""

from __future__ import annotations

from web.builds.fields import LengthField, SwitchField
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
            {**HOLES, "base_length": "bar_length", "rod": "one_rod"},
            optional=("base_length", "rod"),
            is_it=_one_rail,
        ),
        Choice(
            "a-frame",
            "A folding A-frame",
            "prop",
            {"front_leg": "front_leg", "back_leg": "back_leg", **HOLES, "rod": "one_rod"},
            optional=("rod",),
        ),
    ),
    fields={
        "front_leg": LengthField(0.1, 20, label="Front leg", required=False, why="From the hinge at the top to the front foot."),
        "back_leg": LengthField(0.1, 20, label="Back leg", required=False, why="From the hinge at the top to the back foot."),
        "base_holes": LengthsField(
            label="Holes in the base bar, or in the back leg",
            required=False,
            why="Each from the hinge: 1.5, 1.2, 0.9, or 0.6 to 1.5 by 0.1.",
            source="Tape along the bar, hinge to hole.",
            names=(
                ("built=prop", "Holes in the base bar", "Each from the hinge: 1.5, 1.2, 0.9, or 0.6 to 1.5 by 0.1."),
                ("built=a-frame", "Holes in the back leg", "Each from the hinge at the top: 1.2, or several."),
            ),
        ),
        "rail_points": LengthsField(
            label="Holes in the rail, or in the front leg",
            required=False,
            why="Each from the hinge: 1.1, or several.",
            names=(
                ("built=prop", "Holes in the rail", "Each from the hinge: 1.1, or several."),
                ("built=a-frame", "Holes in the front leg", "Each from the hinge at the top: 1.1, or several."),
            ),
        ),
        "prop_lengths": LengthsField(
            label="Prop, or rod between the legs",
            required=False,
            why="From bolt to bolt; several if it has holes or there are several.",
            names=(
                ("built=prop", "Prop", "From bolt to bolt; several if it has holes or there are several."),
                (
                    "built=a-frame",
                    "Rod, hole to hole",
                    "From the front leg's bolt to each of its holes: 0.4, 0.55, 0.7, or 0.4 to 0.9 by 0.1.",
                ),
            ),
        ),
        "one_rod": SwitchField(label="One bar on each side, with these holes", why="Else a bar of its own for each length."),
        "bar_length": LengthField(
            0.05, 20, label="The whole base bar", required=False, why="So far holes can be drilled. Empty: not known."
        ),
    },
    template="frame/kinds/prop.html",
    usual={"rail_points": [1.1], "prop_lengths": [0.8], "base_holes": [1.5, 1.2, 0.9], "front_leg": 2.2, "back_leg": 2.0},
)
