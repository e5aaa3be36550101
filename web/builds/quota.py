"""How much one person may keep: builds, and bytes of uploaded files."""

from __future__ import annotations

from typing import Any

from sundial.errors import BriefError
from web.builds import registry
from web.builds.models import Build, StoredResult
from web.builds.part import bytes_in

MOST_BYTES = 80_000_000  # of weather files and pictures: fifty years of weather
MOST_ANSWERS = 200_000_000  # of stored results, the oldest are thrown away beyond it


def bytes_of(build: Build) -> int:
    """Bytes of uploaded files in one build."""
    builds = Build.objects.filter(pk=build.pk)
    return sum(keeper.bytes_of(builds) for keeper in registry.keepers())


def bytes_held(owner: Any) -> int:
    """Bytes of uploaded files of a person, in builds that can be taken back too."""
    builds = Build.objects.filter(owner=owner)
    return sum(keeper.bytes_of(builds) for keeper in registry.keepers())


def refuse_over(owner: Any, more: int, instead: int = 0) -> None:
    """BriefError where ``more`` bytes of files (``instead`` of some) go beyond what one person may keep."""
    held = bytes_held(owner) - instead + more
    if more and held > MOST_BYTES:
        raise BriefError(
            "",
            f"your weather files, monitors’ files and pictures would take {held / 1e6:.0f} MB; {MOST_BYTES / 1e6:.0f} MB are the most: "
            "throw builds away that you do not need, or keep the files of fewer",
        )


def trim_answers(owner: Any) -> int:
    """Throw away a person's oldest stored results beyond ``MOST_ANSWERS``; they are computed again when asked for."""
    rows = StoredResult.objects.filter(build__owner=owner)
    over = bytes_in(rows) - MOST_ANSWERS
    dropped: list[int] = []
    if over > 0:
        for pk, payload in rows.order_by("pk").values_list("pk", "payload").iterator(chunk_size=20):
            dropped.append(pk)
            over -= len(payload)
            if over <= 0:
                break
    StoredResult.objects.filter(pk__in=dropped).delete()
    return len(dropped)
