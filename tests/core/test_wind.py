"""The wind: pressure, forces, what gives way first, caps in the plan, the wind position. Hand-worked values where there are any."""

from dataclasses import replace
from datetime import date
from math import cos, radians, sin, sqrt

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sundial.answers.wind.command import wind_answer
from sundial.answers.wind.forecast import forecast_advice
from sundial.answers.wind.report import wind_report
from sundial.answers.worth.command import compare_answer
from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.frames.a_frame import AFrame
from sundial.frames.jack import Jack
from sundial.frames.legs import Legs
from sundial.frames.load_path import GRAVITY
from sundial.frames.loads import thrusts
from sundial.frames.pole import Pole
from sundial.frames.prop import Prop
from sundial.frames.wall import Wall
from sundial.frames.wedge import Wedge
from sundial.plan.tilt_plan import make_plans
from sundial.study import studied
from sundial.wind.caps import cap_of, highest_allowed, safe
from sundial.wind.members import glass_moment, load_paths
from sundial.wind.pressure import (
    Coefficients,
    air_density,
    at_height,
    scaled_force,
    standard_coefficients,
    velocity_pressure,
)
from sundial.wind.site import air_of, rig_of
from sundial.wind.stance import Rig, stance
from sundial.wind.standing import Air, ballast_for, limits, pushes, standing, weights
from sundial.worth.comparison import compare

HONEY = {
    "format": "crooked-sundial-brief", "version": 1, "name": "Rack",
    "site": {"latitude": 42.9, "longitude": -6.1, "elevation": 870, "timezone": "Europe/Madrid"},
    "sky": {"kind": "made-up", "name": "dry-upland"},
    "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5},
    "array": {"rows": 2, "columns": 4, "azimuth": 180, "clearance": 0.6},
    "mount": {"kind": "stepped", "tilts": [15, 22, 29, 36, 43, 50, 57]},
    "wind": {"gust": 28, "frame_mass": 160, "ballast": 800, "width": 3.4},
}  # fmt: skip
AIR = Air(1.225, standard_coefficients(), measured_at=None)  # at sea level, gusts told at the panels


def brief(**sections):
    return brief_of({**HONEY, **sections})


def rack(**changes):
    """A rail hinged at the front foot, 12 m2 of glass 3 m up the slope; 180 kg that move, 60 that do not."""
    structure = Prop(front_height=0.4, rail_points=(1.3,), lengths=(1.2,), base_holes=(2.4, 1.2), frames=3)
    return replace(Rig(structure=structure, length=3.0, breadth=4.0, area=12.0, moving=180.0, fixed=60.0, width=3.0), **changes)


def test_the_manuals_pressures_and_forces_by_hand():
    # 12 m2, 28 m/s at sea level, 30 degrees: 480.2 Pa, 6915 N pressed, 10 372 N lifted, 8983 N of it upward; at 14 m/s a quarter.
    assert velocity_pressure(28) == pytest.approx(480.2, abs=0.01)
    stood = standing(rack(), AIR, np.array([10.0, 30.0]))
    q = stood.pressure(28.0)
    assert (stood.normal[0] * q)[1] == pytest.approx(6915, abs=1)
    assert (stood.normal[1] * q)[1] == pytest.approx(10372, abs=1)
    assert (stood.up[1] * q)[1] == pytest.approx(8983, abs=1)
    assert (stood.normal[0] * q)[0] == pytest.approx(2881, abs=1)
    assert (stood.normal[1] * q)[0] == pytest.approx(5186, abs=1)
    assert stood.pressure(14.0) * 4 == pytest.approx(q)


def test_coefficients_between_the_rows_and_over_something_stacked():
    held = standard_coefficients()
    assert held.press(np.array([12.0]))[0] == pytest.approx(0.5 + 0.2 * 2 / 5)
    assert held.lift(np.array([27.0]))[0] == pytest.approx(1.6 + 0.2 * 2 / 5)
    assert held.press(np.array([80.0]))[0] == pytest.approx(1.7)
    assert held.lift(np.array([0.0, 5.0, 10.0, 50.0]), blocked=True) == pytest.approx([1.3, 1.4, 1.4, 1.8])


def test_thinner_air_and_slower_wind_near_the_ground():
    assert air_density(0) == 1.225
    assert air_density(2300) == pytest.approx(0.9763, abs=0.001)  # standard atmosphere: 0.97 at 2340 m
    low, high = at_height(np.array([0.5, 5.0]), 10.0, 0.22)
    assert low == pytest.approx(0.2**0.22)  # never under the value at 2 m
    assert high == pytest.approx(0.5**0.22)
    assert at_height(np.array([0.5]), None, 0.22)[0] == 1.0


