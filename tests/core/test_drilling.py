"""Where to drill: against every choice of holes, and by hand."""

from __future__ import annotations

import json
from itertools import combinations

import numpy as np
import pytest

from sundial.cli import main
from sundial.cutting.cut_list import cut_list
from sundial.errors import BriefError
from sundial.frames.prop import Prop
from sundial.plan.drilling import Drilling, one_prop, where_to_drill
from sundial.plan.stretches import best_sequences
from sundial.plan.tilt_plan import PlanConstraints
from tests.core.conftest import brief_data, study_of

BAR = Prop(front_height=0.4, rail_points=(1.1,), lengths=(0.8,), base_holes=(1.5, 1.2))


def drilled(study, settings: int, loss: float, pitch: float = 0.1, **limits) -> Drilling:
    constraints = PlanConstraints(study.scene.reachable, **limits)
    return where_to_drill(study.surface(), constraints, study.scene.site.latitude, settings, BAR, pitch, loss, 1.9)


def brute(study, settings: int, count: int, pitch: float) -> float:
    """The most that any ``count`` holes of the bar earn."""
    holes = Prop(front_height=0.4, rail_points=(1.1,), lengths=(0.8,), base_holes=tuple(np.arange(pitch, 1.91, pitch))).holes
    days = [study.surface().daily(hole.tilt) for hole in holes]
    return max(
        best_sequences(np.stack(chosen, axis=1), settings)[-1].total  # type: ignore[union-attr]
        for chosen in combinations(days, count)
    )


@pytest.mark.parametrize(("count", "loss"), [(1, 0.05), (2, 0.015), (2, 0.04), (4, 0.012), (4, 0.008)])
def test_the_holes_are_the_fewest_and_the_best(greensboro, count, loss):
    found = drilled(greensboro, count, loss)
    holes = len(found.holes)
    assert found.best - found.lost == pytest.approx(brute(greensboro, count, holes, 0.1), abs=1e-6)
    assert found.share <= loss or holes == count
    if holes > 1:
        assert brute(greensboro, count, holes - 1, 0.1) < found.best * (1 - loss)
    assert found.best == pytest.approx(greensboro.plans(every_tilt=True).with_settings(count).energy)


def test_what_the_own_holes_lose(greensboro):
    found = drilled(greensboro, 2, 0.01)
    days = [greensboro.surface().daily(tilt) for tilt in BAR.tilts]
    own = best_sequences(np.stack(days, axis=1), 2)[-1]
    assert own is not None and found.own_lost == pytest.approx(found.best - own.total)
    assert found.own_share > found.share


def test_caps_are_obeyed(greensboro):
    found = drilled(greensboro, 2, 0.01, cap=np.full(12, 35.0))
    assert max(hole.tilt for hole in found.holes) <= 35
    with pytest.raises(BriefError):
        drilled(greensboro, 2, 0.01, cap=np.full(12, 5.0))
    for wrong in ({"pitch": 0.001}, {"loss": 0.5}):
        with pytest.raises(BriefError):
            drilled(greensboro, 2, **{"loss": 0.01, **wrong})


def test_one_prop_for_two_tilts():
    found = one_prop(1.1, (18.0, 50.0), 0.05, 2.2)
    for at, tilt, wanted in zip(found.base_holes, found.tilts, (18.0, 50.0), strict=True):
        assert at / 0.05 == pytest.approx(round(at / 0.05), abs=1e-6)
        prop = Prop(front_height=0.3, rail_points=(1.1,), lengths=(found.length,), base_holes=(at,))
        assert prop.holes[0].tilt == pytest.approx(tilt)
        assert abs(tilt - wanted) < 0.3
    with pytest.raises(BriefError, match="no prop sets both"):
        one_prop(1.1, (10.0, 85.0), 0.05, 0.6)


def test_drilling_over_the_command_line(tmp_path, capsys):
    brief = tmp_path / "brief.json"
    frame = {"kind": "prop", "rail_points": [1.1], "lengths": [0.8], "base_holes": [1.5, 1.2], "base_length": 1.9}
    brief.write_text(json.dumps(brief_data(mount={"kind": "stepped"}, frame=frame, sky={"kind": "world"})))
    assert main(["frame", str(brief), "--drill", "0.05", "--loss", "0.01"]) == 0
    found = json.loads(capsys.readouterr().out)["drill"]
    assert len(found["holes"]) == 2 and found["lost_share"] <= 0.01 < found["own_lost_share"]
    one = found["one_prop"]
    prop = Prop(front_height=0.3, rail_points=(1.1,), lengths=(one["length"],), base_holes=tuple(one["base_holes"]))
    assert sorted(hole.tilt for hole in prop.holes) == pytest.approx(sorted(one["tilts"]))
    main(["schedule", str(brief), "--moves", "2", "--tilts", "all"])
    wanted = sorted(move["tilt"] for move in json.loads(capsys.readouterr().out)["moves"])
    assert sorted(one["tilts"]) == pytest.approx(wanted, abs=1.0)
    assert main(["frame", str(brief), "--drill", "9"]) == 2
    assert "--drill" in capsys.readouterr().err


@pytest.mark.parametrize(("legs", "name"), [({}, "prop"), ({"front_leg": 2.2, "back_leg": 2.0}, "rod")])
def test_one_rod_with_five_holes_is_one_piece_a_side(legs, name):
    frame = {"kind": "prop", "rail_points": [1.2], "lengths": [0.7, 0.9, 1.0, 1.1, 1.2], "base_holes": [1.2], "rod": True, **legs}
    pieces = {piece.name: piece for piece in cut_list(study_of(frame=frame, mount={"kind": "stepped"}).scene)}
    rod = pieces[name]
    assert rod.count == 2 and rod.length == pytest.approx(1.2 + 2 * 0.08)
    assert [hole.at for hole in rod.holes] == pytest.approx([0.08, 0.78, 0.98, 1.08, 1.18, 1.28])
    bars = [
        piece
        for piece in cut_list(study_of(frame={**frame, "rod": False}, mount={"kind": "stepped"}).scene)
        if piece.name in ("prop", "spreader bar")
    ]
    assert len(bars) == 5 and all(len(bar.holes) == 2 for bar in bars)
