"""Cutting: pieces that give the frame back, plans that are never dearer than plain ones, parts, and the template at true scale."""

from __future__ import annotations

import io
import itertools
import json
from dataclasses import replace
from math import acos, ceil, cos, degrees, radians, sin, tan
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sundial.answers.cutting.command import cutting_answer
from sundial.answers.cutting.report import cutting_report
from sundial.beams.sections import parse_section, size_of
from sundial.brief.model import BasePlateBrief
from sundial.brief.read import brief_of
from sundial.cutting.cut_list import cut_list, letter_of, section_key
from sundial.cutting.cut_plan import cut_plan
from sundial.cutting.longer import extension, lengthen
from sundial.cutting.order import in_words
from sundial.cutting.parts import bolt_length, screw_length
from sundial.cutting.patterns import AT_ONCE, UNIT, Kind, _knapsack, first_answer, solve
from sundial.cutting.saw import at_the_saw
from sundial.cutting.stock import stock_of
from sundial.cutting.template import template, template_dxf
from sundial.errors import BriefError
from sundial.frames.jack import Jack
from sundial.frames.pieces import Piece
from sundial.frames.pole import Pole
from sundial.study import Study, studied

RACK: dict[str, Any] = {
    "format": "crooked-sundial-brief", "version": 1, "site": {"latitude": 42.9, "longitude": -6.1},
    "sky": {"kind": "monthly", "ghi": [1.7, 2.6, 3.9, 4.8, 5.8, 6.6, 6.9, 6.0, 4.6, 2.9, 1.9, 1.4], "temp_air": 12},
    "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5},
    "array": {"rows": 2, "columns": 4, "azimuth": 180, "clearance": 0.3}, "mount": {"kind": "stepped"},
    "frame": {"kind": "prop", "rail_points": [1.10], "lengths": [0.80], "base_holes": [1.50, 1.20, 0.90], "front_height": 0.30},
    "stock": [{"section": "45x95 C24", "length": 3.6, "count": 4}, {"section": "45x95 C24", "length": 4.8, "price": 14.5}],
}  # fmt: skip


def study_of(**changes: Any) -> Study:
    return studied(brief_of(json.loads(json.dumps(RACK | changes))))


def pieces_by_name(study: Study) -> dict[str, Any]:
    return {piece.name: piece for piece in cut_list(study.scene)}


def test_the_pieces_put_together_again_give_the_tilt_of_every_hole() -> None:
    study = study_of()
    made = pieces_by_name(study)

    def apart(piece: Any, one: str, other: str) -> float:
        places = {hole.name: hole.at for hole in piece.holes}
        return abs(places[one] - places[other])

    p, length = apart(made["rail"], "hinge", "rail hole 1"), apart(made["prop"], "foot", "head")
    tilts = []
    for number in (1, 2, 3):
        q = apart(made["base bar"], "hinge", f"hole {number}")
        tilts.append(degrees(acos((p**2 + q**2 - length**2) / (2 * p * q))))
    assert tilts == pytest.approx([31.29, 40.42, 45.82], abs=0.005)  # chapter 4
    for piece in made.values():  # no bolt nearer to an end than told
        assert all(0.08 - 1e-9 <= hole.at <= piece.length - 0.08 + 1e-9 for hole in piece.holes)


def test_mitred_legs_stand_the_rail_at_its_tilt() -> None:
    frame = {"kind": "legs", "support_spacing": 1.45, "front_height": 0.40, "slope": 4.0}
    study = study_of(frame=frame, mount={"kind": "fixed", "tilt": 35})
    made = pieces_by_name(study)
    front, rear, base = made["front leg"], made["rear leg"], made["base"]
    rise = rear.length - front.length + base.length * sin(radians(4.0))
    assert degrees(acos(base.length * cos(radians(4.0)) / 1.45)) == pytest.approx(35, abs=0.05)
    assert rise == pytest.approx(1.45 * 0.573576, abs=0.0005)
    assert (rear.angle, rear.foot) == (35, 4)
    # toe and heel of the sawn leg lie a section's height apart on the rail's slope and on the ground's
    assert rear.toe - rear.heel == pytest.approx(0.095 * (tan(radians(35)) - tan(radians(4))))
    assert rear.extent(0.002) == pytest.approx(rear.length + 0.095 / 2 * (tan(radians(35)) + tan(radians(4))) + 0.004)


def test_legs_that_are_swapped_share_their_front_leg_and_base() -> None:
    frame = {"kind": "legs", "support_spacing": 2.0, "front_height": 0.4, "rear_heights": [1.0, 1.4, 1.8]}
    made = [piece for piece in cut_list(study_of(frame=frame).scene) if piece.name in ("front leg", "rear leg", "base")]
    assert [piece.name for piece in made].count("rear leg") == 3
    front, base = (next(piece for piece in made if piece.name == name) for name in ("front leg", "base"))
    assert [piece.name for piece in made].count("front leg") == 1 and front.angle == 0  # it hinges
    assert base.length == pytest.approx(2.0 * cos(radians(17.4576)), abs=1e-4)  # asin(0.6 / 2), the flattest


