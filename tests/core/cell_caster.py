"""A second way to the light on cells: rays from points all over every cell, one by one, each toward a point of the sun's
disc of its own."""

from __future__ import annotations

import numpy as np

from sundial.shade.array_trace import SUN_RADIUS
from sundial.shade.solids import hits
from sundial.study import Study


def cell_points(study: Study, tilt: float, azimuth: float, side: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Points of every cell (panels, sections, halves, cells, side^2, 3), the same along and up their group's glass (..., 2),
    and the group of each panel."""
    geometry = study.scene.geometry
    array, panel, split = geometry.array, geometry.array.panel, geometry.spot.split
    rows, columns = geometry.shape
    halves, long = 2 if panel.half_cut else 1, geometry.cells.cells
    axes = geometry.axes(np.array([tilt]), np.array([azimuth]))[0]
    shape = (panel.bypass_sections, 2, side, halves, long, side)
    across = (np.arange(np.prod(shape[:3])) + 0.5) / np.prod(shape[:3]) * panel.width
    length = (np.arange(np.prod(shape[3:])) + 0.5) / np.prod(shape[3:]) * panel.length
    order = (0, 3, 4, 1, 2, 5)  # section, half, cell along, cell across, place across, place along
    x, y = (
        part.reshape(shape).transpose(order).reshape(shape[0], halves, long * 2, side * side)
        for part in np.meshgrid(across, length, indexing="ij")
    )
    steps = (panel.width, panel.length) if array.portrait else (panel.length, panel.width)
    low = -geometry.size[1] / 2 if geometry.spot.centre_pivot else 0.0
    places, groups = [], []
    for number in range(array.count):
        (row, column), group = divmod(number, array.columns), 0
        if split and split.how == "beside":
            group, column = divmod(column, columns)
        elif split:
            group, row = divmod(row, rows)
        corner = column * (steps[0] + 0.02) - geometry.size[0] / 2, row * (steps[1] + 0.02) + low
        along, up = (x, y) if array.portrait else (y, x)
        places.append(np.stack([corner[0] + along, corner[1] + up], axis=-1))
        groups.append(group)
    flat, group_of = np.array(places), np.array(groups)
    origins = geometry.origins[group_of][(slice(None), *(None,) * 4)]
    return origins + flat @ axes[:2], flat, group_of


def suns(way: np.ndarray, number: int, of: int) -> np.ndarray:
    """Toward one of so many points of the disc, spread over it in another order than the core's."""
    reach, turn = SUN_RADIUS * np.sqrt((number + 0.5) / of), number * 7.1997 + 1.0
    aside = np.cross(way, [0.3, 0.2, 1.0])
    aside /= np.linalg.norm(aside, axis=1)[:, None]
    return way + reach * np.cos(turn) * aside + reach * np.sin(turn) * np.cross(way, aside)


def cast(
    study: Study, way: np.ndarray, tilt: float, azimuth: float, side: int = 4, disc: bool = True
) -> tuple[np.ndarray, np.ndarray]:
    """Mean direct light on the glass (D,) and currents of the sections (D, B) under suns (D, 3) in January."""
    geometry = study.scene.geometry
    points, flat, group_of = cell_points(study, tilt, azimuth, side)
    axes = geometry.axes(np.array([tilt]), np.array([azimuth]))[0]
    shape, count = points.shape[:-1], side * side
    group = np.repeat(group_of, int(np.prod(shape[1:-1])))
    light = np.ones((len(way), *shape))
    order = np.random.default_rng(0).permutation(count)
    for place in range(count):
        from_glass, local = points[..., place, :].reshape(-1, 3), flat[..., place, :].reshape(-1, 2)
        local = np.column_stack([local, np.zeros(len(local))])
        to = suns(way, order[place], count) if disc else way
        turned, left = to @ axes.T, np.ones((len(way), len(local)))
        for layers in study.scene.yard.layers:
            for layer in layers:
                left *= np.where(hits(layer.solids, from_glass, to), layer.light[0], 1)
        for part in geometry.spot.parts:
            left *= ~geometry.part_body(part).hits(local, turned)
        for front in range(geometry.groups):
            for behind in set(range(geometry.groups)) - {front}:
                mine = group == behind
                shift = axes @ (geometry.origins[behind] - geometry.origins[front])
                left[:, mine] *= ~geometry.group_body().hits(local[mine] + shift, turned)
        light[..., place] = left.reshape(len(way), *shape[:-1])
    light[way @ axes[2] <= 0] = 1
    cells = light.mean(axis=-1)
    return light.reshape(len(way), -1).mean(axis=1), cells.min(axis=-1).mean(axis=-1).reshape(len(way), -1)
