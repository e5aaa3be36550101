"""The brief: read strictly, refused by path, and documented by its own code."""

from __future__ import annotations

import copy
import json
from pathlib import Path
from typing import Any

import pytest

from sundial.brief.model import Brief
from sundial.brief.read import brief_of, read_brief, schema
from sundial.errors import BriefError
from sundial.study import studied
from tests.core.conftest import brief_data

ROOT = Path(__file__).parents[2]


def example() -> dict[str, Any]:
    """The example that docs/brief.md shows."""
    text = (ROOT / "docs" / "brief.md").read_text()
    return json.loads(text.partition("```json")[2].partition("```")[0])


def set_at(data: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    changed = copy.deepcopy(data)
    *steps, last = path.split(".")
    place = changed
    for step in steps:
        place = place.setdefault(step, {})
    place[last] = value
    return changed


def test_the_documented_example_is_read():
    brief = read_brief(json.dumps(example()))
    assert brief.name == "Honey house rack"
    assert brief.options[0].mount.kind == "two-axis"


def test_briefs_round_trip():
    brief = brief_of(brief_data(horizon=[[0, 2], [90, 12]], options=[{"row": "flat", "off": True}]))
    assert brief_of(json.loads(brief.model_dump_json())) == brief


@pytest.mark.parametrize(
    ("path", "value", "said"),
    [
        ("array.rows", 0, "array.rows: must be a whole number from 1 to 50"),
        ("array.rows", 2.5, "array.rows: must be a whole number from 1 to 50"),
        ("array.rows", "2", "array.rows: must be a whole number from 1 to 50"),
        ("panel.power", -5, "panel.power: must be a number more than 0 and up to 2000"),
        ("site.latitude", 91, "site.latitude: must be a number more than -90 and less than 90"),
        ("site.longitude", 540, "site.longitude: must be a number from -180 to 180"),
        ("mount.tilts", [15, 95], "mount.tilts[1]: "),
        ("mount.tilt", 20, "mount.tilt: is not a key of a brief"),
        ("mount.kind", "sail", "mount.kind: must be one of"),
        ("sky.kind", "tarot", "sky.kind: must be one of"),
        ("array.colour", "blue", "array.colour: is not a key of a brief; known here: rows, columns"),
        ("colour", "blue", "colour: is not a key"),
        ("ground.albedo", [0.2, 0.3], "ground.albedo: "),
        ("plan.cap", [30.0] * 11, "plan.cap: must be a list of twelve numbers"),
        ("use.own_share", 1.5, "use.own_share: must be a number from 0 to 1"),
        ("worth.life", 0, "worth.life: must be a whole number from 1 to 60"),
        ("worth.interest", -1, "worth.interest: must be a number more than -1"),
        ("plan.goal", "riches", "plan.goal: must be"),
        ("panel.half_cut", "yes", "panel.half_cut: must be true or false"),
        ("name", "x" * 200, "name: must be text of at most 120 characters"),
        ("version", 2, "version: this brief is of version 2"),
        ("format", "soup", "format: must be"),
    ],
)
def test_a_wrong_value_is_named_by_its_path(path, value, said):
    data = brief_data(mount={"kind": "stepped", "tilts": [15.0, 30.0]}, use={"kind": "grid"})
    with pytest.raises(BriefError) as refused:
        brief_of(set_at(data, path, value))
    assert str(refused.value).startswith(said)


def test_missing_keys_are_named():
    data = brief_data()
    del data["panel"]["power"]
    with pytest.raises(BriefError, match=r"panel\.power: is missing"):
        brief_of(data)


@pytest.mark.parametrize("number", ["NaN", "Infinity", "-Infinity", "1e400"])
def test_what_is_no_number_is_refused_where_it_stands(number):
    text = json.dumps(brief_data()).replace('"power": 430.0', f'"power": {number}')
    assert number in text
    with pytest.raises(BriefError) as refused:
        read_brief(text)
    assert refused.value.path == "panel.power"


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "line 1: not JSON"),
        ("[1, 2]", "in braces"),
        ('{"format": "crooked-sundial-brief", "format": "x"}', "format: is given twice"),
        ('{"format": NaN}', "format: must be"),
        ('{"room": 1' + "0" * 5000 + "}", "far too many digits"),
        (b"\xff\xfe\x00", "not readable text"),
        ("[" * 100_000, "nested too deeply"),
        ("{" + " " * 2_100_000 + "}", "far too large"),
    ],
)
def test_texts_that_are_no_brief_are_refused(text, said):
    with pytest.raises(BriefError, match=said):
        read_brief(text)


def test_the_committed_schema_is_the_codes_own():
    assert json.loads((ROOT / "docs" / "brief.schema.json").read_text()) == schema()


def test_every_key_is_documented():
    text = (ROOT / "docs" / "brief.md").read_text()
    for key in Brief.model_fields:
        assert f"`{key}" in text, key


@pytest.mark.parametrize("path", sorted((Path(__file__).parents[2] / "docs/examples").glob("*.json")), ids=lambda path: path.stem)
def test_every_example_is_a_build_that_can_be(path):
    studied(read_brief(path.read_bytes())).scene.refuse()