def test_a_leg_on_ground_that_falls_sideways_has_a_hand() -> None:
    frame = {"kind": "legs", "support_spacing": 1.45, "front_height": 0.40, "cross_slope": 6.0}
    flat = pieces_by_name(study_of(mount={"kind": "fixed", "tilt": 35}, frame=frame | {"cross_slope": 0.0}))["rear leg"]
    right = pieces_by_name(study_of(mount={"kind": "fixed", "tilt": 35}, frame=frame))["rear leg"]
    left = pieces_by_name(study_of(mount={"kind": "fixed", "tilt": 35}, frame=frame | {"cross_slope": -6.0}))["rear leg"]
    assert (flat.hand, right.hand, left.hand) == ("either", "right", "left")
    assert (flat.bevel, right.bevel, left.bevel) == (0, 6, 6)


def brute_force(sizes: list[int], demand: list[int], kinds: list[Kind], kerf: int) -> tuple[float, int] | None:
    """Lowest price and then length over every way to put pieces on boards, one piece after the other."""
    jobs = [size for size, number in zip(sizes, demand, strict=True) for _ in range(number)]
    best: tuple[float, int] | None = None

    def place(at: int, boards: list[tuple[int, int]], used: list[int], worth: tuple[float, int]) -> None:
        nonlocal best
        if best is not None and worth >= best:
            return
        if at == len(jobs):
            best = worth
            return
        seen = set()
        for number, (kind, taken) in enumerate(boards):
            if taken + jobs[at] + kerf <= kinds[kind].length + kerf and (kind, taken) not in seen:
                seen.add((kind, taken))
                boards[number] = (kind, taken + jobs[at] + kerf)
                place(at + 1, boards, used, worth)
                boards[number] = (kind, taken)
        for kind, one in enumerate(kinds):
            if one.length >= jobs[at] and (one.count is None or used[kind] < one.count):
                used[kind] += 1
                place(at + 1, [*boards, (kind, jobs[at] + kerf)], used, (round(worth[0] + one.price, 6), worth[1] + one.length))
                used[kind] -= 1

    place(0, [], [0] * len(kinds), (0.0, 0))
    return best


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.tuples(st.integers(2500, 19000), st.integers(1, 3)), min_size=1, max_size=3),
    st.integers(0, 2), st.sampled_from([0, 30, 47]),
)  # fmt: skip
def test_small_plans_are_as_cheap_and_as_short_as_trying_everything(pieces: list[tuple[int, int]], have: int, kerf: int) -> None:
    sizes = sorted({size for size, _ in pieces}, reverse=True)
    demand = [sum(number for size, number in pieces if size == one) for one in sizes]
    if sum(demand) > 7:
        demand = [1] * len(sizes)
    kinds = [Kind(20000, have, 0.0), Kind(24000, None, 7.3), Kind(36000, None, 10.1)]
    found = solve(sizes, demand, kinds, kerf)
    assert (round(found.price, 6), found.opened) == brute_force(sizes, demand, kinds, kerf)
    assert found.bound == pytest.approx(found.price, abs=1e-4)


@settings(max_examples=15, deadline=None)
@given(st.data())
def test_plans_hold_every_piece_once_and_are_never_dearer_than_first_fit(data: Any) -> None:
    sizes = data.draw(st.lists(st.integers(2000, 30000), min_size=1, max_size=8, unique=True))
    demand = [data.draw(st.integers(1, 9)) for _ in sizes]
    kinds = [Kind(31000, data.draw(st.integers(0, 5)), 0.0), Kind(30000, None, 9.0), Kind(48000, None, 14.5)]
    kerf = 30
    found = solve(sizes, demand, kinds, kerf, AT_ONCE)
    cut = [sum(pattern[at] for _, pattern in found.boards) for at in range(len(sizes))]
    assert cut == demand and not any(found.missing)
    for kind, pattern in found.boards:  # a kerf between neighbours, none after the last
        pieces = [size for size, number in zip(sizes, pattern, strict=True) for _ in range(number)]
        assert sum(pieces) + kerf * (len(pieces) - 1) <= kinds[kind].length
    assert sum(kind == 0 for kind, _ in found.boards) <= (kinds[0].count or 0)
    assert (found.price, found.opened) <= (first_fit_as_given(sizes, demand, kinds, kerf), 10**9)
    assert found.opened >= sum(size * number for size, number in zip(sizes, demand, strict=True))  # the length bound
    assert found.worth <= first_answer(sizes, demand, kinds, kerf).worth


