"""What ./bench runs: medians of several runs, ratios taken in one run, as a Markdown table."""

from __future__ import annotations

import argparse
import json
import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pvlib

from scripts.bench_balance import balance_rows
from scripts.bench_cutting import cutting_rows
from scripts.bench_load import load_rows
from scripts.bench_log import log_rows
from scripts.bench_shade import drag_row, drag_times, growth_row, shade_rows
from scripts.bench_tracker import tracker_rows

ROOT = Path(__file__).parents[1]
TILTS = np.arange(0.0, 91.0)
BRIEF = {
    "format": "crooked-sundial-brief", "version": 1, "name": "Bench",
    "site": {"latitude": 36.1, "longitude": -79.95, "elevation": 273.0, "timezone": "America/New_York"},
    "sky": {"kind": "tmy3", "file": "723170TYA.CSV"},
    "panel": {"power": 430.0, "length": 1.722, "width": 1.134, "gamma": -0.0034},
    "array": {"rows": 2, "columns": 4, "azimuth": 180.0},
    "mount": {"kind": "stepped", "min": 0.0, "max": 90.0, "step": 1.0},
}  # fmt: skip


def seconds(call: Callable[[], Any], runs: int) -> float:
    """Median seconds of a call."""
    taken = []
    for _ in range(runs):
        start = time.perf_counter()
        call()
        taken.append(time.perf_counter() - start)
    return statistics.median(taken)


def plain_loop() -> None:
    """What the machine's speed is told by: it moves with whatever else runs there."""
    total = 0
    for number in range(1_000_000):
        total += number


def study_of() -> Any:
    from sundial.brief.read import brief_of
    from sundial.study import studied

    folder = Path(pvlib.__file__).parent / "data"
    return studied(brief_of(BRIEF), lambda name: (folder / name).read_bytes())


def model_chain_year(weather: pd.DataFrame, tilt: float) -> float:
    """kWh DC of one tilt by pvlib's ModelChain with the same models: Hay-Davies, no glass, Faiman, DC power linear in irradiance."""
    location = pvlib.location.Location(36.1, -79.95, altitude=273.0)
    system = pvlib.pvsystem.PVSystem(
        surface_tilt=tilt, surface_azimuth=180.0, albedo=0.2, module_parameters={"pdc0": 3440.0, "gamma_pdc": -0.0034},
        inverter_parameters={"pdc0": 1e6}, temperature_model_parameters={"u0": 25.0, "u1": 6.84},
    )  # fmt: skip
    chain = pvlib.modelchain.ModelChain(
        system, location, transposition_model="haydavies", aoi_model="no_loss", spectral_model="no_loss",
        temperature_model="faiman", dc_model="pvwatts", ac_model="pvwatts", losses_model="no_loss",
    )  # fmt: skip
    chain.run_model(weather)
    return float(np.nansum(chain.results.dc)) / 1000


