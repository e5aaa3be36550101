"""The bench of the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Lookout pole": {
        "bench": {"threshold": 0.05, "cycle": 4.0, "dull": "clock", "stow_gust": 16.0, "noise": 3.0, "backlash": 0.8}
    },
    "Goat trailer": {
        "bench": {
            "threshold": 0.1,
            "cycle": 10.0,
            "dull": "flat",
            "night_to": "flat",
            "stow_gust": 12.0,
            "pulse": 0.5,
            "timeout": 10.0,
        }
    },
}