def test_a_force_is_scaled_by_the_square():
    assert scaled_force(900, 18, 27) == pytest.approx(900 * 2.25)


def test_tipping_over_the_front_feet_by_hand():
    """At 40 degrees, wind from behind lifts with c = 1.8, at 3/4 of 3 m up the slope; the front foot lies 0.4 m under the hinge.

    F = 1.8 x 12 q, along (-sin 40, cos 40), at (2.25 cos 40, 0.4 + 2.25 sin 40): its moment about the front foot is
    F (2.25 + 0.4 sin 40). Against it: 180 kg at 1.5 cos 40, 60 kg between the feet, which are 2.4 m apart.
    """
    t = radians(40)
    against = 180 * GRAVITY * 1.5 * cos(t) + 60 * GRAVITY * 1.2
    per_pascal = 1.8 * 12 * (2.25 + 0.4 * sin(t))
    found = limits(rack(), AIR, stance(rack(), 40.0))
    assert found.tips["back"] == pytest.approx(against / per_pascal)
    assert found.about["back"] == "front"
    gust = standing(rack(), AIR, np.array([40.0])).tips[1, 0]
    assert gust == pytest.approx(sqrt(2 * against / per_pascal / 1.225))


def test_sliding_and_lifting_by_hand():
    """At 25 degrees, c = 1.6: F (sin 25 + mu cos 25) = mu W slides forward, F cos 25 = W lifts; W = 240 kg and twice 100."""
    rig, t = rack(ballast=100.0, friction=0.45), radians(25)
    weight, force = 440 * GRAVITY, 1.6 * 12
    found = limits(rig, AIR, stance(rig, 25.0))
    assert found.slides["back"] == pytest.approx(0.45 * weight / force / (sin(t) + 0.45 * cos(t)))
    assert found.lifts["back"] == pytest.approx(weight / force / cos(t))
    rough = limits(replace(rig, friction=0.47), AIR, stance(rig, 25.0))
    assert rough.slides["front"] == float("inf")  # tan 25 = 0.466 is less than the friction: pressed, it holds itself
    steep = limits(rig, AIR, stance(rig, 60.0))
    assert steep.slides["front"] == pytest.approx(0.45 * weight / (1.5 * 12 * (sin(radians(60)) - 0.45 * cos(radians(60)))))


def test_sliding_on_ground_that_falls_to_the_front():
    """Ground that falls 8 degrees: the weight itself pulls forward, W sin 8 of mu W cos 8."""
    rig = rack(structure=replace(rack().structure, slope=8.0))
    t, g, weight, c = radians(30), radians(8), 240 * GRAVITY, 1.8 * 12
    drive = c * (sin(t) * cos(g) - cos(t) * sin(g)) + 0.5 * c * (sin(t) * sin(g) + cos(t) * cos(g))
    found = limits(rig, AIR, stance(rig, 30.0))
    assert found.slides["back"] == pytest.approx((0.5 * weight * cos(g) - weight * sin(g)) / drive)


def test_tipping_sideways_by_hand():
    """Along the row the coefficients are those of a level plane, 0.5 lifting, a quarter of 4 m from the windward end, that is 1 m from the
    middle; the feet stand 3 m apart: 240 kg x 1.5 m against 0.5 x 12 x 2.5 m, whatever the tilt."""
    found = limits(rack(), AIR, stance(rack(), 35.0))
    assert found.tips["side"] == pytest.approx(240 * GRAVITY * 1.5 / (0.5 * 12 * (1.5 + 1.0)))
    assert found.about["side"] == "end"


def test_what_falls_over_in_still_air_is_refused_in_words():
    narrow = rack(feet=(1.6, 2.0))  # its middle hangs before its front feet when steep
    with pytest.raises(BriefError, match="in still air") as error:
        standing(narrow, AIR, np.array([57.0]))
    assert error.value.path == "wind.feet"
    assert standing(narrow, AIR, np.array([57.0]), refuse=False).tips[0, 0] == 0.0
    slippery = rack(friction=0.1, structure=replace(rack().structure, slope=12.0))
    with pytest.raises(BriefError, match="slides by its own weight"):
        standing(slippery, AIR, np.array([30.0]))


FRAMES = st.builds(
    rack,
    moving=st.floats(40, 500),
    fixed=st.floats(0, 300),
    ballast=st.floats(0, 1000),
    friction=st.floats(0.2, 1.0),
    width=st.floats(1.5, 6.0),
)


