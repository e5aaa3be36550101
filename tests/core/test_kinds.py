"""New kinds of frames and mounts plug in by a file of their own and a name in a registry, and none may leave a question open."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import pytest

from sundial.frames.kind import Structure
from sundial.frames.legs import Legs
from sundial.frames.pole import Pole
from sundial.frames.registry import briefs as frames
from sundial.frames.wall import Wall
from sundial.kinds import answered
from sundial.mounts.kind import MountBrief
from sundial.mounts.registry import briefs as mounts
from sundial.stands.kind import Stand
from sundial.stands.registry import stand_of, stands
from tests.core.conftest import GREENSBORO, brief_data

LEGS, WALL = Legs(front_height=0.4, spacing=1.8), Wall(front_height=2.2, lower_height=1.4)
POLE = Pole(front_height=3.0, height=3.0, ends=(0.0, 90.0), frames=1)
ROOT = Path(__file__).parents[2]
PLUGGED = """
import json, sys
from sundial.frames import registry as frames
from sundial.mounts import registry as mounts
frames.MODULES.append("tests.core.kinds.sledge")
mounts.MODULES.append("tests.core.kinds.seesaw")
from sundial.cli import main
sys.exit(main(sys.argv[1:]))
"""
SLEDGE = {"kind": "sledge", "runner": 2.0, "lift": 0.9, "mass": 20.0, "front_height": 0.1}
SEESAW = {"kind": "seesaw", "lean": 25.0, "standby_watts": 1.0, "moving_watts": 30.0}
MONTHLY = {
    "kind": "monthly",
    "ghi": [2.1, 3, 4, 5, 5.7, 6, 5.8, 5.2, 4.4, 3.6, 2.6, 2],
    "temp_air": 14.0,
    "wind_speed": 3.0,
    "seed": 3,
}


def asked(command: Sequence[str], folder: Path, **keys: Any) -> dict[str, Any]:
    """The answer of a command about a brief, with both throw-away kinds plugged in."""
    path = folder / "brief.json"
    wind = {"gust": 24.0, "frame_mass": 60.0, "ballast": 150.0}
    array = {"rows": 1, "columns": 4, "azimuth": 170.0}
    path.write_text(json.dumps(brief_data(sky=MONTHLY, site=GREENSBORO, array=array, wind=wind, **keys)))
    line = [command[0], str(path), *command[1:]]
    done = subprocess.run([sys.executable, "-c", PLUGGED, *line], cwd=ROOT, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    found: dict[str, Any] = json.loads(done.stdout)
    return found


def test_a_new_kind_of_frame_is_drawn_loaded_and_cut(tmp_path):
    keys = {"frame": SLEDGE, "mount": {"kind": "stepped"}}
    frame = asked(["frame"], tmp_path, **keys)
    assert [hole["tilt"] for hole in frame["holes"]] == [pytest.approx(26.7437, abs=1e-4)]  # asin 0.45
    wind = asked(["wind"], tmp_path, **keys)
    assert {member["name"] for load in wind["loads"] for member in load["members"]} == {
        "tail post",
        "tail post bolt",
        "hinge bolt",
    }
    cut = asked(["cutting"], tmp_path, **keys)
    assert {"runner", "tail post"} <= {piece["name"] for piece in cut["pieces"]}
    assert asked(["schedule", "--moves", "2"], tmp_path, **keys)["best_fixed"]["tilt"] == pytest.approx(26.74)
    assert asked(["footing"], tmp_path, footing={"kind": "ballast", "diameter": 0.4, "soil": "sand"}, **keys)["load_per_foot"] > 0


def test_a_new_kind_of_mount_makes_a_year_a_row_and_stands_in_the_wind(tmp_path):
    keys = {"mount": SEESAW}
    still = asked(["plane"], tmp_path, mount={"kind": "fixed", "tilt": 25.0})
    moved = asked(["plane"], tmp_path, **keys)
    assert moved["losses"]["own_use"] > 8.76  # 1 W always, and the motor
    # Leaning 25 degrees east till noon and west after it, a plane meets less of the noon's sun and more of the morning's.
    assert 0.85 < moved["irradiation"] / still["irradiation"] < 1.15
    assert moved["irradiation"] != still["irradiation"]
    option = {"name": "Seesaw", "mount": SEESAW, "extra_cost": 300.0}
    rows = asked(["compare"], tmp_path, mount={"kind": "fixed", "tilt": 25.0}, options=[option])["rows"]
    row = next(row for row in rows if row["name"] == "Seesaw")
    assert row["kind"] == "seesaw" and row["motors"] == 1 and row["energy"] == pytest.approx(moved["energy"])
    assert asked(["wind"], tmp_path, **keys)["wind_position"]["by"] == "motor"
    assert asked(["schedule", "--moves", "2"], tmp_path, **keys)["moves"]


@pytest.mark.parametrize("kind", [*frames(), *mounts(), *stands().values()], ids=lambda kind: kind.__name__)
def test_every_kind_answers_what_is_asked(kind):
    assert answered(kind) is kind


@pytest.mark.parametrize("base", [Structure, MountBrief, Stand])
@pytest.mark.parametrize("left_out", range(3))
def test_a_kind_that_leaves_a_question_open_is_refused(base, left_out):
    questions = sorted(base.__abstractmethods__)
    missing = questions[left_out :: len(questions) // 3 + 1]
    given = {name: (lambda self, *_: None) for name in questions if name not in missing}
    with pytest.raises(TypeError, match=f"Half does not answer {', '.join(missing)}"):
        answered(type(base)("Half", (base,), {"__module__": __name__, **given}))


@pytest.mark.parametrize(
    ("carried_by", "structure", "on", "anchors", "foreign", "rules"),
    [
        ("ground", LEGS, "ground", False, False, "ground"),
        ("ground", POLE, "pole", True, False, "ground"),
        ("ground", WALL, "wall", True, True, "ground"),
        ("wall", LEGS, "wall", True, True, "wall"),
        ("railing", LEGS, "railing", True, True, "railing"),
        ("pergola", POLE, "pergola", True, True, "pergola"),
        ("roof", LEGS, "roof", True, True, "roof"),
        ("vehicle", LEGS, "vehicle", True, True, "vehicle"),
    ],
)
def test_what_it_stands_on_follows_from_what_is_told_else_from_its_frame(carried_by, structure, on, anchors, foreign, rules):
    stand = stand_of(carried_by, structure)
    assert (stand.on, stand.anchors, stand.foreign, stand.rules) == (on, anchors, foreign, rules)
    assert stand.told is (carried_by != "ground")


def test_there_are_eight_things_to_stand_on():
    assert sorted(stands()) == ["flat-roof", "ground", "pergola", "pole", "railing", "roof", "vehicle", "wall"]
