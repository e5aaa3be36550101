"""The light on the backs of tables: against random rays, against pvlib's endless rows, and what tables do to one another."""

from __future__ import annotations

import numpy as np
import pvlib
import pytest

from sundial.energy.irradiance import IrradianceComponents
from sundial.energy.rear import RearLight, Tables
from sundial.study import Study
from tests.core.conftest import study_of


@pytest.fixture(scope="module")
def study() -> Study:
    return study_of()


class RandomRays:
    """Rays from random places on the backs in random directions about their normal, in east, north and up."""

    def __init__(self, tables: Tables, tilt: float, azimuth: float, count: int, seed: int = 0) -> None:
        rng = np.random.default_rng(seed)
        t, a = np.radians(tilt), np.radians(azimuth)
        front, self.along = np.array([np.sin(a), np.cos(a), 0]), np.array([-np.cos(a), np.sin(a), 0])
        self.up, self.normal = [0, 0, np.sin(t)] - np.cos(t) * front, [0, 0, np.cos(t)] + np.sin(t) * front
        self.tables, self.count = tables, count
        way = -front if tables.how == "behind" else self.along
        self.origins = [[0, 0, tables.height] + way * tables.pitch * group for group in range(tables.groups)]
        start = np.array(self.origins)[rng.integers(0, tables.groups, count)] - 1e-4 * self.normal
        start = start + rng.uniform(-0.5, 0.5, (count, 1)) * tables.breadth * self.along
        start = start + (tables.low + rng.uniform(0, 1, (count, 1)) * tables.length) * self.up
        out, turn = np.sqrt(rng.random((count, 1))), rng.random((count, 1)) * 2 * np.pi
        ray = out * np.cos(turn) * self.along + out * np.sin(turn) * self.up - np.sqrt(1 - out * out) * self.normal
        free, down = ~self.met(start, ray), ray[:, 2] < 0
        self.sky = (free & ~down).sum() / count
        start, ray = start[free & down], ray[free & down]
        self.ground = start - ray * start[:, 2:] / ray[:, 2:]
        out, turn = np.sqrt(rng.random((6, len(start), 1))), rng.random((6, len(start), 1)) * 2 * np.pi
        dome = np.concatenate([out * np.cos(turn), out * np.sin(turn), np.sqrt(1 - out * out)], axis=2)
        self.diffuse = np.mean([~self.met(self.ground, each) for each in dome], axis=0).sum() / count

    def met(self, start: np.ndarray, ray: np.ndarray) -> np.ndarray:
        found = np.zeros(len(start), dtype=bool)
        for origin in self.origins:
            ahead = ((origin - start) @ self.normal) / (ray @ self.normal)
            at = start + ahead[:, None] * ray - origin
            v = at @ self.up - self.tables.low
            found |= (ahead > 1e-5) & (np.abs(at @ self.along) < self.tables.breadth / 2) & (v > 0) & (v < self.tables.length)
        return found

    def irradiance(self, light: IrradianceComponents, hour: int) -> float:
        sun = np.array([light.east[hour], light.north[hour], light.up[hour]])
        lit = (~self.met(self.ground, np.broadcast_to(sun, self.ground.shape))).sum() / self.count
        ground = light.albedo[hour] * (max(light.ghi[hour] - light.dhi[hour], 0) * lit + light.dhi[hour] * self.diffuse)
        behind = (light.beam + light.circumsolar)[hour] * max(-(sun @ self.normal), 0)
        return float(ground + light.isotropic[hour] * self.sky + behind)


