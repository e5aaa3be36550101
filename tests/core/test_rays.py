"""Rays against the yard's solids: an independent caster, solids against each other, and culling that drops no hit."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sundial.shade.rays import trace_rays
from sundial.shade.solids import Column, Ellipsoid, box, hits, prism
from tests.core.test_shade import fixed, random_yard

STEM = 0.06  # a trunk's radius as a share of its crown's


def inside_by_steps(thing: dict[str, Any], points: np.ndarray) -> np.ndarray:
    """Whether points (N, 3) lie in a thing: written from its description, not with the core's solids."""
    x, y, z = points.T
    if thing["kind"] == "tree":
        a, b = thing["crown_base"], thing["height"]
        aside = (x - thing["at"][0]) ** 2 + (y - thing["at"][1]) ** 2
        crown = aside / thing["crown_radius"] ** 2 + ((z - (a + b) / 2) / ((b - a) / 2)) ** 2 < 1
        return crown | ((aside < (STEM * thing["crown_radius"]) ** 2) & (z < (a + b) / 2))
    if thing["kind"] == "post":
        aside = (x - thing["at"][0]) ** 2 + (y - thing["at"][1]) ** 2
        return (aside < (thing["width"] / 2) ** 2) & (z < thing["height"]) & (z > thing["base"])
    from shapely import LineString, Polygon, contains_xy

    if thing["kind"] == "wall":
        return contains_xy(LineString(thing["line"]).buffer(0.15, cap_style="flat"), x, y) & (z < thing["height"])
    corners = np.array(thing["footprint"])
    low, high = corners[:, 1].min(), corners[:, 1].max()  # the ridge runs east to west
    roof = thing["ridge"] - (thing["ridge"] - thing["height"]) * np.abs(y - (low + high) / 2) / ((high - low) / 2)
    return contains_xy(Polygon(corners), x, y) & (z < roof)


@pytest.mark.parametrize("seed", range(8))
def test_ray_tracing_agrees_with_an_independent_caster(seed):
    """Small steps along every ray, things asked point by point: the share of rays that meet anything
    agrees to 1 %."""
    rng = np.random.default_rng(seed)
    things = [
        *random_yard(seed),
        {"kind": "post", "name": "Flue", "at": [rng.uniform(-3, 3), -3.5], "height": 6.0, "width": 0.5, "base": 0.0},
        {"kind": "post", "name": "Tank", "at": [rng.uniform(-5, 5), -7.0], "height": 7.0, "width": 2.4, "base": 3.0},
    ]
    study = fixed(yard={"objects": things})
    azimuth, height = np.radians(rng.uniform(100, 260, 12)), np.radians(rng.uniform(6, 50, 12))
    suns = np.stack([np.cos(height) * np.sin(azimuth), np.cos(height) * np.cos(azimuth), np.sin(height)], axis=1)
    tilts, facing = np.full(12, 30.0), np.full(12, 180.0)
    geometry = study.scene.geometry
    breadth, length = geometry.size
    place = np.stack(np.meshgrid(np.linspace(-0.49, 0.49, 14) * breadth, np.linspace(0.02, 0.98, 12) * length), axis=-1)
    place = place.reshape(-1, 2)
    points = geometry.points(place, np.zeros(len(place), dtype=int), tilts[:1], facing[:1])[0]
    ours = np.zeros((12, len(points)), dtype=bool)
    for trace in trace_rays(study.scene.yard, points, suns).traces:
        ours[trace.rows] |= trace.hits
    along = np.arange(0.02, 30, 0.02)
    theirs = np.zeros_like(ours)
    for index, sun in enumerate(suns):
        path = (points[:, None, :] + along[None, :, None] * sun).reshape(-1, 3)
        met = np.zeros(len(path), dtype=bool)
        for thing in things:
            met |= inside_by_steps(thing, path)
        theirs[index] = met.reshape(len(points), -1).any(axis=1)
    assert theirs.any() and not theirs.all()
    np.testing.assert_allclose(ours.mean(axis=1), theirs.mean(axis=1), atol=0.01)