def core_rows() -> list[tuple[str, str, str, str]]:
    from sundial.energy.irradiance import irradiance_components
    from sundial.energy.production import tilt_surface
    from sundial.energy.system import Inverter, System
    from sundial.plan.tilt_plan import PlanConstraints, make_plans
    from sundial.siting.facings import AZIMUTHS, facings
    from sundial.siting.facings import TILTS as FACING_TILTS
    from sundial.study import studied
    from sundial.worth.comparison import compare

    study = study_of()
    year, sun = study.scene.weather, study.scene.sun
    middle = pd.date_range("2023-01-01 00:30", periods=8760, freq="h", tz="Etc/GMT+5")
    frame = pd.DataFrame({name: getattr(year, name) for name in ("ghi", "dni", "dhi", "temp_air", "wind_speed")}, index=middle)

    plain = System(study.scene.array, {}, "open-rack", Inverter(1.0), glass=False)

    def surface() -> Any:
        return tilt_surface(irradiance_components(year, sun, np.full(12, 0.2)), plain, 180.0, TILTS)

    def full_surface() -> Any:
        return tilt_surface(irradiance_components(year, sun, np.full(12, 0.2)), study.scene.system, 180.0, TILTS)

    def whole_answer() -> Any:
        fresh = studied(study.brief, study.scene.load, given_weather=year)
        fresh.own_plans  # noqa: B018
        return compare(fresh)

    def one_by_one() -> None:
        for azimuth in AZIMUTHS:
            turned = study.brief.array.model_copy(update={"azimuth": azimuth})
            other = studied(study.brief.model_copy(update={"array": turned}), study.scene.load, given_weather=year)
            for tilt in FACING_TILTS:
                other.held_year(tilt)

    each_alone, together = seconds(one_by_one, 1), seconds(lambda: facings(study.scene), 3)
    theirs = np.array([model_chain_year(frame, tilt) for tilt in TILTS])
    loop = seconds(lambda: [model_chain_year(frame, tilt) for tilt in TILTS], 3)
    worst = float(np.abs(surface().energy.sum(axis=0) / theirs - 1).max())
    made = full_surface()
    ours, plans, whole = (
        seconds(full_surface, 7),
        seconds(lambda: make_plans(made, PlanConstraints(TILTS), 36.1), 5),
        seconds(whole_answer, 5),
    )
    return [
        ("ModelChain over 91 tilts, one after the other", f"{loop:.2f} s", "the rival", ""),
        (
            "energy surface, 91 tilts x 8760 hours, full chain",
            f"{ours * 1000:.0f} ms",
            f"{loop / ours:.0f} times faster",
            "at least 100 times",
        ),
        ("yearly energies of the two, same models", "", f"{worst:.3%} apart at most", "0.1 %"),
        ("exact plans k = 1..12 with 91 tilts", f"{plans * 1000:.0f} ms", f"1/{loop / plans:.0f} of the rival", "under 1/10"),
        (
            "facings, 24 by 19, without shade",
            f"{together * 1000:.0f} ms",
            f"{each_alone / together:.0f} times faster than `plane` point by point",
            "under 150 ms",
        ),
        ("surface, plans, trackers, comparison", f"{whole * 1000:.0f} ms", f"1/{loop / whole:.0f} of the rival", "under 1/12"),
    ]


def frame_rows() -> list[tuple[str, str, str, str]]:
    """All holes of a prop with forty combinations, against one circle after the other cut by shapely."""
    from shapely.geometry import Point

    from sundial.frames.prop import Prop

    rails, lengths = (1.0, 1.1), (0.8, 0.9)
    bases = tuple(0.6 + 0.1 * step for step in range(10))

    def ours() -> list[float]:
        return [hole.tilt for hole in Prop(front_height=0.3, rail_points=rails, lengths=lengths, base_holes=bases).holes]

    def theirs() -> list[float]:
        found = []
        for rail in rails:
            for length in lengths:
                for base in bases:
                    cut = Point(0, 0).buffer(rail, 512).exterior.intersection(Point(base, 0).buffer(length, 512).exterior)
                    if not cut.is_empty:
                        found.append(float(np.degrees(max(np.arctan2(p.y, p.x) for p in getattr(cut, "geoms", [cut])))))
        return sorted(found)

    slow, fast = seconds(theirs, 5), seconds(ours, 20)
    apart = float(np.abs(np.array(ours()) - np.array(theirs())).max())
    return [
        ("holes of a frame, 40 combinations: circles cut by shapely", f"{slow * 1000:.0f} ms", "the rival", ""),
        (
            "the same by the core",
            f"{fast * 1000:.2f} ms",
            f"{slow / fast:.0f} times faster, {apart:.3f} degrees apart at most",
            "under 20 ms",
        ),
    ]


