"""Sections of beams, by the words people order them with: ``45x95 C24``, ``strut 41x41x2.5``, ``box 60x40x3 steel``, ``angle 50x50x5
aluminium``, ``tube 114x4 steel``, ``channel 100x50x5 steel``, ``flat 50x6 steel``, ``2x6 SPF No.2``. The second number is the height (of a flat and a channel the first); m, m2, m3, m4
inside."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from functools import cache
from math import pi
from pathlib import Path
from typing import Any, Literal

from sundial.quantities import PSI

Duration = Literal["permanent", "medium", "short"]
_SIZES = re.compile(r"(\d+(?:[.,]\d+)?(?:\s*[x×*]\s*\d+(?:[.,]\d+)?)+)")
LARGEST_NAME = 12  # inches of a board's name: larger numbers are mm
MILLIMETRE = 1e-3


@cache
def _data() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((Path(__file__).parent / "data" / "sections.json").read_text("utf-8"))
    return found


USUAL_SECTION = {"metric": "45x95 C24", "us": "2x4 SPF No.2"}  # of what is not named, where people think in these units


def usual_sections() -> list[str]:
    """Sections that can be bought nearly everywhere."""
    return list(_data()["usual"])


def sources() -> tuple[str, ...]:
    """Where strengths and stiffnesses are from, a line each."""
    return tuple(_data()[key]["source"] for key in ("timber", "duration", "lumber", "metals", "strut", "heat"))


@dataclass(frozen=True)
class Section:
    """``inertia`` m4 and ``modulus`` m3 about the level axis, ``stiffness`` Pa, ``strength`` Pa (characteristic), ``mass`` kg/m, ``height``
    m; ``material`` "timber", "steel" or "aluminium"; ``lumber``: graded the American way, its ``strength`` the reference design value."""

    name: str
    inertia: float
    modulus: float
    stiffness: float
    strength: float
    mass: float
    height: float
    material: str
    lumber: bool = False

    def allowed(self, duration: Duration, outdoors: bool) -> float:
        """Bending stress allowed under a load of that duration, Pa."""
        if self.material != "timber":
            return self.strength / float(_data()["metals"]["safety"])
        if self.lumber:
            return self._of_lumber(duration, outdoors)
        held = _data()["duration"]
        return self.strength * float(held["outdoors" if outdoors else "sheltered"][duration]) / float(held["partial"])

    def _of_lumber(self, duration: Duration, outdoors: bool) -> float:
        """Reference value times size, load duration and wet service (NDS 4.3.1); a size between two tabled ones takes the larger one's factor."""
        held = _data()["lumber"]
        size = next((factor for height, factor in held["size"] if self.height * 1000 <= height + 0.5), held["size"][-1][1])
        sized = self.strength * size
        dry = sized <= held["dry_enough_psi"] * PSI
        return float(sized * held["duration"][duration] * (held["wet"] if outdoors and not dry else 1.0))


def parse_section(text: str) -> Section:
    """A section by its words. ValueError says what is not understood."""
    words = text.strip().lower()
    found = _SIZES.search(words)
    if not found:
        raise ValueError(f"{text[:40]!r} names no size: write it as 45x95 C24, strut 41x41x2.5 or box 40x40x3 steel")
    sizes = [float(one.replace(",", ".")) * MILLIMETRE for one in re.split(r"\s*[x×*]\s*", found.group(1))]
    if min(sizes) <= 0 or max(sizes) > 2:
        raise ValueError(f"{found.group(1)} mm is no size of a beam")
    if "strut" in words:
        return _strut(text.strip(), sizes)
    if "tube" in words:
        return _tube(text.strip(), sizes, words)
    if "channel" in words:
        return _channel(text.strip(), sizes, words)
    if "flat" in words:
        return _flat(text.strip(), sizes, words)
    if "box" in words or "angle" in words:
        return _thin("box" if "box" in words else "angle", text.strip(), sizes, words)
    return _timber(text.strip(), sizes, words)


def size_of(section: str) -> tuple[float, float] | None:
    """Width and height, m, of a section by its words, whether its grade or wall is told or not: a board by its name, else two sizes in mm; None
    where it tells none. ValueError for a name in inches that no board has."""
    found = _SIZES.search(section.strip().lower())
    if not found:
        return None
    board = None if re.search("strut|tube|box|angle|channel|flat", section.lower()) else board_size(found.group(1))
    sizes = [float(one.replace(",", ".")) * MILLIMETRE for one in re.split(r"\s*[x×*]\s*", found.group(1))]
    return board or (sizes[0], sizes[1])


def board_size(text: str) -> tuple[float, float] | None:
    """Width and height, m, of a board by its name in inches, as 2x4 is 38 x 89 mm; None for what is no such name. ValueError for a name
    that no board has: its size is asked, never assumed."""
    named = re.fullmatch(r"\s*(\d{1,2})\s*[x×*]\s*(\d{1,2})\s*", text)
    if not named or max(int(named[1]), int(named[2])) > LARGEST_NAME:
        return None
    found = _data()["boards"].get(f"{named[1]}x{named[2]}")
    if found is None:
        raise ValueError(f"{text.strip()!r} names no board known here: write its size in mm, such as 38x89 C24")
    return found[0] * MILLIMETRE, found[1] * MILLIMETRE


def _lumber(name: str, words: str) -> Section | None:
    """A board by its name and an American grade; None where no such grade is named."""
    told = re.sub(r"[\d.]+\s*[x×*]\s*[\d.]+", " ", words)
    for held in _data()["lumber"]["grades"].values():
        if not any(re.search(rf"(?<![a-z]){re.escape(word)}", told) for word in held["words"]):
            continue
        size = size_of(name)
        if size is None:
            return None
        width, height = size
        return Section(
            name, width * height**3 / 12, width * height**2 / 6, held["stiffness_psi"] * PSI, held["strength_psi"] * PSI,
            width * height * held["density"], height, "timber", lumber=True,
        )  # fmt: skip
    return None