def first_fit_as_given(sizes: list[int], demand: list[int], kinds: list[Kind], kerf: int) -> float:
    """What somebody pays who saws the longest first, from what lies there, and then buys the longest board each time."""
    boards = [kinds[0].length + kerf] * (kinds[0].count or 0)
    price = 0.0
    for size, number in sorted(zip(sizes, demand, strict=True), reverse=True):
        for _ in range(number):
            at = next((place for place, room in enumerate(boards) if room >= size + kerf), None)
            if at is None:
                boards.append(kinds[2].length + kerf)
                price += kinds[2].price
                at = len(boards) - 1
            boards[at] -= size + kerf
    return price


def test_a_piece_that_fills_its_board_needs_no_kerf_beyond_it() -> None:
    kinds = [Kind(24030, None, 1.0)]
    assert len(solve([12000], [2], kinds, 30).boards) == 1  # 2 x 1.2 m and one stroke
    assert len(solve([12001], [2], kinds, 30).boards) == 2


def test_many_pieces_are_proved_within_one_percent() -> None:
    sizes = [3170, 4230, 5110, 6090, 7430, 8880, 9970, 11310, 13030, 15550, 18210, 21030]
    demand = [41, 42] * 6
    kinds = [Kind(36000, 6, 0.0), Kind(36000, None, 9.9), Kind(48000, None, 14.5), Kind(60000, None, 17.2)]
    found = solve(sizes, demand, kinds, 30)
    assert sum(sum(pattern) for _, pattern in found.boards) == sum(demand)
    assert 0 < found.bound <= found.price <= 1.01 * found.bound


def test_a_long_list_of_small_pieces_is_answered() -> None:
    sizes, demand = [790, 670, 610, 530, 470, 410], [330] * 6  # 41 to 79 mm, from boards of 15 m
    kinds = [Kind(150000, 3, 0.0), Kind(150000, None, 40.0), Kind(60000, None, 17.2)]
    found = solve(sizes, demand, kinds, 30, AT_ONCE)  # listing all patterns of these would take for ever
    assert [sum(pattern[at] for _, pattern in found.boards) for at in range(6)] == demand
    assert found.bound <= found.price


def test_boards_on_hand_that_end_are_told_by_letter() -> None:
    study = study_of(stock=[{"section": "45x95 C24", "length": 5.4, "count": 3}])
    report = cutting_report(study.scene)
    assert report.plan.missing and len(report.plan.boards) == 3
    assert all("on hand" in note for note in report.notes if "left" in note)
    cut = sum(len(board.cuts) for board in report.plan.boards)
    assert cut + sum(number for _, number in report.plan.missing) == sum(piece.count for piece in report.plan.pieces)


def test_a_piece_longer_than_any_board_is_spliced_or_refused_by_name() -> None:
    stock = [{"section": "45x95 C24", "length": 3.6, "price": 9.9}]
    with pytest.raises(BriefError, match=r"purlin E takes 4.596 m.*of 2 pieces of about 2.298 m") as refused:
        cutting_report(study_of(stock=stock).scene)
    assert refused.value.path == "stock"
    report = cutting_report(study_of(stock=stock, cutting={"splice": True}).scene)
    purlin = next(piece for piece in report.plan.pieces if piece.name == "purlin")
    assert len(purlin.parts) == 2 and sum(purlin.parts) == pytest.approx(purlin.length)
    assert sum(cut.letter == "E" for board in report.plan.boards for cut in board.cuts) == 2 * purlin.count
    assert any("purlin: spliced of" in note for note in report.notes)
    assert next(part.count for part in report.parts if part.name == "splice plate, pair") == purlin.count


def test_rests_kept_and_wasted_add_up_with_the_pieces() -> None:
    report = cutting_report(study_of().scene)
    plan = report.plan
    net = sum(piece.extent(0.002) * piece.count for piece in plan.pieces)
    assert sum(board.length for board in plan.boards) == pytest.approx(net + plan.kept + plan.waste)
    assert plan.cost == pytest.approx(sum(buy.price * buy.count for buy in plan.buy))
    assert sum(not board.bought for board in plan.boards) <= 4
    assert report.total == pytest.approx(plan.cost)


def test_no_stock_is_assumed_and_said_so() -> None:
    report = cutting_report(study_of(stock=[], cutting={"sections": {"rail": "45x120 C24"}}).scene)
    assert set(report.plan.assumed) == {"45x120 C24", "45x95 C24"} and report.plan.cost == 0
    assert sum("taken as sold" in note for note in report.notes) == 2


def test_stock_of_one_name_is_one_stock_and_two_prices_are_refused() -> None:
    rows = brief_of(
        RACK | {"stock": [
            {"section": "45x95 C24", "length": 3.6, "count": 2}, {"section": "45 × 95  c24", "length": 3.6, "count": 3},
            {"section": "45X95 C24", "length": 4.8, "price": 14.5},
        ]}
    ).stock  # fmt: skip
    held = stock_of(rows, ["45x95 C24"])[section_key("45x95 C24")]
    assert [(one.length, one.count) for one in held] == [(3.6, 5), (4.8, None)]
    twice = brief_of(RACK | {"stock": [{"section": "45x95 C24", "length": 3, "price": price} for price in (9, 8)]}).stock
    with pytest.raises(BriefError, match="for sale at 9 in row 1 and at 8 here"):
        stock_of(twice, ["45x95 C24"])


