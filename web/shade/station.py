"""The shade plugs in."""

from web.builds.registry import Chapter, Station, register
from web.shade.chapter import plan_page
from web.shade.demo import DEMO
from web.shade.forms import ShadeForm
from web.shade.models import Yard
from web.shade.results import RESULTS

register(
    Station(
        key="shade",
        title="The shade",
        question="What stands in the way?",
        order=20,
        group="plan",
        urls="web.shade.urls",
        form=ShadeForm,
        chapters=(Chapter("The yard from above", 10, plan_page),),
        parts=(Yard,),
        results=RESULTS,
        styles=("css/shade.css",),
        scripts=tuple(
            f"js/{name}.js"
            for name in ("yard", "yard-plan", "yard-pointer", "yard-inspector", "yard-layers", "yard-wiring", "sky")
        ),
        demo=DEMO,
        keys=(
            ("Ctrl Z", "in the yard: undo (with Shift: redo)"),
            (
                "arrows",
                "on a thing in the yard: move it (with Shift: a metre); [ ] turn it, + − size it, D doubles it, "
                "Delete takes it away, Enter its numbers",
            ),
        ),
    )
)
