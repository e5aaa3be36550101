"""The wind of the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {
        "wind": {
            "gust": 28.0,
            "surroundings": "farmland",
            "gusts": [26.0, 26.0, 25.0, 24.0, 22.0, 20.0, 19.0, 20.0, 22.0, 24.0, 25.0, 26.0],
            "anchored": False,
            "frame_mass": 160.0,
            "ballast": 860.0,
            "friction": 0.5,
            "width": 3.4,
            "in_plan": [1, 2, 12],
        },
        "footing": {
            "kind": "ballast",
            "diameter": 0.5,
            "soil": "sandy gravel",
            "frost_depth": 0.6,
            "stored": 400.0,
            "spacing": 1.7,
        },
        "snow": {"load": 0.6},
        "beams": [
            {"name": "rail", "section": "45x120 C24", "span": 1.9, "spacing": 1.6, "members": 1},
            {"name": "purlin", "section": "45x95 C24", "span": 1.7, "spacing": 0.86, "members": 1},
        ],
    },
    "Kiln pergola": {
        "wind": {
            "gust": 33.0,
            "surroundings": "open",
            "gusts": [22.0, 21.0, 22.0, 24.0, 26.0, 28.0, 29.0, 29.0, 28.0, 27.0, 25.0, 23.0],
            "carried_by": "pergola",
        },
        "beams": [{"name": "pergola beam", "section": "45x195 C24", "span": 2.7, "spacing": 1.2, "members": 2}],
    },
    "Lookout pole": {
        "wind": {
            "gust": 38.0,
            "surroundings": "open",
            "gusts": [25.0, 27.0, 31.0, 33.0, 31.0, 28.0, 26.0, 25.0, 25.0, 26.0, 26.0, 25.0],
            "frame_mass": 120.0,
        },
        "footing": {
            "kind": "pier",
            "diameter": 0.75,
            "soil": "sandy gravel",
            "frost_depth": 0.9,
            "depth": 2.2,
        },
        "snow": {"load": 0.9},
    },
    "Goat trailer": {
        "wind": {
            "gust": 27.0,
            "surroundings": "open",
            "gusts": [24.0, 25.0, 25.0, 24.0, 21.0, 20.0, 20.0, 20.0, 20.0, 22.0, 24.0, 25.0],
            "anchored": False,
            "frame_mass": 900.0,
            "friction": 0.6,
            "feet": [-0.25, 1.45],
            "width": 2.4,
            "in_plan": [1, 2, 3, 4, 10, 11, 12],
        },
    },
}
