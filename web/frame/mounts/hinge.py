"""A motor tilts it about a level hinge."""

from __future__ import annotations

from web.frame.mounts.kind import MountKind
from web.frame.mounts.typed import MOTOR, span

KIND = MountKind(
    "hinge",
    "Hinged, by motor",
    span,
    needed=("min_tilt", "max_tilt"),
    shares=("min_tilt", "max_tilt", *MOTOR),
    first=("min_tilt", "max_tilt"),
    paths={"mount.min_tilt": "min_tilt", "mount.max_tilt": "max_tilt"},
)
