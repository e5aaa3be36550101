"""The wind plugs in."""

from sundial.answers.beams.report import BeamsReport, beams_report
from sundial.answers.footing.report import FootingReport, footing_report
from sundial.answers.wind.report import WindReport, wind_report
from web.builds.registry import Chapter, Export, Result, Station, register
from web.builds.results import BYTES, PHYSICS, json_codec
from web.wind import exports
from web.wind.demo import DEMO
from web.wind.forms import WindForm
from web.wind.models import Footing, Wind

OWN_BEAMS = (
    "pieces",
    "wind.width",
    *(f"cutting.{name}" for name in ("sections", "default", "purlins", "fixing", "leave_out", "end_distance", "bolt")),
)  # what of the frame may be taken as a beam follows from
STANDS = (
    "site",
    "sky",
    "panel",
    "array",
    "mount",
    "frame",
    "stand",
    "spot.split",
    "wind",
    "footing",
    "snow",
)  # what forces follow from

register(
    Station(
        key="wind",
        title="The wind",
        question="Will the wind take it?",
        order=60,
        group="build",
        urls="web.wind.urls",
        form=WindForm,
        parts=(Wind, Footing),
        results=(
            Result("wind", (*PHYSICS, "plan", "wind", "footing", "bench.places", "build.units"), lambda results, *_: wind_report(results.study, units=results.build.shown_in), json_codec(WindReport)),
            Result(
                "footing",
                (*STANDS, "build.units"),
                lambda results, *_: footing_report(results.scene, results.build.shown_in) if results.brief.footing else None,
                json_codec(FootingReport | None),
            ),
            Result("beams", (*STANDS, "beams", *OWN_BEAMS), lambda results, *_: beams_report(results.scene), json_codec(BeamsReport)),
            Result("wind_sheet", (*PHYSICS, "plan", "wind", "footing", "snow", "beams", "bench.places"), exports.sheet, BYTES, dear=True),
        ),
        chapters=(Chapter("The wind, and what holds it", 40, exports.sheet_page),),
        exports=(
            Export("csv", "wind.csv", "wind.csv", "text/csv; charset=utf-8", exports.table),
            Export("svg", "drawing.svg", "wind.svg", "image/svg+xml", exports.drawing),
            *(
                Export(
                    f"sheet-{paper}", f"sheet-{paper}.pdf", f"wind-{paper}.pdf", "application/pdf", result="wind_sheet",
                    params=exports.sheet_params(paper), live="wind:station",
                )
                for paper in exports.PAPERS
            ),
        ),
        styles=("css/wind.css",),
        scripts=("js/rack.js", "js/wind.js", "js/twelve.js"),
        demo=DEMO,
    )
)  # fmt: skip
