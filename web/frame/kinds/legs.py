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
            {"support_spacing": "spacing", "rear_heights": "rear_heights"},
            optional=("rear_heights",),
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
    },
    template="frame/kinds/legs.html",
    usual={"spacing": 1.45},
)