@pytest.mark.parametrize(
    ("tables", "tilt", "azimuth"),
    [
        (Tables(1.134, 1.722, 0.3), 30.0, 180.0),
        (Tables(2.29, 3.46, 2.0), 24.0, 215.0),
        (Tables(23.0, 3.46, 0.5), 35.0, 180.0),
        (Tables(23.0, 1.722, 1.0), -60.0, 20.0),
        (Tables(4.6, 1.722, 0.3, groups=2, pitch=3.0), 30.0, 180.0),
        (Tables(4.6, 3.46, 0.8, groups=3, pitch=6.0), 47.0, 160.0),
        (Tables(4.6, 1.722, 0.5, groups=3, how="beside", pitch=5.0), 25.0, 180.0),
        (Tables(4.6, 3.46, 3.0, centre_pivot=True), 8.0, 180.0),
    ],
)
def test_the_back_sees_what_random_rays_find(study, tables, tilt, azimuth):
    """60 hours of the year: their sum within 1.5 %, whatever the breadth, the height and the tables around."""
    light = study.scene.light
    hours = np.random.default_rng(2).choice(np.flatnonzero(light.up > 0.05), 60, replace=False)
    facing = azimuth if tilt >= 0 else azimuth + 180
    rays = RandomRays(tables, abs(tilt), facing, 60_000)
    theirs = sum(rays.irradiance(light, hour) for hour in hours)
    ours = RearLight(light, tables, azimuth).fixed(np.array([tilt]), azimuth)[0][hours].sum()
    assert ours == pytest.approx(theirs, rel=0.015)


@pytest.mark.parametrize("tables", [Tables(2.29, 3.46, 2.5, centre_pivot=True), Tables(4.6, 1.722, 1.5, True, 2, "behind", 4.0)])
def test_the_back_of_a_table_that_follows_the_sun(study, tables):
    """A row keeps its bearing when its tables turn."""
    light = study.scene.light
    hours = np.random.default_rng(3).choice(np.flatnonzero(light.up > 0.05), 50, replace=False)
    tilts = 0.9 * (90 - light.elevation).clip(0, 80)
    ours = RearLight(light, tables, 180.0).of_facing(tilts, light.azimuth)
    theirs = 0.0
    for hour in hours:
        rays = RandomRays(tables, tilts[hour], light.azimuth[hour], 1)
        if tables.groups > 1:
            rays = _in_a_row(tables, tilts[hour], light.azimuth[hour], 180.0)
        else:
            rays = RandomRays(tables, tilts[hour], light.azimuth[hour], 8000, seed=int(hour))
        theirs += rays.irradiance(light, hour)
    assert ours[hours].sum() == pytest.approx(theirs, rel=0.02 if tables.groups == 1 else 0.04)


def _in_a_row(tables: Tables, tilt: float, azimuth: float, row: float) -> RandomRays:
    """Rays of tables that face ``azimuth`` where the row they stand in faces ``row``."""

    class Row(RandomRays):
        def __setattr__(self, name: str, value: object) -> None:
            if name == "origins":
                back = -np.array([np.sin(np.radians(row)), np.cos(np.radians(row)), 0])
                value = [[0, 0, tables.height] + back * tables.pitch * group for group in range(tables.groups)]
            super().__setattr__(name, value)

    return Row(tables, tilt, azimuth, 8000, seed=int(azimuth))


def test_a_tracker_lying_flat_sees_the_ground_from_its_hub(study):
    """Hung at its hub it sees lit ground from higher than from its lower edge upright."""
    light, flat = study.scene.light, np.zeros(1)
    hub = RearLight(light, Tables(2.29, 3.46, 2.2, centre_pivot=True), 180.0).fixed(flat, 180.0).sum()
    edge = RearLight(light, Tables(2.29, 3.46, 0.5), 180.0).fixed(flat, 180.0).sum()
    assert hub > 1.4 * edge
    panel = {"power": 430.0, "length": 1.722, "width": 1.134, "bifaciality": 0.75}
    study = study_of(panel=panel, array={"rows": 2, "columns": 2, "clearance": 0.5}, mount={"kind": "two-axis"})
    assert study.scene.system.standing == Tables(pytest.approx(2.288), pytest.approx(3.464), pytest.approx(0.5 + 3.464 / 2), True)