def test_parts_count_by_the_rules_and_round_up_to_packs() -> None:
    parts = {part.name: part for part in cutting_report(study_of().scene).parts}
    assert parts["bracket"].count == 32  # four a panel
    assert (parts["washer M8"].count, parts["washer M8"].bought) == (64, 100)
    assert parts["bolt M12 x 120"].count == 6  # hinge, head and foot of two props; 45 + 45 + 21.6 mm
    clamps = {part.name: part.count for part in cutting_report(study_of(cutting={"fixing": "clamps"}).scene).parts}
    assert (clamps["end clamp"], clamps["mid clamp"], "bracket" in clamps) == (8, 12, False)
    told = [{"name": "bracket", "price": 2.0, "pack": 10, "mass": 0.2}, {"name": "paint", "price": 9.0}]
    report = cutting_report(study_of(cutting={"parts": told, "freight": 20, "tax": 0.2}).scene)
    bracket = next(part for part in report.parts if part.name == "bracket")
    assert (bracket.packs, bracket.price, bracket.mass) == (4, 8.0, pytest.approx(6.4))
    assert report.total == pytest.approx((report.boards_cost + 8 + 9 + 20) * 1.2)


def test_bolts_and_screws_reach_through() -> None:
    assert bolt_length(0.090, 0.012) == 120  # 111.6 mm
    assert bolt_length(0.041, 0.010) == 60  # 59 mm
    assert screw_length(0.045) == 90
    assert screw_length(0.021) == 70


def test_the_order_of_work_fits_the_frame_and_tells_the_voltage_to_expect() -> None:
    label = {"voc": 37.2, "isc": 14.2, "vmp": 31.1, "imp": 13.85, "beta": -0.0027}
    steps = {step.key: step for step in cutting_report(study_of(electrics=label).scene).order}
    assert "brace" in steps and "tight" in steps
    assert "brace" not in [step.key for step in cutting_report(study_of(cutting={"braces": False}).scene).order]
    assert list(steps)[0] == "line" and "ledgers" not in steps and "template" not in steps
    assert "35.7 V at 40 °C" in steps["volts"].check  # 37.2 (1 - 0.0027 x 15)
    assert sum(bool(step.caution) for step in steps.values()) >= 4
    wall = {"kind": "wall", "lower_height": 1.0, "front_height": 2.4}
    keys = [step.key for step in cutting_report(study_of(frame=wall, mount={"kind": "fixed", "tilt": 40}).scene).order]
    assert "ledgers" in keys and "line" not in keys
    pole = {"frame": {"kind": "pole", "height": 2.5, "holes": [10, 30, 50]}}
    for base, first in ((None, "stand"), ({"bolt_circle": 0.25}, "template")):
        assert cutting_report(study_of(**pole, cutting={"base": base}).scene).order[0].key == first
    assert [in_words(hours * 60) for hours in (0.5, 5, 20)] == ["half an hour", "a long afternoon", "2 days"]


def test_the_rail_over_a_pole_is_drilled_for_its_joint_and_its_jack() -> None:
    pole = Pole(front_height=0.5, height=3.0, ends=(10.0, 50.0), joint=1.5, screw=Jack(
        front_height=3.0, base=(0.08, -0.72), rail_point=0.62, stroke=(0.98, 1.26)
    ))  # fmt: skip
    size, drills = pole.drills(Piece("rail", 3.44, 2), 0.03, 0.012)
    assert size == 3.44 and [(one.name, one.at) for one in drills] == [("joint", 1.5), ("actuator", pytest.approx(2.12))]
    assert replace(pole, screw=None).drills(Piece("rail", 3.44, 2), 0.03, 0.012) == (3.44, ())


def test_a_longer_rack_is_cut_to_the_channels_holes() -> None:
    needed, cut = extension(1, 1.134, 0.02, 0.05)
    assert (needed, cut) == (pytest.approx(1.154), pytest.approx(1.20))
    assert extension(3, 1.01, 0.04, 0.05)[1] == pytest.approx(3.15)  # falls on a hole: no more
    longer = cutting_answer(study_of(cutting={"longer": 1}).scene)["longer"]
    assert (longer["rails"], longer["move"], longer["added"], longer["panels_after"]) == (4, 4, 4, 10)
    assert longer["load"] == pytest.approx(1.25)


