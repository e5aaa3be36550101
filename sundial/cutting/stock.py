"""Boards and bars that pieces are cut from: on hand, for sale, and what is usually sold where nothing is told."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sundial.brief.model import StockBrief
from sundial.cutting.cut_list import section_key
from sundial.errors import BriefError

USUAL = {  # m, lengths that are sold nearly everywhere (thumb)
    "timber": (2.4, 3.0, 3.6, 4.2, 4.8, 5.4),
    "metal": (3.0, 6.0),
}


@dataclass(frozen=True)
class Stock:
    """Boards of one section and ``length`` m: ``count`` on hand (None: for sale, as many as are wanted), ``price`` of each;
    ``assumed``: nothing was told of this section."""

    section: str
    length: float
    count: int | None = None
    price: float = 0.0
    assumed: bool = False


def stock_of(rows: Sequence[StockBrief], sections: Sequence[str]) -> dict[str, list[Stock]]:
    """What there is of each of ``sections``, by its key; usual lengths at no price where nothing is told of it. Rows of one
    section and length that are on hand at one price count together. BriefError names a row that contradicts another."""
    found: dict[str, list[Stock]] = {section_key(name): [] for name in sections}
    sold: dict[tuple[str, float], int] = {}
    for number, row in enumerate(rows):
        key = section_key(row.section)
        if row.count is None:
            place = (key, round(row.length, 4))
            if place in sold and rows[sold[place]].price != row.price:
                other = rows[sold[place]]
                raise BriefError(
                    f"stock[{number}].price",
                    f"{row.section} of {row.length:g} m is for sale at {other.price:g} in row {sold[place] + 1} and at {row.price:g} here: "
                    "keep one of them",
                )
            if place in sold:
                continue
            sold[place] = number
        if row.count == 0 or key not in found:
            continue
        same = next(
            (
                at for at, one in enumerate(found[key])
                if row.count is not None and one.count is not None and (one.length, one.price) == (row.length, row.price)
            ),
            None,
        )  # fmt: skip
        if same is not None:
            found[key][same] = Stock(key, row.length, (found[key][same].count or 0) + (row.count or 0), row.price)
        else:
            found[key].append(Stock(key, row.length, row.count, row.price))
    for key, rows_of in found.items():
        if not rows_of:
            metal = any(word in key for word in ("strut", "box", "angle", "alu", "steel", "tube", "pipe", "pole"))
            found[key] = [Stock(key, length, None, 0.0, True) for length in USUAL["metal" if metal else "timber"]]
    return found
