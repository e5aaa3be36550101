"""What a screen or the command line shows of the cutting: plain frozen data that can be stored and opened again."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from sundial.cutting.cut_list import cut_list, section_key
from sundial.cutting.cut_plan import CutPlan, cut_plan, fitted
from sundial.cutting.longer import Longer, lengthen
from sundial.cutting.order import WorkStep, in_words, order_of_work, work_minutes
from sundial.cutting.parts import Part, mass_of, parts_list, sources
from sundial.cutting.patterns import USUAL, Effort
from sundial.cutting.stock import Stock, stock_of
from sundial.errors import BriefError
from sundial.quantities import Units, format_length

if TYPE_CHECKING:
    from sundial.scene import Scene

ESTIMATE = "planning estimate; local code, the maker's manual and a licensed electrician or engineer decide"
APART = 0.003  # m: a section's height and the frame's own measure of it differ


@dataclass(frozen=True)
class CuttingReport:
    """``plan`` with its pieces; ``parts``; ``order`` of work; ``longer``: the rack made longer, where it is asked. ``boards_cost`` and
    ``parts_cost`` as told, ``freight``, ``tax`` and the ``total``; ``unpriced`` parts; ``mass`` kg of what is sawn (None: a section is not
    known); ``minutes`` at saw and drill and the same in ``words``."""

    plan: CutPlan
    parts: tuple[Part, ...]
    order: tuple[WorkStep, ...]
    longer: Longer | None
    longer_trouble: str
    boards_cost: float
    parts_cost: float
    freight: float
    tax: float
    total: float
    unpriced: int
    mass: float | None
    minutes: float
    words: str
    notes: tuple[str, ...]
    sources: tuple[str, ...]


def refuse_cutting(scene: Scene, units: Units = "metric") -> None:
    """BriefError where the cutting part of a brief cannot be worked with; nothing is solved."""
    brief, cutting = scene.brief, scene.brief.cutting
    pieces = cut_list(scene)
    fitted(pieces, stock_of(brief.stock, [piece.section for piece in pieces]), cutting.mitre_allowance, cutting.splice, units)


def cutting_report(scene: Scene, units: Units = "metric", effort: Effort = USUAL) -> CuttingReport:
    """Everything the cutting's screen shows, notes in ``units``. BriefError for a piece that no board holds, stock that contradicts
    itself, or a list without a piece."""
    brief, cutting = scene.brief, scene.brief.cutting
    pieces = cut_list(scene)
    if not pieces:
        raise BriefError("pieces", "there is nothing to cut: say what the frame is built from, or name your own pieces")
    stock = stock_of(brief.stock, [piece.section for piece in pieces])
    plan = cut_plan(pieces, stock, brief.kerf, cutting.mitre_allowance, cutting.least_rest, cutting.splice, units, effort)
    parts = parts_list(scene, plan.pieces)
    boards = sum(buy.price * buy.count for buy in plan.buy)
    priced = sum(part.price for part in parts if part.price is not None)
    tax = (boards + priced + cutting.freight) * cutting.tax
    minutes = work_minutes(plan.cuts, plan.pieces)
    longer, trouble = None, ""
    try:
        longer = lengthen(scene)
    except BriefError as error:
        trouble = error.message
    return CuttingReport(
        plan, tuple(parts), tuple(order_of_work(scene, plan.pieces)), longer, trouble, boards, priced, cutting.freight, tax,
        boards + priced + cutting.freight + tax, sum(part.price is None for part in parts), mass_of(plan.pieces), minutes,
        in_words(minutes), tuple(_notes(scene, plan, stock, units)), sources(),
    )  # fmt: skip


def _notes(scene: Scene, plan: CutPlan, stock: dict[str, list[Stock]], units: Units) -> list[str]:
    notes = []
    if scene.structure is None:
        notes.append("Nothing is told of what the frame is built from: only what lies under the panels is listed.")
    for section in plan.assumed:
        lengths = ", ".join(format_length(one.length, units) for one in stock[section_key(section)])
        notes.append(f"No stock of {section} is told: lengths of {lengths} are taken as sold, and no price is counted.")
    by_letter = {piece.letter: piece for piece in plan.pieces}
    for letter, number in plan.missing:
        piece = by_letter[letter]
        notes.append(
            f"The boards on hand end before the list does: {number} of {letter} ({piece.name}, {format_length(piece.length, units)}) "
            "are left; name boards for sale."
        )
    for piece in plan.pieces:
        if piece.parts > 1:
            each = piece.length / piece.parts
            places = " and ".join(format_length(each * number, units) for number in range(1, piece.parts))
            notes.append(
                f"{piece.letter}, {piece.name}: spliced at {places}; set the joint over a support, or bolt a board along it that "
                "reaches half a metre to both sides."
            )
        if piece.hand != "either":
            notes.append(
                f"{piece.letter}, {piece.name}: its foot is bevelled {piece.bevel:.1f} degrees, falling to the {piece.hand}."
            )
    structure = scene.structure
    mitred = [piece for piece in plan.pieces if (abs(piece.angle) > 0.05 or abs(piece.foot) > 0.05) and not piece.own]
    if structure is not None and mitred and abs(mitred[0].depth - structure.depth) > APART:
        notes.append(
            f"The frame's own page counts its legs {structure.depth * 1000:.0f} mm deep; {mitred[0].section} is "
            f"{mitred[0].depth * 1000:.0f} mm, and that is what is sawn here."
        )
    return notes
