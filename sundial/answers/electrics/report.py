"""What a screen or the command line shows of the electrics: plain frozen data that can be stored and opened again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil
from typing import TYPE_CHECKING

import numpy as np

from sundial.brief.model import ElectricsBrief
from sundial.electrics.cable import Run, run_of, sources
from sundial.electrics.leads import CableEnd, Joint, connectors, joints, leapfrogged
from sundial.electrics.restring import MOST_PANELS, Restrung, restring
from sundial.electrics.strings import Split, allowed_splits, current_of, hottest_cell, lengths_in, refused, string_of
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.scene import Scene
    from sundial.study import Study

ESTIMATE = "planning estimate; local code, the maker's manual and a licensed electrician decide"
AT_LIMIT = 0.995  # of the inverter's power: the hour counts as clipped
MOST_TRIED = 12  # splits that a new wiring is looked for among


@dataclass(frozen=True)
class Clipped:
    """Panels over the inverter's limit: ``ratio`` of nameplate to it, ``hours`` a year at it, ``energy`` kWh a year thrown away."""

    ratio: float
    hours: int
    energy: float


@dataclass(frozen=True)
class ElectricsReport:
    """``strings`` of panel numbers as they are wired, in the order of the cable; voltages of the longest (cold) and shortest (hot), and the
    current of those side by side on one input; ``why`` that may not be (empty: it may); ``splits`` that are allowed; fewest and most panels
    of a string; ``cell`` degC at its hottest; the cable's ``run``; ``joints`` of the leads; ``clipped``; ``better``: the nearest allowed
    wiring where this one is not, with ``better_split``; ``longer``: the same for the rack with the columns and rows that are to be added (old
    panels keep their numbers, new ones follow), ``longer_why`` there is none. ``cables`` to make beside the panels' own leads."""

    strings: tuple[tuple[int, ...], ...]
    cold_voltage: float
    cold_working: float
    hot_voltage: float
    current: float
    side_by_side: int
    why: str
    verdict: str
    splits: tuple[Split, ...]
    lengths: tuple[int, int] | None
    cell: float
    run: Run | None
    joints: tuple[Joint, ...]
    cables: tuple[CableEnd, ...]
    clipped: Clipped | None
    better: Restrung | None
    better_split: Split | None
    longer: Restrung | None
    longer_split: Split | None
    longer_why: str
    notes: tuple[str, ...]
    sources: tuple[str, ...]


def label_of(scene: Scene) -> ElectricsBrief:
    """BriefError where the panel's label is not told, or contradicts the panel's power."""
    label = scene.brief.electrics
    if label is None:
        raise BriefError("electrics", "is missing: voltages and currents from the panel's label")
    power, told = scene.brief.panel.power, label.vmp * label.imp
    if not 0.85 <= told / power <= 1.15:
        raise BriefError(
            "electrics.vmp",
            f"times imp gives {told:.0f} W, and the panel is told as {power:g} W: both are on its label, within a few per cent",
        )
    return label


def electrics_report(study: Study) -> ElectricsReport:
    """Strings, cable and leads of a build as it is wired."""
    label, array, mounting = label_of(study.scene), study.scene.array, study.brief.system.mounting
    wired = tuple(tuple(panel + 1 for panel in group) for group in study.scene.geometry.wiring.groups(array.count))
    inputs = label.input.inputs if label.input else 1
    own = study.brief.wiring.kind == "own"
    beside = 1 if own else ceil(len(wired) / inputs)
    longest, shortest = max(map(len, wired)), min(map(len, wired))
    most, least = string_of(label, longest, mounting), string_of(label, shortest, mounting)
    why = "" if own else _why(label, [len(one) for one in wired], beside, study.scene)
    splits = [] if own else allowed_splits(label, array.wired, mounting)
    better, split = _nearest(wired, splits) if why and splits else (None, None)
    longer, longer_split, longer_why = _longer(study.scene, label, wired)
    run = _run(study, label, shortest, [1] if own else _on_inputs(len(wired), inputs))
    found = joints(array, wired, label.lead, label.boxes, label.leapfrog) if label.lead is not None else []
    clipped = _clipped(study)
    return ElectricsReport(
        wired, most.cold_voltage, most.cold_working, least.hot_voltage, current_of(label, beside, mounting), beside, why,
        _verdict(label, why, splits, own, len(wired)), tuple(splits), lengths_in(label, array.wired, mounting),
        hottest_cell(label.max_temp, mounting), run,
        tuple(found), tuple(connectors(wired, found, label.leapfrog, label.cable.length if label.cable else None)), clipped, better, split,
        longer, longer_split, longer_why, tuple(_notes(study.scene, label, most.cold_working)),
        sources(),
    )  # fmt: skip


