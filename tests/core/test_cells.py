"""Light on every cell: against rays cast from points all over it, over directions and over a year, and what thin shadows cost."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from sundial.energy.production import convert
from sundial.energy.shade_factors import ShadeFactors, direct_factors
from sundial.energy.shaded import NOTHING, Shade
from sundial.shade.array_trace import trace_array
from sundial.shade.block_irradiance import BlockIrradiance, block_irradiance, coverage
from sundial.siting.whatif import without_thing
from sundial.study import Study
from tests.core.cell_caster import cast
from tests.core.test_shade import fixed, random_yard

TILT = 30.0


def crowded(seed: int) -> Study:
    """A random yard with posts, a pole and a rail before panels of either kind, upright or lying, in one row or two groups."""
    rng = np.random.default_rng(100 + seed)
    things = [
        *random_yard(seed),
        {"kind": "post", "name": "Flue", "at": [rng.uniform(-3, 3), rng.uniform(-2.5, -1)], "height": rng.uniform(2.5, 5),
         "width": rng.uniform(0.05, 0.15)},
        {"kind": "post", "name": "Pole", "at": [rng.uniform(-5, 5), rng.uniform(-6, -3)], "height": rng.uniform(4, 7),
         "width": rng.uniform(0.06, 0.3)},
        {"kind": "rail", "name": "Rail", "line": [[-3, -0.4], [3, -0.5]], "height": rng.uniform(1.0, 1.4),
         "thickness": rng.uniform(0.04, 0.1)},
    ]  # fmt: skip
    changes: dict[str, Any] = {
        "array": {"rows": 2, "columns": 4, "orientation": ["portrait", "landscape"][seed // 2 % 2]},
        "panel": {"power": 430, "length": 1.722, "width": 1.134, "half_cut": bool(seed % 3)},
    }
    if seed % 2:
        how = ["behind", "beside"][seed // 4 % 2]
        parts = [{"name": "Bar", "along": [-1, 1], "up": [1.0, 1.05], "off": [0.05, 0.25]}]
        changes["spot"] = {"split": {"groups": 2, "how": how, "distance": rng.uniform(2.0, 3.5)}, "parts": parts}
    return fixed(TILT, yard={"objects": things}, **changes)


def found_by_stretches(study: Study, way: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Mean light and section currents in January, one row a direction."""
    facing = np.full(len(way), TILT), np.full(len(way), 180.0)
    found = block_irradiance(trace_array(study.scene.geometry, study.scene.yard, way, *facing), study.scene.geometry.cells)
    met = found.row >= 0
    mean, sections = np.ones(len(way)), np.ones((len(way), len(study.scene.geometry.sections.place)))
    mean[met], sections[met] = found.mean[found.state[0], found.row[met]], found.sections[found.state[0], found.row[met]]
    return mean, sections


@pytest.mark.parametrize("seed", range(9))
def test_cells_agree_with_rays_from_points_all_over_them(seed, monkeypatch):
    """Under a sun without breadth, with 64 points a cell: whole cells are the same to the last point, half-cut ones (32 of
    the 64) to a few hundredths."""
    monkeypatch.setattr("sundial.shade.array_trace.SUN_RADIUS", 1e-9)
    study = crowded(seed)
    rng = np.random.default_rng(seed)
    azimuth, height = np.radians(rng.uniform(90, 270, 24)), np.radians(rng.uniform(6, 60, 24))
    way = np.stack([np.cos(height) * np.sin(azimuth), np.cos(height) * np.cos(azimuth), np.sin(height)], axis=1)
    mean, sections = found_by_stretches(study, way)
    exact, exact_sections = cast(study, way, TILT, 180.0, side=8, disc=False)
    assert exact.min() < 0.95
    half_cut = study.scene.geometry.array.panel.half_cut
    np.testing.assert_allclose(mean, exact, atol=0.012 if half_cut else 5e-4)
    assert np.sqrt(((sections - exact_sections) ** 2).mean()) < (0.04 if half_cut else 1e-3)
    assert sections.mean() == pytest.approx(exact_sections.mean(), abs=0.005)


DAYS_APART = 25


@pytest.mark.parametrize("seed", range(10))
def test_what_shade_takes_agrees_with_rays_on_every_cell(seed):
    """Every 25th day of a year, hour by hour, through the same electrical rule: within 2 % of the loss. 64 rays a cell, since 16
    stand as far apart as a thin bar is wide and miss by up to 4 % themselves."""
    study = crowded(seed)
    light = study.scene.light
    shade = Shade(light, study.scene.geometry, study.scene.yard, study.scene.skyline, size=0)
    chosen = light.hours // 24 % DAYS_APART == 7
    lit = np.flatnonzero(chosen & (light.beam + light.circumsolar > 0))
    mean, sections = cast(study, shade.bins.directions[lit], TILT, 180.0, side=8)
    row = np.full(len(light.hours), -1)
    row[lit] = np.arange(len(lit))
    patchy = (mean - sections.min(axis=1) > 1e-9)[None]
    theirs = BlockIrradiance(row, np.zeros(12, dtype=np.int64), mean[None], sections[None], patchy)
    traced = shade.traced(TILT, 180.0)
    open_year, ours, cast_year = (_year(study, shade, blocks, chosen) for blocks in (None, traced.irradiance, theirs))
    assert open_year - cast_year > 0.05 * open_year
    assert open_year - ours == pytest.approx(open_year - cast_year, rel=0.02)


