"""Worth it? plugs in."""

from sundial.answers.worth.report import WorthReport, worth_report
from sundial.worth.ways import ways_of
from web.builds.registry import Export, Result, Station, register
from web.builds.results import PHYSICS, json_codec
from web.worth import exports
from web.worth.demo import DEMO
from web.worth.forms import WorthForm
from web.worth.models import Economics, Usage
from web.worth.stored import HOURS, WAYS, own_hours, shared_study

# What an option makes follows from these, not from its price.
OPTIONS = ("options.row", "options.name", "options.mount", "options.panels", "options.settings", "options.off")

register(
    Station(
        key="worth",
        title="Worth it?",
        question="Is it worth it?",
        order=50,
        group="plan",
        urls="web.worth.urls",
        form=WorthForm,
        parts=(Economics, Usage),
        results=(
            Result("own_hours", (*PHYSICS, "plan", "wind"), own_hours, HOURS, kept=2, asked=True),
            # What every way makes does not follow from prices: a change of one is priced anew, not computed anew.
            Result(
                "ways",
                (*PHYSICS, "plan", "wind", "footing", *OPTIONS),
                lambda results, *_: ways_of(results.study),
                WAYS,
                kept=2,
            ),
            Result(
                "worth",
                (
                    *PHYSICS,
                    "plan",
                    "wind",
                    "footing",
                    "options",
                    "use",
                    "battery",
                    "worth",
                    "room",
                    "build.currency",
                    "build.units",
                    "fellows",
                ),
                lambda results, *_: worth_report(
                    shared_study(results), results.build.currency, results["ways"], results.build.shown_in
                ),
                json_codec(WorthReport),
            ),
        ),
        exports=(
            Export("csv", "comparison.csv", "comparison.csv", "text/csv; charset=utf-8", exports.table),
            Export("hours", "hours.csv", "hours.csv", "text/csv; charset=utf-8", exports.hours),
            Export("svg", "drawing.svg", "worth.svg", "image/svg+xml", exports.drawing),
        ),
        styles=("css/worth.css",),
        scripts=("js/charts.js",),
        demo=DEMO,
    )
)
