"""Aiming: declination, compass, noon on the glass, time zones."""

from datetime import date

import numpy as np
import pytest

from sundial.aim.compass import compass, noon_view
from sundial.sun import Site
from sundial.zones import zone_at

# Test values printed with the World Magnetic Model 2025 (NOAA NCEI technical report, table of test values): 2025.0, height 0.
WMM = [((80, 0), 1.28), ((0, 120), -0.16), ((-80, 240), 68.78)]


@pytest.mark.parametrize(("place", "declination"), WMM)
def test_declination_is_the_models_own_test_value(place, declination):
    longitude = place[1] if place[1] <= 180 else place[1] - 360
    found = compass(Site(place[0], longitude), date(2025, 1, 1))
    assert found.declination == pytest.approx(declination, abs=0.02)


def test_the_compass_reads_less_where_north_lies_east():
    tasmania = compass(Site(-41.3, 147.0), date(2026, 6, 1))
    assert tasmania.declination > 10
    assert tasmania.toward == 0
    assert tasmania.reading == pytest.approx(360 - tasmania.declination)
    assert tasmania.inside
    assert not compass(Site(-41.3, 147.0), date(2031, 1, 1)).inside


def test_at_noon_the_incidence_is_the_angle_between_sun_and_normal():
    view = noon_view(Site(42.9, -6.1, 0, "Europe/Madrid"), date(2026, 11, 12), np.array([0.0, 52.0, 90.0]), 180.0)
    assert view.incidence[0] == pytest.approx(90 - view.elevation, abs=0.01)
    assert view.incidence[1] == pytest.approx(abs(90 - 52 - view.elevation), abs=0.05)
    assert view.clock.startswith("13:")


def test_zones_are_found_without_a_network():
    assert zone_at(42.9, -6.1) == "Europe/Madrid"
    assert zone_at(-41.3, 147.0) == "Australia/Hobart"
    assert zone_at(0.0, -150.0).startswith("Etc/GMT")
    assert zone_at(36.4, -105.6) == "America/Denver"
