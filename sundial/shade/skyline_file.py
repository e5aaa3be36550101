"""Skylines as CSV: azimuth, elevation and, where it is not solid, what the stretch to the next reading is made of."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from sundial.errors import BriefError
from sundial.shade.skyline import KINDS, MOST, Kind

LARGEST = 500_000  # bytes
LONGEST_LINE = 1000  # characters


@dataclass(frozen=True)
class SkylineFile:
    """What a file held, sorted, and what was mended on the way in words."""

    points: tuple[tuple[float, float], ...]
    kinds: tuple[Kind, ...]
    notes: tuple[str, ...]


def read_skyline_csv(data: bytes) -> SkylineFile:
    """Read a skyline; BriefError names the row that cannot be read."""
    if len(data) > LARGEST:
        raise BriefError("", f"that file is far too large: a skyline has at most {MOST} rows")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BriefError("", "that file is no text: save the skyline as CSV") from None
    comma = ";" if ";" in text else ","
    if max(map(len, text.splitlines()), default=0) > LONGEST_LINE:
        raise BriefError("", f"a line has over {LONGEST_LINE} characters: each row is an azimuth and an elevation")
    rows: list[tuple[int, tuple[float, float, Kind]]] = []
    notes: list[str] = []
    for number, cells in enumerate(csv.reader(io.StringIO(text), delimiter=comma), 1):
        cells = [cell.strip() for cell in cells]
        if not any(cells) or cells[0].startswith("#"):
            continue
        if not rows and not _number(cells[0], comma):
            continue  # a heading
        rows.append((number, _row(number, cells, comma)))
        if len(rows) > MOST:
            raise BriefError(f"row {number}", f"a skyline has at most {MOST} readings, and 30 are plenty")
    if not rows:
        raise BriefError("", "no reading was found: each row is azimuth, elevation, and perhaps solid, evergreen or leafy")
    found = [row for _, row in rows]
    ordered = sorted(found, key=lambda row: row[0])
    if ordered != found:
        notes.append("The readings were not in order of azimuth; they are sorted now.")
    kept = list({row[0]: row for row in ordered}.values())
    if len(kept) < len(ordered):
        notes.append(f"{len(ordered) - len(kept)} azimuths were there twice; the later reading counts.")
    points = tuple((azimuth, elevation) for azimuth, elevation, _ in kept)
    notes += gaps_told(points)
    return SkylineFile(points, tuple(kind for _, _, kind in kept), tuple(notes))


def gaps_told(points: tuple[tuple[float, float], ...]) -> list[str]:
    """Words for a skyline of one reading, or one that covers only part of the round."""
    if len(points) == 1:
        return [f"One reading only: {points[0][1]:g}° is taken all round."]
    from sundial.shade.skyline import Skyline

    return [
        f"From {a:.0f}° to {b:.0f}° there is no reading: a straight line between the two is taken."
        for a, b in Skyline(points).gaps
    ]


def _number(text: str, comma: str) -> bool:
    try:
        float(text.replace(",", ".") if comma == ";" else text)
    except ValueError:
        return False
    return True


def _row(number: int, cells: list[str], comma: str) -> tuple[float, float, Kind]:
    where = f"row {number}"
    if len(cells) < 2:
        raise BriefError(where, "needs an azimuth and an elevation")
    for name, cell in zip(("azimuth", "elevation"), cells, strict=False):
        if not _number(cell, comma):
            raise BriefError(where, f"{name} {cell!r} is not a number")
    azimuth, elevation = (float(cell.replace(",", ".") if comma == ";" else cell) for cell in cells[:2])
    if not 0 <= azimuth <= 360:
        raise BriefError(where, f"azimuth {azimuth:g} lies outside 0 to 360 degrees")
    if not 0 <= elevation <= 90:
        raise BriefError(where, f"elevation {elevation:g} lies outside 0 to 90 degrees")
    kind = cells[2].lower() if len(cells) > 2 and cells[2] else "solid"
    if kind not in KINDS:
        raise BriefError(where, f"{kind!r} is not one of {', '.join(KINDS)}")
    return azimuth % 360, elevation, kind


def write_skyline_csv(points: tuple[tuple[float, float], ...], kinds: tuple[Kind, ...] = ()) -> str:
    """The same file back."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(["azimuth", "elevation", "kind"])
    for index, (azimuth, elevation) in enumerate(points):
        table.writerow([f"{azimuth:.10g}", f"{elevation:.10g}", kinds[index] if kinds else "solid"])
    return out.getvalue()
