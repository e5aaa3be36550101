"""Work that every process would otherwise do on its first request: loading the numeric libraries and their tables."""

import gc
from datetime import date

from sundial.aim.compass import compass
from sundial.answers.plan.report import plan_report
from sundial.answers.worth.report import worth_report
from sundial.study import studied
from sundial.zones import zone_at
from web.builds import registry
from web.builds.briefs import default_brief

# Rounds of the garbage collector: one through the youngest for so many objects more, one through those that came through it for five of
# these, one through everything for fifty of those. Python's own are 700, 10 and 10: pages are then still being made when the
# first rounds come, and are kept as old with all they hold until a round through everything stops a request for 50 to 100 ms.
ROUNDS = (20_000, 5, 50)


def warm_up() -> None:
    """Plan one small invented build from end to end and forget it; what is loaded then stays out of the garbage
    collector's rounds, which would otherwise stop a request for a fifth of a second now and then."""
    brief = default_brief("warm")
    study = studied(brief)
    plan_report(study)
    worth_report(study)
    zone_at(brief.site.latitude, brief.site.longitude)
    compass(study.scene.site, date(2026, 1, 1))
    for station in registry.stations():
        if station.showpiece:
            station.showpiece()
    gc.collect()
    gc.freeze()
    gc.set_threshold(*ROUNDS)
