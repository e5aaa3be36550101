"""A wedge."""

from __future__ import annotations

from web.builds.fields import LengthField
from web.frame.kinds.kind import Choice, FrameKind

KIND = FrameKind(
    choices=(Choice("wedge", "A wedge", "wedge", {"rise": "rise", "slope_length": "board"}, instead=("run",)),),
    fields={
        "rise": LengthField(0.005, 20, label="Raised by", required=False),
        "board": LengthField(0.05, 20, label="Board, along its slope", required=False),
    },
    template="frame/kinds/wedge.html",
    usual={"rise": 0.5, "board": 2.0},
)
