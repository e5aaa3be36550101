"""Where a flap on a hinge may be put when it does not follow the sun."""

from __future__ import annotations

from typing import TYPE_CHECKING

from sundial.mounts.hinge import HingeMount

if TYPE_CHECKING:
    from sundial.mounts.kind import MountBrief


def place_on(mount: MountBrief, wanted: float | None) -> float | None:
    """A chosen tilt, degrees, no farther than the hinge goes; None where none is chosen, or the mount has no places."""
    if wanted is None or not isinstance(mount, HingeMount):
        return None
    return min(max(wanted, mount.min_tilt), mount.max_tilt)


def usual_places(mount: MountBrief) -> tuple[tuple[str, float], ...]:
    """Where it may be left, by name: "flat", "half-way" and "steep", degrees; empty for what has no places."""
    if not isinstance(mount, HingeMount):
        return ()
    return ("flat", mount.min_tilt), ("half-way", (mount.min_tilt + mount.max_tilt) / 2), ("steep", mount.max_tilt)
