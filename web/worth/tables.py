"""What people type in the tables of a tariff: bands of the day, and blocks of the month."""

from __future__ import annotations

import re
from collections.abc import Sequence

from sundial.days import MONTH_NAMES
from sundial.quantities import Units
from web.builds.typed_tables import Row, number

SHORT = [name[:3].lower() for name in MONTH_NAMES]
HOURS = re.compile(r"^(\d{1,2})(?:[:.](\d\d))?\s*(?:-|–|to)\s*(\d{1,2})(?:[:.](\d\d))?$", re.IGNORECASE)


def read_band(cells: Sequence[str], units: Units) -> Row:
    """Hours such as 7-23, or "rest"; the price of a kWh; and months such as Jun-Sep where it holds in some only."""
    if len(cells) < 2 or not cells[0] or not cells[1]:
        raise ValueError("give the hours (7-23, or rest), the price of a kWh, and the months where it is not the whole year")
    row: Row = {"price": number(cells[1], "price", -1000, 1000)}
    if not re.match(r"^(the )?(rest|all|other)", cells[0].lower()):
        row |= _hours(cells[0])
    if len(cells) > 2 and cells[2]:
        row["months"] = _months(cells[2])
    return row


def _hours(text: str) -> Row:
    match = HOURS.match(text.strip())
    if not match:
        raise ValueError(f"{text[:20]!r} is no part of a day such as 7-23, 23:00-07:00 or rest")
    start, part, end, other = match.groups()
    if (part or "00") != "00" or (other or "00") != "00":
        raise ValueError("give whole hours: the balance goes by the hour")
    low, high = int(start), int(end)
    if low > 23 or high > 24 or low == high:
        raise ValueError(f"{text[:20]!r} is no part of a day: hours run from 0 to 24")
    return {"from": f"{low:02}:00", "to": f"{high:02}:00"}


def _months(text: str) -> list[int]:
    found: list[int] = []
    for part in re.split(r"[\s,/]+", text.strip()):
        low, _, high = re.sub(r"[–—]", "-", part).partition("-")
        first, last = _month(low), _month(high or low)
        month = first
        while True:
            found.append(month)
            if month == last:
                break
            month = month % 12 + 1
    return sorted(set(found))


def _month(text: str) -> int:
    if text.isdigit() and 1 <= int(text) <= 12:
        return int(text)
    if text[:3].lower() in SHORT:
        return SHORT.index(text[:3].lower()) + 1
    raise ValueError(f"{text[:12]!r} is no month: write Jun-Sep, or 6-9")


def write_band(row: Row, units: Units) -> str:
    hours = "rest" if row.get("from") is None else f"{int(row['from'][:2])}-{int(row['to'][:2])}"
    cells = [hours, f"{row['price']:g}"]
    return "; ".join([*cells, _spoken(row["months"])] if row.get("months") else cells)


def _spoken(months: list[int]) -> str:
    """Months as their stretches: Nov-Mar."""
    if len(months) == 12:
        return "Jan-Dec"
    starts = [month for month in months if (month - 2) % 12 + 1 not in months]
    words = []
    for start in starts:
        end = start
        while end % 12 + 1 in months:
            end = end % 12 + 1
        words.append(SHORT[start - 1].title() if end == start else f"{SHORT[start - 1].title()}-{SHORT[end - 1].title()}")
    return " ".join(words)


def read_block(cells: Sequence[str], units: Units) -> Row:
    """Where the block ends, kWh of the month, or "over" for the last; the price of a kWh."""
    if len(cells) < 2 or not cells[1]:
        raise ValueError("give the kWh of the month it ends at (or: over), and the price of a kWh")
    if re.match(r"^(over|above|more|rest|the rest)", cells[0].lower()):
        return {"up_to": None, "price": number(cells[1], "price", -1000, 1000)}
    return {"up_to": number(cells[0], "end", 0.1, 1e6), "price": number(cells[1], "price", -1000, 1000)}


def write_block(row: Row, units: Units) -> str:
    return f"{'over' if row['up_to'] is None else format(row['up_to'], 'g')}; {row['price']:g}"
