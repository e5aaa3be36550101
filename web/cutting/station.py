"""The cutting plugs in."""

from sundial.answers.cutting.report import CuttingReport, cutting_report
from sundial.answers.electrics.report import ElectricsReport, electrics_report
from sundial.cutting.patterns import AT_ONCE, PATIENT  # what is not proved at once is left to a worker
from web.builds.book import EVERYTHING, book
from web.builds.registry import Chapter, Export, Result, Station, register
from web.builds.results import BYTES, PHYSICS, json_codec
from web.cutting import exports
from web.cutting.demo import DEMO
from web.cutting.forms import CuttingForm
from web.cutting.models import OF_CUTTING, Cutting, Electrics
from web.cutting.wiring_chapter import wiring_page

SAWN = (
    "site", "panel", "array", "mount", "frame", "stand", "spot.split", "wind.width", "wind.carried_by", "footing", "electrics.voc", "electrics.beta", "stock", "pieces", "kerf",
    *(f"cutting.{name}" for name in (*OF_CUTTING, "parts", "base") if name != "done"), "build.units",
)  # fmt: skip  # what is sawn and bolted follows from
WIRED = (
    *PHYSICS,
    "plan",
    "use",
    "electrics",
    "cutting.longer",
    "cutting.longer_rows",
    "cutting.longer_way",
)  # what strings and cables follow from

register(
    Station(
        key="cutting",
        title="The cutting",
        question="How do I cut and bolt it?",
        order=70,
        group="build",
        urls="web.cutting.urls",
        form=CuttingForm,
        parts=(Cutting, Electrics),
        results=(
            Result(
                "cutting",
                SAWN,
                lambda results, *_: cutting_report(results.scene, results.build.shown_in, AT_ONCE),
                json_codec(CuttingReport),
            ),
            Result(
                "cutting_best",
                SAWN,
                lambda results, *_: cutting_report(results.scene, results.build.shown_in, PATIENT),
                json_codec(CuttingReport),
                dear=True,
                asked=True,
            ),
            Result(
                "electrics",
                WIRED,
                lambda results, *_: electrics_report(results.study),
                json_codec(ElectricsReport),
            ),
            Result("base_template", ("cutting.base",), exports.base_pdf, BYTES, dear=True),
            Result("cutting_sheet", (*SAWN, *WIRED), exports.sheet, BYTES, dear=True),
            Result("book", EVERYTHING, book, BYTES, dear=True),
        ),
        chapters=(
            Chapter("Cutting, parts, order of work", 50, exports.book_page),
            Chapter("The wiring", 60, wiring_page),
        ),
        exports=(
            *(
                Export(
                    f"book-{paper}", f"build-book-{paper}.pdf", "build-book.pdf", "application/pdf", result="book",
                    params=exports.sheet_params(paper),
                )
                for paper in ("a4", "letter")
            ),
            Export("cuts-csv", "cuts.csv", "cuts.csv", "text/csv; charset=utf-8", exports.cuts_csv),
            Export("parts-csv", "parts.csv", "parts.csv", "text/csv; charset=utf-8", exports.parts_csv),
            Export("svg", "drawing.svg", "cutting.svg", "image/svg+xml", exports.drawing),
            Export("base-svg", "template.svg", "template.svg", "image/svg+xml", exports.base_svg),
            Export("base-dxf", "template.dxf", "template.dxf", "image/vnd.dxf", exports.base_dxf),
            *(
                Export(
                    f"base-{paper}", f"template-{paper}.pdf", f"template-{paper}.pdf", "application/pdf", result="base_template",
                    params=exports.base_params(paper), live="cutting:station",
                )
                for paper in exports.PAPERS
            ),
            *(
                Export(
                    f"sheet-{paper}", f"sheet-{paper}.pdf", f"cutting-{paper}.pdf", "application/pdf", result="cutting_sheet",
                    params=exports.sheet_params(paper), live="cutting:shed",
                )
                for paper in exports.PAPERS
            ),
        ),
        styles=("css/cutting.css",),
        scripts=("js/cutting.js", "js/table.js"),
        demo=DEMO,
    )
)  # fmt: skip
