"""Front and rear legs."""

from __future__ import annotations

from web.builds.fields import LengthField
from web.frame.fields import LengthsField
from web.frame.kinds.kind import Choice, FrameKind, Told


def _swapped(data: Told) -> bool:
    return bool(data.get("rear_heights"))


KIND = FrameKind(
    choices=(
        Choice(
            "legs",
            "Front and rear legs",
            "legs",
            {"support_spacing": "spacing", "rear_heights": "rear_heights", "middle_supports": "middle_supports"},
            optional=("rear_heights", "middle_supports"),
            says_tilts=_swapped,
        ),
    ),
    fields={
        "spacing": LengthField(
            0.05, 20, label="Between front and rear support", required=False, why="Along the slope, from bolt to bolt."
        ),
        "rear_heights": LengthsField(
            label="Rear legs you have",
            required=False,
            why="Swapped legs, or the holes of telescoping ones. Empty: cut to the tilts below.",
        ),
        "middle_supports": LengthsField(
            label="Further rows of legs between",
            required=False,
            why="Each from the front support along the slope: 1.2, 2.4. Empty: front and rear alone.",
        ),
    },
    template="frame/kinds/legs.html",
    usual={"spacing": 1.45},
)