def test_no_error_is_carried_at_the_saw() -> None:
    marked, off = at_the_saw(1.23456, "metric")
    assert marked == pytest.approx(1.235) and off == pytest.approx(0.00044)
    inch, off = at_the_saw(1.0, "us")
    assert inch == pytest.approx(39.375 * 0.0254) and abs(off) <= 0.0254 / 32
    places = [0.3337 * number for number in range(1, 40)]
    assert all(abs(at_the_saw(place, "us")[1]) <= 0.0254 / 32 + 1e-12 for place in places)


def test_the_template_has_its_bolts_where_they_belong_and_its_dxf_too() -> None:
    from ezdxf import filemanagement

    base = BasePlateBrief(plate=0.3, bolt_circle=0.25, bolts=4, bolt=0.016, pole=0.114, turn=30.0)
    made = template(base)
    first = made.bolts[0]
    assert (first.x, first.y) == (pytest.approx(62.5), pytest.approx(108.253, abs=1e-3))  # clockwise from the north
    assert {round((one.x**2 + one.y**2) ** 0.5, 6) for one in made.bolts} == {125.0}
    file = filemanagement.read(io.StringIO(template_dxf(base, "pole")))
    lines = {line.dxf.layer: line for line in file.modelspace().query("LINE")}
    assert lines["CHECK"].dxf.start.distance(lines["CHECK"].dxf.end) == pytest.approx(100.0)
    assert lines["NORTH"].dxf.start.distance(lines["NORTH"].dxf.end) == pytest.approx(300.0)
    circles = [one for one in file.modelspace().query("CIRCLE") if one.dxf.layer == "BOLTS"]
    assert sorted((round(one.dxf.center.x, 3), round(one.dxf.center.y, 3)) for one in circles) == sorted(
        (round(one.x, 3), round(one.y, 3)) for one in made.bolts
    )


REFUSED = [
    ({"kerf": 0.03}, "kerf", "3 cm"),
    ({"pieces": [{"section": "45x95 C24", "length": 1.0, "count": -2}]}, "pieces[0].count", "from 1"),
    ({"pieces": [{"name": str(n), "section": "45x95 C24", "length": 1.0, "count": 1000} for n in range(10)]}, "pieces", "2000"),
    ({"stock": [{"section": "45x95 C24", "length": -3.0}]}, "stock[0].length", "more than 0"),
    ({"cutting": {"base": {"plate": 0.2, "bolt_circle": 0.4}}}, "cutting.base.bolt_circle", "outside the plate"),
    ({"cutting": {"base": {"pole": 0.3, "bolt_circle": 0.3, "plate": 0.4}}}, "cutting.base.bolt_circle", "inside the pole"),
]


@pytest.mark.parametrize(("change", "path", "words"), REFUSED)
def test_bad_cutting_is_refused_by_path(change: dict[str, Any], path: str, words: str) -> None:
    with pytest.raises(BriefError) as refused:
        cutting_report(study_of(**change).scene)
    assert refused.value.path == path and words in refused.value.message


def test_the_commands_answer_has_the_contracts_keys() -> None:
    answer = cutting_answer(study_of(pieces=[{"name": "shelf", "section": "45x95 C24", "length": 0.9, "count": 2}]).scene)
    assert {"pieces", "cuts", "buy", "waste", "cost", "parts"} <= set(answer)
    assert {"section", "length", "angles", "count", "hand"} <= set(answer["pieces"][0])
    assert {"name", "count", "why"} <= set(answer["parts"][0])
    keys = [cut["piece"] for board in answer["cuts"] for cut in board["cuts"]]
    assert len(keys) == len(set(keys)) == sum(piece["count"] for piece in answer["pieces"])
    assert json.dumps(answer, allow_nan=False)


def test_letters_go_on_after_z() -> None:
    assert [letter_of(number) for number in (0, 25, 26, 51, 52)] == ["A", "Z", "AA", "AZ", "BA"]


def test_units_are_tenths_of_a_millimetre() -> None:
    report = cutting_report(study_of().scene)
    for board in report.plan.boards:
        for one, other in itertools.pairwise(board.cuts):  # one kerf between neighbours
            assert other.start - one.start - one.extent == pytest.approx(0.003)
        last = board.cuts[-1]
        assert last.start + last.extent <= board.length + UNIT
        assert ceil(board.length / UNIT - 1e-6) >= 1


def test_plans_take_their_pieces_as_told() -> None:
    study = study_of()
    pieces = cut_list(study.scene)
    stock = stock_of(study.brief.stock, [piece.section for piece in pieces])
    thin = cut_plan(pieces, stock, 0.0, 0.0, 0.3)
    thick = cut_plan(pieces, stock, 0.008, 0.0, 0.3)
    assert thin.cost <= thick.cost and thin.waste <= thick.waste + thick.kept


def fits_on(sizes: list[int], boards: list[int], kerf: int) -> bool:
    """Whether all pieces can be cut from these boards, by trying every place for each."""
    if not sizes:
        return True
    for place, room in enumerate(boards):
        if sizes[0] <= room and room not in boards[:place]:
            left = [*boards[:place], room - sizes[0] - kerf, *boards[place + 1 :]]
            if fits_on(sizes[1:], left, kerf):
                return True
    return False


