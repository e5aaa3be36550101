"""The bench plugs in."""

from django.conf import settings

from sundial.answers.bench.report import Side, YearReport, side_by_side, year_report
from sundial.brief.model import BenchBrief
from web.bench.demo import DEMO
from web.bench.forms import BenchForm
from web.bench.models import Bench
from web.builds.registry import Result, Station, register
from web.builds.results import PHYSICS, json_codec

register(
    Station(
        key="bench",
        title="The bench",
        question="How does its controller behave?",
        order=90,
        group="use",
        urls="web.bench.urls",
        form=BenchForm,
        parts=(Bench,),
        results=(
            Result(
                "bench_year",
                (*PHYSICS, "plan", "options", "bench"),
                lambda results, params, report: year_report(
                    results.study, results.brief.bench, report=report, count=settings.BENCH_SETTINGS, every=settings.BENCH_EVERY
                ),
                json_codec(YearReport),
                dear=True,
                seconds=300,
                kept=3,
            ),
            Result(
                "bench_beside",
                (*PHYSICS, "plan", "options", "bench"),
                lambda results, params, _: side_by_side(
                    results.study,
                    [results.brief.bench, BenchBrief.model_validate_json(params["other"])],
                    every=settings.BENCH_EVERY,
                ),
                json_codec(tuple[Side, ...]),
                dear=True,
                seconds=120,
                kept=3,
                asked=True,
            ),
        ),
        styles=("css/bench.css",),
        scripts=("js/bench.js",),
        demo=DEMO,
    )
)
