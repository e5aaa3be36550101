"""Boards by their names and grades, channels and flat bars: sizes, stiffness and what they may bear, against the tables."""

import pytest

from sundial.answers.cutting.report import cutting_report
from sundial.beams.sections import PSI, board_size, parse_section, usual_sections
from tests.core.conftest import study_of

INCH = 0.0254


@pytest.mark.parametrize(
    ("name", "size"),
    [
        ("1x4", (19, 89)), ("1x6", (19, 140)), ("2x2", (38, 38)), ("2x3", (38, 64)), ("2x4", (38, 89)), ("2 x 6", (38, 140)), ("2x8", (38, 184)),
        ("2x10", (38, 235)), ("2x12", (38, 286)), ("4x4", (89, 89)), ("4x6", (89, 140)), ("6x6", (140, 140)),
    ],
)  # fmt: skip
def test_boards_have_their_dressed_sizes(name, size):
    assert board_size(name) == pytest.approx(tuple(one / 1000 for one in size))


@pytest.mark.parametrize(
    ("name", "duration", "outdoors", "psi"),
    [
        ("2x6 SPF No.2", "medium", True, 875 * 1.3 * 1.15),  # 1137.5 psi: no wet factor
        ("2x4 SPF", "medium", True, 875 * 1.5 * 1.15 * 0.85),
        ("2x4 SPF", "short", False, 875 * 1.5 * 1.6),
        ("2x10 DF No.2", "permanent", False, 900 * 1.1 * 0.9),
        ("2x12 doug fir", "medium", False, 900 * 1.0 * 1.15),
        ("4x4 hem-fir", "permanent", True, 850 * 1.5 * 0.9 * 0.85),
    ],
)
def test_lumber_bears_its_reference_value_times_its_factors(name, duration, outdoors, psi):
    assert parse_section(name).allowed(duration, outdoors) == pytest.approx(psi * PSI, rel=1e-9)


def test_lumber_is_as_stiff_as_its_grade_and_its_dressed_size():
    board = parse_section("2x6 SPF No.2")
    assert board.inertia == pytest.approx(0.038 * 0.140**3 / 12) and board.stiffness == pytest.approx(1.4e6 * PSI)
    assert board.inertia / INCH**4 == pytest.approx(20.8, rel=0.01)  # the tables' 20.80 in4 of 1 1/2 by 5 1/2 in
    assert parse_section("2x6 SPF").height < 6 * INCH


def test_a_channel_and_a_flat_bar_by_their_parts():
    channel = parse_section("channel 100x50x5 steel")
    web, flange = 5 * 90**3 / 12, 2 * (50 * 5**3 / 12 + 50 * 5 * 47.5**2)
    assert channel.inertia * 1e12 == pytest.approx(web + flange, rel=1e-9)
    assert channel.mass == pytest.approx((2 * 50 * 5 + 90 * 5) * 1e-6 * 7850)
    flat = parse_section("flat 50x6 aluminium")
    assert flat.modulus * 1e9 == pytest.approx(6 * 50**2 / 6) and flat.material == "aluminium"


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("2x7 SPF", "names no board"), ("2x6", "told without its grade: .*2x6 SPF"), ("channel 100x50", "a height, a flange and a thickness"), ("flat 50", "names no size"),
        ("channel 20x50x12 steel", "too thick"),
    ],
)  # fmt: skip
def test_what_is_not_known_is_asked_for(text, words):
    with pytest.raises(ValueError, match=words):
        parse_section(text)


def test_every_usual_section_is_one():
    assert all(parse_section(name).mass > 0 for name in usual_sections())


def test_boards_are_offered_as_they_are_sold_where_the_build_is():
    scene = study_of(stock=[], frame={"kind": "legs", "support_spacing": 1.5}, mount={"kind": "fixed", "tilt": 34}).scene
    feet = {round(board.length / 0.3048, 6) for board in cutting_report(scene, "us").plan.boards}
    assert feet <= {8, 10, 12, 14, 16, 20}
    metres = {board.length for board in cutting_report(scene, "metric").plan.boards}
    assert metres <= {2.4, 3.0, 3.6, 4.2, 4.8, 5.4, 6.0} and not feet & {round(one / 0.3048, 6) for one in metres}


def test_nothing_keeps_timber_off_the_ground_under_steel():
    legs = {"kind": "legs", "support_spacing": 1.5, "front_height": 0.4}
    told = {"frame": legs, "mount": {"kind": "fixed", "tilt": 34}, "stock": []}

    def parts(section, **frame):
        report = cutting_report(study_of(**{**told, "frame": {**legs, **frame}}, cutting={"default": section}).scene)
        return {part.name: part for part in report.parts}

    wood, steel = parts("45x95 C24"), parts("box 40x40x3 steel")
    assert "keeps timber off" in wood["foot plate"].why and steel["foot plate"].why == "one a foot, spreads its load"
    assert any("wood screw 6" in name for name in wood) and not any("wood screw" in name for name in steel)
    assert "brace bolt M8 x 30" in steel and "brace bolt M8 x 30" not in wood
    more = parts("45x95 C24", middle_supports=[0.7])
    assert more["foot plate"].count == 6 and wood["foot plate"].count == 4
    bolts = [next(part.count for name, part in held.items() if name.startswith("bolt M12")) for held in (wood, more)]
    assert bolts[1] == bolts[0] + 4