def test_where_boards_run_out_the_fewest_pieces_are_left_and_of_these_the_fewest_metres() -> None:
    rng, short = np.random.default_rng(5), 0
    for _ in range(36):
        sizes = sorted({int(size) for size in rng.integers(3000, 20000, 4)}, reverse=True)
        demand = [int(count) for count in rng.integers(1, 4, len(sizes))]
        kinds = [Kind(length, int(rng.integers(0, 3)), float(rng.integers(0, 2) * 5)) for length in (30000, 24000)]
        boards = [kind.length for kind in kinds for _ in range(kind.count or 0)]
        left = [
            (
                sum(demand) - sum(taken),
                sum(size * (most - number) for size, most, number in zip(sizes, demand, taken, strict=True)),
            )
            for taken in itertools.product(*(range(most + 1) for most in demand))
            if fits_on([size for size, number in zip(sizes, taken, strict=True) for _ in range(number)], boards, 30)
        ]
        found = solve(sizes, demand, kinds, 30)
        assert (sum(found.missing), found.short) == min(left)
        assert found.missing_bound == sum(found.missing) and found.bound == found.price
        short += any(found.missing)
    assert short > 20


def test_where_patterns_are_too_many_what_may_be_left_at_least_is_true() -> None:
    """Sixty sizes and too few boards: the bound of the pieces without one is never over what is left."""
    rng = np.random.default_rng(11)
    sizes = sorted({int(size) for size in rng.integers(2000, 19000, 60)}, reverse=True)
    found = solve(sizes, [2] * len(sizes), [Kind(40000, 15, 4.0)], 30)
    placed = np.sum([cut for _, cut in found.boards], axis=0)
    assert (placed + np.array(found.missing) == 2).all() and any(found.missing)
    assert sum(found.missing) - 8 <= found.missing_bound <= sum(found.missing)


def test_a_board_by_its_name_has_its_dressed_size() -> None:
    """2x4 is 38 x 89 mm: 2 by 4 mm once changed every bolt; a name that no board has is asked."""
    frame = {"kind": "legs", "support_spacing": 1.45, "front_height": 0.4}
    named, told = (
        study_of(mount={"kind": "fixed", "tilt": 35}, frame=frame, cutting={"default": size}) for size in ("2x4", "38x89")
    )
    one, other = (cutting_answer(study.scene) for study in (named, told))
    assert [(piece["name"], piece["toe"], piece["extent"]) for piece in one["pieces"]] == [
        (piece["name"], piece["toe"], piece["extent"]) for piece in other["pieces"]
    ]
    assert [(part["name"], part["count"]) for part in one["parts"]] == [(part["name"], part["count"]) for part in other["parts"]]
    assert size_of("2x6") == pytest.approx((0.038, 0.140)) and size_of("2x6 C24") == pytest.approx((0.038, 0.140))
    assert parse_section("2x6 C24").inertia == pytest.approx(0.038 * 0.140**3 / 12)
    assert (
        size_of("45x95") == pytest.approx((0.045, 0.095))
        and size_of("pallet wood") is None
        and size_of("tube 12x2 steel") == pytest.approx((0.012, 0.002))
    )
    with pytest.raises(BriefError, match="names no board") as error:
        cutting_answer(study_of(mount={"kind": "fixed", "tilt": 35}, frame=frame, cutting={"default": "3x5"}).scene)
    assert error.value.path == "cutting.sections"


def test_a_post_goes_down_as_its_footing_says_and_one_on_a_plate_does_not() -> None:
    pole: dict[str, Any] = {"frame": {"kind": "pole", "height": 2.5, "holes": [10, 30, 50]}}
    footing = {"kind": "pier", "diameter": 0.4, "soil": "sand", "depth": 1.1}

    def tall(**more: Any) -> float:
        return float(pieces_by_name(study_of(**pole, **more))["pole"].length)

    assert tall(footing=footing) - tall() == pytest.approx(1.1)
    assert tall(footing=footing, cutting={"base": {"bolt_circle": 0.25}}) == tall(cutting={"base": {"bolt_circle": 0.25}})
    assert tall(footing=footing | {"kind": "screw", "rating": 9000, "depth": None}) == tall()


def test_what_lies_across_is_counted_and_says_why() -> None:
    own = [{"name": "step", "section": "45x95 C24", "length": 0.6, "count": 3}]
    made = {piece.name: piece for piece in cut_list(study_of(pieces=own).scene)}
    assert (made["brace"].count, made["brace"].why) == (2, "crossed, one on each face, between the rear supports")
    assert (made["step"].count, made["step"].why, made["step"].own) == (3, "your own", True)
    short = {piece.name: piece for piece in cut_list(study_of(cutting={"fixing": "short rails"}).scene)}
    assert (short["short rail"].count, short["short rail"].why) == (2 * 2 * 5, "one under every clamp")
    assert "purlin" not in short and "mounting rail" not in short


