"""What mending each cause returns in a year."""

from __future__ import annotations

from sundial.diagnosis.wired import Wired

LOST_AT_NOON = (
    0.6  # of a loss at full sun that is lost over a year where it grows with the light (thumb: the mean light of the energy made)
)
USUAL = {
    "angle": 0.05,
    "facing": 0.05,
    "dirt": 0.06,
    "shade": 0.08,
    "rail": 0.02,
    "window": 0.2,
    "cable": 0.06,
    "heat": 0.04,
    "plug": 0.15,
    "snow": 0.01,
}
NOTHING = ("hour", "cloud", "limit", "meter", "clock")  # the power is there, or cannot be had
PASSING = (
    "shade",
    "rail",
    "plug",
    "window",
    "snow",
)  # at some hours or on some days only: a day's level says little about the year


def returns_of(cause: str, energy: float, joined: Wired, missing: float | None = None) -> float:
    """kWh a year that mending a cause gives back, of ``energy`` that the plan has. ``missing``: share that a clear day lacked, where one is
    known; else a usual share (thumb). Dead parts by their number: a block, a panel, a string of all."""
    if cause in NOTHING:
        return 0.0
    blocks, panels = joined.all_blocks, joined.all_panels
    counted = {
        "string": 1 / joined.strings,
        "section": 1 / blocks,
        "covered": 1 / blocks,
        "panel": 1 / panels,
        "reversed": min(2 / panels, 1.0),
        "overlap": 0.4 / panels,
        "cracked": 0.4 / panels,
    }
    if cause in counted:
        return energy * counted[cause]
    share = USUAL[cause]
    if missing is not None and missing > 0 and cause not in PASSING:
        share = min(missing, 1.0) * (LOST_AT_NOON if cause in ("cable", "heat") else 1.0)
    return energy * share
