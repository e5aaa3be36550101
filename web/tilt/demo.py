"""The plans of the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {"plan": {"settings": 2, "minutes_per_move": 12.0, "tilt_now": 36.0, "value_of_hour": 6.0}},
    "Kiln pergola": {"plan": {"goal": "winter", "settings": 1, "minutes_per_move": 25.0, "people": 2, "tilt_now": 6.0}},
    "Lookout pole": {
        "plan": {
            "settings": 2,
            "minutes_per_move": 20.0,
            "cap": [40.0, 40.0, 30.0, 30.0, 30.0, 40.0, 50.0, 50.0, 50.0, 50.0, 50.0, 40.0],
        }
    },
    "Goat trailer": {"plan": {"settings": 1, "minutes_per_move": 3.0, "tilt_now": 0.0, "value_of_hour": 8.0}},
}
