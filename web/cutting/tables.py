"""What people type in the tables of the cutting: stock, own pieces, prices of parts, prices of cable."""

from __future__ import annotations

import re
from collections.abc import Sequence

from sundial.quantities import FOOT, WIRE, Units, format_length, parse_length, parse_quantity, write_quantity
from web.builds.typed_tables import Row, number, whole


def length(text: str, units: Units, most: float) -> float:
    metres = parse_length(text, units)
    if not 0 < metres <= most:
        raise ValueError(f"a length of {text[:20]} cannot be: up to {format_length(most, units)}")
    return metres


def read_stock(cells: Sequence[str], units: Units) -> Row:
    """Section; length; how many are on hand; the price of one. With three cells the third says itself which of the two it is."""
    if len(cells) < 2 or not cells[0]:
        raise ValueError("give section, length, and how many are on hand or what one costs")
    row: Row = {"section": cells[0], "length": length(cells[1], units, 15.0), "count": None, "price": 0.0}
    if len(cells) == 4 and re.fullmatch(r"\d*", cells[2]) and not re.search("hand|have", cells[3].lower()):
        row["count"] = whole(cells[2], "count", 0, 1000) if cells[2] else None
        row["price"] = number(cells[3], "price", 0, 1e6) if cells[3] else 0.0
        return row
    for cell in cells[2:]:
        words = cell.lower()
        if not words:
            continue
        if re.search(r"hand|have|there|pcs|pieces|×|^x\s*\d|\bx$", words):
            row["count"] = whole(words, "count", 0, 1000)
        elif re.fullmatch(r"\d+", words.strip()):
            raise ValueError(
                f"is {words.strip()} how many are on hand, or what one costs? write “{words.strip()} on hand” or “{words.strip()}.00”"
            )
        else:
            row["price"] = number(cell, "price", 0, 1e6)
    return row


def write_stock(row: Row, units: Units) -> str:
    count = "" if row["count"] is None else str(row["count"])
    price = f"{row['price']:.2f}" if row["price"] or row["count"] is None else ""
    return "; ".join([row["section"], format_length(row["length"], units), count, price]).rstrip()


def read_piece(cells: Sequence[str], units: Units) -> Row:
    """Name; section; length; count; the angles of both cuts where they slant; and where its supports are, from its foot."""
    if len(cells) < 3 or not cells[0] or not cells[1]:
        raise ValueError("give name, section, length, and how many")
    row: Row = {
        "name": cells[0],
        "section": cells[1],
        "length": length(cells[2], units, 50.0),
        "count": 1,
        "angle": 0.0,
        "foot": 0.0,
    }
    if len(cells) > 3 and cells[3]:
        row["count"] = whole(cells[3], "count", 1, 1000)
    for name, cell in zip(("angle", "foot"), cells[4:6], strict=False):
        row[name] = number(cell, "saw angle", -75, 75) if cell else 0.0
    row["supports"] = (
        [length(place, units, 50.0) for place in re.split(r"\s+(?:and|\+)\s+|,\s*", cells[6]) if place] if len(cells) > 6 else []
    )
    return row


def write_piece(row: Row, units: Units) -> str:
    cells = [row["name"], row["section"], format_length(row["length"], units), str(row["count"])]
    supports = row.get("supports") or []
    if row.get("angle") or row.get("foot") or supports:
        cells += [f"{row.get('angle', 0):g}°", f"{row.get('foot', 0):g}°"]
    if supports:
        cells.append(", ".join(format_length(place, units) for place in supports))
    return "; ".join(cells)


def read_part(cells: Sequence[str], units: Units) -> Row:
    """Name as the list has it; price of a pack; how many in it; weight of one."""
    if len(cells) < 2 or not cells[0]:
        raise ValueError("give the part's name and the price of a pack")
    row: Row = {"name": cells[0], "price": number(cells[1], "price", 0, 1e6) if cells[1] else None, "pack": 1, "mass": None}
    if len(cells) > 2 and cells[2]:
        row["pack"] = whole(cells[2], "number in a pack", 1, 10000)
    if len(cells) > 3 and cells[3]:
        row["mass"] = number(cells[3], "weight", 0, 1000)
    return row


def write_part(row: Row, units: Units) -> str:
    price = "" if row.get("price") is None else f"{row['price']:.2f}"
    cells = [row["name"], price, str(row.get("pack", 1))]
    return "; ".join(cells + ([f"{row['mass']:g} kg"] if row.get("mass") is not None else []))


def read_price(cells: Sequence[str], units: Units) -> Row:
    """Thickness of a conductor; the price of a metre, or of a foot."""
    if len(cells) < 2:
        raise ValueError(f"give its thickness and the price of a {'foot' if units == 'us' else 'metre'}")
    area = parse_quantity(cells[0], WIRE, units)
    if not 0.1 <= area <= 400:
        raise ValueError(
            f"a conductor of {cells[0][:20]} cannot be: from {write_quantity(0.1, WIRE, units)} to {write_quantity(400, WIRE, units)}"
        )
    return {"area": area, "price": number(cells[1], "price", 0, 1e6) / (FOOT if units == "us" else 1.0)}


def write_price(row: Row, units: Units) -> str:
    return f"{write_quantity(row['area'], WIRE, units)}; {row['price'] * (FOOT if units == 'us' else 1.0):.2f}"
