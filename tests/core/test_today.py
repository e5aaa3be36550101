"""What to do today."""

from __future__ import annotations

import pytest

from sundial.plan.today import today, today_from


def test_moving_today_gains_what_the_days_until_the_next_move_say(upland):
    plan = upland.own_plans.with_settings(2)
    first, second = plan.stretches
    day = (second.start + 40) % 365
    wanted = today_from(upland.plan_surface, plan, day, first.tilt)
    assert (wanted.tilt, wanted.until) == (second.tilt, first.start)
    surface = upland.plan_surface
    columns = {float(tilt): place for place, tilt in enumerate(surface.tilts)}
    left = [d % 365 for d in range(day, day + (first.start - day) % 365)]
    by_hand = sum(surface.energy[d, columns[second.tilt]] - surface.energy[d, columns[first.tilt]] for d in left)
    assert wanted.gain == pytest.approx(by_hand)
    assert wanted.gain > 20
    assert today_from(upland.plan_surface, plan, (day + 30) % 365, first.tilt).gain < wanted.gain


def test_on_the_day_of_a_move_the_next_one_is_the_other(upland):
    plan = upland.own_plans.with_settings(2)
    first, second = plan.stretches
    assert (today(plan, first.start).tilt, today(plan, first.start).until) == (first.tilt, second.start)
    assert today(plan, (first.start - 1) % 365).until == first.start


def test_a_frame_that_is_never_moved_counts_a_year(upland):
    plan = upland.own_plans.simplest
    wanted = today_from(upland.plan_surface, plan, 100, plan.stretches[0].tilt - 0.3)
    assert wanted.until is None
    assert wanted.as_it_should
    flat = today_from(upland.plan_surface, plan, 100, 5.0)
    total = upland.plan_surface.energy.sum(axis=0)
    assert flat.gain == pytest.approx(plan.energy - total[list(upland.plan_surface.tilts).index(5.0)])
