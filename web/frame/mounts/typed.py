"""What several kinds of mount read alike."""

from __future__ import annotations

from typing import Any

from django.forms import Form

from sundial.errors import BriefError
from sundial.quantities import parse_tilts
from web.frame.mounts.kind import Told

MOTOR = ("standby_watts", "moving_watts", "speed", "aim")


def motor(data: Told) -> dict[str, Any]:
    """What a motor takes, as far as it is told."""
    return {name: data[name] for name in MOTOR if data.get(name) not in (None, "")}


def span(form: Form, data: Told) -> dict[str, Any]:
    """The flattest and the steepest of what a motor tilts."""
    if (data.get("min_tilt") or 0) > (data.get("max_tilt") or 90):
        form.add_error("max_tilt", "The steepest tilt must not be under the flattest.")
    return {"min_tilt": data.get("min_tilt"), "max_tilt": data.get("max_tilt"), **motor(data)}


def typed_tilts(form: Form, data: Told, name: str, both_sides: bool = False) -> list[float]:
    """Tilts as a list or a range, rising; empty where they are refused."""
    try:
        tilts = parse_tilts(data.get(name) or "")
        if any(tilt < 0 for tilt in tilts) and not both_sides:
            raise BriefError("", "tilts lie from 0 (flat) to 90 (upright)")
    except BriefError as error:
        where = error.path.replace("mount.tilts", "").strip()
        said = f"{where}: {error.message}" if where else error.message
        form.add_error(name, said[0].upper() + said[1:])
        return []
    repeated = {tilt for tilt in tilts if tilts.count(tilt) > 1}
    if repeated:
        form.add_error(name, f"{min(repeated):g}° is there twice: name each tilt once.")
    return sorted(set(tilts))