def test_stock_on_hand_counts_together_from_nought() -> None:
    rows = brief_of(RACK | {"stock": [{"section": "45x95 C24", "length": 3.6, "count": count} for count in (0, 2, 1)]}).stock
    assert [one.count for one in stock_of(rows, ["45x95 C24"])[section_key("45x95 C24")]] == [3]


@pytest.mark.parametrize(("columns", "width"), [(1, 2.0), (1, 4.4), (3, 2.0), (1, None)])
def test_a_longer_row_asks_for_frames_where_its_rail_reaches_past_half_a_bay(columns: int, width: float | None) -> None:
    told = {} if width is None else {"wind": {"gust": 20, "width": width}}
    scene = study_of(cutting={"longer": columns}, **told).scene
    found = lengthen(scene)
    assert found is not None and scene.structure is not None
    outermost, breadth = width or 0.6 * scene.array.breadth, scene.array.breadth
    reach, bay = (breadth - outermost) / 2 + found.needed, outermost / (scene.structure.frames - 1)
    assert (found.overhang, found.breadth) == (pytest.approx(reach), pytest.approx(breadth + found.needed))
    # frames that follow one bay apart until what is left over is half a bay at most
    steps = 0
    while reach - steps * bay > bay / 2 + 1e-9:
        steps += 1
    assert found.more_frames == steps
    unframed = study_of(frame=None, cutting={"longer": columns}, mount={"kind": "fixed", "tilt": 30}, **told).scene
    other = lengthen(unframed)
    assert other is not None and other.more_frames == steps  # two are taken where none is told


def test_the_best_filling_of_a_board_is_found_as_by_trying_all() -> None:
    rng = np.random.default_rng(3)
    for _ in range(60):
        sizes = sorted({int(size) for size in rng.integers(90, 400, 4)}, reverse=True)
        demand = [int(count) for count in rng.integers(1, 6, len(sizes))]
        values = rng.uniform(0.1, 2.0, len(sizes)).round(3)
        kerf, room = 3, int(rng.integers(700, 1500))
        every = itertools.product(*(range(count + 1) for count in demand))
        fits = [cut for cut in every if sum((size + kerf) * count for size, count in zip(sizes, cut, strict=True)) <= room]
        best = max(float(np.dot(values, cut)) for cut in fits)
        worth, pattern = _knapsack(sizes, demand, values, room, kerf)
        assert worth == pytest.approx(best, abs=1e-9) and pattern in fits
    # room for two to the last unit
    assert _knapsack([100], [5], np.array([1.0]), 206, 3) == (2.0, (2,)) and _knapsack([100], [5], np.array([1.0]), 205, 3)[
        1
    ] == (1,)


LEGS_RACK = {"kind": "legs", "support_spacing": 2.2, "overhang": 0.4, "front_height": 1.9, "frames": 3}


def made_longer(**cutting: Any) -> Any:
    """The two-row rack on legs, fixed at 32 degrees, made longer on clamps."""
    told = {"fixing": "clamps", "hole_pitch": 0.05, **cutting}
    return lengthen(study_of(frame=LEGS_RACK, mount={"kind": "fixed", "tilt": 32}, cutting=told).scene)


@pytest.mark.parametrize(("way", "first", "reach", "low"), [
    ("down", (9, 10, 11, 12), 0.4 + 1.742, 1.9 - (0.4 + 1.742) * sin(radians(32))),
    ("up", (1, 2, 3, 4), 3.464 - 2.6 + 1.742, 1.9 - 0.4 * sin(radians(32))),
])  # fmt: skip
def test_a_row_is_added_below_or_above(way: str, first: tuple[int, ...], reach: float, low: float) -> None:
    found = made_longer(longer_rows=1, longer_way=way)
    assert found.numbers[0] == first and sorted(itertools.chain(*found.numbers)) == list(range(1, 13))
    assert (found.panels_after, found.load) == (12, pytest.approx(1.5))
    (rail,) = found.grown
    assert (rail.name, rail.count, rail.by, rail.cut) == ("rail", 3, pytest.approx(1.742), pytest.approx(1.75))
    assert [(piece.name, piece.count, round(piece.length, 3)) for piece in found.pieces] == [("mounting rail", 2, 4.596)]
    assert {part.name: part.count for part in found.parts}["end clamp"] == 4
    assert {part.name: part.count for part in found.parts}["mid clamp"] == 6
    assert found.reach == pytest.approx(reach, abs=0.03) and found.lower_edge == pytest.approx(low, abs=0.002)
    assert found.upper_edge == pytest.approx(found.lower_edge + (2 * 1.722 + 0.02 + 1.742) * sin(radians(32)), abs=0.02)
    assert found.more_supports == (1 if reach > 1.1 else 0)


