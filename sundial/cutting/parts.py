"""The parts list: how many of everything that is not sawn, by rules that are data."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from math import ceil, pi
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sundial.beams.sections import parse_section, size_of
from sundial.cutting.cut_list import CutPiece
from sundial.frames.pieces import is_leg
from sundial.quantities import INCH, format_length
from sundial.wind.site import stand_in

if TYPE_CHECKING:
    from sundial.scene import Scene

NUT_AND_WASHERS = 1.8  # bolt thicknesses beyond the grip: nut 0.8, two washers 0.4, three threads 0.6 (ISO 4032, ISO 7089)
STUDS = 0.4  # m, from stud to stud (thumb)
DRIP_WIDE, DRIP_DEEP = 0.3, 0.05  # m of the gravel strip (thumb)
CONCRETE = 2100.0  # kg of dry mix for a cubic metre poured (thumb)
UNDER = ("base bar", "base", "post", "back post", "prop")  # what stands on the feet, beside legs
EARTH_DOWN = 5.0  # m of wire from the rack to earth (thumb)


@dataclass(frozen=True)
class Part:
    """``count`` needed, ``packs`` of ``pack`` to buy (``bought`` in all), ``price`` of these (None: not told), ``mass`` kg of the needed
    (None: not told)."""

    name: str
    count: int
    pack: int
    packs: int
    price: float | None
    mass: float | None
    why: str

    @property
    def bought(self) -> int:
        return self.pack * self.packs


@cache
def _data() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((Path(__file__).parent / "data" / "parts.json").read_text("utf-8"))
    return found


def sources() -> tuple[str, ...]:
    held = _data()
    return (held["source"], held["bolts"]["source"], held["screws"]["source"])


def bolt_size(thickness: float) -> str:
    """ "M12", or "1/2 in" where a thickness, m, is no whole millimetre."""
    millimetres = thickness * 1000
    return f"M{millimetres:.0f}" if abs(millimetres - round(millimetres)) < 1e-6 else format_length(thickness, "us")


def _long(millimetres: int, size: str) -> str:
    """The length beside a bolt's size: of an inch bolt up to the next quarter of an inch."""
    return str(millimetres) if size.startswith("M") else format_length(ceil(millimetres / 1000 / INCH * 4) / 4 * INCH, "us")


def bolt_length(grip: float, thickness: float) -> int:
    """The shortest bolt in common stock for a ``grip`` m, mm: with nut, washers and three threads."""
    needed = (grip + NUT_AND_WASHERS * thickness) * 1000
    return _next_up(_data()["bolts"]["lengths"], needed)


def screw_length(through: float) -> int:
    """The shortest wood screw in common stock through ``through`` m and into what lies behind, mm."""
    needed = (through + _data()["screws"]["bite"]) * 1000
    return _next_up(_data()["screws"]["lengths"], needed)


def _next_up(lengths: Sequence[int], needed: float) -> int:
    return next((length for length in lengths if length >= needed - 1e-6), ceil(needed / 20) * 20)


def kind_of(scene: Scene) -> str:
    """The kind of frame, a folding A-frame apart from other props; empty where none is told."""
    return "" if scene.structure is None else scene.structure.name


def material_of(section: str) -> str:
    """ "timber" or "metal"."""
    try:
        return "timber" if parse_section(section).material == "timber" else "metal"
    except ValueError:
        words = section.lower()
        return "metal" if any(word in words for word in ("steel", "alu", "strut", "tube", "pipe", "rail", "bar")) else "timber"


def width_of(section: str) -> float:
    """Thickness of a section across the mitres, m; 45 mm where its words say none."""
    size = size_of(section)
    return size[0] if size else 0.045


def feet_of(scene: Scene) -> int:
    """Two for each frame, one for a pole; or as the footing is told."""
    footing, structure = scene.brief.footing, scene.structure
    if footing is not None and footing.feet is not None:
        return footing.feet
    if structure is None:
        return 0
    return 1 if kind_of(scene) == "pole" else structure.feet_in_all


def parts_list(scene: Scene, pieces: Sequence[CutPiece]) -> list[Part]:
    """All parts of a build, rounded up to packs; what a person told of price, pack and weight takes the place of the rule's."""
    units, cutting = _units(scene, pieces), scene.brief.cutting
    told = {one.name.lower(): one for one in cutting.parts}
    found = []
    for rule in _data()["rules"]:
        number = units.get(rule["per"], 0.0) * rule["each"]
        if number <= 0 or not _holds(rule, scene, pieces):
            continue
        name = _named(rule["name"], scene, pieces)
        own = told.pop(name.lower(), None)
        count, pack = ceil(number - 1e-9), own.pack if own else rule.get("pack", 1)
        packs = ceil(count / pack)
        price = None if own is None or own.price is None else own.price * packs
        mass = None if own is None or own.mass is None else own.mass * count
        found.append(Part(name, count, pack, packs, price, mass, rule["why"]))
    # Parts of the person's own that no rule knows: one pack each.
    return found + [
        Part(own.name, own.pack, own.pack, 1, own.price, None if own.mass is None else own.mass * own.pack, "your own")
        for own in told.values()
    ]


