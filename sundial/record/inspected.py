"""What of a build can be looked at: no hinge of what stays put, no foot of what hangs on a railing."""

from __future__ import annotations

from sundial.record.entries import INSPECTED
from sundial.scene import Scene
from sundial.wind.site import stand_in


def looked_at(scene: Scene) -> tuple[str, ...]:
    """The kinds of inspection that this build knows, in their usual order."""
    away = set(stand_in(scene).not_there)
    if scene.brief.mount.held_tilt is not None and not scene.brief.mount.motors and scene.brief.mount.hand == "nothing":
        away.add("hinges")
    return tuple(one for one in INSPECTED if one not in away)
