"""The places of a flap on a hinge: where the bench puts it at night and in a gust, and what the wind says of each."""

import numpy as np
import pytest

from sundial.answers.bench.report import day_report
from sundial.answers.wind.report import wind_report
from sundial.bench.controller import Why
from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.study import studied
from sundial.wind.fixings import driving

FLAP = {
    "format": "crooked-sundial-brief", "version": 1, "name": "Flap on the van",
    "site": {"latitude": 43.4, "longitude": -5.1, "elevation": 60, "timezone": "Europe/Madrid"},
    "sky": {"kind": "made-up", "name": "green-maritime", "seed": 5},
    "panel": {"power": 210, "length": 1.48, "width": 0.67, "mass": 11},
    "array": {"rows": 1, "columns": 2, "orientation": "landscape", "azimuth": 175, "clearance": 0.12},
    "mount": {"kind": "hinge", "min_tilt": 2, "max_tilt": 52, "speed": 20},
    "frame": {"kind": "jack", "base": [0.25, 0.0], "rail_point": 0.4, "retracted": 0.16, "extended": 0.45, "front_height": 0.12, "thrust": 900, "speed": 0.01},
    "stand": {"on": "vehicle", "height": 2.4, "road_speed": 30, "fixings": {"count": 8, "lines_apart": 0.6, "rating": 1500}},
    "wind": {"gust": 24},
    "bench": {"control": "clock", "stow_gust": 4.0, "places": {"night": 37, "storm": 11, "driving": 6, "away": 27}},
}  # fmt: skip


def told(**changes):
    return studied(brief_of({**FLAP, **changes}))


def with_places(**places):
    return {**FLAP["bench"], "places": {**FLAP["bench"]["places"], **places}}


def test_it_waits_for_the_morning_and_for_calm_where_it_is_put():
    study = told()
    day = day_report(study, study.brief.bench, 200, "clear")
    axis = day.axes[0]
    why, angle = np.asarray(axis.why), np.asarray(axis.angle)
    assert angle[0] == pytest.approx(37.0) and angle[-1] == pytest.approx(37.0, abs=0.1)
    windy = np.flatnonzero(why == Why.STOW)
    assert windy.size and np.isclose(angle[windy], 11.0).any()
    usual = told(bench={"control": "clock", "stow_gust": 4.0})
    other = np.asarray(day_report(usual, usual.brief.bench, 200, "clear").axes[0].angle)
    assert other[-1] == pytest.approx(2.0, abs=0.1)


def test_other_settings_set_beside_its_own_have_their_own_places():
    study = told()
    other = study.brief.bench.model_copy(update={"places": study.brief.bench.places.model_copy(update={"night": 20.0})})
    assert np.asarray(day_report(study, other, 200, "clear").axes[0].angle)[0] == pytest.approx(20.0)


def test_no_place_is_past_its_end_stops_and_that_is_said():
    study = told(bench=with_places(night=80))
    day = day_report(study, study.brief.bench, 200, "clear")
    assert np.asarray(day.axes[0].angle)[0] == pytest.approx(52.0)
    assert any(field == "place_night" and "end stop, 52" in words for field, words in day.remarks)


def test_the_wind_tells_of_every_place():
    report = wind_report(told())
    by_tilt = {place.tilt: place for place in report.places}
    assert sorted(by_tilt) == [2.0, 6.0, 11.0, 27.0, 37.0, 52.0]
    assert by_tilt[27.0].name == "half-way" and by_tilt[27.0].chosen == ("parked for a while",)
    assert by_tilt[37.0].chosen == ("at night",) and by_tilt[37.0].name == ""
    assert report.position.tilt == 11.0
    for place in report.places:
        alone = wind_report(told(), tilt=place.tilt)
        assert place.pull == pytest.approx(alone.fixings.pull, rel=1e-9)
        assert place.stands == pytest.approx(alone.at_tilt.allowed, rel=1e-9)
        fixed = told(mount={"kind": "fixed", "tilt": place.tilt}, frame=None, bench={})
        assert place.a_day == pytest.approx(fixed.production().year / 365, rel=1e-9)


def test_driving_is_worked_out_where_it_is_put_for_the_road():
    at_six = driving(told().scene)
    flat = driving(told(bench=with_places(driving=None)).scene)
    assert at_six.tilt == 6.0 and flat.tilt == 2.0
    assert at_six.shear > flat.shear * 2  # the level part of the same force goes with the sine of the tilt


def test_what_is_no_hinge_has_no_places():
    fixed = told(mount={"kind": "fixed", "tilt": 20}, frame=None, bench=FLAP["bench"])
    assert wind_report(fixed).places == ()
    assert driving(fixed.scene).tilt == 20.0


def test_a_place_that_no_glass_lies_at_is_refused():
    with pytest.raises(BriefError) as caught:
        told(bench=with_places(storm=95))
    assert caught.value.path == "bench.places.storm"


def test_position_and_places_name_one_gust_where_a_fixing_is_rated():
    report = wind_report(told())
    assert report.position.flat_stands == pytest.approx({place.tilt: place.stands for place in report.places}[11.0], rel=1e-9)
    weak = told(stand={**FLAP["stand"], "fixings": {"count": 8, "lines_apart": 0.6, "rating": 60}})
    low = wind_report(weak).position
    assert low.gust == pytest.approx(wind_report(weak, tilt=low.steepest).at_tilt.allowed, rel=0.02)
    assert low.hours > 0 and low.lost > 0


def test_a_move_begins_where_it_stood():
    study = told(bench={**FLAP["bench"], "stow_gust": 0.1})
    first = next(event for event in day_report(study, study.brief.bench, 200, "clear").events if event.kind == "start")
    assert first.words.startswith("moves from 37.0 to 11.0")
