"""Worth it? plugs in."""

from sundial.worth.comparison import Ways, ways_of
from sundial.worth.report import WorthReport, worth_report
from web.builds.registry import Export, Result, Station, register
from web.builds.results import PHYSICS, json_codec
from web.worth import exports
from web.worth.demo import DEMO
from web.worth.forms import WorthForm
from web.worth.models import Economics

# What an option makes follows from these, not from its price.
OPTIONS = ("options.row", "options.name", "options.mount", "options.settings", "options.off")

register(
    Station(
        key="worth",
        title="Worth it?",
        question="Is it worth it?",
        order=50,
        group="plan",
        urls="web.worth.urls",
        form=WorthForm,
        parts=(Economics,),
        results=(
            # What every way makes does not follow from prices: a change of one is priced anew, not computed anew.
            Result(
                "ways",
                (*PHYSICS, "plan", "wind", "footing", *OPTIONS),
                lambda results, *_: ways_of(results.study),
                json_codec(Ways),
            ),
            Result(
                "worth",
                (*PHYSICS, "plan", "wind", "footing", "options", "use", "worth", "room", "build.currency"),
                lambda results, *_: worth_report(results.study, results.build.currency, results["ways"]),
                json_codec(WorthReport),
            ),
        ),
        exports=(
            Export("csv", "comparison.csv", "comparison.csv", "text/csv; charset=utf-8", exports.table),
            Export("svg", "drawing.svg", "worth.svg", "image/svg+xml", exports.drawing),
        ),
        scripts=("js/charts.js",),
        demo=DEMO,
    )
)
