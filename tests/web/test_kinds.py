"""The page asks about a new kind of frame and of mount by a module of each, and a name in a registry."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

PLUGGED = """
import json
from sundial.frames import registry as frames
from sundial.mounts import registry as mounts
from web.frame.kinds import registry as asked_frames
from web.frame.mounts import registry as asked_mounts
frames.MODULES.append("tests.core.kinds.sledge")
mounts.MODULES.append("tests.core.kinds.seesaw")
asked_frames.MODULES.append("tests.web.kinds.sledge")
asked_mounts.MODULES.append("tests.web.kinds.seesaw")
import django
django.setup()
from web.builds.models import Build
from web.frame.forms import AnglesStep, FrameForm
from web.frame.models import Frame
from web.place.models import Place
build = Build(name="Hill")
build.frame, build.place = Frame(build=build), Place(build=build)
shown = FrameForm(build).initial
typed = {name: value for name, value in shown.items() if value not in (None, "") and not isinstance(value, (dict, bool, range))}
typed |= {"built": "sledge", "runner": "2.4 m", "lift": "1 m", "kind": "seesaw", "lean": "31", "gamma": "-0.34", "base_holes": "1.5, 1.2"}
typed |= {"rail_points": "1.1", "prop_lengths": "0.8", "version": "1", "inverter_efficiency": "96"}
form = FrameForm(build, typed)
valid = form.is_valid()
if valid:
    form.apply(build)
refused = FrameForm(build, {**typed, "lean": "", "lift": ""})
refused.is_valid()
print(json.dumps({
    "errors": form.errors.get_json_data(), "frame": build.frame.structure, "mount": build.frame.mount, "only": AnglesStep.only,
    "paths": {key: FrameForm.paths[key] for key in ("frame.lift", "mount.lean")}, "refused": sorted(refused.errors),
    "speed": FrameForm(build).shared_by["speed"], "usual": [shown["runner"], shown["lean"]],
}))
"""


def test_a_new_frame_and_a_new_mount_are_asked_about_and_come_out_in_a_briefs_words():
    root = Path(__file__).parents[2]
    done = subprocess.run([sys.executable, "-c", PLUGGED], cwd=root, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    found = json.loads(done.stdout)
    assert found["errors"] == {}
    assert found["frame"] == {
        "kind": "sledge",
        "runner": 2.4,
        "lift": 1.0,
        "frames": 2,
        "slope": 0.0,
        "cross_slope": 0.0,
        "mass": 0.0,
        "overhang": 0.0,
    }
    assert (found["mount"]["kind"], found["mount"]["lean"], found["mount"]["moving_watts"]) == ("seesaw", 31, 20)
    assert "lean" in found["only"] and found["usual"] == [2.0, 25.0] and found["speed"] == "one-axis,two-axis,hinge,seesaw"
    assert found["paths"] == {"frame.lift": "lift", "mount.lean": "lean"} and found["refused"] == ["lean", "lift"]
