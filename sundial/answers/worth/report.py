"""What the screen of the comparison shows: plain frozen data that can be stored and opened again."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.money.finance import outcome
from sundial.quantities import Units
from sundial.study import Study
from sundial.worth.comparison import Comparison, Way, compare, rows_of
from sundial.worth.swings import Swing, swings
from sundial.worth.verdict import Verdict, verdict
from sundial.worth.ways import WayYears, ways_of
from sundial.worth.whole import WholeBuild, whole_build


@dataclass(frozen=True)
class WorthReport:
    """The comparison, the verdict and what it hangs on. ``price`` of one more kWh; ``kwh_over_life`` is what one more
    kWh a year is worth over the whole life, today. ``whole``: the build against nothing built (None: what it cost is not told)."""

    comparison: Comparison
    verdict: Verdict
    swings: tuple[Swing, ...]
    price: float
    kwh_over_life: float
    whole: WholeBuild | None = None

    def row(self, kind: str) -> Way | None:
        return self.comparison.row(kind)


def worth_report(study: Study, currency: str = "", years: WayYears | None = None, units: Units = "metric") -> WorthReport:
    """Everything the worth station shows, its verdict in ``units``; ``currency`` stands before sums of money in the verdict; ``years``: what every way
    makes, where it is known already."""
    made = years or ways_of(study)
    comparison, rows = compare(study, made), rows_of(study, made)
    said = verdict(study, comparison, currency, rows, units)
    found = tuple(swings(study, said.focus, rows)) if said.focus else ()
    return WorthReport(
        comparison,
        said,
        found,
        study.terms.price,
        outcome(1.0, None, 0.0, study.terms).break_even_cost,
        whole_build(study, comparison),
    )