@settings(max_examples=40)
@given(FRAMES, st.floats(1, 88), st.floats(0.5, 2.0), st.floats(1, 400))
def test_more_mass_a_wider_base_or_a_lower_tilt_never_lower_the_tipping_gust(rig, tilt, share, more):
    def tips(one, at=tilt):
        return float(standing(one, AIR, np.array([at])).tips.min())

    assert tips(replace(rig, ballast=rig.ballast + more)) >= tips(rig) * (1 - 1e-12)
    assert tips(replace(rig, fixed=rig.fixed + more)) >= tips(rig) * (1 - 1e-12)
    assert tips(replace(rig, width=rig.width * (1 + share))) >= tips(rig) * (1 - 1e-12)
    wider = replace(rig, feet=(0.0, 2.4 * (1 + share / 4)))
    assert tips(wider) >= tips(rig) * (1 - 1e-12)
    assert tips(rig, tilt * 0.9) >= tips(rig) * (1 - 1e-12)


@given(FRAMES, st.floats(3, 87), st.floats(2, 60))
def test_margins_fall_with_the_square_of_the_gust(rig, tilt, gust):
    stood = standing(rig, AIR, np.array([tilt]))
    one, twice = stood.margins(np.array([gust, 2 * gust]))[:, 0].T
    assert one == pytest.approx(4 * twice)
    brink = float(stood.gives_way[0])
    assert stood.margins(np.array([brink])).min() == pytest.approx(1.0)


def test_flat_keeps_its_uplift_and_may_lift_off():
    flat = standing(rack(), AIR, np.array([0.0]))
    assert flat.up[1, 0] == pytest.approx(0.5 * 12)
    assert np.isfinite(flat.lifts[1, 0]) and flat.level[1, 0] == pytest.approx(0.0)


def test_ballast_is_the_least_that_holds_with_the_factor():
    rig, gust, factor = rack(ballast=35.0), 24.0, 1.5
    needed = ballast_for(rig, AIR, 45.0, gust, factor)
    held = standing(replace(rig, ballast=needed), AIR, np.array([45.0]))
    assert min(held.tips.min(), held.lifts.min()) == pytest.approx(gust * sqrt(factor), rel=1e-6)
    assert ballast_for(rig, AIR, 45.0, 5.0, factor) == 0.0
    assert ballast_for(replace(rig, friction=0.3), AIR, 45.0, gust, factor, sliding=True) > needed


def test_force_in_a_prop_and_its_hinge_by_hand():
    """A rail 3 m long at 30 degrees from level, hinged on the ground, its prop square to it at 1.5 m: wind lifts with 1000 N at 2.25 m
    up the slope, 60 kg hang at 1.5 m. The prop is pulled by (1000 x 2.25 - W 1.5 cos 30) / 1.5; the hinge takes the rest."""
    prop = Prop(
        front_height=0.0,
        rail_points=(1.5,),
        lengths=(1.5 * sin(radians(30)) / cos(radians(30)),),
        base_holes=(1.5 / cos(radians(30)),),
        frames=1,
    )
    rig = Rig(structure=prop, length=3.0, breadth=1.0, area=1.0, moving=60.0)
    how = stance(rig, 30.0)
    push = pushes(rig, AIR, how)["back"][0]
    q = 1000 / push.normal
    held = load_paths(rig, how, push, q)
    weight = 60 * GRAVITY
    pulled = (1000 * 2.25 - weight * 1.5 * cos(radians(30))) / 1.5
    members = {member.name: member for member in held.members}
    assert members["prop"].force == pytest.approx(-pulled)
    # Square to the rail nothing is left over but 1000 - pulled - W cos 30; along it W sin 30.
    across, along = 1000 - pulled - weight * cos(radians(30)), weight * sin(radians(30))
    assert members["hinge bolt"].force == pytest.approx(sqrt(across**2 + along**2))


