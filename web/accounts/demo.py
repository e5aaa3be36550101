"""The demo account and its three builds. Everything in them is made up."""

from django.contrib.auth import get_user_model
from django.contrib.auth.models import User

from sundial.brief.read import brief_of
from web.builds.briefs import build_from_brief
from web.builds.models import Build

NAME = "demo"
LOSSES = {"soiling": 0.02, "wiring": 0.02, "mismatch": 0.01, "light_induced": 0.01, "availability": 0.0, "ageing": 0.0}

HONEY_HOUSE = {
    "name": "Honey house",
    "site": {"latitude": 42.9, "longitude": -6.1, "elevation": 870.0, "timezone": "Europe/Madrid"},
    "sky": {
        "kind": "monthly",
        "ghi": [1.9, 2.8, 4.2, 5.1, 6.0, 6.9, 7.2, 6.3, 4.8, 3.1, 2.0, 1.6],
        "temp_air": [2.5, 3.6, 6.4, 8.5, 12.2, 17.0, 19.9, 19.6, 16.3, 11.2, 6.1, 3.4],
        "wind_speed": 2.8,
        "seed": 7,
    },
    "panel": {"power": 430.0, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
    "array": {"rows": 2, "columns": 4, "azimuth": 180.0, "clearance": 0.6},
    "mount": {"kind": "stepped", "tilts": [16.0, 23.0, 29.5, 36.0, 42.0, 47.5, 52.0, 57.0]},
    "system": {"losses": LOSSES, "inverter": {"power": 3300.0, "efficiency": 0.96}},
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
    "use": {"kind": "grid", "import_price": 0.24, "export_price": 0.06, "own_share": 0.45},
    "plan": {"moves": 2, "minutes_per_move": 12.0, "tilt_now": 36.0, "value_of_hour": 6.0},
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
}
KILN_PERGOLA = {
    "name": "Kiln pergola",
    "site": {"latitude": -41.3, "longitude": 147.0, "elevation": 40.0, "timezone": "Australia/Hobart"},
    "sky": {
        "kind": "monthly",
        "ghi": [6.3, 5.5, 4.1, 2.8, 1.8, 1.5, 1.7, 2.4, 3.6, 4.8, 5.7, 6.2],
        "temp_air": [17.0, 17.2, 15.4, 12.7, 10.1, 8.0, 7.4, 8.3, 10.0, 11.9, 13.9, 15.6],
        "wind_speed": 4.1,
        "seed": 11,
    },
    "ground": {"albedo": 0.3},
    "panel": {"power": 440.0, "length": 1.762, "width": 1.134, "mass": 24.5, "gamma": -0.0030, "bifaciality": 0.75},
    "array": {"rows": 2, "columns": 3, "orientation": "landscape", "azimuth": 8.0, "clearance": 2.4},
    "mount": {"kind": "stepped", "tilts": [6.0, 12.0, 18.0, 24.0]},
    "system": {"losses": LOSSES, "mounting": "raised", "inverter": {"power": 2500.0, "efficiency": 0.965}},
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
    },
    "use": {"kind": "grid", "import_price": 0.31, "export_price": 0.05, "own_share": 0.6},
    "plan": {"goal": "winter", "moves": 1, "minutes_per_move": 25.0, "people": 2, "tilt_now": 6.0},
    "worth": {"life": 25, "interest": 0.04, "panel_cost": 240.0},
    "options": [
        {"row": "two-moves", "extra_cost": 180.0, "upkeep": 5.0},
        {"row": "four-moves", "extra_cost": 180.0, "upkeep": 5.0},
        {"row": "twelve-moves", "extra_cost": 180.0, "upkeep": 5.0},
    ],
}
LOOKOUT_POLE = {
    "name": "Lookout pole",
    "site": {"latitude": 36.4, "longitude": -105.6, "elevation": 2300.0, "timezone": "America/Denver"},
    "sky": {"kind": "made-up", "name": "windy-mesa", "seed": 3},
    "ground": {"albedo": 0.25},
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
    "system": {"losses": LOSSES, "inverter": {"power": 1600.0, "efficiency": 0.94}},
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
    "use": {"kind": "grid", "import_price": 0.42, "export_price": 0.0, "own_share": 0.85},
    "plan": {
        "moves": 2,
        "minutes_per_move": 20.0,
        "cap": [40.0, 40.0, 30.0, 30.0, 30.0, 40.0, 50.0, 50.0, 50.0, 50.0, 50.0, 40.0],
    },
    "worth": {"life": 20, "interest": 0.05, "panel_cost": 230.0},
    "options": [
        {"row": "one-axis-hand", "extra_cost": 980.0, "upkeep": 35.0, "settings": 2},
        {"row": "two-axis", "extra_cost": 2600.0, "upkeep": 70.0},
    ],
}
BUILDS = (
    (HONEY_HOUSE, "Sorrel Hill", "€", "metric", 315),
    (KILN_PERGOLA, "Tern Bay", "$", "metric", 171),
    (LOOKOUT_POLE, "Cinder Mesa", "$", "us", 79),
)


def ensure_demo() -> User:
    """The demo user with the builds it ought to have; what a visitor changed in them stays changed."""
    user, new = get_user_model().objects.get_or_create(username=NAME, defaults={"first_name": "Ines"})
    if new:
        user.set_unusable_password()
        user.save()
    have = set(Build.objects.filter(owner=user, demo=True).values_list("name", flat=True))
    for data, where, currency, units, day in BUILDS:
        if data["name"] in have:
            continue
        build = build_from_brief(user, brief_of({"format": "crooked-sundial-brief", "version": 1, **data}), where=where)
        Build.objects.filter(pk=build.pk).update(demo=True, chosen_day=day)
        build.place.units, build.purse.currency = units, currency
        build.place.save(update_fields=["units"])
        build.purse.save(update_fields=["currency"])
    return user
