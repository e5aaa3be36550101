"""What a verdict hangs on: each input moved alone to its plausible low and high."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from sundial.balance.flows import Needs
from sundial.brief.model import GridUse
from sundial.money.finance import Terms, grid_price, outcome
from sundial.money.uncertainty import PRICE_SPREAD
from sundial.study import Study
from sundial.worth.balances import Row, values, with_battery
from sundial.worth.comparison import Way

Value = Callable[..., float]  # net present value: of money saved a year, at other terms or costs
USE_SPREAD = 0.2  # of what is used in a year (thumb)
BATTERY_SPREAD = 0.25  # of what a battery holds over its life (thumb)


@dataclass(frozen=True)
class Swing:
    """One input moved to its plausible low and high, and the net present value it then gives."""

    name: str
    low: str
    high: str
    npv_low: float
    npv_high: float

    @property
    def width(self) -> float:
        return abs(self.npv_high - self.npv_low)


@dataclass(frozen=True, eq=False)
class _Moved:
    """What a way saves a year against the base when prices, the use or the store are moved."""

    study: Study
    way: Way
    rows: Mapping[str, Row]

    def saved(self, buying: float = 1.0, selling: float = 0.0, needs: Needs | None = None) -> float:
        base, own = values(self.study, [self.rows["base"], self.rows[self.way.key]], buying, selling, needs)
        return own - base


def swings(study: Study, way: Way, rows: Mapping[str, Row] | None = None) -> list[Swing]:
    """Each input of one priced way moved alone, the widest first. ``rows``: the hours behind the table, by key; not needed where a
    fixed share of every hour is used on the spot."""
    if way.extra_cost is None:
        return []
    terms, cost = study.terms, way.extra_cost
    labour = study.brief.plan.value_of_hour * way.minutes / 60 if study.brief.worth.count_hours else 0.0
    yearly = way.upkeep + labour

    def value(saved: float = way.saved, price: float = cost, terms: Terms = terms, yearly: float = yearly) -> float:
        return outcome(way.extra_kwh, price, yearly, terms, saved).npv or 0.0

    found = [
        *_energy(way, value),
        *_prices_and_use(study, way, rows or {}, value),
        *_terms(terms, value),
    ]
    if cost:
        found.append(
            Swing("Extra cost", f"{cost * 1.2:.0f}", f"{cost * 0.8:.0f}", value(price=cost * 1.2), value(price=cost * 0.8))
        )
    if yearly:
        low, high = value(yearly=yearly * 1.5), value(yearly=yearly * 0.5)
        found.append(Swing("Upkeep and work", f"{yearly * 1.5:.0f}", f"{yearly * 0.5:.0f}", low, high))
    return sorted(found, key=lambda swing: -swing.width)


def _energy(way: Way, value: Value) -> list[Swing]:
    """The money saved in a year at the ends of its range, and the extra kWh of those."""
    if abs(way.extra_kwh) < 1e-9:
        return []
    (low, high), (less, more) = way.spread.kwh, way.spread.saved
    return [Swing("Extra energy", f"{low:.0f} kWh", f"{high:.0f} kWh", value(less), value(more))]


def _prices_and_use(study: Study, way: Way, rows: Mapping[str, Row], value: Value) -> list[Swing]:
    use, moved = study.brief.use, _Moved(study, way, rows)
    less, more = 1 - PRICE_SPREAD, 1 + PRICE_SPREAD
    if isinstance(use, GridUse) and not use.by_hour:
        buy, sell, own = use.import_price, use.export_price, use.own_share

        def by_share(buying: float = 1.0, selling: float = 0.0, share: float = own) -> float:
            return value(way.extra_kwh * grid_price(buy * buying, sell + selling, share))

        low, high = max(0.0, own - 0.15), min(1.0, own + 0.15)
        return [
            Swing("Import price", f"{buy * less:.2f}", f"{buy * more:.2f}", by_share(less), by_share(more)),
            Swing(
                "Export price",
                f"{sell - 0.05:.2f}",
                f"{sell + 0.05:.2f}",
                by_share(selling=-0.05),
                by_share(selling=0.05),
            ),
            Swing("Own share", f"{low:.0%}", f"{high:.0%}", by_share(share=low), by_share(share=high)),
        ]
    price = {"grid": "Import prices", "off-grid": "Worth of a missing kWh", "direct": "Worth of a kWh"}[use.kind]
    needs = study.needs

    def used(factor: float) -> float:
        return value(moved.saved(needs=replace(needs, demand=needs.demand * factor)))

    spread = f"{PRICE_SPREAD:.0%}"
    found = [
        Swing(price, f"−{spread}", f"+{spread}", value(moved.saved(less)), value(moved.saved(more))),
        Swing("Use", f"−{USE_SPREAD:.0%}", f"+{USE_SPREAD:.0%}", used(1 - USE_SPREAD), used(1 + USE_SPREAD)),
    ]
    if use.kind == "grid":
        found.append(Swing("Export price", "−0.05", "+0.05", value(moved.saved(selling=-0.05)), value(moved.saved(selling=0.05))))
    if needs.store is not None and study.brief.battery is not None:
        step = study.brief.battery.usable * BATTERY_SPREAD
        low_battery, high_battery = (value(moved.saved(needs=with_battery(needs, size))) for size in (-step, step))
        found.append(Swing("Battery", f"−{step:.1f} kWh", f"+{step:.1f} kWh", low_battery, high_battery))
    return found


def _terms(terms: Terms, value: Value) -> list[Swing]:
    low_life, high_life = max(1, terms.life - 5), terms.life + 5
    dear, cheap = terms.interest + 0.02, max(terms.interest - 0.02, -0.5)
    slow, fast = terms.price_growth - 0.02, terms.price_growth + 0.02
    return [
        Swing(
            "Life",
            f"{low_life} years",
            f"{high_life} years",
            value(terms=replace(terms, life=low_life)),
            value(terms=replace(terms, life=high_life)),
        ),
        Swing(
            "Interest",
            f"{dear:.1%}",
            f"{cheap:.1%}",
            value(terms=replace(terms, interest=dear)),
            value(terms=replace(terms, interest=cheap)),
        ),
        Swing(
            "Price growth",
            f"{slow:+.1%}",
            f"{fast:+.1%}",
            value(terms=replace(terms, price_growth=slow)),
            value(terms=replace(terms, price_growth=fast)),
        ),
    ]
