"""Pieces longer than any board: joined over supports or anywhere, by the cheapest way there is among those that are tried."""

from __future__ import annotations

import random
from functools import cache
from itertools import combinations, product
from math import atan2, cos, degrees, hypot, radians

import pytest

from sundial.answers.cutting.report import cutting_report
from sundial.cutting.cut_list import CutPiece
from sundial.cutting.cut_plan import Joining, cut_plan
from sundial.cutting.joints import ways_to_join
from sundial.cutting.patterns import AT_ONCE
from sundial.cutting.stock import Stock
from sundial.errors import BriefError
from tests.core.conftest import study_of

WOOD = "45x95 C24"


def piece(letter: str, length: float, count: int, supports=(), **more) -> CutPiece:
    return CutPiece(
        name="rafter", letter=letter, length=length, count=count, depth=0.0, section=WOOD, supports=tuple(supports), **more
    )


def boards(*kinds) -> dict[str, list[Stock]]:
    return {WOOD.lower(): [Stock(WOOD.lower(), length, None, price, False) for length, price in kinds]}


@pytest.mark.parametrize("splices", ["any", "over supports"])
def test_two_rafters_of_one_and_a_half_boards_need_three_boards(splices):
    """Each a whole board and half of another: 2 x (3.6 + 1.79) m from three boards of 3.6 m, where equal parts would take four."""
    rafters = [piece("A", 5.38, 2, [0.2, 3.6, 5.2])]
    plan = cut_plan(rafters, boards((3.6, 12.0)), 0.003, 0.0, 0.3, Joining(splices, 0.0))
    assert len(plan.boards) == 3 and plan.cost == 36 and plan.gap < 1e-9
    assert sorted(plan.pieces[0].parts) == pytest.approx([1.78, 3.6])
    equal = [piece("A", 2.69, 4)]
    assert len(cut_plan(equal, boards((3.6, 12.0)), 0.003, 0.0, 0.3).boards) == 4


def test_a_lap_is_as_long_as_it_is_told_and_lies_over_its_support():
    parts = ways_to_join(piece("A", 6.0, 1, [1.0, 2.6, 4.1]), [4.0], 0.0, "over supports", 0.24)
    assert [pytest.approx(way) for way in ([2.72, 3.52],)] == parts  # at 1.0 and at 4.1 one part is longer than a board
    three = ways_to_join(piece("A", 9.5, 1, [3.0, 6.2]), [4.0], 0.0, "over supports", 0.2)
    assert three == [pytest.approx((3.1, 3.4, 3.4))]


def test_a_joint_over_no_support_is_refused_with_its_reason():
    for supports, words in (([], "no support of it is known"), ([0.4], "splits it into parts")):
        with pytest.raises(BriefError, match=words) as caught:
            cut_plan([piece("A", 6.0, 1, supports)], boards((4.0, 9.0)), 0.003, 0.0, 0.3, Joining("over supports", 0.2))
        assert caught.value.path == "stock"
    with pytest.raises(BriefError, match="or splice it, of 2 pieces"):
        cut_plan([piece("A", 6.0, 1)], boards((4.0, 9.0)), 0.003, 0.0, 0.3)


def test_slanting_ends_stay_with_their_own_part():
    slanting = piece("A", 5.0, 1, [2.5], angle=30.0, foot=12.0)
    slanting = CutPiece(**{**vars(slanting), "depth": 0.095})
    whole = slanting.extent(0.002)
    first, last = (slanting.part_extent(number, (2.5, 2.5), 0.002) for number in (0, 1))
    assert first + last == pytest.approx(whole)
    assert last > first > 2.5  # the steeper cut takes more


# ---- an exact solver written apart: every way of joining, every way of filling boards, by plain recursion


def least_cost(parts: list[int], kinds: list[tuple[int, float]], kerf: int) -> float:
    """Cheapest boards for these parts (tenths of a mm), by trying the longest part on every board."""

    @cache
    def best(left: tuple[int, ...]) -> float:
        if not left:
            return 0.0
        cheapest = float("inf")
        for length, price in kinds:
            if left[0] > length:
                continue
            for filled in fillings(left[1:], length - left[0] + 0):
                rest = list(left[1:])
                for one in filled:
                    rest.remove(one)
                cheapest = min(cheapest, price + best(tuple(rest)))
        return cheapest

    def fillings(left: tuple[int, ...], room: int):
        """Every set of parts that fits beside the first, that cannot take another."""
        found = set()

        def grow(start: int, chosen: tuple[int, ...], room: int) -> None:
            fits = False
            for place in range(start, len(left)):
                if left[place] + kerf <= room:
                    fits = True
                    grow(place + 1, (*chosen, left[place]), room - left[place] - kerf)
            if not fits or not chosen:
                found.add(chosen)

        grow(0, (), room)
        return found or {()}

    return best(tuple(sorted(parts, reverse=True)))


