"""The shade's part of ./bench: the map of a yard against a plain loop, the shaded year, figures while dragging."""

from __future__ import annotations

import json
import statistics
import time
from collections.abc import Callable
from math import cos, radians, sin
from pathlib import Path
from typing import Any

import numpy as np
import pvlib

Row = tuple[str, str, str, str]
THINGS: list[dict[str, Any]] = [
    {"kind": "building", "name": "House", "footprint": [[-20, -3], [-10, -3], [-10, 6], [-20, 6]], "height": 3.5},
    {"kind": "building", "name": "Barn", "footprint": [[12, 3], [20, 3], [20, 9], [12, 9]], "height": 5.0},
    {"kind": "wall", "name": "Wall", "line": [[-15, -6], [15, -6]], "height": 2.0, "thickness": 0.4},
    {"kind": "building", "name": "Pillar", "footprint": [[3.9, -3.6], [4.1, -3.6], [4.1, -3.4], [3.9, -3.4]], "height": 7.0},
    *(
        {"kind": "tree", "name": f"Tree {i}", "at": [-21 + 6 * i, -11 - 2 * (i % 3)], "crown_radius": 1.6 + 0.2 * i, "height": 5.0 + i,
         "crown_base": 1.0, "trunk_radius": 0.0}
        for i in range(8)
    ),
]  # fmt: skip
CELLS = 6  # looked at by the plain loop


def shaded_study(brief: dict[str, Any]) -> Any:
    from sundial.brief.read import brief_of
    from sundial.study import studied

    folder = Path(pvlib.__file__).parent / "data"
    data = {**brief, "mount": {"kind": "fixed", "tilt": 35.0}, "yard": {"objects": THINGS}}
    return studied(brief_of(data), lambda name: (folder / name).read_bytes())


def plain_cell(
    study: Any, hours: list[tuple[float, ...]], patches: list[tuple[float, ...]], x: float, y: float, z: float
) -> float:
    """kWh/m2 at one cell: a loop over hours (and patches of the dome), for each a loop over things, nothing clever."""
    total = 0.0
    for dx, dy, dz, light in (*hours, *patches):
        left = 1.0
        for thing in THINGS:
            if thing["kind"] == "tree":
                if hits_crown(thing, x, y, z, dx, dy, dz):
                    left *= 0.05
            elif hits_block(thing, x, y, z, dx, dy, dz):
                left = 0.0
        total += light * left
    return total


def hits_crown(thing: dict[str, Any], x: float, y: float, z: float, dx: float, dy: float, dz: float) -> bool:
    r, half = thing["crown_radius"], (thing["height"] - thing["crown_base"]) / 2
    px, py, pz = (x - thing["at"][0]) / r, (y - thing["at"][1]) / r, (z - thing["crown_base"] - half) / half
    qx, qy, qz = dx / r, dy / r, dz / half
    a, b, c = qx * qx + qy * qy + qz * qz, px * qx + py * qy + pz * qz, px * px + py * py + pz * pz - 1
    return b * b >= a * c and (b < 0 or c < 0)


def hits_block(thing: dict[str, Any], x: float, y: float, z: float, dx: float, dy: float, dz: float) -> bool:
    if thing["kind"] == "building":
        xs, ys = [p[0] for p in thing["footprint"]], [p[1] for p in thing["footprint"]]
        low, high = (min(xs), min(ys), -1.0), (max(xs), max(ys), thing["height"])
    else:
        (x1, y1), (x2, _), half = *thing["line"], thing["thickness"] / 2
        low, high = (x1, y1 - half, -1.0), (x2, y1 + half, thing["height"])
    enter, leave = 0.0, 1e9
    for start, way, near, far in zip((x, y, z), (dx, dy, dz), low, high, strict=True):
        if abs(way) < 1e-12:
            if not near <= start <= far:
                return False
            continue
        one, two = (near - start) / way, (far - start) / way
        enter, leave = max(enter, min(one, two)), min(leave, max(one, two))
    return enter < leave