@pytest.mark.parametrize("seed", [3])
def test_the_price_of_each_thing_agrees_with_rays(seed):
    """Each thing taken away by itself, every 25th day: within 10 % and 3 kWh a year of what the same rays say."""
    study = crowded(seed)
    light = study.scene.light
    shade = Shade(light, study.scene.geometry, study.scene.yard, study.scene.skyline, size=0)
    chosen = light.hours // 24 % DAYS_APART == 7
    lit = np.flatnonzero(chosen & (light.beam + light.circumsolar > 0))
    row = np.full(len(light.hours), -1)
    row[lit] = np.arange(len(lit))

    def both(other: Study) -> tuple[float, float]:
        mine = Shade(light, other.scene.geometry, other.scene.yard, other.scene.skyline, size=0)
        mean, sections = cast(other, shade.bins.directions[lit], TILT, 180.0, side=8)
        rays = BlockIrradiance(
            row, np.zeros(12, dtype=np.int64), mean[None], sections[None], (mean - sections.min(axis=1) > 1e-9)[None]
        )
        return _year(other, mine, mine.traced(TILT, 180.0).irradiance, chosen), _year(other, mine, rays, chosen)

    ours, theirs = both(study)
    found = {}
    for thing in study.brief.yard.objects:
        without = both(study.beside(without_thing(study.brief, thing.name)))
        found[thing.name] = (DAYS_APART * (without[0] - ours), DAYS_APART * (without[1] - theirs))
    assert max(price for _, price in found.values()) > 100
    for name, (mine, price) in found.items():
        assert abs(mine - price) <= 0.1 * price + 3, (name, mine, price)


def _year(study: Study, shade: Shade, blocks: BlockIrradiance | None, chosen: np.ndarray) -> float:
    """kWh of the chosen hours behind the dome's obstacles and these shadows; None: under an open sky."""
    light, tilts, azimuths = study.scene.light, np.full(len(chosen), TILT), np.full(len(chosen), 180.0)
    factors = None
    if blocks is not None:
        plane = np.array([TILT]), np.array([180.0])
        view = shade._view(shade.traced(TILT, 180.0), shade.dome.weights(*plane), NOTHING)
        part = shade._partial(blocks, np.arange(len(chosen)), plane, view, np.ones(len(chosen)), NOTHING)
        direct, mismatch = direct_factors(part, study.scene.geometry.sections.wired, len(chosen))
        sky = view.mean[0, light.months]
        factors = ShadeFactors(direct, sky, np.ones(len(chosen)), mismatch)
    return float(convert(light, study.scene.system, tilts, azimuths, factors).ac[chosen].sum()) / 1000


def test_a_thin_pole_covers_part_of_a_cell():
    """By hand: 6 cm at 1.5 m, 4.6 cm of them left by the half-shade's edges in full dark, throw a shadow of 6 cm over cells
    18.9 cm wide: the worst cell keeps 1 - 6 / 18.9 where it lies within one, and half as much shadow falls on each of two."""
    sun = np.array([[0.0, -np.cos(np.radians(30)), np.sin(np.radians(30))]])
    panels = {"power": 430, "length": 1.722, "width": 1.134, "half_cut": False}
    for x, lit in ((0.01 + 1.134 / 12, 1 - 0.06 / 0.189), (0.01 + 1.134 / 6, 1 - 0.03 / 0.189)):
        pole = {"kind": "post", "name": "Pole", "at": [x, -1.5], "height": 9.0, "width": 0.06}
        study = fixed(TILT, yard={"objects": [pole]}, array={"rows": 1, "columns": 2}, panel=panels)
        trace = trace_array(study.scene.geometry, study.scene.yard, sun, np.array([TILT]), np.array([180.0]))
        found = block_irradiance(trace, study.scene.geometry.cells)
        assert found.sections[0, 0].min() == pytest.approx(lit, abs=0.04)
        assert (found.sections[0, 0] < 1).sum() == 1
        assert 1 - found.mean[0, 0] == pytest.approx(0.06 / (2 * 1.134), rel=0.1)
        assert coverage(trace.layers[0], study.scene.geometry.cells)[0] == pytest.approx(1 - found.mean[0, 0])


def test_things_taken_away_leave_what_was_behind_them():
    """Removing one obstacle from what is known of all is the same as never having had it."""
    study = crowded(1)
    shade = study.scene.shade
    trace = shade.traced(TILT, 180.0)
    for name in ("Flue", "Tree 0", "Bar", "The array's own rows"):
        without = frozenset({name})
        quick = block_irradiance(trace.sun, study.scene.geometry.cells, without, trace.irradiance)
        slow = block_irradiance(trace.sun, study.scene.geometry.cells, without)
        for field in ("mean", "sections", "patchy", "row"):
            np.testing.assert_array_equal(getattr(quick, field), getattr(slow, field))
        assert not np.array_equal(slow.mean, trace.irradiance.mean)
