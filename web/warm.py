"""Work that every process would otherwise do on its first request: loading the numeric libraries and their tables."""

import gc
from datetime import date

from sundial.aim.compass import compass
from sundial.plan.report import plan_report
from sundial.study import Study
from sundial.worth.report import worth_report
from sundial.zones import zone_at
from web.builds import registry
from web.builds.briefs import default_brief

FULL_ROUNDS = 40  # rounds of the middle generation for each through everything; Python's own 10 makes one every dozen requests


def warm_up() -> None:
    """Plan one small invented build from end to end and forget it; what is loaded then stays out of the garbage
    collector's rounds, which would otherwise stop a request for a fifth of a second now and then. Its rounds through all
    that has been kept since are made rarer too: each stops a request for 50 to 100 ms, and hardly anything but
    finished requests is left to it, since a study and its caches hold no circles and go when they are dropped."""
    brief = default_brief("warm")
    study = Study(brief)
    plan_report(study)
    worth_report(study)
    zone_at(brief.site.latitude, brief.site.longitude)
    compass(study.site, date(2026, 1, 1))
    for station in registry.stations():
        if station.showpiece:
            station.showpiece()
    gc.collect()
    gc.freeze()
    youngest, middle, _ = gc.get_threshold()
    gc.set_threshold(youngest, middle, FULL_ROUNDS)