KINDS = {
    "legs": Legs(front_height=0.4, spacing=1.8, frames=2),
    "prop": Prop(front_height=0.3, rail_points=(1.1,), lengths=(0.8,), base_holes=(1.5, 1.2), frames=2),
    "a-frame": AFrame(front_height=0.0, rail_points=(1.2,), lengths=(1.1,), base_holes=(1.2,), legs=(2.2, 2.2), frames=2),
    "wedge": Wedge(front_height=0.0, rise=0.5, slope_length=1.6, frames=2),
    "jack": Jack(front_height=0.3, base=(1.2, -0.3), rail_point=0.8, stroke=(0.7, 1.1), frames=2),
}


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("direction", ["front", "back", "side"])
def test_what_reaches_the_ground_balances_wind_and_weight(kind, direction):
    """Free body: the reactions of all feet carry the whole level and upright force, and its moment about the front foot."""
    rig = Rig(structure=KINDS[kind], length=2.0, breadth=3.0, area=6.0, moving=90.0, fixed=30.0, ballast=20.0)
    how = stance(rig, 34.0)
    for push in pushes(rig, AIR, how)[direction]:
        q = 310.0
        held = load_paths(rig, how, push, q).reactions
        level, down = push.level * q, 160 * GRAVITY - push.up * q
        assert sum(one.level * one.count for one in held) == pytest.approx(level)
        assert sum(one.down * one.count for one in held) == pytest.approx(down)
        front, back = how.feet
        middle = how.on_glass(1.0)
        wanted = (
            -push.up * q * push.at[0]
            + level * push.at[1]
            + 90 * GRAVITY * middle[0]
            + (30 * back[0] / 2 + 20 * back[0]) * GRAVITY
        )
        assert held[1].down * held[1].count * (back[0] - front[0]) == pytest.approx(wanted)


def test_a_jack_on_a_pole_takes_the_moment_and_the_joint_the_rest():
    """The free body of the glass: what jack and joint bring in balances wind and weight, and turns nothing about the foot of the jack."""
    screw = Jack(front_height=3.0, base=(0.08, -0.72), rail_point=0.62, stroke=(0.98, 1.26))
    pole = Pole(front_height=3.0, height=3.0, ends=(10.0, 50.0), offset=0.11, screw=screw, frames=1)
    rig = Rig(structure=pole, length=2.0, breadth=2.0, area=4.0, moving=80.0, fixed=100.0, anchored=True)
    how, q = stance(rig, 34.0), 250.0
    for push in pushes(rig, AIR, how)["back"]:
        members = {member.name: member for member in load_paths(rig, how, push, q).members}
        thrust = members["actuator"].force
        assert thrust == pytest.approx(glass_moment(rig, how, push, q) / screw.lever(34.0))
        assert (members["actuator bolt"].force, members["actuator bolt"].count) == (pytest.approx(abs(thrust)), 2)
        foot, head = np.array([0.08, 3.0 - 0.72]), np.array([0.62 * cos(radians(34)), 3.0 + 0.62 * sin(radians(34))])
        pressed = thrust * (head - foot) / np.linalg.norm(head - foot)
        rest = np.array([push.level * q, push.up * q - 80 * GRAVITY]) + pressed
        assert members["joint bolt"].force == pytest.approx(np.hypot(*rest))
        assert "joint" not in members and members["pole at its foot"].moment > 0


def test_a_pole_takes_level_force_times_height_at_its_foot():
    """The middle of the glass sits on the joint, 3 m up: at 90 degrees the resultant is 0.5 m from the joint (a quarter of 2 m off)."""
    pole = Pole(front_height=3.0, height=3.0, ends=(0.0, 90.0), frames=1)
    rig = Rig(structure=pole, length=2.0, breadth=2.0, area=4.0, moving=80.0, fixed=100.0, anchored=True)
    how = stance(rig, 90.0)
    held = load_paths(rig, how, pushes(rig, AIR, how)["back"][0], 200.0)
    moments = {member.name: member.moment for member in held.members}
    force = 1.8 * 4 * 200
    assert moments["pole at its foot"] == pytest.approx(force * 3.5)  # from behind the upper edge meets it first
    assert moments["joint"] == pytest.approx(force * 0.5)
    assert held.reactions[0].level == pytest.approx(-force)
    assert held.reactions[0].down == pytest.approx(180 * GRAVITY)


def test_a_wall_awning_brings_its_load_into_two_ledgers():
    wall = Wall(front_height=2.2, lower_height=1.4, frames=3)
    rig = Rig(structure=wall, length=1.8, breadth=3.0, area=5.4, moving=75.0, anchored=True)
    how = stance(rig, 20.0)
    for push in (one for each in pushes(rig, AIR, how).values() for one in each):
        upper, lower = load_paths(rig, how, push, 400.0).reactions
        assert 3 * (upper.down + lower.down) == pytest.approx(75 * GRAVITY - push.up * 400)
        assert 3 * (upper.level + lower.level) == pytest.approx(push.level * 400)
        # The strut is a bar: what it brings into the wall runs along it.
        run, rise = 1.8 * cos(radians(20)), 0.8
        assert lower.level / lower.down == pytest.approx(run / rise)


@given(st.lists(st.floats(5, 60), min_size=3, max_size=8), st.floats(5, 60), st.floats(0.1, 20))
def test_a_harder_gust_never_allows_a_higher_tilt(allowed, gust, more):
    tilts = np.linspace(10, 60, len(allowed))
    low, high = highest_allowed(tilts, np.array(allowed), np.array([gust, gust + more]))
    assert np.isnan(high) or high <= low
    if not np.isnan(low):  # it and all lower ones stand
        assert all(stood >= gust for tilt, stood in zip(tilts, allowed, strict=True) if tilt <= low)


