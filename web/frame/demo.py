"""The frames of the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {
        "panel": {"power": 430.0, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
        "array": {"rows": 2, "columns": 4, "azimuth": 180.0, "clearance": 0.6},
        "mount": {"kind": "stepped", "tilts": [16.0, 23.0, 29.5, 36.0, 42.0, 47.5, 52.0, 57.0]},
        "system": {
            "losses": {
                "soiling": 0.02,
                "wiring": 0.02,
                "mismatch": 0.01,
                "light_induced": 0.01,
                "availability": 0.0,
                "ageing": 0.0,
            },
            "inverter": {"power": 3300.0, "efficiency": 0.96},
        },
    },
    "Kiln pergola": {
        "panel": {"power": 440.0, "length": 1.762, "width": 1.134, "mass": 24.5, "gamma": -0.003, "bifaciality": 0.75},
        "array": {"rows": 2, "columns": 3, "orientation": "landscape", "azimuth": 8.0, "clearance": 2.4},
        "mount": {"kind": "stepped", "tilts": [6.0, 12.0, 18.0, 24.0]},
        "system": {
            "losses": {
                "soiling": 0.02,
                "wiring": 0.02,
                "mismatch": 0.01,
                "light_induced": 0.01,
                "availability": 0.0,
                "ageing": 0.0,
            },
            "mounting": "raised",
            "inverter": {"power": 2500.0, "efficiency": 0.965},
        },
    },
    "Lookout pole": {
        "panel": {"power": 410.0, "length": 1.722, "width": 1.134, "mass": 21.0, "gamma": -0.0035},
        "array": {"rows": 2, "columns": 2, "azimuth": 180.0, "clearance": 1.4},
        "mount": {
            "kind": "one-axis",
            "axis_tilt": 35.0,
            "axis_tilts": [10.0, 20.0, 30.0, 40.0, 50.0],
            "limit": 50.0,
            "standby_watts": 1.5,
            "moving_watts": 25.0,
            "speed": 6.0,
            "aim": "light",
        },
        "system": {
            "losses": {
                "soiling": 0.02,
                "wiring": 0.02,
                "mismatch": 0.01,
                "light_induced": 0.01,
                "availability": 0.0,
                "ageing": 0.0,
            },
            "inverter": {"power": 1600.0, "efficiency": 0.94},
        },
    },
}
