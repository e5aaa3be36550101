"""Why is it low, and its trainer, stand beside the log."""

from web.builds.registry import Link, Pages, register_pages

register_pages(
    Pages(
        "why",
        "log",
        30,
        "web.why.urls",
        links=(Link("why:day", "Why is it low?", "Why is it low?"), Link("why:practice", "Trainer", "Trainer: find the fault")),
    )
)