def test_a_plan_with_caps_is_the_exact_plan_under_them_and_costs_the_difference():
    wind = {
        **HONEY["wind"],
        "ballast": 420,
        "surroundings": "farmland",
        "gusts": [20, 21, 23, 22, 19, 17, 16, 17, 19, 21, 22, 20],
    }
    free, all_on = studied(brief(wind=wind)), studied(brief(wind={**wind, "in_plan": list(range(1, 13))}))
    caps = np.array([found if found is not None else 15.0 for found in wind_answer(free)["caps"]])
    assert len(set(caps.tolist())) > 1 and caps.min() < 57
    exact = make_plans(free.surface(), replace(free.constraints(), cap=caps), free.scene.site.latitude).with_settings(2)
    held = all_on.own_plans.with_settings(2)
    assert held.tilt_by_day == exact.tilt_by_day
    difference = free.own_plans.with_settings(2).energy - held.energy
    for study in (free, all_on):
        answer = wind_answer(study)
        assert answer["caps_cost"] == pytest.approx(difference)
        assert sum(answer["caps_cost_by_month"]) == pytest.approx(difference)


def test_typed_caps_and_those_of_the_wind_hold_together():
    wind = {**HONEY["wind"], "ballast": 300, "in_plan": [1, 2]}
    typed = [90, 29, 29] + [90] * 9
    both = cap_of(studied(brief(wind=wind, plan={"cap": typed})).scene)
    alone = cap_of(studied(brief(wind=wind)).scene)
    assert both[0] == alone[0] < 57 and both[1] == min(29, alone[1]) and both[2] == 29 and both[5] == 90


def test_caps_fall_with_the_gusts_and_rise_with_ballast():
    def caps(**changes):
        return np.nan_to_num(safe(studied(brief(wind={**HONEY["wind"], **changes})).scene).highest, nan=-1)

    assert (caps(gusts=[24] * 12) >= caps(gusts=[27] * 12)).all()
    assert (caps(ballast=1200) >= caps(ballast=400)).all()
    assert (caps(ballast=1200) > caps(ballast=400)).any()


def test_the_wind_position_by_an_hour_by_hour_sum():
    """A tracker: hour by hour flat where its gust is over what its tilt may stand."""
    study = studied(
        brief(mount={"kind": "hinge", "min_tilt": 0, "max_tilt": 55}, wind={**HONEY["wind"], "ballast": 60, "feet": [0, 2.2]})
    )
    answer = wind_answer(study)
    position, curve = answer["wind_position"], answer["curve"]
    facing, _ = study.own_facing
    gusts = study.scene.weather.wind_speed * 1.5  # the gust factor of open land
    limit = np.array(
        [min(one for one in (row["tips_at"], row["slides_at"], row["lifts_at"]) if one is not None) for row in curve]
    )
    windy = gusts > np.interp(facing.surface_tilt, np.arange(91), limit / sqrt(1.5))
    assert position["hours"] == int(windy.sum()) > 0
    assert position["by"] == "motor" and position["tilt"] == 0
    flat = study.held_year(0.0)
    whole = study.production()
    expected = float((whole.hourly - flat.hourly)[windy].sum()) / 1000
    assert position["lost"] == pytest.approx(expected, abs=0.02 * max(abs(expected), 1))


def test_what_can_be_turned_may_face_the_wind():
    turned = {"kind": "turned", "tilt": 40, "facings": [120, 180, 240]}
    answer = wind_answer(studied(brief(mount=turned)))
    front = standing(rack_of(turned), air_of(studied(brief(mount=turned)).scene), np.array([40.0]))
    least = min(front.tips[0, 0], front.slides[0, 0], front.lifts[0, 0])
    assert answer["wind_position"]["facing_stands"] == pytest.approx(least / sqrt(1.5))
    assert answer["wind_position"]["facing_stands"] > min(one for one in (answer["tips_at"], answer["slides_at"]) if one) / sqrt(
        1.5
    )
    assert "facing_stands" not in wind_answer(studied(brief()))["wind_position"]


def rack_of(mount):
    return rig_of(studied(brief(mount=mount)).scene)


