"""What the screen of the comparison shows: plain frozen data that can be stored and opened again."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.money.finance import outcome
from sundial.study import Study
from sundial.worth.comparison import Comparison, Way, Ways, compare
from sundial.worth.verdict import Swing, Verdict, swings, verdict


@dataclass(frozen=True)
class WorthReport:
    """The comparison, the verdict and what it hangs on. ``price`` of one more kWh; ``kwh_over_life`` is what one more
    kWh a year is worth over the whole life, today."""

    comparison: Comparison
    verdict: Verdict
    swings: tuple[Swing, ...]
    price: float
    kwh_over_life: float

    def row(self, kind: str) -> Way | None:
        return self.comparison.row(kind)


def worth_report(study: Study, currency: str = "", ways: Ways | None = None) -> WorthReport:
    """Everything the worth station shows; ``currency`` stands before sums of money in the verdict; ``ways``: what every way
    makes, where it is known already."""
    comparison = compare(study, ways)
    said = verdict(study, comparison, currency)
    found = tuple(swings(study, said.focus)) if said.focus else ()
    return WorthReport(comparison, said, found, study.terms.price, outcome(1.0, None, 0.0, study.terms).break_even_cost)
