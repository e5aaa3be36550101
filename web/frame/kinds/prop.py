"""A prop with holes, and a folding A-frame: a brief tells both in the same words."""

from __future__ import annotations

from web.builds.fields import LengthField, SwitchField
from web.frame.fields import LengthsField
from web.frame.kinds.kind import Choice, FrameKind, Told

HOLES = {"rail_points": "rail_points", "lengths": "prop_lengths", "base_holes": "base_holes"}

PROP = {"rail_points": [1.1], "prop_lengths": [0.8], "base_holes": [1.5, 1.2, 0.9]}


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
            usual={**PROP, "one_rod": False},
        ),
        Choice(
            "a-frame",
            "A folding A-frame",
            "prop",
            {"front_leg": "front_leg", "back_leg": "back_leg", **HOLES, "rod": "one_rod"},
            optional=("rod",),
            usual={"rail_points": [1.0], "base_holes": [0.85], "prop_lengths": [1.72, 1.6, 1.45, 1.25, 1.0], "one_rod": True},
        ),
    ),
    fields={
        "front_leg": LengthField(0.1, 20, label="Front leg", required=False, why="From the hinge at the top to the front foot."),
        "back_leg": LengthField(0.1, 20, label="Back leg", required=False, why="From the hinge at the top to the back foot."),
        "base_holes": LengthsField(
            label="Holes in the base bar, or in the back leg",
            required=False,
            why="Each from the hinge: 1.5 m, 1.2 m, or 0.6 m to 1.5 m by 0.1 m.",
            source="Tape along the bar, hinge to hole.",
            names=(
                ("built=prop", "Holes in the base bar", "Each from the hinge: 1.5 m, 1.2 m, or 0.6 m to 1.5 m by 0.1 m."),
                ("built=a-frame", "Holes in the back leg", "Each from the hinge at the top: 1.2 m, or several."),
            ),
        ),
        "rail_points": LengthsField(
            label="Holes in the rail, or in the front leg",
            required=False,
            why="Each from the hinge: 1.1 m, or several.",
            names=(
                ("built=prop", "Holes in the rail", "Each from the hinge: 1.1 m, or several."),
                ("built=a-frame", "Holes in the front leg", "Each from the hinge at the top: 1.1 m, or several."),
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
                    "From the front leg's bolt to each of its holes: 1.2 m, 1.4 m, or 0.8 m to 1.6 m by 0.2 m.",
                ),
            ),
        ),
        "one_rod": SwitchField(label="One bar on each side, with these holes", why="Else a bar of its own for each length."),
        "bar_length": LengthField(
            0.05, 20, label="The whole base bar", required=False, why="So far holes can be drilled. Empty: not known."
        ),
    },
    template="frame/kinds/prop.html",
    usual={**PROP, "front_leg": 2.0, "back_leg": 1.7},
)
