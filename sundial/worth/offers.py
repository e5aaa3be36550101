"""Offers of panels: what each costs per watt and per kWh, and how many fit where the array stands."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.errors import BriefError
from sundial.money.finance import outcome
from sundial.study import Study

MOST = 5  # offers side by side


@dataclass(frozen=True)
class PanelOffer:
    """One offer: nameplate ``power`` W, ``price`` of one, ``freight`` of the whole delivery, ``length`` and ``width`` m, ``bifaciality`` (0: the
    back gives nothing)."""

    name: str
    power: float
    price: float
    freight: float = 0.0
    length: float = 1.722
    width: float = 1.134
    bifaciality: float = 0.0


@dataclass(frozen=True)
class OfferFound:
    """``count`` of them that fit on the array's rectangle, ``rows`` by ``columns``, long side up the slope where ``portrait``; ``energy`` kWh a
    year of them on this mount, of which ``rear`` from the backs; ``cost`` of all with freight; per watt, and per kWh over the life, discounted."""

    offer: PanelOffer
    count: int
    rows: int
    columns: int
    portrait: bool
    power: float
    energy: float
    rear: float
    cost: float
    per_watt: float | None
    per_kwh: float | None


def fits(length: float, width: float, slope: float, breadth: float) -> tuple[int, int, bool]:
    """Rows up a slope of ``slope`` m and columns along ``breadth`` m of panels that may stand or lie, whichever are more; portrait where both
    are as many. A millimetre in a thousand is given, as rails give it."""
    give = 1.001
    ways = [
        (int(slope * give / up), int(breadth * give / along), portrait)
        for up, along, portrait in ((length, width, True), (width, length, False))
    ]
    return max(ways, key=lambda way: (way[0] * way[1], way[2]))


def offered(study: Study, offers: list[PanelOffer]) -> list[OfferFound]:
    """Every offer on the build's own mount and place. BriefError for none, or too many."""
    if not 1 <= len(offers) <= MOST:
        raise BriefError("offers", f"give one to {MOST} offers")
    array, found = study.scene.array, []
    slope, breadth = study.scene.geometry.size[1], array.breadth
    for offer in offers:
        rows, columns, portrait = fits(offer.length, offer.width, slope, breadth)
        count = rows * columns
        if not count:
            found.append(OfferFound(offer, 0, 0, 0, portrait, 0.0, 0.0, 0.0, 0.0, None, None))
            continue
        made, rear = _made(study, offer, rows, columns, portrait)
        cost = count * offer.price + offer.freight
        found.append(
            OfferFound(
                offer, count, rows, columns, portrait, count * offer.power, made, rear, cost, cost / (count * offer.power),
                outcome(made, cost, 0.0, study.terms).cost_per_extra_kwh,
            )
        )  # fmt: skip
    return found


def _made(study: Study, offer: PanelOffer, rows: int, columns: int, portrait: bool) -> tuple[float, float]:
    """kWh a year of them as the mount holds them, and what of it the backs give: the same with nothing from the back, taken off."""
    brief = study.brief
    array = brief.array.model_copy(
        update={"rows": rows, "columns": columns, "orientation": "portrait" if portrait else "landscape"}
    )
    wiring = brief.wiring.model_copy(update={"strings": [], "unwired": []})

    def year(bifaciality: float) -> float:
        panel = brief.panel.model_copy(
            update={"power": offer.power, "length": offer.length, "width": offer.width, "bifaciality": bifaciality}
        )
        return study.beside(brief.model_copy(update={"panel": panel, "array": array, "wiring": wiring})).production().year

    made = year(offer.bifaciality)
    return made, made - year(0.0) if offer.bifaciality else 0.0
