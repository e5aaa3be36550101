"""The places of the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {
        "site": {"latitude": 42.9, "longitude": -6.1, "elevation": 870.0, "timezone": "Europe/Madrid"},
        "sky": {
            "kind": "monthly",
            "ghi": [1.9, 2.8, 4.2, 5.1, 6.0, 6.9, 7.2, 6.3, 4.8, 3.1, 2.0, 1.6],
            "temp_air": [2.5, 3.6, 6.4, 8.5, 12.2, 17.0, 19.9, 19.6, 16.3, 11.2, 6.1, 3.4],
            "wind_speed": 2.8,
            "seed": 7,
        },
    },
    "Kiln pergola": {
        "site": {"latitude": -41.3, "longitude": 147.0, "elevation": 40.0, "timezone": "Australia/Hobart"},
        "sky": {
            "kind": "monthly",
            "ghi": [6.3, 5.5, 4.1, 2.8, 1.8, 1.5, 1.7, 2.4, 3.6, 4.8, 5.7, 6.2],
            "temp_air": [17.0, 17.2, 15.4, 12.7, 10.1, 8.0, 7.4, 8.3, 10.0, 11.9, 13.9, 15.6],
            "wind_speed": 4.1,
            "seed": 11,
        },
        "ground": {"albedo": 0.3},
    },
    "Lookout pole": {
        "site": {"latitude": 36.4, "longitude": -105.6, "elevation": 2300.0, "timezone": "America/Denver"},
        "sky": {"kind": "made-up", "name": "windy-mesa", "seed": 3},
        "ground": {"albedo": 0.25},
    },
    "Goat trailer": {
        "site": {"latitude": 38.2, "longitude": -1.9, "elevation": 690.0, "timezone": "Europe/Madrid"},
        "sky": {
            "kind": "monthly",
            "ghi": [2.5, 3.4, 4.7, 5.6, 6.7, 7.6, 7.7, 6.7, 5.2, 3.7, 2.7, 2.2],
            "temp_air": [6.5, 7.7, 10.4, 12.6, 16.8, 22.0, 25.3, 25.1, 20.6, 15.5, 10.0, 7.2],
            "wind_speed": 3.4,
            "seed": 19,
        },
        "ground": {"albedo": 0.25},
    },
}
