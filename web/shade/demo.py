"""What stands around the demo builds. Everything in them is made up."""

from typing import Any

DEMO: dict[str, dict[str, Any]] = {
    "Honey house": {
        "horizon": [
            [0.0, 2.0],
            [60.0, 3.0],
            [95.0, 5.0],
            [130.0, 9.0, "evergreen"],
            [165.0, 5.0],
            [210.0, 4.0],
            [265.0, 8.0],
            [310.0, 4.0],
        ],
        "yard": {
            "objects": [
                {
                    "kind": "building",
                    "name": "Honey house",
                    "footprint": [[-4.5, 5.0], [5.5, 5.0], [5.5, 11.0], [-4.5, 11.0]],
                    "height": 2.6,
                    "top": "gable",
                    "ridge": 4.8,
                    "roof_azimuth": 90.0,
                },
                {
                    "kind": "tree",
                    "name": "Walnut",
                    "at": [7.5, -9.0],
                    "crown_radius": 4.2,
                    "height": 10.5,
                    "crown_base": 2.6,
                    "leaf_months": [5, 6, 7, 8, 9, 10],
                    "measured": [{"way": "stick", "stick": 1.2, "stick_shadow": 1.8, "shadow": 15.75, "slope": 0.0}],
                },
                {
                    "kind": "wall",
                    "name": "Stone wall",
                    "line": [[-11.0, -3.5], [-1.0, -3.2], [8.5, -3.6]],
                    "height": 2.2,
                    "thickness": 0.5,
                },
                {
                    "kind": "tree",
                    "name": "Hazel",
                    "at": [-8.0, -7.5],
                    "crown_radius": 2.2,
                    "height": 4.6,
                    "crown_base": 0.4,
                    "leaf_months": [4, 5, 6, 7, 8, 9, 10],
                },
                {"kind": "post", "name": "Lamp post", "at": [3.2, -2.2], "height": 3.8, "width": 0.12},
            ]
        },
        "wiring": {"kind": "parallel", "strings": [[1, 2, 3, 4], [5, 6, 7, 8]]},
    },
    "Kiln pergola": {
        "yard": {
            "slope": 3.0,
            "slope_toward": 350.0,
            "objects": [
                {
                    "kind": "building",
                    "name": "House",
                    "footprint": [[-7.0, -10.0], [6.0, -10.0], [6.0, -3.0], [1.5, -3.0], [1.5, -4.6], [-7.0, -4.6]],
                    "height": 2.8,
                    "top": "lean-to",
                    "ridge": 3.9,
                    "roof_azimuth": 180.0,
                },
                {"kind": "tree", "name": "Big gum", "at": [8.5, 9.5], "crown_radius": 4.8, "height": 17.0, "crown_base": 4.5},
                {"kind": "tree", "name": "Twin gum", "at": [-3.5, 16.0], "crown_radius": 4.0, "height": 15.0, "crown_base": 5.0},
                {"kind": "tree", "name": "Young gum", "at": [-10.5, 7.0], "crown_radius": 2.6, "height": 9.0, "crown_base": 2.5},
                {"kind": "post", "name": "Kiln flue", "at": [3.9, 3.4], "height": 5.2, "width": 0.4},
                {"kind": "fence", "name": "Paling fence", "line": [[-12.0, 11.5], [12.5, 12.5]], "height": 1.8, "open": 0.15},
            ],
        }
    },
    "Lookout pole": {
        "horizon": [[0.0, 1.0], [70.0, 3.0], [110.0, 2.0], [200.0, 1.0], [255.0, 4.0], [290.0, 2.0]],
        "yard": {
            "objects": [
                {
                    "kind": "building",
                    "name": "Bird-count hut",
                    "footprint": [[-6.8, -4.2], [-3.2, -4.2], [-3.2, -1.4], [-6.8, -1.4]],
                    "height": 2.5,
                    "top": "lean-to",
                    "ridge": 3.1,
                    "roof_azimuth": 0.0,
                },
                {"kind": "post", "name": "Mast", "at": [-2.4, -3.6], "height": 8.0, "width": 0.1},
                {
                    "kind": "building",
                    "name": "Water tank",
                    "footprint": [
                        [4.6, -3.1],
                        [5.4, -3.4],
                        [6.2, -3.1],
                        [6.5, -2.3],
                        [6.2, -1.5],
                        [5.4, -1.2],
                        [4.6, -1.5],
                        [4.3, -2.3],
                    ],
                    "height": 2.8,
                },
            ]
        },
    },
    "Goat trailer": {
        "horizon": [[0.0, 3.0], [60.0, 6.0], [120.0, 4.0], [180.0, 2.0], [240.0, 5.0], [300.0, 8.0]],
        "yard": {
            "objects": [
                {"kind": "tree", "name": "Carob", "at": [-7.5, -4.0], "crown_radius": 2.6, "height": 5.2, "crown_base": 1.2},
                {
                    "kind": "wall",
                    "name": "Fold wall",
                    "line": [[5.0, -6.0], [9.5, -2.0], [10.5, 4.5]],
                    "height": 1.4,
                    "thickness": 0.45,
                },
            ]
        },
    },
}