def test_the_contracts_keys_and_refusals():
    answer = wind_answer(studied(brief()))
    for key in (
        "pressure",
        "pressing",
        "lifting",
        "uplift",
        "level_force",
        "tips_at",
        "slides_at",
        "lifts_at",
        "ballast",
        "caps",
        "caps_cost",
        "wind_position",
        "curve",
    ):
        assert key in answer, key
    assert len(answer["curve"]) == 91 and len(answer["caps"]) == 12
    half = wind_answer(studied(brief()), gust=14.0, tilt=29.0)
    whole = wind_answer(studied(brief()), gust=28.0, tilt=29.0)
    assert whole["lifting"] == pytest.approx(4 * half["lifting"]) and half["tips_at"] == whole["tips_at"]
    for gust in (0.0, -3.0, 130.0):
        with pytest.raises(BriefError, match="--gust"):
            wind_answer(studied(brief()), gust=gust)
    with pytest.raises(BriefError, match="weighs"):
        wind_answer(studied(brief(panel={"power": 430, "length": 1.7, "width": 1.1}, wind={"gust": 28})))
    with pytest.raises(BriefError, match=r"wind\.feet"):
        wind_answer(studied(brief(frame={"kind": "pole", "height": 3.0}, wind={"anchored": False})))
    for wrong, path in (
        ({"gust": 121}, "wind.gust"),
        ({"gust": -1}, "wind.gust"),
        ({"friction": 1.6}, "wind.friction"),
        ({"frame_mass": -1}, "wind.frame_mass"),
    ):
        with pytest.raises(BriefError) as error:
            brief(wind=wrong)
        assert error.value.path == path


def test_own_coefficients_take_the_place_of_the_standard_ones():
    own = wind_answer(studied(brief(wind={**HONEY["wind"], "table": [[0, 0.3, 0.6], [90, 0.3, 0.6]]})))
    standard = wind_answer(studied(brief()))
    assert own["lifting"] == pytest.approx(standard["lifting"] * 0.6 / 1.8)


def test_gusts_of_the_weather_year_and_of_an_invented_climate():
    untold = {"frame_mass": 160, "ballast": 800}
    told = wind_answer(studied(brief(wind=untold)))
    assert told["gusts"][0] == 20 and "made up" in told["gusts_source"]  # dry upland, January
    south = wind_answer(studied(brief(site={**HONEY["site"], "latitude": -42.9}, wind=untold)))
    assert south["gusts"][6] == 20
    sky = {
        "kind": "monthly",
        "ghi": [1.7, 2.6, 3.9, 4.8, 5.8, 6.6, 6.9, 6.0, 4.6, 2.9, 1.9, 1.4],
        "temp_air": 12.0,
        "wind_speed": 3.5,
        "seed": 3,
    }
    study = studied(brief(sky=sky, wind=untold))
    january = study.scene.weather.wind_speed[: 31 * 24]
    assert wind_answer(study)["gusts"][0] == pytest.approx(np.quantile(january, 0.99) * 1.5)
    at_panels = wind_answer(studied(brief(sky=sky, wind={**untold, "gust_height": "panel"})))
    assert at_panels["gusts"][0] < wind_answer(study)["gusts"][0]


def test_while_months_are_not_told_the_strongest_gust_holds_all_year():
    answer = wind_answer(studied(brief()))
    assert answer["gusts"] == [28] * 12 and "every month" in answer["gusts_source"]
    assert wind_answer(studied(brief(wind={**HONEY["wind"], "gust_height": "panel"})))["gusts"] == [28] * 12
    told = [26] * 11 + [28]
    assert wind_answer(studied(brief(wind={**HONEY["wind"], "gusts": told})))["gusts"] == told
    with pytest.raises(BriefError, match="December has 28.1") as error:
        brief(wind={**HONEY["wind"], "gusts": [26] * 11 + [28.1]})
    assert error.value.path == "wind.gusts"


def test_an_anchored_pole_breaks_where_its_pier_gives_way():
    pole = {"kind": "pole", "height": 3.0, "mass": 30}
    footing = {"kind": "pier", "diameter": 0.6, "depth": 1.8, "soil": "clay", "height": 3.0}
    answer = wind_answer(studied(brief(frame=pole, wind={"gust": 33, "frame_mass": 120}, footing=footing)), tilt=57.0)
    # The pier's level capacity over the level force of 1 m/s, squared: IBC's formula turned round.
    a = 1.8**2 / (1.8 + 1.09 * 3.0)
    capacity = a * 15700 * 0.6 * 0.6 / 2.34
    assert answer["breaks_at"] == pytest.approx(33 * sqrt(capacity / answer["level_force"]), rel=1e-6)
    assert answer["tips_at"] is None and answer["first"] == "breaks"
    assert wind_answer(studied(brief(frame=pole, wind={"gust": 33})))["breaks_at"] is None