def test_rows_far_apart_are_tables_by_themselves(study):
    light, tilt = study.scene.light, np.array([30.0])
    alone = RearLight(light, Tables(4.6, 1.722, 0.5), 180.0).fixed(tilt, 180.0).sum()
    far, near = (
        RearLight(light, Tables(4.6, 1.722, 0.5, groups=2, pitch=pitch), 180.0).fixed(tilt, 180.0).sum() for pitch in (60.0, 3.0)
    )
    assert far == pytest.approx(alone, rel=0.01)
    assert near < 0.97 * alone
    panel = {"power": 430.0, "length": 1.722, "width": 1.134, "bifaciality": 0.75}
    split = {"split": {"groups": 2, "how": "behind", "distance": 60.0}}
    assert study_of(panel=panel, spot=split).scene.system.standing.groups == 2
    assert study_of(panel=panel, spot=split).scene.system.standing.length == pytest.approx(1.722)


def test_high_above_the_ground_the_rear_light_is_pvlibs(greensboro):
    """25 m up its own shadow hardly counts, which is what pvlib's rows at a very wide pitch come to."""
    weather, sun, light = greensboro.scene.weather, greensboro.scene.sun, greensboro.scene.light
    hours = light.hours
    ours = RearLight(light, Tables(400.0, 3.46, 25.0), 180.0).fixed(np.array([30.0]), 180.0)[0]
    theirs = pvlib.bifacial.infinite_sheds.get_irradiance(
        30, 180, 90 - sun.elevation[hours], sun.azimuth[hours], gcr=3.46 / 400, height=26.73, pitch=400, ghi=weather.ghi[hours], dhi=weather.dhi[hours],
        dni=weather.dni[hours], albedo=0.2, model="haydavies", dni_extra=sun.dni_extra[hours],
    )  # fmt: skip
    assert ours.sum() == pytest.approx(np.nan_to_num(np.asarray(theirs["poa_back"])).sum(), rel=0.06)


@pytest.mark.parametrize(("tilt", "clearance"), [(20.0, 0.5), (35.0, 1.5), (70.0, 0.3)])
def test_rear_light_near_the_ground_is_what_plain_rays_find(greensboro, tilt, clearance):
    """Rays from the back of the table to the ground, one by one, at the clear noons of the year."""
    light, length = greensboro.scene.light, 3.46
    facing = np.cos(np.radians(greensboro.scene.sun.azimuth[light.hours] - 180))
    picks = np.argsort(light.beam * (facing > 0.99))[-40::8]
    lean = np.radians(tilt)
    ours = RearLight(light, Tables(400.0, length, clearance), 180.0).fixed(np.array([tilt]), 180.0)[0]
    for hour in picks:
        along, up = -light.north[hour], light.up[hour]  # the sun's level part toward the front, and its height
        shadow = sorted((clearance * along / up, length * np.cos(lean) + (clearance + length * np.sin(lean)) * along / up))
        total = 0.0
        starts, angles = (np.arange(40) + 0.5) / 40, (np.arange(720) + 0.5) / 720 * np.pi
        for start in starts * length:
            x, y = start * np.cos(lean), clearance + start * np.sin(lean)
            # Directions in the plane across the row, weighted by the cosine to the back's normal; half the dome of them.
            toward_x, toward_y = np.cos(angles + lean + np.pi), np.sin(angles + lean + np.pi)
            weight = np.sin(angles) / np.sin(angles).sum()
            down = toward_y < -1e-9
            hit = x + toward_x[down] * y / -toward_y[down]
            near, far = np.arctan2(-hit, clearance), np.arctan2(length * np.cos(lean) - hit, clearance + length * np.sin(lean))
            open_sky = 1 - np.abs(np.sin(far) - np.sin(near)) / 2
            lit = (hit < shadow[0]) | (hit > shadow[1])
            ground = light.albedo[hour] * ((light.ghi[hour] - light.dhi[hour]) * lit + light.dhi[hour] * open_sky)
            total += (weight[down] * ground).sum() + weight[~down].sum() * light.isotropic[hour]
        assert ours[hour] == pytest.approx(total / 40, rel=0.04), "one hour: its shadow is that of all within 4 degrees"