def _channel(name: str, sizes: list[float], words: str) -> Section:
    """A C channel on its web: height, flange width, thickness."""
    if len(sizes) != 3:
        raise ValueError(f"{name[:40]!r}: a channel has a height, a flange and a thickness, such as channel 100x50x5 steel")
    height, flange, wall = sizes
    if 2 * wall >= height or wall >= flange:
        raise ValueError(f"{name[:40]!r}: the wall is too thick for the section")
    material, held = _metal(words)
    inertia = (flange * height**3 - (flange - wall) * (height - 2 * wall) ** 3) / 12
    area = flange * height - (flange - wall) * (height - 2 * wall)
    return Section(
        name,
        inertia,
        inertia / (height / 2),
        held["stiffness"] * 1e6,
        held["strength"] * 1e6,
        area * held["density"],
        height,
        material,
    )


def _flat(name: str, sizes: list[float], words: str) -> Section:
    """A flat bar on edge: height, thickness."""
    if len(sizes) != 2:
        raise ValueError(f"{name[:40]!r}: a flat bar has a height and a thickness, such as flat 50x6 steel")
    height, wall = sizes
    material, held = _metal(words)
    return Section(
        name, wall * height**3 / 12, wall * height**2 / 6, held["stiffness"] * 1e6, held["strength"] * 1e6,
        wall * height * held["density"], height, material,
    )  # fmt: skip


def _timber(name: str, sizes: list[float], words: str) -> Section:
    graded = _lumber(name, words)
    if graded is not None:
        return graded
    grades = [grade for grade in _data()["timber"] if grade != "source"]
    grade = next((grade for grade in grades if grade.lower() in words), None)
    if grade is None:
        if "".join(words.split()) in _data()["boards"]:
            raise ValueError(f"{name[:40]!r} is told without its grade: read it off the stamp, as in {name.strip()} SPF No.2")
        raise ValueError(
            f"{name[:40]!r} names no grade of timber known here ({', '.join([*grades, *_data()['lumber']['grades']])}), and no strut, channel, box, angle or flat"
        )
    if len(sizes) != 2:
        raise ValueError(f"{name[:40]!r}: timber has a width and a height")
    width, height = size_of(name) or sizes
    held = _data()["timber"][grade]
    return Section(
        name, width * height**3 / 12, width * height**2 / 6, held["stiffness"] * 1e6, held["strength"] * 1e6,
        width * height * held["density"], height, "timber",
    )  # fmt: skip


def _metal(words: str) -> tuple[str, dict[str, float]]:
    name = "aluminium" if "alu" in words else "steel"
    return name, _data()["metals"][name]


def _strut(name: str, sizes: list[float]) -> Section:
    if [round(size, 4) for size in sizes] != [0.041, 0.041, 0.0025]:
        raise ValueError("strut channel is known here as 41x41x2.5 only")
    held, left = _data()["strut"], 1 - float(_data()["strut"]["slots"])
    _, steel = _metal("steel")
    return Section(
        name, held["inertia"] * left, held["modulus"] * left, steel["stiffness"] * 1e6, steel["strength"] * 1e6, held["mass"], 0.041,
        "steel",
    )  # fmt: skip


def _tube(name: str, sizes: list[float], words: str) -> Section:
    """A round tube: pi / 64 (D^4 - d^4)."""
    if len(sizes) != 2:
        raise ValueError(f"{name[:40]!r}: a tube has a diameter and a thickness, such as tube 114x4 steel")
    outer, inner = sizes[0], sizes[0] - 2 * sizes[1]
    if inner <= 0:
        raise ValueError(f"{name[:40]!r}: the wall is too thick for the section")
    material, held = _metal(words)
    inertia = pi / 64 * (outer**4 - inner**4)
    mass = pi / 4 * (outer**2 - inner**2) * held["density"]
    return Section(name, inertia, inertia / (outer / 2), held["stiffness"] * 1e6, held["strength"] * 1e6, mass, outer, material)


def _thin(kind: str, name: str, sizes: list[float], words: str) -> Section:
    if len(sizes) != 3:
        raise ValueError(f"{name[:40]!r}: give width, height and thickness, such as 40x40x3")
    width, height, wall = sizes
    if 2 * wall >= min(width, height):
        raise ValueError(f"{name[:40]!r}: the wall is too thick for the section")
    material, held = _metal(words)
    if kind == "box":
        area = width * height - (width - 2 * wall) * (height - 2 * wall)
        inertia = (width * height**3 - (width - 2 * wall) * (height - 2 * wall) ** 3) / 12
        modulus = inertia / (height / 2)
    else:  # an angle, its upright leg and its level one; bent about its level axis
        upright, level = wall * height, wall * (width - wall)
        area = upright + level
        middle = (upright * height / 2 + level * wall / 2) / area
        inertia = (
            wall * height**3 / 12 + upright * (height / 2 - middle) ** 2
            + (width - wall) * wall**3 / 12 + level * (wall / 2 - middle) ** 2
        )  # fmt: skip
        modulus = inertia / max(middle, height - middle)
    return Section(
        name, inertia, modulus, held["stiffness"] * 1e6, held["strength"] * 1e6, area * held["density"], height, material
    )


def heat_change(material: str, length: float, kelvin: float) -> float:
    """Change of length, m, over a change of temperature; KeyError for an unknown material."""
    return float(_data()["heat"][material]) * length * kelvin
