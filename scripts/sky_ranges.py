"""Hold the ranges of gains under the world sky against weather files of other makers.

    python scripts/sky_ranges.py FOLDER [--least 0.75]

For each EPW or TMY3 file of FOLDER (also gzipped) and each row of the comparison that gains or loses anything: does the row's gain under the file lie
within P10 to P90 of its gain under the world sky at the same place? Exit 1 where fewer rows than ``--least`` do.
"""

from __future__ import annotations

import argparse
import gzip
import sys
from dataclasses import dataclass
from pathlib import Path

from timezonefinder import TimezoneFinder

from sundial.brief.read import brief_of
from sundial.study import studied
from sundial.worth.comparison import Comparison, compare


@dataclass(frozen=True)
class RowHeld:
    """One row at one place: kWh a year gained under both skies, and the range that was told."""

    place: str
    row: str
    told: tuple[float, float]
    world: float
    real: float

    @property
    def holds(self) -> bool:
        return self.told[0] <= self.real <= self.told[1]


def rows_held(name: str, content: bytes) -> list[RowHeld]:
    """Every row of the comparison at the place of one weather file, panels that are only added left out."""
    kind = "epw" if content[:9].upper().startswith(b"LOCATION") else "tmy3"
    head = content.split(b"\n", 1)[0].decode("latin-1").split(",")
    latitude, longitude, elevation = (float(head[at]) for at in ((6, 7, 9) if kind == "epw" else (4, 5, 6)))
    zone = TimezoneFinder().timezone_at(lat=latitude, lng=longitude)

    def compared(sky: dict[str, str]) -> Comparison:
        made = {
            "format": "crooked-sundial-brief", "version": 1, "name": name, "sky": sky,
            "site": {"latitude": latitude, "longitude": longitude, "elevation": elevation, "timezone": zone},
            "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
            "array": {"rows": 2, "columns": 4, "clearance": 0.5}, "mount": {"kind": "stepped", "min": 0, "max": 90, "step": 1},
        }  # fmt: skip
        return compare(studied(brief_of(made), lambda _: content))

    world, real = compared({"kind": "world"}), compared({"kind": kind, "file": "sky"})
    found = []
    for row in world.rows:
        other = next((one for one in real.rows if one.key == row.key), None)
        if other is not None and not row.panels_only and abs(row.extra_kwh) > 1e-6:
            found.append(RowHeld(name, row.key, row.spread.kwh, row.extra_kwh, other.extra_kwh))
    return found


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--least", type=float, default=0.75, help="share of the rows that must hold")
    options = parser.parse_args()
    rows: list[RowHeld] = []
    for path in sorted(options.folder.iterdir()):
        if not any(end in path.name.lower() for end in (".epw", ".csv")):
            continue
        content = gzip.decompress(path.read_bytes()) if path.suffix == ".gz" else path.read_bytes()
        try:
            rows += rows_held(path.name, content)
        except (ValueError, IndexError) as error:
            print(f"{path.name}: {error}", file=sys.stderr)
    for row in rows:
        print(
            f"{row.place[:34]:34} {row.row:14} {row.world:8.0f} [{row.told[0]:6.0f} {row.told[1]:6.0f}] {row.real:8.0f} {'' if row.holds else 'outside'}"
        )
    held = sum(row.holds for row in rows)
    print(f"{held} of {len(rows)} rows hold ({held / max(len(rows), 1):.0%})")
    return 0 if rows and held >= options.least * len(rows) else 1


if __name__ == "__main__":
    raise SystemExit(main())
