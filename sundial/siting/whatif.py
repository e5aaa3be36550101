"""What if: a thing removed, lowered or thinned; the array moved, turned, raised or split."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from sundial.brief.model import Brief, SplitBrief
from sundial.energy.production import Production, produce
from sundial.energy.shaded import SKYLINE
from sundial.errors import BriefError
from sundial.mounts.facing import Facing
from sundial.shade.rays import OWN
from sundial.siting.season import season_of_need
from sundial.study import Study

CROWN_LEFT = 0.4  # a crown cut to under its base begins at this share of its new height
Way = Literal["gone", "lower", "thinned"]


def ways_of(brief: Brief, name: str) -> tuple[Way, ...]:
    """What can be tried with something that stands in the way; nothing with the array's own rows, or the house it hangs on."""
    thing = next((thing for thing in brief.yard.objects if thing.name == name), None) if brief.yard else None
    if thing is None:
        return ("gone",) if name == SKYLINE or name in [part.name for part in brief.spot.parts] else ()
    if thing.kind == "array":
        return ("gone",)
    return ("gone", "lower", "thinned") if _lets_through(thing) else ("gone", "lower")


def _lets_through(thing: Any) -> list[str]:
    """The keys of a thing that say how much light gets through it."""
    shares = ("light_in_leaf", "light_bare", "open") if thing.kind in ("tree", "fence") else ()
    return [share for share in shares if hasattr(thing, share)]


def without_thing(brief: Brief, name: str) -> Brief:
    """The brief with one thing gone from its yard, its frame or (by the name of it) its skyline."""
    if name == SKYLINE:
        return brief.model_copy(update={"horizon": None, "readings": []})
    if name == OWN:
        raise BriefError("name", "the rows of the array shade each other: set them farther apart, or in one group")
    yard, spot = brief.yard, brief.spot
    kept = [thing for thing in yard.objects if thing.name != name] if yard else []
    parts = [part for part in spot.parts if part.name != name]
    if (not yard or len(kept) == len(yard.objects)) and len(parts) == len(spot.parts):
        raise BriefError("name", f"nothing in this yard is called “{name}”")
    changes: dict[str, Any] = {"spot": spot.model_copy(update={"parts": parts})}
    if yard:
        changes["yard"] = yard.model_copy(update={"objects": kept})
    return brief.model_copy(update=changes)


def with_thing(brief: Brief, name: str, height: float | None = None, thinned: float = 0.0) -> Brief:
    """The brief with one thing lowered to ``height`` m, or ``thinned`` by a share of what it stops now, 0 to 1."""
    if not 0 <= thinned <= 1:
        raise BriefError("thinned", "must be a share from 0 to 1")
    yard = brief.yard
    at = next((i for i, thing in enumerate(yard.objects) if thing.name == name), None) if yard else None
    if name in (SKYLINE, OWN, *(part.name for part in brief.spot.parts)):
        raise BriefError("name", f"{name if name in (SKYLINE, OWN) else f'“{name}”'} cannot be lowered or thinned here")
    if yard is None or at is None:
        raise BriefError("name", f"nothing in this yard is called “{name}”")
    thing = yard.objects[at]
    changes: dict[str, Any] = {}
    if thing.kind == "array":
        raise BriefError("name", f"“{name}” is an array: it can be moved or taken away, not lowered or thinned")
    if height is not None:
        top = max(thing.height, getattr(thing, "ridge", None) or 0.0)
        if not 0 < height <= top:
            raise BriefError("height", f"“{name}” is {top:g} m high: lower it to between 0 and that")
        changes["height"] = min(height, thing.height)
        if getattr(thing, "ridge", None):
            changes["ridge"] = height
        for base in ("crown_base", "base"):
            if getattr(thing, base, 0.0) >= changes["height"]:
                changes[base] = CROWN_LEFT * changes["height"]
    if thinned:
        shares = _lets_through(thing)
        if not shares:
            raise BriefError("thinned", f"“{name}” cannot be thinned: it is solid")
        changes |= {share: getattr(thing, share) + thinned * (1 - getattr(thing, share)) for share in shares}
    objects = [*yard.objects[:at], thing.model_copy(update=changes), *yard.objects[at + 1 :]]
    return brief.model_copy(update={"yard": yard.model_copy(update={"objects": objects})})


def with_spot(
    brief: Brief,
    x: float | None = None,
    y: float | None = None,
    azimuth: float | None = None,
    clearance: float | None = None,
    split: SplitBrief | Literal["keep"] | None = "keep",
) -> Brief:
    """The brief with its array moved, turned, raised, or split into groups (None: in one piece)."""
    spot = brief.spot.model_copy(
        update={
            "x": brief.spot.x if x is None else x,
            "y": brief.spot.y if y is None else y,
            "split": brief.spot.split if split == "keep" else split,
        }
    )
    array = brief.array.model_copy(
        update={
            "azimuth": brief.array.azimuth if azimuth is None else azimuth % 360,
            "clearance": brief.array.clearance if clearance is None else clearance,
        }
    )
    return brief.model_copy(update={"spot": spot, "array": array})


@dataclass(frozen=True)
class Change:
    """A changed build beside the one it came from: kWh a year and in the season of need, and what they gained."""

    energy: float
    in_season: float
    gain: float
    season_gain: float
    season: str


def year_of(study: Study, brief: Brief) -> Production:
    """The year of a brief that differs from the study's in yard, spot or array, its tilts moved on the study's own days:
    the plan is held, so that only the change is seen."""
    other = study.beside(brief)
    facing, drive = study.own_facing
    turn = other.scene.azimuth - study.scene.azimuth
    if turn:
        facing = Facing(facing.surface_tilt, np.mod(facing.surface_azimuth + turn, 360), facing.in_service)
    return produce(study.scene.light, other.scene.system, facing, drive, other.scene.shade)


def what_if(study: Study, brief: Brief, made: Production | None = None) -> Change:
    """What a change gives. ``made`` is the study's own year, where it is known."""
    before = made or year_of(study, study.brief)
    after = year_of(study, brief)
    season = season_of_need(study.scene)
    gained = after.energy - before.energy
    return Change(
        after.year, float(after.energy[season.days].sum()), float(gained.sum()), float(gained[season.days].sum()), season.name
    )