def _holds(rule: Mapping[str, Any], scene: Scene, pieces: Sequence[CutPiece]) -> bool:
    footing = scene.brief.footing
    materials = {material_of(piece.section) for piece in pieces}
    facts: dict[str, set[str]] = {
        "fixing": {scene.brief.cutting.fixing},
        "kinds": {kind_of(scene)},
        "material": materials,
        "legs": {material_of(piece.section) for piece in pieces if piece.name in UNDER or is_leg(piece.name)},
        "braces": {material_of(piece.section) for piece in pieces if piece.name == "brace"},
        "footing": {footing.kind} if footing else set(),
        "stands": {stand_in(scene).rules},
    }
    if set(rule.get("not_legs", ())) & facts["legs"] or ("not_legs" in rule and not facts["legs"]):
        return False
    return all(set(rule[key]) & held for key, held in facts.items() if key in rule and rule[key])


def _between(scene: Scene) -> int:
    """Rows of legs between the front and the rear one."""
    structure = scene.structure
    return max(len(structure.shares_of_rail(scene.array.slope_length)) - 2, 0) if structure is not None else 0


def _units(scene: Scene, pieces: Sequence[CutPiece]) -> dict[str, float]:
    """What the rules count."""
    array, brief, structure = scene.array, scene.brief, scene.structure
    frames = structure.frames if structure else 0
    purlins = sum(piece.count for piece in pieces if piece.name in ("purlin", "mounting rail"))
    lines = purlins if brief.cutting.fixing == "clamps" else 2 * array.rows
    footing = brief.footing
    depth = (footing.depth or 0.0) if footing else 0.0
    volume = pi / 4 * footing.diameter**2 * depth * feet_of(scene) if footing else 0.0
    feet = feet_of(scene)
    return {
        "one": 1,
        "panels": array.count,
        "rail_lines": lines,
        "end_clamps": 2 * lines,
        "mid_clamps": lines * (array.columns - 1),
        "short_rails": sum(piece.count for piece in pieces if piece.name == "short rail"),
        "crossings": purlins * frames,
        "frame_bolts": frames * (_data()["frame_bolts"].get(kind_of(scene), 0) + 2 * _between(scene)),
        "braces": sum(piece.count for piece in pieces if piece.name == "brace"),
        "feet": feet,
        "concrete_bags": volume * CONCRETE / 25,
        "anchor_bolts": brief.cutting.base.bolts if brief.cutting.base and kind_of(scene) == "pole" else 0,
        "rafters": sum(piece.count for piece in pieces if piece.name == "rafter"),
        "ledger_screws": 2 * (ceil(array.breadth / STUDS) + 1),
        "splices": sum(piece.count * max(len(piece.parts) - 1, 0) for piece in pieces),
        "earth_metres": array.breadth * array.rows + EARTH_DOWN,
        "metal_ends": 2 * sum(piece.count for piece in pieces if material_of(piece.section) == "metal"),
        "drip_metres": array.breadth,
        "drip_litres": array.breadth * DRIP_WIDE * DRIP_DEEP * 1000,
    }


def _named(name: str, scene: Scene, pieces: Sequence[CutPiece]) -> str:
    """The frame's own bolts and screws get their size from what they go through."""
    bolt = scene.brief.cutting.bolt
    size = bolt_size(bolt)
    frame = [piece for piece in pieces if piece.name in ("rail", "prop", "base bar", "rafter", "strut") or is_leg(piece.name)]
    grip = sum(sorted((width_of(piece.section) for piece in frame), reverse=True)[:2]) or 0.09
    brace = next((piece for piece in pieces if piece.name == "brace"), None)
    return {
        "FRAME BOLT": f"bolt {size} x {_long(bolt_length(grip, bolt), size)}",
        "FRAME LOCK NUT": f"lock nut {size}",
        "FRAME WASHER": f"washer {size}",
        "BRACE SCREW": f"wood screw 6 x {screw_length(width_of(brace.section) if brace else 0.045)}",
    }.get(name, name)


def mass_of(pieces: Sequence[CutPiece]) -> float | None:
    """Weight of all pieces of known sections, kg; None where a section is not known."""
    total = 0.0
    for piece in pieces:
        try:
            total += parse_section(piece.section).mass * piece.length * piece.count
        except ValueError:
            return None
    return total
