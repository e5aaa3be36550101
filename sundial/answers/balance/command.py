"""The command ``balance``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command, write_file
from sundial.errors import BriefError

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from sundial.answers.balance.report import UseReport
    from sundial.scene import Scene
    from sundial.study import Study

FLOWS = ("used", "sold", "bought", "curtailed", "charged", "discharged", "generator", "unmet")


def balance_answer(study: Study, row: str | None = None) -> tuple[Answer, UseReport]:
    """The hourly balance of the brief's own mount, or of a row of the comparison by its key or name."""
    from sundial.answers.balance.report import use_report
    from sundial.balance.flows import balance
    from sundial.money.tariff import bill, tariff_of, value_by_month
    from sundial.worth.balances import breaks_contract, with_battery

    needs, broken = study.needs, False
    if row is None:
        hourly = study.production().hourly
    else:
        found = _row(study, row)
        hourly, needs, broken = found.hourly, with_battery(needs, found.more_battery), breaks_contract(study.scene, found.added)
    report = use_report(hourly, needs)
    tariff = tariff_of(study.brief, study.scene.weather.utc_offset, after_contract=broken)
    flows = balance(hourly[None], needs)
    saved = value_by_month(flows, needs, tariff)[0]
    sums = report.sums
    return {
        "made": sums.made,
        "demand": sums.demand,
        "used_here": sums.used + sums.discharged,
        "used_at_once": sums.used,
        "own_share": sums.own_share,
        "sold": sums.sold,
        "bought": sums.bought,
        "curtailed": sums.curtailed,
        "charged": sums.charged,
        "discharged": sums.discharged,
        "battery_cycles": sums.cycles,
        "deepest": sums.deepest,
        "unmet": sums.unmet,
        "empty_days": sums.empty_days,
        "longest_dark": sums.longest_dark,
        "generator": {"kwh": sums.generator, "hours": sums.generator_hours},
        "saved": float(saved.sum()),
        "saved_by_month": saved.tolist(),
        "bill_by_month": bill(flows, tariff).total[0].tolist(),
        "price_of_one_more_kwh": study.terms.price,
        "surplus": {**asdict(report.surplus), "litres": report.surplus.litres, "degrees": report.surplus.degrees},
        "notes": list(notes_of(study.scene)),
    }, report


def notes_of(scene: Scene) -> tuple[str, ...]:
    """What is worth saying of the use and its prices."""
    from sundial.balance.needs import profile_of
    from sundial.money.tariff import tariff_of

    use = scene.brief.use
    found: list[str] = []
    profile = getattr(use, "profile", None)
    if profile is not None:
        found += profile_of(scene.brief, profile, scene.weather, scene.load).notes
    if tariff_of(scene.brief, scene.weather.utc_offset).is_nothing:
        found.append("Every price is zero: no kWh is worth anything at any hour, so nothing can pay.")
    tariff = getattr(use, "tariff", None)
    if tariff is not None and tariff.export_limit == 0:
        found.append("The export limit is zero: nothing is sold, and what nothing takes is thrown away.")
    return tuple(found)


def _row(study: Study, name: str) -> Any:
    from sundial.worth.comparison import compare, rows_of
    from sundial.worth.ways import ways_of

    years = ways_of(study)
    rows = rows_of(study, years)
    if name in rows:
        return rows[name]
    named = {way.name: way.key for way in compare(study, years).rows}
    if name in named:
        return rows[named[name]]
    raise BriefError("--mount", f"there is no row {name!r}; there are: {', '.join(rows)}")


def balance_csv(plane: NDArray[np.float64], report: UseReport) -> str:
    """The 8760 hours: standard time, W/m2 on the ``plane`` (8760,), Wh of each flow, and the store's state at the hour's start."""
    from sundial.sky.files import hours_csv

    flows = report.hourly
    columns = {"irradiation": plane, "energy": flows.made[0], **{name: getattr(flows, name)[0] for name in FLOWS}}
    return hours_csv({**columns, "stored": flows.stored[0, :-1]})


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--mount", metavar="ROW", help="a row of the comparison, by its key or name; left out: the brief's own mount"
    )
    parser.add_argument("--csv", metavar="OUT", help="write the 8760 hours")


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    made = study()
    answer, report = balance_answer(made, options.mount)
    if options.csv:
        write_file("--csv", options.csv, balance_csv(made.production().plane, report))
    return answer


COMMANDS = (Command("balance", "what is used, stored, sold, bought and thrown away, hour by hour", _answer, _arguments),)
