"""The cutting of the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {
        "stock": [
            {"section": "45x95 C24", "length": 4.8, "count": 5, "price": 0.0},
            {"section": "45x95 C24", "length": 3.6, "count": 3, "price": 0.0},
            {"section": "45x95 C24", "length": 4.8, "price": 14.5},
            {"section": "45x95 C24", "length": 5.4, "price": 16.4},
            {"section": "45x95 C24", "length": 3.6, "price": 10.9},
            {"section": "45x120 C24", "length": 4.2, "count": 2, "price": 0.0},
            {"section": "45x120 C24", "length": 3.6, "price": 14.2},
            {"section": "45x120 C24", "length": 4.8, "price": 18.9},
        ],
        "pieces": [{"name": "shelf for the stones", "section": "45x95 C24", "length": 1.7, "count": 4}],
        "cutting": {
            "sections": {"rail": "45x120 C24"},
            "parts": [
                {"name": "bracket", "price": 1.4, "pack": 1, "mass": 0.12},
                {"name": "bolt M12 x 120", "price": 0.9, "pack": 1, "mass": 0.12},
                {"name": "angle cleat", "price": 0.75, "pack": 1, "mass": 0.08},
            ],
            "freight": 18.0,
        },
        "electrics": {
            "voc": 37.2, "isc": 14.2, "vmp": 31.1, "imp": 13.85, "beta": -0.0027, "alpha": 0.0005, "min_temp": -15, "max_temp": 38,
            "input": {"max_voltage": 500, "window": [90, 450], "max_current": 16, "inputs": 2},
            "cable": {"length": 28, "area": 6, "material": "copper", "prices": [[4, 0.95], [6, 1.35], [10, 2.4]]}, "lead": 1.1,
        },
    },
    "Kiln pergola": {
        "stock": [
            {"section": "45x145 C24", "length": 3.0, "price": 13.8},
            {"section": "45x145 C24", "length": 4.8, "price": 21.5},
            {"section": "45x95 C24", "length": 2.4, "count": 2, "price": 0.0},
            {"section": "45x95 C24", "length": 3.6, "price": 10.9},
            {"section": "strut 41x41x2.5", "length": 3.0, "price": 21.0},
            {"section": "strut 41x41x2.5", "length": 6.0, "price": 39.0},
        ],
        "cutting": {
            "sections": {"rail": "45x145 C24", "base bar": "45x145 C24"},
            "leave_out": ["post"],
            "fixing": "short rails",
            "braces": False,
        },
        "electrics": {
            "voc": 39.8, "isc": 13.9, "vmp": 33.4, "imp": 13.18, "beta": -0.0025, "alpha": 0.0005, "min_temp": -2, "max_temp": 36,
            "input": {"max_voltage": 600, "window": [100, 500], "max_current": 16, "inputs": 1},
            "cable": {"length": 14, "area": 4, "strands": "class 5"}, "lead": 0.9, "boxes": "end",
        },
    },
    "Lookout pole": {
        "stock": [
            {"section": "box 60x40x3 steel", "length": 6.0, "price": 44.0},
            {"section": "strut 41x41x2.5", "length": 3.0, "count": 2, "price": 0.0},
            {"section": "strut 41x41x2.5", "length": 6.0, "price": 39.0},
            {"section": "tube 114x4 steel", "length": 6.0, "price": 118.0},
        ],
        "cutting": {
            "sections": {"rail": "box 60x40x3 steel"},
            "fixing": "clamps",
            "base": {"plate": 0.3, "bolt_circle": 0.26, "bolts": 4, "bolt": 0.02, "pole": 0.114, "turn": 45.0},
        },
        "electrics": {
            "voc": 37.0, "isc": 13.9, "vmp": 31.0, "imp": 13.23, "beta": -0.0027, "alpha": 0.0005, "min_temp": -26, "max_temp": 34,
            "input": {"max_voltage": 250, "window": [60, 220], "max_current": 20, "inputs": 1},
            "cable": {"length": 35, "area": 6}, "lead": 1.1,
        },
    },
    "Goat trailer": {
        "stock": [
            {"section": "box 40x40x3 aluminium", "length": 6.0, "price": 46.0},
            {"section": "box 40x40x3 aluminium", "length": 2.0, "count": 1, "price": 0.0},
        ],
        "cutting": {
            "sections": {"rail": "box 40x40x3 aluminium", "purlin": "box 40x40x3 aluminium", "jig": "box 40x40x3 aluminium"},
            "leave_out": ["post", "back post"],
            "end_distance": 0.03,
        },
        "electrics": {
            "voc": 37.1, "isc": 13.8, "vmp": 30.9, "imp": 13.11, "beta": -0.0027, "alpha": 0.0005, "min_temp": -8, "max_temp": 42,
            "input": {"max_voltage": 150, "window": [40, 130], "max_current": 20, "inputs": 1},
            "cable": {"length": 6, "area": 6, "strands": "class 5"}, "lead": 1.1,
        },
    },
}  # fmt: skip
