"""The whole build against nothing built: what it cost in all, and what comes back."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.money.finance import Outcome, outcome
from sundial.study import Study
from sundial.worth.balances import Row, values
from sundial.worth.comparison import Comparison, Way
from sundial.worth.other_panels import ELSEWHERE


@dataclass(frozen=True)
class WholeBuild:
    """``spent`` once in all; ``energy`` kWh a year of the build as it is, ``value`` money of its first year against nothing built; ``money``:
    what becomes of it over the life, ``upkeep`` a year counted. ``fixed_energy``, ``fixed_value``: the same panels at the best angle, left there; what
    the mount may cost more than that: ``mount_may_cost``; against the same panels ``elsewhere``."""

    spent: float
    upkeep: float
    energy: float
    value: float
    money: Outcome
    fixed_energy: float
    fixed_value: float
    mount_may_cost: float
    elsewhere: tuple[Elsewhere, ...] = ()


@dataclass(frozen=True)
class Elsewhere:
    """The same panels held elsewhere, by ``name``: their ``energy`` kWh and ``value`` money a year, and what this build ``may_cost`` more than that."""

    name: str
    energy: float
    value: float
    may_cost: float


def whole_build(study: Study, comparison: Comparison) -> WholeBuild | None:
    """None where the brief does not say what it cost in all (``worth.spent``)."""
    worth = study.brief.worth
    if worth.spent is None:
        return None
    own = study.production()
    fixed = study.held_year(study.plans(goal="year").simplest.tilt_by_day)
    value, fixed_value = values(study, [Row(own.hourly), Row(fixed.hourly)])
    row = next((one for one in comparison.rows if one.kind == study.brief.mount.way), None)
    upkeep = row.upkeep if row is not None else 0.0
    return WholeBuild(
        spent=worth.spent,
        upkeep=upkeep,
        energy=own.year,
        value=value,
        money=outcome(own.year, worth.spent, upkeep, study.terms, value),
        fixed_energy=fixed.year,
        fixed_value=fixed_value,
        mount_may_cost=outcome(own.year - fixed.year, None, upkeep, study.terms, value - fixed_value).break_even_cost,
        elsewhere=tuple(
            _elsewhere(study, row, comparison, own.year, value, upkeep) for row in comparison.rows if row.kind == ELSEWHERE
        ),
    )


def _elsewhere(study: Study, row: Way, comparison: Comparison, made: float, value: float, upkeep: float) -> Elsewhere:
    there = comparison.base_value + row.saved
    more = outcome(made - row.energy, None, upkeep, study.terms, value - there)
    return Elsewhere(row.name, row.energy, there, more.break_even_cost)
