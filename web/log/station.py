"""The log plugs in."""

from web.builds.registry import Export, Result, Station, register
from web.builds.results import PHYSICS, json_codec
from web.log import exports
from web.log.demo import DEMO, play
from web.log.forms import LogForm
from web.log.judging import Judgement, judgement
from web.log.models import LogBook

register(
    Station(
        key="log",
        title="The log",
        question="Does it make what it should?",
        order=80,
        group="use",
        urls="web.log.urls",
        form=LogForm,
        parts=(LogBook,),
        results=(
            Result("judgement", (*PHYSICS, "plan", "logged"), judgement, json_codec(Judgement), dear=True, seconds=600, kept=2),
        ),
        exports=(
            Export("csv", "log.csv", "log.csv", "text/csv; charset=utf-8", exports.table),
            Export("due", "inspections.ics", "inspections.ics", "text/calendar; charset=utf-8", exports.inspections),
        ),
        styles=("css/log.css",),
        scripts=("js/log.js",),
        demo=DEMO,
        play=play,
        keys=(("l", "log something"),),
    )
)
