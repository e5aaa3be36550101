"""What a yearly saving is worth against an extra cost: payback, present value, rate of return, break-even."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Terms:
    """Shares a year but ``life`` in years. ``price`` is what one more kWh is worth in the first year."""

    life: int
    interest: float
    price_growth: float
    ageing: float
    price: float

    def __post_init__(self) -> None:
        if self.life < 1:
            raise BriefError("worth.life", "must be at least one year")
        if self.interest <= -1:
            raise BriefError("worth.interest", "must be more than -100 %")

    @property
    def factors(self) -> Floats:
        """What one of the first year's money is worth today in each year (life,), grown, aged and discounted."""
        years = np.arange(self.life)
        grown: Floats = ((1 - self.ageing) * (1 + self.price_growth)) ** years / (1 + self.interest) ** (years + 1)
        return grown


def grid_price(import_price: float, export_price: float, self_consumption: float) -> float:
    """What one more kWh is worth: the share used on the spot saves the import price, the rest earns the export price."""
    return self_consumption * import_price + (1 - self_consumption) * export_price


@dataclass(frozen=True)
class Outcome:
    """Money of one way against the base. None where there is no such figure; ``payback_text`` always says it in words."""

    saving_per_year: float
    payback_years: float | None
    payback_text: str
    npv: float | None
    irr: float | None
    cost_per_extra_kwh: float | None
    break_even_cost: float


def outcome(gain: float, extra_cost: float | None, yearly_cost: float, terms: Terms, saved: float | None = None) -> Outcome:
    """Price ``gain`` kWh a year (may be negative) that costs ``extra_cost`` once and ``yearly_cost`` every year.

    ``saved``: money that it saves in the first year (left out: gain x price). Savings fall at each year's end:
    saved x (1 - ageing)^(n-1) x (1 + growth)^(n-1) - yearly cost, discounted at the interest. Simple payback is extra cost over the first year's saving. The cost per extra kWh is levelised:
    all cost over all extra kWh, both discounted. numpy-financial does the sums.
    """
    import numpy_financial as npf

    years = np.arange(terms.life)
    energy = gain * (1 - terms.ageing) ** years
    in_first = gain * terms.price if saved is None else saved
    by_year: Floats = np.asarray(in_first * ((1 - terms.ageing) * (1 + terms.price_growth)) ** years - yearly_cost, dtype=float)
    first = float(by_year[0])
    worth = float(npf.npv(terms.interest, np.concatenate([[0.0], by_year])))
    discounted_kwh = float(npf.npv(terms.interest, np.concatenate([[0.0], energy])))
    running = float(npf.npv(terms.interest, np.concatenate([[0.0], np.full(terms.life, yearly_cost)])))
    if extra_cost is None:
        return Outcome(first, None, "not priced yet", None, None, None, worth)
    payback, text = _payback(extra_cost, first, terms.life)
    return Outcome(
        saving_per_year=first,
        payback_years=payback,
        payback_text=text,
        npv=worth - extra_cost,
        irr=_rate(extra_cost, by_year, npf.irr),
        cost_per_extra_kwh=(extra_cost + running) / discounted_kwh if discounted_kwh > 1e-9 else None,
        break_even_cost=worth,
    )


def left_over(saved: float, extra_cost: float | None, yearly_cost: float, terms: Terms) -> float | None:
    """The ``npv`` of :func:`outcome` alone, as a closed sum: what is left of the savings over the life; None where nothing is priced."""
    if extra_cost is None:
        return None
    discounted = (1 + terms.interest) ** -np.arange(1.0, terms.life + 1)
    return float(saved * terms.factors.sum() - yearly_cost * discounted.sum() - extra_cost)


def _payback(extra_cost: float, first: float, life: int) -> tuple[float | None, str]:
    if extra_cost <= 0:
        if first == 0:
            return 0.0, "nothing to pay back"
        return (0.0, "at once") if first > 0 else (None, f"never: it loses {-first:.0f} a year")
    if first <= 0:
        return None, f"never pays back within {life} years: it saves nothing"
    years = extra_cost / first
    if years > life:
        return None, f"never pays back within {life} years"
    return years, f"{years:.1f} years"


def _rate(extra_cost: float, saved: Floats, irr: object) -> float | None:
    """None where nothing is paid, or not a billionth of it comes back: the roots of such a row overflow."""
    if extra_cost <= 0 or float(saved.sum()) <= extra_cost * 1e-9:
        return None
    found = float(irr(np.concatenate([[-extra_cost], saved])))  # type: ignore[operator]
    return found if np.isfinite(found) else None
