"""An invented EPW file, south of the equator, and its way into a build."""

from __future__ import annotations

import csv
import io

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from sundial.sky.files import write_hourly
from sundial.sky.made_up import made_up_year
from sundial.sun import Site
from web.builds.models import Build
from web.shade.models import Yard


def southern_epw() -> str:
    """A year of an invented climate at 36.1 S, 144.7 E in the layout of an EPW file."""
    year = made_up_year("dry-upland", Site(-36.1, 144.7, 274.0, "Australia/Melbourne"), 8)
    lines = ["LOCATION,Invented Plain,-,-,made up,000000,-36.1,144.7,10.0,274.0", *["HEADER,0"] * 7]
    for time, ghi, dni, dhi, temperature, wind in list(csv.reader(io.StringIO(write_hourly(year))))[1:]:
        cells = ["0"] * 35
        cells[0:5] = ["2023", time[5:7], time[8:10], str(int(time[11:13]) + 1), "60"]
        cells[6], cells[13], cells[14], cells[15], cells[21] = temperature, ghi, dni, dhi, wind
        lines.append(",".join(cells))
    return "\n".join(lines)


@pytest.mark.django_db
def test_an_uploaded_epw_becomes_the_sky_of_a_southern_build(build: Build, fill):
    Yard.objects.filter(build=build).update(obstacles=[], skyline=[])
    upload = {"weather_file": SimpleUploadedFile("plain.epw", southern_epw().encode())}
    page = fill(
        build, "place", files=upload, sky_kind="file", latitude="-36.1", longitude="144.7", elevation="274"
    ).content.decode()
    assert "EPW file: Invented Plain" in page
    assert "For true north (0°)" in page
    build.place.refresh_from_db()
    assert build.place.sky_kind == "epw"
    fill(build, "frame", azimuth="")
    again = fill(build, "tilt").content.decode()
    assert "Move it twice a year" in again