def test_coefficients_are_valid_at_birth():
    assert Coefficients(np.array([0.0, 90.0]), np.array([1.0, 1.0]), np.array([1.0, 2.0])).lift(np.array([45.0]))[0] == 1.5


def test_caps_leave_the_factor_in_hand():
    study = studied(brief(wind={**HONEY["wind"], "ballast": 420, "gusts": [26] * 6 + [20] * 6, "factor": 2.0}))
    rig, air = rig_of(study.scene), air_of(study.scene)
    stood = standing(rig, air, np.array(HONEY["mount"]["tilts"], dtype=float)).gives_way / sqrt(2.0)
    wanted = []
    for gust in (26, 20):
        good = [tilt for index, tilt in enumerate(HONEY["mount"]["tilts"]) if (stood[: index + 1] >= gust).all()]
        wanted.append(max(good, default=None))
    answer = wind_answer(study)
    assert answer["caps"][0] == wanted[0] and answer["caps"][6] == wanted[1]
    assert wanted[0] != wanted[1]


def test_the_margin_is_told_with_what_the_estimate_leaves_open():
    answer = wind_answer(studied(brief()))
    worst = min(one for one in (answer["tips_at"], answer["slides_at"], answer["lifts_at"]) if one)
    assert answer["margin"]["value"] == pytest.approx((worst / 28) ** 2)
    spread = sqrt(0.2**2 + 0.2**2)  # twice 10 % of the gust, 20 % of the coefficient
    assert answer["margin"]["low"] == pytest.approx(answer["margin"]["value"] / (1 + spread))
    assert answer["margin"]["high"] == pytest.approx(answer["margin"]["value"] / (1 - spread))


def test_the_comparison_recommends_nothing_that_the_wind_rules_out():
    loose = {**HONEY["wind"], "ballast": 420}
    barred = compare(studied(brief(wind=loose)))
    two = barred.row("two-moves")
    assert two.ruled_out is not None and two.ruled_out.tilt == 50 and two.ruled_out.allowed < two.ruled_out.gust
    said = compare_answer(studied(brief(wind=loose)))
    assert "The wind rules out" in said["verdict"] and "Two moves a year pay" not in said["verdict"]
    heavy = compare(studied(brief(wind={**loose, "ballast": 3000})))
    assert heavy.row("two-moves").ruled_out is None
    assert compare(studied(brief(wind={**loose, "in_plan": list(range(1, 13))}))).row("two-moves").ruled_out is None
    # Flat stands nearly any gust, and a tracker would stand on a frame of its own.
    assert barred.row("flat").ruled_out is None and barred.row("two-axis").ruled_out is None


def test_hours_in_the_wind_position_are_taken_off_in_the_comparison():
    sky = {
        "kind": "monthly",
        "ghi": [1.7, 2.6, 3.9, 4.8, 5.8, 6.6, 6.9, 6.0, 4.6, 2.9, 1.9, 1.4],
        "temp_air": 12.0,
        "wind_speed": 5.0,
        "seed": 3,
    }
    loose = {**HONEY["wind"], "ballast": 200, "gusts": [9.0] * 12, "gust": 20}
    windy, calm = (compare(studied(brief(sky=sky, wind=wind))).row("two-moves") for wind in (loose, None))
    assert windy.wind_lost > 1 and windy.energy == pytest.approx(calm.energy - windy.wind_lost)


def test_tomorrows_advice_by_the_allowed_gust():
    study = studied(brief(wind={**HONEY["wind"], "ballast": 420}))
    report, day = wind_report(study), date(2026, 1, 15)
    allowed = {point.tilt: point.allowed for point in report.own}
    mean = forecast_advice(study, report, 8.0, None, day, 57.0)
    assert mean.gust == pytest.approx(8 * 1.5) and mean.from_mean  # the gust factor of open land
    assert forecast_advice(study, report, None, allowed[57] * 0.8, day, 57.0).todo == "stay"
    assert forecast_advice(study, report, None, allowed[57] * 0.95, day, 57.0).todo == "watch"
    lower = forecast_advice(study, report, None, (allowed[29] + allowed[36]) / 2, day, 57.0)
    assert (lower.todo, lower.tilt) == ("lower", 29)
    flat = forecast_advice(study, report, None, (allowed[15] + allowed[22]) / 2, day, 57.0)
    assert (flat.todo, flat.tilt) == ("flat", 15)
    assert forecast_advice(study, report, None, allowed[15] * 1.01, day, 57.0).todo == "beyond"