def wind_rows() -> list[tuple[str, str, str, str]]:
    """All curves of a rack in the wind, 91 tilts x 3 directions x 60 gusts, against one case after the other in plain Python."""
    from dataclasses import replace
    from math import cos, radians, sin

    from sundial.frames.load_path import GRAVITY
    from sundial.frames.prop import Prop
    from sundial.wind.pressure import standard_coefficients
    from sundial.wind.stance import Rig
    from sundial.wind.standing import DIRECTIONS, Air, standing

    held = standard_coefficients()
    rack = Prop(front_height=0.4, rail_points=(1.3,), lengths=(1.2,), base_holes=(2.4, 1.2), frames=3)
    rig = Rig(structure=rack, length=3.0, breadth=4.0, area=12.0, moving=180.0, fixed=60.0, ballast=200.0, width=3.0)
    air, gusts = Air(1.225, held, measured_at=None), np.arange(1.0, 61.0)

    fresh = iter(range(1, 1000))

    def ours(more: float = 0.0) -> np.ndarray:
        return standing(replace(rig, fixed=rig.fixed + more), air, np.arange(0.0, 91.0)).margins(gusts)

    def case(tilt: int, direction: str, gust: float) -> float:
        t, front = radians(tilt), direction == "front"
        q, weight = 0.5 * 1.225 * gust**2, (180 + 60 + 400) * GRAVITY
        if direction == "side":
            up = float(np.interp(0.0, held.tilts, held.lifting)) * 12 * q
            down = float(np.interp(0.0, held.tilts, held.pressing)) * 12 * q
            return min(weight * 1.5 / (up * 2.5), weight / up, weight * 1.5 / (down * (1.0 - 1.5)) if down < 0 else 1e300)
        c = float(np.interp(tilt, held.tilts, held.pressing if front else held.lifting))
        sense, along = (1.0, 0.75) if front else (-1.0, 2.25)
        level, up = sense * c * 12 * q * sin(t), -sense * c * 12 * q * cos(t)
        x, z = along * cos(t), 0.4 + along * sin(t)
        found = [weight / up] if up > 0 else []
        for foot, way in ((0.0, -1.0), (2.4, 1.0)):
            stays = way * GRAVITY * (180 * (foot - 1.5 * cos(t)) + 60 * (foot - 1.2) + 200 * foot + 200 * (foot - 2.4))
            over = way * level * z + up * way * (foot - x)
            found += [stays / over] if over > 1e-12 * q else []
        for way in (1.0, -1.0):
            drive = way * level + 0.5 * up
            found += [0.5 * weight / drive] if drive > 1e-12 * q else []
        return min(found, default=float("inf"))

    def theirs() -> np.ndarray:
        return np.array([[[case(t, d, g) for g in gusts.tolist()] for t in range(91)] for d in DIRECTIONS])

    slow, fast = (
        seconds(theirs, 1),
        seconds(lambda: ours(next(fresh) / 1000), 20),
    )  # another mass each time: nothing is remembered
    with np.errstate(invalid="ignore"):
        apart = float(np.nanmax(np.abs(ours() / theirs() - 1)))
    return [
        (
            "a rack in the wind, 91 tilts x 3 directions x 60 gusts, one after the other in plain Python",
            f"{slow * 1000:.0f} ms",
            "the rival",
            "",
        ),
        (
            "the same by the core",
            f"{fast * 1000:.1f} ms",
            f"{slow / fast:.0f} times faster, {apart:.1e} apart at most",
            "under 20 ms",
        ),
    ]


def month_rows() -> list[tuple[str, str, str, str]]:
    """Goals that judge whole months, exactly, on a demo build's surface."""
    from sundial.brief.read import brief_of
    from sundial.plan.tilt_plan import PlanConstraints, make_plans
    from sundial.study import studied

    site = {"latitude": 42.9, "longitude": -6.1, "elevation": 870.0, "timezone": "Europe/Madrid"}
    rows = []
    for step, count, wanted in ((1.0, 91, "under 3 s"), (0.5, 181, "under 8 s")):
        mount = {"kind": "stepped", "min": 0.0, "max": 90.0, "step": step}
        study = studied(brief_of({**BRIEF, "site": site, "sky": {"kind": "made-up", "name": "dry-upland"}, "mount": mount}))
        surface = study.surface()
        for goal in ("worst-month", "demand"):
            constraints = PlanConstraints(study.scene.reachable, goal, demand=np.full(12, 430.0))
            taken = seconds(lambda: make_plans(surface, constraints, 42.9), 3)  # noqa: B023
            rows.append((f"exact plans for {goal}, k = 1..12 with {count} tilts", f"{taken:.2f} s", "", wanted))
    return rows


def process_rows() -> list[tuple[str, str, str, str]]:
    """Whole processes of the command line, start to end: a weather file that ships with pvlib, and a sky that is grown first."""
    folder = ROOT / "var"
    site = {"latitude": 36.1, "longitude": -79.95, "elevation": 273.0, "timezone": "America/New_York"}
    name = Path(pvlib.__file__).parent / "data" / "723170TYA.CSV"
    (folder / name.name).write_bytes(name.read_bytes())
    briefs = {
        "bench.json": BRIEF,
        "bench-file.json": {**BRIEF, "site": site, "sky": {"kind": "tmy3", "file": name.name}},
        "bench-grown.json": {**BRIEF, "site": site, "sky": {"kind": "world"}},
    }
    for file, brief in briefs.items():
        (folder / file).write_text(json.dumps(brief))
    rows = []
    for what, arguments, wanted in (
        ("sun", ["sun", "bench.json", "--at", "2026-06-21T13:00"], "under 0.6 s"),
        ("schedule --moves 12 --tilts all", ["schedule", "bench-file.json", "--moves", "12", "--tilts", "all"], "under 1.5 s"),
        ("schedule --moves 12 --tilts all", ["schedule", "bench-grown.json", "--moves", "12", "--tilts", "all"], ""),
    ):
        command = [sys.executable, "-m", "sundial", arguments[0], str(folder / arguments[1]), *arguments[2:]]
        taken = seconds(lambda: subprocess.run(command, cwd=ROOT, check=True, capture_output=True), 5)  # noqa: B023, S603
        sky = {"bench-file.json": ", weather file", "bench-grown.json": ", grown sky"}.get(arguments[1], "")
        rows.append((f"`python -m sundial {what}`, start to end{sky}", f"{taken:.2f} s", "", wanted))
    return rows


