"""The frame plugs in."""

from sundial.answers.energy.report import Made, made_report
from sundial.answers.frame.report import FrameReport, frame_report
from sundial.siting.facings import Facings, facings
from web.builds.registry import Chapter, Export, Result, Station, Step, register
from web.builds.results import BYTES, PHYSICS, json_codec
from web.frame import aim, exports
from web.frame.chapter import frame_page
from web.frame.demo import DEMO
from web.frame.forms import AnglesStep, FrameForm, PanelsStep
from web.frame.models import Frame, Stand

TARGETS = tuple(
    export
    for paper in aim.PAPERS
    for export in (
        Export(
            f"target-{paper}-svg", f"pin-target-{paper}.svg", "shadow-pin.svg", "image/svg+xml", aim.target_svg(paper)
        ),
        Export(
            f"target-{paper}-pdf",
            f"pin-target-{paper}.pdf",
            "shadow-pin.pdf",
            "application/pdf",
            result="pin_target",
            params=aim.target_params(paper),
            live="frame:aim",
        ),
    )
)  # fmt: skip
BUILT_FROM = ("site.latitude", "array", "panel", "mount", "frame", "stand")  # what the frame's own geometry follows from

register(
    Station(
        key="frame",
        title="The frame",
        question="What will hold it, and which angles can it reach?",
        order=30,
        group="plan",
        urls="web.frame.urls",
        form=FrameForm,
        chapters=(Chapter("The frame from the side", 20, frame_page, drawing=exports.side_svg),),
        parts=(Frame, Stand),
        results=(
            Result("made", (*PHYSICS, "plan"), lambda results, *_: made_report(results.study), json_codec(Made)),
            Result(
                "facings",
                PHYSICS,
                lambda results, *_: facings(results.study.scene),
                json_codec(Facings),
                dear=lambda results: results.obstructed,
            ),
            Result("pin_target", (), aim.target_pdf, BYTES, dear=True, kept=8),
            Result(
                "frame",
                (*BUILT_FROM, "build.units"),
                lambda results, *_: frame_report(results.scene, results.build.shown_in),
                json_codec(FrameReport),
            ),
        ),
        exports=(
            Export("side-svg", "side-view.svg", "side-view.svg", "image/svg+xml", exports.side_svg),
            Export("side-dxf", "side-view.dxf", "side-view.dxf", "image/vnd.dxf", exports.side_view_dxf),
            *TARGETS,
        ),
        steps=(
            Step(
                "panels",
                "Panels",
                20,
                PanelsStep,
                "Which panels, and how many?",
                "The label on the back has it. Lengths in either system: 69 cm, 2 ft 3 1/2 in.",
            ),
            Step(
                "angles",
                "Stand",
                30,
                AnglesStep,
                "What does it stand on, and does it move?",
                "Everything else follows from these two.",
                template="frame/_start.html",
            ),
        ),
        scripts=("js/rack.js", "js/start.js"),
        demo=DEMO,
    )
)
