"""A vehicle."""

from __future__ import annotations

from sundial.stands.kind import Stand


class Vehicle(Stand):
    """Bolts through the roof of a trailer or a van."""

    on = "vehicle"
    carrier = "vehicle"
    foreign = True
    anchors = True
    beneath = True
    drives = True
    caution = "Lower what moves, and lock it, before driving off; look at every bolt after the first miles. The vehicle's maker and road law decide."