def _why(label: ElectricsBrief, lengths: Sequence[int], beside: int, scene: Scene) -> str:
    if beside > 1 and len(set(lengths)) > 1:
        return f"strings side by side on one input have one length; these have {', '.join(map(str, lengths))}"
    mounting = scene.brief.system.mounting
    return next((why for length in dict.fromkeys(lengths) if (why := refused(label, length, beside, mounting))), "")


def _verdict(label: ElectricsBrief, why: str, splits: Sequence[Split], own: bool, strings: int) -> str:
    if own:
        return "every panel has its own converter: nothing adds up"
    if label.input is None:
        return "say what the input bears, and this says whether it may be"
    if not why:
        return "within every limit"
    return why + ("" if splits else "; no way of splitting these panels keeps within the limits")


def _nearest(wired: Sequence[Sequence[int]], splits: Sequence[Split]) -> tuple[Restrung | None, Split | None]:
    """The allowed split that changes the fewest plugs."""
    panels = [panel for string in wired for panel in string]
    if len(panels) > MOST_PANELS:
        return None, None
    tried = [(restring(wired, panels, sizes_of(split)), split) for split in splits[:MOST_TRIED]]
    return min(tried, key=lambda one: (one[0].changed, len(one[0].strings)))


def _longer(scene: Scene, label: ElectricsBrief, wired: Sequence[Sequence[int]]) -> tuple[Restrung | None, Split | None, str]:
    """The wiring of the rack made longer that changes the fewest plugs; old panels keep their numbers, new ones follow."""
    cutting = scene.brief.cutting
    if not (cutting.longer or cutting.longer_rows) or scene.brief.wiring.kind == "own" or label.input is None:
        return None, None, ""
    count = (scene.array.rows + cutting.longer_rows) * (scene.array.columns + cutting.longer)
    if count > MOST_PANELS:
        return None, None, f"{count} panels: the fewest changed plugs are worked out for up to {MOST_PANELS}"
    splits = allowed_splits(label, count, scene.brief.system.mounting)
    if not splits:
        return None, None, f"no way of splitting {count} panels keeps within the input's limits"
    panels = list(range(1, count + 1))
    tried = [(restring(wired, panels, sizes_of(split)), split) for split in splits[:MOST_TRIED]]
    made, split = min(tried, key=lambda one: (one[0].changed, len(one[0].strings)))
    return made, split, ""


def sizes_of(split: Split) -> list[int]:
    """Panels of every string of a split."""
    return [group.panels for group in split.inputs for _ in range(group.strings)]


def _on_inputs(strings: int, inputs: int) -> list[int]:
    """Strings on each input that is used, as evenly as they go."""
    used = min(strings, inputs)
    return [strings // used + (number < strings % used) for number in range(used)]


def _run(study: Study, label: ElectricsBrief, panels: int, beside: Sequence[int]) -> Run | None:
    """The cable with the year's own currents: loss goes with their square, hour by hour; a run to each input carries the strings on it
    (``beside``). Panels with converters of their own have one."""
    if label.cable is None:
        return None
    production = study.production()
    share = np.clip(production.hourly, 0, None) / study.scene.system.inverter.efficiency / study.scene.array.power
    square_hours = float(((share * label.imp) ** 2).sum()) * sum(strings**2 for strings in beside)
    return run_of(label.cable, label.imp * max(beside), panels * label.vmp, square_hours, study.terms.price)


def _clipped(study: Study) -> Clipped | None:
    limit = study.scene.system.inverter.power
    if limit is None:
        return None
    production = study.production()
    hours = int((production.hourly >= AT_LIMIT * limit).sum())
    return Clipped(study.scene.array.power / limit, hours, production.ledger["clipping"])


def _notes(scene: Scene, label: ElectricsBrief, cold_working: float) -> list[str]:
    notes = []
    if scene.brief.wiring.string:
        notes.append(
            "Other builds lie on the same string: panels of two tilts or facings hold each other back; see the yard they share."
        )
    if label.input and cold_working > label.input.window[1]:
        notes.append(
            f"On the coldest mornings it would work at {cold_working:.0f} V; the input tracks to {label.input.window[1]:g} V and gives a little away."
        )
    if label.cable:
        notes.append("A fuse or breaker for every string side by side with two others, and a disconnector, as your code asks.")
    return notes


def cable_path(label: ElectricsBrief, string: Sequence[int]) -> list[int]:
    """Panels of a string in the order of the cable as it is laid."""
    return leapfrogged(string) if label.leapfrog else list(string)