def shade_rows(brief: dict[str, Any], seconds: Callable[[Callable[[], Any], int], float]) -> list[Row]:
    """Whole-yard map against the plain loop, and the shaded year of eight panels."""
    from sundial.energy.shaded import Shade
    from sundial.siting.ground import Window, survey_of, yard_map
    from sundial.study import studied

    study = shaded_study(brief)
    survey, light = survey_of(study), study.scene.light
    study.own_facing  # noqa: B018
    window = Window(-30, -20, 30, 20)
    found = yard_map(study, 1.0, window)
    mapped = seconds(lambda: yard_map(study, 1.0, window), 5)
    tilt = radians(35.0)
    cosine = np.maximum(-light.north * sin(tilt) + light.up * cos(tilt), 0)
    direct = (light.beam + light.circumsolar) * cosine / 1000
    hours = [tuple(row) for row in np.column_stack([light.east, light.north, np.maximum(light.up, 0.001), direct]).tolist()]
    weights = survey.weights(0.0)
    patches = [tuple(row) for row in np.column_stack([survey.shade.dome.directions, weights.sky.sum(axis=1)]).tolist()]
    rng = np.random.default_rng(2)
    free = np.argwhere(np.isfinite(found.year) & (found.year < 0.97 * found.open_year))
    cells = free[rng.choice(len(free), CELLS, replace=False)]
    start = time.perf_counter()
    plain = [plain_cell(study, hours, patches, found.x[c], found.y[r], survey.height) for r, c in cells.tolist()]
    loop = (time.perf_counter() - start) / CELLS * found.year.size
    ground = float(weights.ground.sum())
    apart = max(
        abs(value + ground - found.year[r, c]) / found.year[r, c] for value, (r, c) in zip(plain, cells.tolist(), strict=True)
    )

    def year() -> Any:
        fresh = studied(study.brief, study.scene.load, study.scene.weather, given_light=light)
        return fresh.production().year

    def year_by_hour() -> Any:
        from sundial.energy.production import produce

        fresh = studied(study.brief, study.scene.load, study.scene.weather, given_light=light)
        return produce(
            light, fresh.scene.system, *fresh.own_facing, Shade(light, fresh.scene.geometry, fresh.scene.yard, None, 0)
        ).year

    ours, hourly = seconds(year, 7), seconds(year_by_hour, 3)
    difference = abs(year() / year_by_hour() - 1)
    return [
        (f"map of a yard 60 x 40 m at 1 m, {len(THINGS)} obstacles, all hours: plain Python loop, from {CELLS} cells", f"{loop:.0f} s", "the rival", ""),
        ("the same map by the core", f"{mapped:.2f} s", f"{loop / mapped:.0f} times faster", "3 s, at least 50 times"),
        ("the two, where it is shaded", "", f"{apart:.3%} apart at most", "0.5 %"),
        (f"shaded year of 8 panels, {len(THINGS)} obstacles", f"{ours:.2f} s", f"{hourly / ours:.1f} times faster than hour by hour, {difference:.3%} apart", "under 1 s"),
    ]  # fmt: skip


PANELS = ((2, 4), (2, 8), (4, 8), (4, 16), (8, 16))
FIELD: list[dict[str, Any]] = [
    {
        "tree": {"kind": "tree", "at": [-40 + 18 * i, -32 - 3 * i], "crown_radius": 2.2, "height": 7.0 + i, "crown_base": 2.0},
        "post": {"kind": "post", "at": [-20 + 9 * i, -16.0], "height": 6.0, "width": 0.1},
        "hut": {"kind": "building", "footprint": [[x, -48], [x + 5, -48], [x + 5, -44], [x, -44]], "height": 4.0},
        "wall": {"kind": "wall", "line": [[-38 + 17 * i, -26], [-31 + 17 * i, -25]], "height": 2.0},
    }[kind]
    | {"name": f"{kind} {i}"}
    for i, x in enumerate(range(-42, 58, 20))
    for kind in ("tree", "post", "hut", "wall")
]


def growth_row(brief: dict[str, Any], seconds: Callable[[Callable[[], Any], int], float]) -> Row:
    """A shaded year past twenty things, for arrays that double: the cost of each against the one before."""
    from sundial.brief.read import brief_of
    from sundial.study import studied

    taken = []
    for rows, columns in PANELS:
        study = shaded_study(brief)
        data = {**brief, "array": {**brief["array"], "rows": rows, "columns": columns}, "yard": {"objects": FIELD}}
        larger = brief_of({**data, "mount": {"kind": "fixed", "tilt": 35.0}})
        light, weather, yard = study.scene.light, study.scene.weather, studied(larger, study.scene.load).scene.yard

        def year(larger: Any = larger, study: Any = study, light: Any = light, weather: Any = weather, yard: Any = yard) -> Any:
            return studied(larger, study.scene.load, weather, given_light=light, given_yard=yard).production().year

        taken.append(seconds(year, 5))
    each = " ".join(f"{1000 * one:.0f}" for one in taken)
    most = max(after / before for before, after in zip(taken, taken[1:], strict=False))
    counts = ", ".join(str(rows * columns) for rows, columns in PANELS)
    return (
        f"shaded year past {len(FIELD)} obstacles, {counts} panels",
        f"{each} ms",
        f"a doubling costs {most:.1f} times at most",
        "2.3 times",
    )


def drag_times(client: Any) -> list[float]:
    """Seconds of each answer while the array is dragged through the demo builds' yards."""
    from web.accounts.demo import ensure_demo
    from web.builds.models import Build
    from web.shade.document import document_of

    demo = ensure_demo()
    client.force_login(demo, backend="django.contrib.auth.backends.ModelBackend")
    taken = []
    for build in Build.objects.of(demo).whole():
        client.get(f"/builds/{build.pk}/shade/")
        document = document_of(build)
        for step in range(20):
            moved = {**document, "x": round(-2 + 0.2 * step, 2), "y": round(0.8 - 0.05 * step, 2), "azimuth": document["azimuth"]}
            address = f"/builds/{build.pk}/shade/figures/"
            start = time.perf_counter()
            answer = client.post(address, {"document": json.dumps(moved)}, headers={"HX-Request": "true"})
            taken.append(time.perf_counter() - start)
            assert answer.status_code in (200, 422)  # noqa: S101
    return taken[1:]


def drag_row(times: list[float]) -> Row:
    late = f"{np.percentile(times, 95) * 1000:.0f} ms at the 95th percentile"
    return (
        f"figures while the array is dragged, {len(times)} places, demo builds",
        f"{statistics.median(times) * 1000:.0f} ms median",
        late,
        "300 ms",
    )
