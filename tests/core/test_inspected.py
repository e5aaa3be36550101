"""What of a build can be looked at follows from what it stands on and whether it moves."""

import pytest

from sundial.record.entries import INSPECTED
from sundial.record.inspected import looked_at
from tests.core.conftest import study_of


@pytest.mark.parametrize(
    ("stand", "mount", "never"),
    [
        (None, {"kind": "fixed", "tilt": 30}, {"hinges"}),
        (None, {"kind": "stepped", "tilts": [20, 50]}, set()),
        ({"on": "ground"}, {"kind": "stepped", "tilts": [20, 50]}, {"sealant"}),
        ({"on": "railing", "height": 3, "fixings": {"lines_apart": 0.8}}, {"kind": "fixed", "tilt": 90}, {"level", "growth", "sealant", "hinges"}),
        ({"on": "vehicle", "height": 2}, {"kind": "hinge", "max_tilt": 50}, {"level", "growth"}),
        ({"on": "roof", "height": 4, "slope": 20}, {"kind": "fixed", "tilt": 20}, {"level", "growth", "hinges"}),
        ({"on": "pole"}, {"kind": "turned", "tilt": 35, "facings": [120, 180, 240]}, {"sealant"}),
    ],
)  # fmt: skip
def test_nothing_is_looked_at_that_is_not_there(stand, mount, never):
    changes = {} if stand is None else {"stand": stand}
    assert set(INSPECTED) - set(looked_at(study_of(mount=mount, frame=None, **changes).scene)) == never
