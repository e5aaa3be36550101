"""A sledge."""

from __future__ import annotations

from web.builds.fields import LengthField
from web.frame.kinds.kind import Choice, FrameKind

KIND = FrameKind(
    choices=(Choice("sledge", "A sledge", "sledge", {"runner": "runner", "lift": "lift"}),),
    fields={
        "runner": LengthField(0.1, 20, label="Its runners", required=False),
        "lift": LengthField(0.01, 20, label="Its tail is lifted by", required=False),
    },
    template="frame/kinds/sledge.html",
    usual={"runner": 2.0, "lift": 0.9},
)
