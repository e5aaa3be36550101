"""A bracket on a wall."""

from __future__ import annotations

from web.builds.fields import LengthField
from web.frame.kinds.kind import Choice, FrameKind, Told


def _never(_: Told) -> bool:
    return False


KIND = FrameKind(
    choices=(Choice("wall", "A bracket on a wall", "wall", {"lower_height": "lower_height"}, says_tilts=_never),),
    fields={
        "lower_height": LengthField(0, 20, label="Lower ledger above ground", required=False),
    },
    template="frame/kinds/wall.html",
    usual={"lower_height": 0.4},
)
