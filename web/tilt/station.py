"""The tilt plan plugs in."""

from sundial.answers.plan.report import TrackerYear, tracker_years
from sundial.siting.moved import PlanShade, plan_shade
from web.builds.registry import Chapter, Export, Result, Station, register
from web.builds.results import BYTES, PHYSICS, json_codec
from web.tilt import exports
from web.tilt.demo import DEMO
from web.tilt.forms import TiltForm, stays_put
from web.tilt.models import Plan
from web.tilt.showpiece import showpiece

register(
    Station(
        key="tilt",
        title="The tilt plan",
        question="What angle, and when do I move it?",
        titled=lambda build: "The angle" if stays_put(build) else "The tilt plan",
        order=40,
        group="plan",
        urls="web.tilt.urls",
        form=TiltForm,
        parts=(Plan,),
        results=(
            Result("trackers", PHYSICS, lambda results, *_: tracker_years(results.study), json_codec(tuple[TrackerYear, ...])),
            Result(
                "plan_shade",
                (*PHYSICS, "plan"),
                lambda results, *_: plan_shade(results.study, results.open_sky.study),
                json_codec(PlanShade | None),
            ),
            Result("card", (*PHYSICS, "plan"), exports.card, BYTES, dear=True),
        ),
        chapters=(Chapter("The angle, or the tilt plan", 30, exports.card_page),),
        exports=(
            Export("calendar", "moves.ics", "moves.ics", "text/calendar; charset=utf-8", exports.calendar),
            Export("csv", "plan.csv", "plan.csv", "text/csv; charset=utf-8", exports.table),
            Export(
                "card",
                "field-card.pdf",
                "field-card.pdf",
                "application/pdf",
                result="card",
                params=exports.card_params,
                live="tilt:station",
            ),
            Export("svg", "drawing.svg", "plan.svg", "image/svg+xml", exports.drawing),
            Export("hours", "hours.csv", "hours.csv", "text/csv; charset=utf-8", exports.hours),
        ),
        scripts=("js/charts.js", "js/rack.js", "js/twelve.js"),
        demo=DEMO,
        showpiece=showpiece,
    )
)
