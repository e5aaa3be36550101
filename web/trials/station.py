"""Trials stand beside the log."""

from web.builds.registry import Link, Pages, register_pages
from web.trials.demo import play
from web.trials.keeper import TrialKeeper

register_pages(
    Pages(
        "trials",
        "log",
        20,
        "web.trials.urls",
        links=(Link("trials:list", "Trials", "Trials: one against another"),),
        keeper=TrialKeeper,
        play=play,
    )
)
