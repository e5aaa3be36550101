"""What other parts of the application tell, that belongs into the log."""

from __future__ import annotations

from typing import Any

from django.dispatch import receiver
from django.utils import timezone

from sundial.record.entries import Move
from web.builds.models import Build
from web.builds.signals import stands_told
from web.log.store import add_entry


@receiver(stands_told)
def a_move(sender: Any, build: Build, tilt: float, before: float | None, **_: Any) -> None:
    """Somebody said how it stands: that is a move, unless it stood so already."""
    if before is None or abs(before - tilt) > 0.05:
        add_entry(build, Move(at=timezone.now(), tilt=tilt, before=before))