def laps(length: int, supports: list[int], lap: int, longest: int) -> list[tuple[int, ...]]:
    """Every way of joining over supports with the fewest joints, written for whole numbers."""
    for joints in range(1, 5):
        found = []
        for chosen in combinations(supports, joints):
            ends = [0, *chosen, length]
            parts = [
                after - before + (lap // 2 if number else 0) + (lap // 2 if number < joints else 0)
                for number, (before, after) in enumerate(zip(ends, ends[1:], strict=False))
            ]
            if max(parts) <= longest and min(parts) > 0:
                found.append(tuple(parts))
        if found:
            return found
    return []


@pytest.mark.parametrize("seed", range(20))
def test_random_lists_with_laps_cost_what_an_exact_solver_finds(seed):
    """Ten lists a seed, 200 in all."""
    rng, met = random.Random(seed), 0
    while met < 10:
        kinds = sorted({rng.randrange(20, 50) * 1000 for _ in range(rng.choice([1, 2]))})
        prices = [round(kind / 10000 * rng.uniform(2.5, 4.0), 2) for kind in kinds]
        longest, kerf, lap = kinds[-1], 30, rng.choice([0, 2000])
        wanted = []
        for _ in range(rng.choice([1, 2])):
            length = rng.randrange(longest + 2000, int(longest * 1.9), 10)
            supports = sorted(rng.sample(range(3000, length - 3000, 100), 3))
            wanted.append((length, rng.choice([1, 2]), supports))
        short = [(rng.randrange(3000, 15000, 10), rng.choice([1, 2]))]
        ways = [laps(length, supports, lap, longest) for length, _, supports in wanted]
        if not all(ways):
            continue
        met += 1
        exact = min(
            least_cost(
                [part for parts, (_, count, _) in zip(chosen, wanted, strict=True) for part in parts * count]
                + [length for length, count in short for _ in range(count)],
                list(zip(kinds, prices, strict=True)),
                kerf,
            )
            for chosen in product(*ways)
        )
        pieces = [
            piece("AB"[i], length / 1e4, count, [s / 1e4 for s in supports]) for i, (length, count, supports) in enumerate(wanted)
        ]
        pieces += [piece("C", length / 1e4, count) for length, count in short]
        stock = boards(*[(kind / 1e4, price) for kind, price in zip(kinds, prices, strict=True)])
        plan = cut_plan(pieces, stock, kerf / 1e4, 0.0, 0.3, Joining("over supports", lap / 1e4))
        assert plan.all_joints and plan.gap < 1e-6
        assert plan.cost == pytest.approx(exact, abs=0.005), (seed, wanted, kinds)


def test_the_report_tells_the_parts_and_how_they_are_joined():
    stock = [{"section": WOOD, "length": 3.6, "price": 9.9}]
    rack = {
        "stock": stock,
        "frame": {"kind": "legs", "support_spacing": 1.5, "frames": 3},
        "mount": {"kind": "fixed", "tilt": 34},
    }
    lapped = cutting_report(study_of(**rack, cutting={"splices": "over supports"}).scene)
    purlin = next(one for one in lapped.plan.pieces if one.name == "purlin")
    assert len(purlin.parts) == 2 and sum(purlin.parts) == pytest.approx(purlin.length + 2 * 0.08 + 5 * 0.012)
    assert any("lapped by 0.22 m over a support" in note for note in lapped.notes)
    told = cutting_report(study_of(**rack, cutting={"splices": "over supports", "overlap": 0.3}).scene)
    assert sum(next(one for one in told.plan.pieces if one.name == "purlin").parts) == pytest.approx(purlin.length + 0.3)
    with pytest.raises(BriefError):
        cutting_report(study_of(**rack, cutting={"splices": "none"}).scene)


def test_five_hundred_pieces_among_them_joined_ones_are_answered():
    rng = random.Random(3)
    many = [piece("A", 5.2, 6, [2.6, 3.1]), *(piece(f"B{n}", round(rng.uniform(0.4, 2.4), 2), 12) for n in range(41))]
    plan = cut_plan(many, boards((3.6, 11.0), (4.8, 14.5)), 0.003, 0.0, 0.3, Joining("over supports", 0.2), effort=AT_ONCE)
    assert sum(len(board.cuts) for board in plan.boards) == 6 * 2 + 41 * 12 and not plan.missing


@pytest.mark.parametrize("at", [1.74, 3.48])
def test_a_walls_rafters_are_spliced_over_their_strut(at):
    """An awning of three panels up the slope: rafters of 5.2 m from channels of 3.5 m, joined over a strut that stands in from the edge."""
    frame = {"kind": "wall", "front_height": 2.1, "lower_height": 0.9, "overhang": at, "frames": 2}
    told = {
        "array": {"rows": 3, "columns": 2}, "panel": {"power": 400, "length": 1.72, "width": 1.13, "mass": 21},
        "mount": {"kind": "fixed", "tilt": 21}, "frame": frame,
        "stock": [{"section": "strut 41x41x2.5", "length": 3.5, "price": 30.0}, {"section": "45x95 C24", "length": 5.4, "price": 20.0}],
        "cutting": {"sections": {"rafter": "strut 41x41x2.5"}, "splices": "over supports", "overlap": 0.0},
    }  # fmt: skip
    plan = cutting_report(study_of(**told).scene).plan
    rafter = next(piece for piece in plan.pieces if piece.name == "rafter")
    assert rafter.count == 2 and rafter.supports == (at,) and rafter.parts[0] == pytest.approx(at)
    assert sum(board.section.startswith("strut") for board in plan.boards) == 3
    strut = next(piece for piece in plan.pieces if piece.name == "strut")
    level, up = (rafter.length - at) * cos(radians(21)), 2.1 - 0.9
    assert strut.length == pytest.approx(hypot(level, up)) and strut.foot == pytest.approx(degrees(atan2(up, level)))
    with pytest.raises(BriefError, match="no support of it is known"):
        cutting_report(study_of(**(told | {"frame": frame | {"overhang": 0.0}})).scene)
