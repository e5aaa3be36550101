"""The door of numbers, dates and files: what cannot be is refused with exit 2 and a word, and nothing that is no figure is printed."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from sundial.cli import main
from tests.core.test_expected import data

SERIES = "time,power\n{0}T12:00,1000\n{0}T12:15,1300\n{0}T12:30,1300\n"


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    (tmp_path / "rack.json").write_text(json.dumps(data()))
    (tmp_path / "pin.csv").write_text("time,x,y\n2026-06-21T12:00,10,20\n2026-06-21T15:00,30,20\n")
    for year in ("9000-01-01", "0001-01-01", "2150-01-01", "2025-06-01"):
        (tmp_path / f"{year[:4]}.csv").write_text(SERIES.format(year))
    (tmp_path / "secret").mkdir()
    (tmp_path / "secret" / "hidden.csv").write_text("top secret line\nanother\n")
    return tmp_path


def refused(capsys: pytest.CaptureFixture[str], *words: str | Path) -> str:
    try:
        status = main([str(word) for word in words])
    except SystemExit as error:
        status = int(error.code or 0)
    out, err = capsys.readouterr()
    assert status == 2 and not out and "Traceback" not in err
    return err


@pytest.mark.parametrize("words", [
    ["aim", "--readings", "pin.csv", "--pin", "nan"], ["aim", "--readings", "pin.csv", "--pin", "1e300"], ["aim", "--on", "9999-12-31"],
    ["aim", "--on", "0001-01-01"], ["expected", "--at", "2026-06-21T13:00", "--azimuth", "nan"], ["expected", "--at", "2026-06-21T13:00", "--azimuth", "inf"],
    ["expected", "--at", "2026-06-21T13:00", "--temp", "nan"], ["expected", "--at", "2026-06-21T13:00", "--temp", "70.1"],
    ["expected", "--at", "2026-06-21T13:00", "--temp", "-90.1"], ["expected", "--at", "1949-12-31T13:00"], ["expected", "--at", "2101-01-01T13:00"],
    ["clear-days", "9000.csv"], ["clear-days", "0001.csv"], ["clear-days", "2150.csv"], ["clear-days", "2025.csv", "--tilt", "400"],
    ["change", "2025.csv", "--on", "9999-12-31"], ["stay", "--from", "9999-12-31", "--days", "3", "--minutes", "5"],
    ["stay", "--from", "2026-06-01", "--days", "3", "--minutes", "nan"], ["wind", "--gust", "nan"], ["frame", "--drill", "inf"],
])  # fmt: skip
def test_what_cannot_be_is_refused_with_a_word(folder: Path, capsys: pytest.CaptureFixture[str], words: list[str]) -> None:
    told = [folder / word if word.endswith(".csv") else word for word in words[1:]]
    assert refused(capsys, words[0], folder / "rack.json", *told).strip()


@pytest.mark.parametrize(
    "words",
    [
        ["expected", "--at", "2026-06-21T13:00", "--temp", "70"],
        ["expected", "--at", "1950-01-01T13:00"],
        ["expected", "--at", "2100-12-31T13:00"],
    ],
)
def test_what_lies_on_the_edge_is_answered(folder: Path, capsys: pytest.CaptureFixture[str], words: list[str]) -> None:
    assert main([words[0], str(folder / "rack.json"), *words[1:]]) == 0
    assert json.loads(capsys.readouterr().out)


@pytest.mark.parametrize("series", ["/etc/hostname", "secret/hidden.csv", "../rack.json", "link.csv"])
def test_evidence_names_only_files_beside_it(folder: Path, capsys: pytest.CaptureFixture[str], series: str) -> None:
    (folder / "link.csv").symlink_to(folder / "secret" / "hidden.csv")
    (folder / "evidence.json").write_text(json.dumps({"series": series}))
    assert "beside the evidence file" in refused(capsys, "why", folder / "rack.json", folder / "evidence.json")
    (folder / "plain.csv").write_text("top secret line\nanother\n")
    (folder / "evidence.json").write_text(json.dumps({"series": "plain.csv"}))
    assert "secret" not in refused(capsys, "why", folder / "rack.json", folder / "evidence.json")
    (folder / "evidence.json").write_text(json.dumps({"on": "9999-12-31"}))
    assert refused(capsys, "why", folder / "rack.json", folder / "evidence.json").startswith("on: the year 9999")


def test_a_trial_of_absurd_numbers_is_refused(folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    for one, other in ((1e9, 1e-300), (1e-300, 1e9), (1.0, 100.5)):
        (folder / "trial.json").write_text(
            json.dumps({"arms": ["A", "B"], "nameplate": [430, 430], "repeats": [{"a": one, "b": other}] * 3})
        )
        assert "are both in Wh" in refused(capsys, "trial", folder / "trial.json")


def test_a_reader_that_has_seen_enough_ends_it_quietly() -> None:
    with subprocess.Popen([sys.executable, "-m", "sundial", "schema"], stdout=subprocess.PIPE, stderr=subprocess.PIPE) as made:
        assert made.stdout is not None and made.stderr is not None
        assert len(made.stdout.read(10)) == 10
        made.stdout.close()
        assert made.stderr.read() == b"" and made.wait(60) == 0
