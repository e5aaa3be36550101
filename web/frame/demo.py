"""The frames of the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {
        "panel": {"power": 430.0, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
        "array": {"rows": 2, "columns": 4, "azimuth": 180.0, "clearance": 0.6},
        "mount": {"kind": "stepped"},
        "frame": {
            "kind": "prop",
            "rail_points": [1.3],
            "lengths": [1.2],
            "base_holes": [2.395, 2.284, 2.146, 1.977, 1.793, 1.6, 1.425, 1.209],  # 16, 23, 29.5, 36, 42, 47.5, 52, 57 degrees
            "base_length": 2.6,
            "mass": 38.0,
            "frames": 3,
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
            "inverter": {"power": 3300.0, "efficiency": 0.96},
        },
    },
    "Kiln pergola": {
        "panel": {"power": 440.0, "length": 1.762, "width": 1.134, "mass": 24.5, "gamma": -0.003, "bifaciality": 0.75},
        "array": {"rows": 2, "columns": 3, "orientation": "landscape", "azimuth": 8.0, "clearance": 2.4},
        "mount": {"kind": "stepped"},
        "frame": {  # four pairs of props, swapped: 6, 12, 18 and 24 degrees
            "kind": "prop",
            "rail_points": [1.6],
            "lengths": [0.167, 0.334, 0.501, 0.665],
            "base_holes": [1.6],
            "base_length": 2.4,
            "mass": 30.0,
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
        "frame": {  # a joint on a pole, and a screw jack turned by a crank from a bracket on the pole
            "kind": "pole",
            "height": 3.132,
            "offset": 0.11,
            "min_tilt": 10.0,
            "max_tilt": 50.0,
            "jack": {"base": [0.08, -0.72], "rail_point": 0.62, "retracted": 0.98, "extended": 1.26, "thrust": 15000.0},
            "mass": 26.0,
            "frames": 1,
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
    "Goat trailer": {
        "panel": {"power": 405.0, "length": 1.722, "width": 1.134, "mass": 20.8, "gamma": -0.0034},
        "array": {"rows": 1, "columns": 3, "azimuth": 180.0, "clearance": 1.9},
        "mount": {
            "kind": "hinge",
            "min_tilt": 0.0,
            "max_tilt": 53.0,
            "standby_watts": 0.5,
            "moving_watts": 60.0,
            "speed": 50.0,
        },
        "frame": {  # a 400 mm actuator under the flap
            "kind": "jack",
            "base": [0.3, -0.35],
            "rail_point": 0.8,
            "retracted": 0.61,
            "extended": 1.01,
            "thrust": 1500.0,
            "speed": 0.008,
            "mass": 14.0,
        },
        "system": {
            "losses": {
                "soiling": 0.04,
                "wiring": 0.02,
                "mismatch": 0.01,
                "light_induced": 0.01,
                "availability": 0.05,
                "ageing": 0.0,
            },
            "inverter": {"power": 1200.0, "efficiency": 0.94},
        },
    },
}
