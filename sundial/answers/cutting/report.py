"""What a screen or the command line shows of the cutting: plain frozen data that can be stored and opened again."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from sundial.cutting.cut_list import cut_list, section_key
from sundial.cutting.cut_plan import CutPlan, Joining, cut_plan, fitted
from sundial.cutting.longer import Longer, lengthen
from sundial.cutting.order import WorkStep, in_words, order_of_work, work_minutes
from sundial.cutting.parts import Part, mass_of, material_of, parts_list, sources
from sundial.cutting.patterns import USUAL, Effort
from sundial.cutting.stock import OnHand, Stock, on_hand, stock_of
from sundial.errors import BriefError
from sundial.quantities import Units, fine_length, format_length

if TYPE_CHECKING:
    from sundial.scene import Scene

ESTIMATE = "planning estimate; local code, the maker's manual and a licensed electrician or engineer decide"
APART = 0.003  # m: a section's height and the frame's own measure of it differ


@dataclass(frozen=True)
class CuttingReport:
    """``plan`` with its pieces; ``parts``; ``order`` of work; ``longer``: the rack made longer, where it is asked. ``boards_cost`` and
    ``parts_cost`` as told, ``freight``, ``tax`` and the ``total``; ``unpriced`` parts; ``mass`` kg of what is sawn (None: a section is not
    known); ``minutes`` at saw and drill and the same in ``words``; ``on_hand``: what lies there, and what of it is used."""

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
    on_hand: tuple[OnHand, ...] = ()


def refuse_cutting(scene: Scene, units: Units = "metric") -> None:
    """BriefError where the cutting part of a brief cannot be worked with; nothing is solved."""
    brief, cutting = scene.brief, scene.brief.cutting
    pieces = cut_list(scene)
    fitted(
        pieces,
        stock_of(brief.stock, [piece.section for piece in pieces], units),
        cutting.mitre_allowance,
        joining_of(scene),
        units,
    )


def joining_of(scene: Scene) -> Joining:
    """Where the brief lets pieces be joined; the overlap of a timber lap with two bolts in a row unless it is told: 2 end distances and 5 d
    between them (EN 1995-1-1, table 8.4); metal is joined by a plate, without one."""
    cutting = scene.brief.cutting
    splices = cutting.splices or ("any" if cutting.splice else "none")
    overlap = cutting.overlap
    if overlap is None:
        timber = material_of(cutting.default) == "timber"
        overlap = 2 * cutting.end_distance + 5 * cutting.bolt if timber else 0.0
    return Joining(splices, overlap)


def cutting_report(scene: Scene, units: Units = "metric", effort: Effort = USUAL) -> CuttingReport:
    """Everything the cutting's screen shows, notes in ``units``. BriefError for a piece that no board holds, stock that contradicts
    itself, or a list without a piece."""
    brief, cutting = scene.brief, scene.brief.cutting
    pieces = cut_list(scene)
    if not pieces:
        raise BriefError("pieces", "there is nothing to cut: say what the frame is built from, or name your own pieces")
    stock = stock_of(brief.stock, [piece.section for piece in pieces], units)
    plan = cut_plan(pieces, stock, brief.kerf, cutting.mitre_allowance, cutting.least_rest, joining_of(scene), units, effort)
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
        on_hand(brief.stock, [(one.section, one.length, one.length - one.rest) for one in plan.boards if not one.bought]),
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
        if piece.parts:
            parts = " and ".join(format_length(part, units) for part in piece.parts)
            joint = (
                f"lapped by {format_length(joining_of(scene).overlap, units)} over a support and bolted through"
                if joining_of(scene).splices == "over supports"
                else f"set the joint over a support, or bolt a board along it that reaches {'20 in' if units == 'us' else 'half a metre'} to both sides"
            )
            notes.append(f"{piece.letter}, {piece.name}: spliced of {parts}, from its lower end; {joint}.")
        if piece.hand != "either":
            notes.append(
                f"{piece.letter}, {piece.name}: its foot is bevelled {piece.bevel:.1f} degrees, falling to the {piece.hand}."
            )
    structure = scene.structure
    mitred = [piece for piece in plan.pieces if (abs(piece.angle) > 0.05 or abs(piece.foot) > 0.05) and not piece.own]
    if structure is not None and mitred and abs(mitred[0].depth - structure.depth) > APART:
        notes.append(
            f"The frame's own page counts its legs {fine_length(structure.depth, units)} deep; {mitred[0].section} is "
            f"{fine_length(mitred[0].depth, units)}, and that is what is sawn here."
        )
    return notes
