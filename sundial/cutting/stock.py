"""Boards and bars that pieces are cut from: on hand, for sale, and what is usually sold where nothing is told."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sundial.brief.model import StockBrief
from sundial.cutting.cut_list import section_key
from sundial.errors import BriefError
from sundial.quantities import FOOT, Units

USUAL: dict[Units, dict[str, tuple[float, ...]]] = {  # m, lengths that are sold nearly everywhere (thumb)
    "metric": {"timber": (2.4, 3.0, 3.6, 4.2, 4.8, 5.4), "metal": (3.0, 6.0)},
    "us": {"timber": tuple(feet * FOOT for feet in (8, 10, 12, 14, 16, 20)), "metal": (10 * FOOT, 20 * FOOT)},
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


def stock_of(rows: Sequence[StockBrief], sections: Sequence[str], units: Units = "metric") -> dict[str, list[Stock]]:
    """What there is of each of ``sections``, by its key; lengths as they are sold where people
    think in ``units``, at no price, where nothing is told of it. Rows of one
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
            metal = any(
                word in key for word in ("strut", "box", "angle", "alu", "steel", "tube", "pipe", "pole", "channel", "flat")
            )
            found[key] = [Stock(key, length, None, 0.0, True) for length in USUAL[units]["metal" if metal else "timber"]]
    return found


@dataclass(frozen=True)
class OnHand:
    """What lies there of one section: ``boards``, longest first, each its length, m, and how much of it is sawn up, m (0: it is not opened);
    ``total`` and ``used`` m of all."""

    section: str
    boards: tuple[tuple[float, float], ...]

    @property
    def total(self) -> float:
        return sum(length for length, _ in self.boards)

    @property
    def used(self) -> float:
        return sum(used for _, used in self.boards)


def on_hand(rows: Sequence[StockBrief], opened: Sequence[tuple[str, float, float]]) -> tuple[OnHand, ...]:
    """All boards that are told to lie there, by section, whether or not a piece is sawn from them; ``opened``: section, length and what is
    used of each board on hand that the plan opens, m."""
    found: dict[str, tuple[str, list[float]]] = {}
    for row in rows:
        if row.count:
            found.setdefault(section_key(row.section), (row.section, []))[1].extend([row.length] * row.count)
    told = []
    for key, (name, lengths) in found.items():
        taken: dict[float, list[float]] = {}
        for section, length, used in opened:
            if section_key(section) == key:
                taken.setdefault(round(length, 4), []).append(used)
        boards = []
        for length in sorted(lengths, reverse=True):
            sawn = taken.get(round(length, 4), [])
            boards.append((length, sawn.pop(0) if sawn else 0.0))
        told.append(OnHand(name, tuple(boards)))
    return tuple(told)
