"""The prices of the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {
        "use": {"kind": "grid", "import_price": 0.24, "export_price": 0.06, "own_share": 0.45},
        "worth": {"life": 20, "interest": 0.03, "panel_cost": 165.0},
        "options": [
            {"row": "two-moves", "extra_cost": 60.0, "upkeep": 2.0},
            {"row": "four-moves", "extra_cost": 60.0, "upkeep": 2.0},
            {"row": "twelve-moves", "extra_cost": 60.0, "upkeep": 2.0},
            {"row": "one-axis", "off": True},
            {"row": "one-axis-hand", "off": True},
            {
                "row": "two-axis",
                "mount": {"kind": "two-axis", "max_tilt": 80.0, "standby_watts": 1.5, "moving_watts": 40.0, "speed": 6.0},
                "extra_cost": 2100.0,
                "upkeep": 40.0,
                "off": True,
            },
        ],
    },
    "Kiln pergola": {
        "use": {"kind": "grid", "import_price": 0.31, "export_price": 0.05, "own_share": 0.6},
        "worth": {"life": 25, "interest": 0.04, "panel_cost": 240.0},
        "options": [
            {"row": "two-moves", "extra_cost": 180.0, "upkeep": 5.0},
            {"row": "four-moves", "extra_cost": 180.0, "upkeep": 5.0},
            {"row": "twelve-moves", "extra_cost": 180.0, "upkeep": 5.0},
        ],
    },
    "Lookout pole": {
        "use": {"kind": "grid", "import_price": 0.42, "export_price": 0.0, "own_share": 0.85},
        "worth": {"life": 20, "interest": 0.05, "panel_cost": 230.0},
        "options": [
            {"row": "one-axis-hand", "extra_cost": 980.0, "upkeep": 35.0, "settings": 2},
            {"row": "two-axis", "extra_cost": 2600.0, "upkeep": 70.0},
        ],
    },
    "Goat trailer": {
        "use": {"kind": "grid", "import_price": 0.52, "export_price": 0.0, "own_share": 0.8},
        "worth": {"life": 12, "interest": 0.04, "panel_cost": 170.0},
        "options": [{"row": "two-axis", "off": True}, {"row": "one-axis", "off": True}],
    },
}
