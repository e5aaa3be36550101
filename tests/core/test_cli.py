"""The command line as people use it: a process, JSON out, messages on standard error, 0 or 2."""

from __future__ import annotations

import csv
import io
import json
import re
import shutil
import subprocess
import sys
import tomllib
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from typing import Any

import pytest

import sundial
from sundial.cli import main
from tests.core.conftest import DATA, brief_data

ROOT = Path(__file__).parents[2]


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "sundial", *arguments], cwd=ROOT, capture_output=True, text=True, check=False)


@pytest.fixture(scope="module")
def folder(tmp_path_factory) -> Path:
    place = tmp_path_factory.mktemp("briefs")
    shutil.copy(DATA / "723170TYA.CSV", place)
    (place / "rack.json").write_text(json.dumps(brief_data()))
    return place


@pytest.fixture
def rack(folder) -> str:
    return str(folder / "rack.json")


def answer(*arguments: str) -> Any:
    """What a command prints, asked within this process: starting one takes longer than most answers."""
    out, err = io.StringIO(), io.StringIO()
    with redirect_stdout(out), redirect_stderr(err):
        assert main(arguments) == 0, err.getvalue()
    assert err.getvalue() == ""
    return json.loads(out.getvalue())


def test_sun(rack):
    found = answer("sun", rack, "--at", "2026-06-21T13:00")
    assert set(found) == {
        "azimuth",
        "elevation",
        "true_elevation",
        "equation_of_time",
        "sunrise",
        "solar_noon",
        "sunset",
        "day_length",
    }
    assert found["sunrise"].startswith("2026-06-21T06:0")
    assert found["elevation"] > found["true_elevation"] > 70


def test_plane_sky_and_schedule_reproduce_the_reference_table(rack):
    assert answer("plane", rack, "--tilt", "30")["irradiation"] == pytest.approx(1744.5, rel=1e-3)
    assert answer("sky", rack)["ghi"] == pytest.approx(1566.2, rel=1e-3)
    plan = answer("schedule", rack, "--moves", "2", "--by", "irradiation", "--tilts", "all")
    assert plan["best_fixed"]["tilt"] == 30
    assert plan["irradiation"] == pytest.approx(1816.4, rel=1e-3)
    assert plan["irradiation_gain"] * 100 == pytest.approx(4.13, abs=0.05)
    assert set(plan["moves"][0]) == {"start", "tilt", "irradiation", "energy", "earliest", "latest", "band"}
    assert sum(move["irradiation"] for move in plan["moves"]) == pytest.approx(plan["irradiation"])


def test_plane_has_its_months_and_its_losses(rack):
    found = answer("plane", rack, "--tilt", "30", "--azimuth", "150")
    assert sum(found["irradiation_by_month"]) == pytest.approx(found["irradiation"])
    assert sum(found["energy_by_month"]) == pytest.approx(found["energy"])
    assert found["label_energy"] - sum(found["losses"].values()) == pytest.approx(found["energy"])
    own = answer("plane", rack)
    assert own["energy"] > found["energy"]


def test_sky_writes_its_hours(rack, folder):
    out = folder / "hours.csv"
    answer("sky", rack, "--csv", str(out))
    rows = list(csv.DictReader(out.open()))
    assert len(rows) == 8760
    assert sum(float(row["ghi"]) for row in rows) / 1000 == pytest.approx(1566.2, rel=1e-3)


def test_goals_on_the_command_line(rack):
    year, winter = (answer("schedule", rack, "--moves", "1", "--goal", goal)["best_fixed"]["tilt"] for goal in ("year", "winter"))
    assert winter > year
    assert answer("schedule", rack, "--moves", "2", "--goal", "worst-month")["goal_value"] > 0


def test_compare(rack):
    found = answer("compare", rack)
    wanted = {
        "name",
        "kind",
        "energy",
        "irradiation",
        "gain",
        "extra_cost",
        "saving_per_year",
        "payback_years",
        "npv",
        "cost_per_extra_kwh",
        "break_even_cost",
        "same_as_panels",
    }
    assert all(wanted <= set(row) for row in found["rows"])
    assert found["base"]["kind"] == "best-fixed"


def test_the_same_brief_gives_the_same_answer_to_the_last_digit(rack):
    assert run("plane", rack, "--tilt", "33").stdout == run("plane", rack, "--tilt", "33").stdout


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["schedule", "{}", "--moves", "13"], "--moves: must be a whole number from 1 to 12"),
        (["schedule", "{}", "--moves", "two"], "invalid int value"),
        (["schedule", "{}"], "--moves"),
        (["sun", "{}", "--at", "noon"], "--at: 'noon' is not a time"),
        (["plane", "{}", "--tilt", "120"], "--tilt"),
        (["plane", "{}", "--azimuth", "-5"], "--azimuth"),
        (["sun", "nowhere.json", "--at", "2026-06-21T13:00"], "nowhere.json: cannot be read"),
        (["sky", "{}", "--csv", "/nowhere/at/all.csv"], "--csv"),
        (["dance", "{}"], "invalid choice"),
    ],
)
def test_wrong_options_end_with_2_and_a_message(rack, arguments, said):
    done = run(*[part.format(rack) if part == "{}" else part for part in arguments])
    assert done.returncode == 2
    assert done.stdout == ""
    assert said in done.stderr
    assert "Traceback" not in done.stderr


def test_a_refused_brief_ends_with_2(folder):
    for number, (change, said) in enumerate(
        (
            ({"array": {"rows": 0, "columns": 1}}, "array.rows: must be a whole number from 1 to 50"),
            ({"sky": {"kind": "epw", "file": "gone.epw"}}, "sky.file: 'gone.epw' cannot be read"),
        )
    ):
        path = folder / f"bad{number}.json"
        path.write_text(json.dumps(brief_data(**change)))
        done = run("plane", str(path))
        assert (done.returncode, done.stdout) == (2, "")
        assert done.stderr.strip().startswith(said)


def test_schema_is_printed():
    assert answer("schema")["title"] == "Crooked Sundial brief"


def test_where_the_sun_stands_is_told_without_models_of_whole_plants(rack):
    code = (
        "import sys\nfrom sundial.cli import main\n"
        f"main(['sun', {rack!r}, '--at', '2026-06-21T13:00'])\n"
        "print([name for name in ('pvlib', 'pandas', 'scipy.optimize', 'numba', 'django') if name in sys.modules], file=sys.stderr)\n"
    )
    done = subprocess.run([sys.executable, "-c", code], cwd=ROOT, capture_output=True, text=True, check=True)
    assert json.loads(done.stdout)["sunrise"].startswith("2026-06-21T06:0")
    assert done.stderr.strip() == "[]"


def test_the_version_is_one_wherever_it_is_told():
    project = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["project"]["version"]
    newest = re.search(r"^## (\d[\d.]+)", (ROOT / "CHANGELOG.md").read_text(encoding="utf-8"), re.MULTILINE)
    assert newest is not None and sundial.__version__ == project == newest[1]