def test_an_actuator_moves_the_flap_up_to_a_gust():
    """The rated thrust over the lever is the moment it can hold: wind from behind (lifting) less the weight, or pressing and the weight."""
    frame = {"kind": "jack", "base": [0.3, -0.35], "rail_point": 0.8, "retracted": 0.61, "extended": 1.01, "thrust": 4000}
    mount = {"kind": "hinge", "min_tilt": 0, "max_tilt": 50, "speed": 40}
    study = studied(
        brief(
            frame=frame,
            mount=mount,
            array={"rows": 1, "columns": 3, "clearance": 1.9},
            wind={"gust": 27, "gust_height": "panel", "frame_mass": 900, "feet": [-0.3, 1.5]},
        )
    )
    answer, jack = wind_answer(study), study.scene.structure
    density, weight, area = air_density(870), 3 * 21.5 * GRAVITY, 3 * 1.722 * 1.134
    limits_of = []
    for tilt in range(51):
        t, hold = radians(tilt), 4000 * jack.lever(tilt)
        hang = weight * 1.722 / 2 * cos(t)
        c_lift = standard_coefficients().lift(np.array([tilt]))[0]
        c_press = standard_coefficients().press(np.array([tilt]))[0]
        limits_of.append((hold + hang) / (c_lift * area * 0.75 * 1.722))
        limits_of.append((hold - hang) / (c_press * area * 0.25 * 1.722))
    assert answer["actuator_moves_until"] == pytest.approx(sqrt(2 * min(limits_of) / density))
    assert answer["wind_position"]["minutes"] == pytest.approx(wind_report(study).position.steepest / 40)


def test_wind_along_a_row_presses_or_lifts_a_quarter_off_its_middle_as_on_a_level_plane() -> None:
    prop = Prop(front_height=0.4, rail_points=(1.5,), lengths=(1.2,), base_holes=(1.5,), frames=2)
    rig = Rig(structure=prop, length=3.0, breadth=5.0, area=12.0, moving=60.0)
    press, lift = pushes(rig, AIR, stance(rig, 47.0))["side"]
    flat = np.array([0.0])
    assert (press.level, lift.level) == (0.0, 0.0) and press.across == lift.across > 0
    assert press.up == pytest.approx(-12 * float(AIR.coefficients.press(flat)[0])) and press.up < 0
    assert lift.up == pytest.approx(12 * float(AIR.coefficients.lift(flat, AIR.blocked)[0])) and lift.up > 0


def test_what_does_not_move_hangs_where_the_pole_stands() -> None:
    pole = Pole(front_height=0.0, height=2.4, ends=(10, 60))
    rig = Rig(structure=pole, length=2.0, breadth=2.0, area=4.0, moving=50.0, fixed=80.0)
    glass, rest = weights(rig, stance(rig, 30.0))
    assert (rest.newtons, rest.at) == (pytest.approx(80 * GRAVITY), (0.0, 0.0)) and glass.newtons == pytest.approx(50 * GRAVITY)


@pytest.mark.parametrize("jacks", [2, 3])
def test_jacks_side_by_side_share_what_one_would_take(jacks):
    """Each takes its share of weight and wind, and together they move it in as much wind as one that is rated for their sum."""

    def flap(**more):
        frame = {
            "kind": "jack",
            "base": [0.3, -0.35],
            "rail_point": 0.8,
            "retracted": 0.61,
            "extended": 1.01,
            "thrust": 2000,
            **more,
        }
        return studied(
            brief(
                frame=frame, mount={"kind": "hinge", "min_tilt": 0, "max_tilt": 50, "speed": 40},
                array={"rows": 1, "columns": 3, "clearance": 1.9}, wind={"gust": 27, "gust_height": "panel", "frame_mass": 900, "feet": [-0.3, 1.5]},
            )
        )  # fmt: skip

    one, many, strong = (wind_report(flap(**told)) for told in ({}, {"jacks": jacks}, {"thrust": 2000 * jacks}))
    assert many.moves_until == pytest.approx(strong.moves_until) and many.moves_until > one.moves_until
    for found, same in zip(many.loads, one.loads, strict=True):
        each, whole = (next(member for member in way.members if member.name == "actuator") for way in (found, same))
        assert each.force * jacks == pytest.approx(whole.force) and each.count == jacks
        feet, foot = (next(end for end in way.reactions if end.name.startswith("foot of")) for way in (found, same))
        assert (feet.down * jacks, feet.level * jacks, feet.count) == pytest.approx((foot.down, foot.level, jacks))
    pushed, alone = (thrusts(flap(**told).scene.structure, [5.0, 35.0], 1.722, 64.5) for told in ({"jacks": jacks}, {}))
    assert [each.force * jacks for each in pushed] == pytest.approx([whole.force for whole in alone])