def web_rows() -> list[tuple[str, str, str, str]]:
    import django

    django.setup()
    from django.conf import settings
    from django.core.management import call_command
    from django.db import connection
    from django.test import Client

    from web.warm import warm_up

    warm_up()  # as every server process does before its first request
    call_command("collectstatic", interactive=False, verbosity=0)
    settings.DATABASES["default"]["TEST"]["NAME"] = "test_sundial_bench"
    old = connection.settings_dict["NAME"]
    connection.creation.create_test_db(verbosity=0, autoclobber=True)
    try:
        client = _plain(Client)(SERVER_NAME="127.0.0.1")
        first = first_build(client)
        taken = changes(client)
        holes = moved_holes(client)
        dragged = drag_times(client)
        logged = log_rows(client, form_data)
        loaded = load_rows(form_data)
    finally:
        connection.creation.destroy_test_db(old, verbosity=0)
    saves = {station: [save for save, _ in times] for station, times in taken.items()}
    whole = {station: [save + figures for save, figures in times] for station, times in taken.items()}
    every = [one for times in saves.values() for one in times]
    stood = [one for times in whole.values() for one in times]

    def line(what: str, times: list[float], wanted: str = "") -> tuple[str, str, str, str]:
        late = f"{np.percentile(times, 95) * 1000:.0f} ms at the 95th percentile"
        return (what, f"{statistics.median(times) * 1000:.0f} ms median", late, wanted)

    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return [
        line(f"a save on a screen, server side, {len(every)} changes, demo builds", every, "300 ms"),
        *(
            line(f"of these on the {station} screen", times, "300 ms" if station in ("frame", "place", "wind", "cutting") else "")
            for station, times in saves.items()
        ),
        line("a save and the new figures after it", stood),
        *(
            line(f"of these on the {station} screen", times, "150 ms" if station in ("wind", "cutting") else "")
            for station, times in whole.items()
        ),
        line("energies after a hole of the bar is moved", holes, "150 ms"),
        drag_row(dragged),
        *loaded,
        *logged,
        ("first full computation of a new build, all its stations", f"{first:.2f} s", "", "under 2 s"),
        ("peak memory of this process, all of the above", f"{memory:.0f} MB", "", "under 500 MB"),
    ]


def _plain(client: type[Any]) -> type[Any]:
    """A test client without the knot that it ties into every answer (which holds itself, and all that its page was made of): a server
    ties none."""

    class Plain(client):  # type: ignore[misc]
        def request(self, **request: Any) -> Any:
            answer = super().request(**request)
            answer.json = answer.context = answer.templates = None
            return answer

    return Plain


def form_data(build: Any, station: str) -> dict[str, Any]:
    """What the station's form shows for the build, as the browser would send it back."""
    from web.builds import registry

    form = registry.station(station).form(build)
    data: dict[str, Any] = {"version": build.version}
    for name, field in form.fields.items():
        value = form[name].value()
        shown = field.prepare_value(value) if hasattr(field, "prepare_value") else value
        if shown is not None and shown is not False:
            data[name] = "on" if shown is True else shown
    return data


def first_build(client: Any) -> float:
    """Seconds from an untouched build to all its stations."""
    from django.contrib.auth.models import User

    from web.builds.briefs import build_from_brief, default_brief

    person = User.objects.create_user("bench", password=None)
    client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    client.get("/builds/")
    build = build_from_brief(person, default_brief("New"))
    start = time.perf_counter()
    for station in ("place", "shade", "frame", "tilt", "worth"):
        assert client.get(f"/builds/{build.pk}/{station}/").status_code == 200  # noqa: S101
    return time.perf_counter() - start