def random_solids(rng: np.random.Generator) -> list[Any]:
    """One of each kind, large and small, near and far."""
    x, y = rng.uniform(-12, 12, (2, 5))
    turn = np.sort(rng.uniform(0, 2 * np.pi, 5))
    ring = np.column_stack([x[0] + 3 * np.cos(turn), y[0] + 0.7 * np.sin(turn)])
    return [
        prism(ring, -1.0, [(rng.uniform(1, 5), rng.uniform(-0.2, 0.2), 0.0), (rng.uniform(1, 5), 0.0, rng.uniform(-0.2, 0.2))]),
        box([x[1], y[1], 0.5], [x[1] + rng.uniform(0.1, 9), y[1] + 0.3, rng.uniform(0.6, 4)]),
        Column(np.array([x[2], y[2]]), rng.uniform(0.05, 3), rng.uniform(-1, 2), rng.uniform(2.1, 8)),
        Ellipsoid(np.array([x[3], y[3], 5.0]), np.array([rng.uniform(0.5, 4), rng.uniform(0.5, 4), rng.uniform(1, 4)])),
        box([x[4], y[4], -1], [x[4] + 0.05, y[4] + 14, rng.uniform(0.5, 2)]),
    ]


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6), st.booleans())
def test_culling_never_drops_a_hit(seed, moving):
    """Directions in which a solid cannot be met are left out before rays are cast: never one that is met."""
    rng = np.random.default_rng(seed)
    azimuth, height = rng.uniform(0, 2 * np.pi, 150), np.arcsin(rng.uniform(0.01, 1, 150))
    directions = np.stack([np.cos(height) * np.sin(azimuth), np.cos(height) * np.cos(azimuth), np.sin(height)], axis=1)
    points = rng.uniform([-2, -1, 0.3], [2, 1, 2.0], (150, 12, 3) if moving else (12, 3))
    for solid in random_solids(rng):
        np.testing.assert_array_equal(hits([solid], points, directions), solid.hits(points, directions))


@settings(max_examples=6, deadline=None)
@given(st.integers(0, 10**6))
def test_column_agrees_with_a_prism_of_many_sides(seed):
    rng = np.random.default_rng(seed)
    middle, radius, base, top = rng.uniform(-5, 5, 2), rng.uniform(0.1, 2), rng.uniform(-1, 2), rng.uniform(2.5, 6)
    column = Column(middle, radius, base, top)
    turn = np.arange(240) * 2 * np.pi / 240
    sides = prism(middle + radius * np.column_stack([np.cos(turn), np.sin(turn)]), -100.0, [(top, 0.0, 0.0)])
    azimuth, height = rng.uniform(0, 2 * np.pi, 400), rng.uniform(0.02, 1.5, 400)
    directions = np.stack([np.cos(height) * np.sin(azimuth), np.cos(height) * np.cos(azimuth), np.sin(height)], axis=1)
    points = rng.uniform([-7, -7, base], [7, 7, 8], (20, 3))  # none under its foot, where only the prism goes on
    differ = column.hits(points, directions) != sides.hits(points, directions)
    assert differ.mean() < 0.001, "but for rays that graze it"
    np.testing.assert_array_equal(column.holds(points), sides.holds(points))


def test_a_column_from_under_and_from_within():
    tank = Column(np.array([0.0, 0.0]), 1.0, 3.0, 5.0)
    up, slant = [0.0, 0.0, 1.0], [np.cos(np.radians(30)), 0.0, np.sin(np.radians(30))]
    points = np.array([[0.5, 0, 0], [1.5, 0, 0], [0.5, 0, 4], [0.5, 0, 6], [-5, 0, 1.0], [-9, 0, 1.0]])
    found = tank.hits(points, np.array([up, slant]))
    assert found[0].tolist() == [True, False, True, False, False, False], "straight up"
    # From 5 m off the ray is at 3.31 m over the near rim; from 9 m it is at 5.6 m there, over the top.
    assert found[1].tolist() == [False, False, True, False, True, False], "thirty degrees up, to the east"


def test_the_ball_of_a_turning_array_holds_its_glass():
    study = fixed(spot={"split": {"groups": 2, "how": "behind", "distance": 3.0}})
    ball = study.scene.geometry.ball
    rng = np.random.default_rng(1)
    facings = rng.uniform([0, 0], [90, 360], (50, 2))
    points = np.array([study.scene.geometry.corners(*facing) for facing in facings]).reshape(-1, 3)
    assert (np.linalg.norm(points - ball.middle, axis=-1) <= ball.radius + 1e-9).all()
    assert points[..., 2].min() >= ball.low


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10**6))
def test_elevations_of_a_solid_agree_with_rays(seed):
    """A ray just inside the elevations at which a body is seen meets it, and one just outside does not."""
    rng = np.random.default_rng(seed)
    point, azimuths = rng.uniform([-9, -9, -0.9], [9, 9, 9]), rng.uniform(-180, 540, 40)
    for solid in random_solids(rng):
        low, high = solid.elevations(point, azimuths)
        met = ~np.isnan(low)
        inside = rng.uniform(0.001, 0.999, len(low))

        def meets(elevation, azimuth, solid=solid):
            a, e = np.radians(azimuth), np.radians(elevation)
            rays = np.stack([np.cos(e) * np.sin(a), np.cos(e) * np.cos(a), np.sin(e)], axis=1)
            return solid.hits(point[None, :], rays)[:, 0]

        wide = met & (high - low > 0.01)
        between = low + (high - low) * inside
        assert meets(between[wide], azimuths[wide]).all()
        over, under = met & (high < 89), met & (low > -89)
        assert not meets(high[over] + 0.01, azimuths[over]).any()
        assert not meets(low[under] - 0.01, azimuths[under]).any()
        for elevation in (-60.0, -10.0, 5.0, 30.0, 75.0):
            assert not meets(np.full((~met).sum(), elevation), azimuths[~met]).any()
