"""The prices of the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {
        "use": {
            "kind": "grid",
            "import_price": 0.24,
            "export_price": 0.06,
            "yearly": 2900.0,
            "shape": "home-evening",
            "tariff": {"export_limit": 2500.0},
        },
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
        "use": {
            "kind": "grid",
            "import_price": 0.31,
            "export_price": 0.05,
            # Kiln days: most of it in the southern winter, when the pots are fired.
            "monthly": [140.0, 140.0, 170.0, 260.0, 340.0, 380.0, 390.0, 370.0, 300.0, 200.0, 150.0, 140.0],
            "shape": "workshop",
            "tariff": {"import": [{"from": "07:00", "to": "22:00", "price": 0.34}, {"price": 0.19}]},
        },
        "worth": {"life": 25, "interest": 0.04, "panel_cost": 240.0},
        "options": [
            {"row": "two-moves", "extra_cost": 180.0, "upkeep": 5.0},
            {"row": "four-moves", "extra_cost": 180.0, "upkeep": 5.0},
            {"row": "twelve-moves", "extra_cost": 180.0, "upkeep": 5.0},
        ],
    },
    "Lookout pole": {
        "use": {
            "kind": "off-grid",
            "demand": [4.6, 4.4, 4.2, 4.0, 3.8, 3.6, 3.6, 3.8, 4.0, 4.2, 4.4, 4.6],
            "shape": "home-evening",
            "missing_price": 0.8,
        },
        "battery": {"usable": 7.0, "charge": 1600.0, "discharge": 2000.0, "round_trip": 0.9, "reserve": 0.1},
        "worth": {"life": 20, "interest": 0.05, "panel_cost": 230.0},
        "options": [
            {"row": "one-axis-hand", "extra_cost": 980.0, "upkeep": 35.0, "settings": 2},
            {"row": "bigger-battery", "extra_cost": 1250.0},
            {"row": "two-axis", "extra_cost": 2600.0, "upkeep": 70.0},
        ],
    },
    "Goat trailer": {
        "use": {
            "kind": "off-grid",
            "demand": [1.6, 1.6, 1.8, 2.0, 2.3, 2.6, 2.8, 2.8, 2.5, 2.1, 1.8, 1.6],
            "shape": "cold-store",
            "missing_price": 0.52,
        },
        "battery": {"usable": 2.4, "charge": 900.0, "discharge": 800.0},
        "worth": {"life": 12, "interest": 0.04, "panel_cost": 170.0},
        "room": 0,
        "options": [
            {"row": "two-axis", "off": True},
            {"row": "one-axis", "off": True},
            {"row": "one-axis-hand", "off": True},
            {"row": "hinge", "extra_cost": 0.0},
            {"row": "bigger-battery", "extra_cost": 420.0},
        ],
    },
}
