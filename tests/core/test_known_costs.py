"""What of a build's cost is known: as told, each once."""

from sundial.worth.known_costs import known_costs
from tests.core.conftest import study_of


def test_only_what_has_a_price_counts():
    worth, plan = {"panel_cost": 95.0, "count_hours": True}, {"value_of_hour": 18.0}
    scene = study_of(worth=worth, plan=plan).scene
    found = {cost.what: cost for cost in known_costs(scene, 212.5, 3, 150.0)}
    assert found["boards, parts, freight and tax"].amount == 212.5 and found["boards, parts, freight and tax"].open == 3
    assert found[f"{scene.array.count} panels"].amount == scene.array.count * 95
    assert found["hours at saw and drill"].amount == 45.0
    assert known_costs(study_of(worth={"panel_cost": None}).scene, None) == ()
    free = study_of(worth={**worth, "count_hours": False}, plan=plan).scene
    assert [cost.what for cost in known_costs(free, 0.0, 0, 150.0)] == [f"{scene.array.count} panels"]