def test_old_panels_keep_their_numbers_along_and_up_the_slope() -> None:
    both = made_longer(longer_rows=1, longer=1, longer_way="down").numbers
    assert both == ((9, 10, 11, 12, 13), (1, 2, 3, 4, 14), (5, 6, 7, 8, 15))
    assert made_longer(longer=2).numbers == ((1, 2, 3, 4, 9, 10), (5, 6, 7, 8, 11, 12))


def test_a_row_below_does_not_reach_into_the_ground_nor_one_above_into_the_wall() -> None:
    with pytest.raises(BriefError, match=r"m into the ground: raise the front"):
        made_longer(longer_rows=2, longer_way="down")
    wall = {"kind": "wall", "lower_height": 1.0, "front_height": 2.4, "overhang": 0.0, "frames": 3}
    told = {"frame": wall, "mount": {"kind": "fixed", "tilt": 20}}
    with pytest.raises(BriefError, match="the wall is in the way"):
        lengthen(study_of(**told, cutting={"longer_rows": 1, "longer_way": "up"}).scene)
    below = lengthen(study_of(**told, cutting={"longer_rows": 1, "hole_pitch": 0}).scene)
    assert below is not None
    assert [(one.name, one.cut) for one in below.grown] == [("rafter", pytest.approx(1.742))]
    assert not below.anew and not [one for one in below.pieces if one.name == "strut"]  # the strut stays where it is


def test_the_longer_rack_is_wired_with_old_panels_under_their_old_numbers() -> None:
    from sundial.answers.electrics.report import electrics_report

    label = {"voc": 49.2, "isc": 11.1, "vmp": 41.3, "imp": 10.4, "beta": -0.0027, "min_temp": -10, "max_temp": 36,
             "input": {"max_voltage": 550, "window": [120, 480], "max_current": 15, "inputs": 2}}  # fmt: skip
    told = {"wiring": {"kind": "series", "strings": [[1, 2, 3, 4, 8, 7, 6, 5]]}, "electrics": label, "frame": LEGS_RACK, "mount": {"kind": "fixed", "tilt": 32}}  # fmt: skip
    for way in ("down", "up"):
        report = electrics_report(study_of(**told, cutting={"longer_rows": 1, "longer_way": way}))
        assert report.longer is not None
        kept = [(1, 2), (2, 3), (3, 4), (4, 8), (8, 7), (7, 6), (6, 5)]
        joints = {pair for string in report.longer.strings for pair in itertools.pairwise(string)}
        assert sum(pair in joints for pair in kept) == len(kept) - len(report.longer.opened)
        assert sorted(itertools.chain(*report.longer.strings)) == list(range(1, 13))


def test_what_lies_there_is_counted_whether_it_is_used_or_not() -> None:
    stock = [{"section": "45x95 C24", "length": 3.6, "count": 4}, {"section": "45x95  c24", "length": 4.8, "count": 1, "price": 9.0}, {"section": "45x95 C24", "length": 5.4, "price": 14.5}, {"section": "Oak 60x60", "length": 2.0, "count": 2}]  # fmt: skip
    report = cutting_report(study_of(stock=stock).scene)
    heap, oak = report.on_hand
    assert (len(heap.boards), heap.total, oak.total, oak.used) == (5, pytest.approx(19.2), 4.0, 0.0)
    opened = [board.length - board.rest for board in report.plan.boards if not board.bought]
    assert opened and heap.used == pytest.approx(sum(opened)) and [length for length, _ in heap.boards][0] == 4.8
    assert all(used <= length + 1e-9 for length, used in heap.boards)


def test_left_and_right_are_mirror_images_where_frames_stand_in_pairs() -> None:
    frames = LEGS_RACK | {"frames": 4}
    pieces = pieces_by_name(study_of(frame=frames, mount={"kind": "fixed", "tilt": 32}))
    assert pieces["front leg"].sides == (2, 2) and pieces["purlin"].sides == (0, 0)
    odd = pieces_by_name(study_of(frame=LEGS_RACK, mount={"kind": "fixed", "tilt": 32}))
    assert odd["front leg"].sides == (0, 0)  # one of three stands in the middle
    falls = pieces_by_name(study_of(frame=frames | {"cross_slope": 4}, mount={"kind": "fixed", "tilt": 32}))
    assert (falls["rear leg"].hand, falls["rear leg"].sides) == ("right", (0, 0))  # all of one hand
    assert falls["rail"].sides == (2, 2)


def test_ledgers_run_along_the_row_and_have_no_side() -> None:
    wall = {"kind": "wall", "lower_height": 0.4, "frames": 2, "overhang": 1.2}
    found = pieces_by_name(study_of(frame=wall, mount={"kind": "fixed", "tilt": 25}))
    assert found["rafter"].sides == (1, 1) and found["ledger"].count == 2 and found["ledger"].sides == (0, 0)