def changes(client: Any) -> dict[str, list[tuple[float, float]]]:
    """Seconds of each of many small changes to the demo builds, as a person makes them: until it is saved, and from there
    until the new figures stand."""
    from web.accounts.demo import ensure_demo
    from web.builds.models import Build

    demo = ensure_demo()
    client.force_login(demo, backend="django.contrib.auth.backends.ModelBackend")
    edits: list[tuple[str, dict[str, Any]]] = []
    for i in range(8):
        edits += [
            ("tilt", {"settings": str(1 + i)}),
            ("tilt", {"minutes_per_move": str(10 + i)}),
            ("tilt", {"goal": ("winter", "year", "worst-month", "year", "winter", "year", "winter", "year")[i]}),
            ("worth", {"import_price": f"0.{20 + i}"}),
            ("worth", {"two-axis_cost": str(900 + 10 * i)}),
            ("frame", {"clearance": f"0.{5 + i % 4} m"}),
            ("frame", {"power": str(400 + 5 * i)}),
            ("place", {"elevation": f"{400 + i} m"}),
            ("wind", {"ballast": str(700 + 10 * i)}),
            ("wind", {"gust": f"{40 + i} m/s"}),
            ("cutting", {"kerf": f"{2 + i / 4} mm"}),
            ("cutting", {"cable_length": f"{10 + i}"}),
        ]
    taken: dict[str, list[tuple[float, float]]] = {}
    for build in Build.objects.of(demo):
        for station, answers in edits:
            address = f"/builds/{build.pk}/{station}/"
            client.get(address)  # a person looks at the page before changing it
            data = form_data(Build.objects.whole().get(pk=build.pk), station) | answers
            start = time.perf_counter()
            answer = client.post(address, data, headers={"HX-Request": "true"})
            saved = time.perf_counter()
            assert b">saved<" in answer.content, (station, answers)  # noqa: S101
            client.get(address, {"part": "answer"}, headers={"HX-Request": "true"})
            taken.setdefault(station, []).append((saved - start, time.perf_counter() - saved))
    return taken


def moved_holes(client: Any) -> list[float]:
    """Seconds until new energies stand after the last hole of the honey house's bar was moved by 5 mm, and saved."""
    from web.accounts.demo import ensure_demo
    from web.builds.models import Build

    build = Build.objects.get(owner=ensure_demo(), name="Honey house")
    address, taken = f"/builds/{build.pk}/frame/", []
    client.get(address)
    for step in range(24):
        data = form_data(Build.objects.whole().get(pk=build.pk), "frame")
        bar = data["base_holes"].rpartition(";")[0]
        answer = client.post(
            address, data | {"base_holes": f"{bar}; {1.25 + 0.005 * step:.3f} m"}, headers={"HX-Request": "true"}
        )
        assert b">saved<" in answer.content  # noqa: S101
        start = time.perf_counter()
        client.get(address, {"part": "answer"}, headers={"HX-Request": "true"})
        taken.append(time.perf_counter() - start)
    return taken


def main() -> None:
    parser = argparse.ArgumentParser(prog="./bench", description=__doc__)
    parser.add_argument("--write", action="store_true", help="put the table into docs/method.md")
    parser.add_argument("--only", choices=("core", "web"))
    options = parser.parse_args()
    before = seconds(plain_loop, 5)
    rows = (
        []
        if options.only == "web"
        else [
            *core_rows(),
            *frame_rows(),
            *wind_rows(),
            *cutting_rows(),
            *balance_rows(BRIEF),
            *month_rows(),
            *shade_rows(BRIEF, seconds),
            *tracker_rows(),
            growth_row(BRIEF, seconds),
            *process_rows(),
        ]
    )
    if options.only != "core":
        rows += web_rows()
    loops = f"{before * 1000:.0f} ms before the rest", f"{seconds(plain_loop, 5) * 1000:.0f} ms after it"
    rows.insert(0, ("a million additions in a plain Python loop: the speed of this machine just then", *loops, ""))
    table = "\n".join(
        ["| what | took | ratio or detail | wanted |", "| --- | --- | --- | --- |", *(f"| {' | '.join(row)} |" for row in rows)]
    )
    print(table)
    if options.write:
        path = ROOT / "docs" / "method.md"
        text = path.read_text()
        before, _, rest = text.partition("<!-- bench -->")
        after = rest.partition("<!-- /bench -->")[2]
        path.write_text(f"{before}<!-- bench -->\n{table}\n<!-- /bench -->{after}")


if __name__ == "__main__":
    main()
