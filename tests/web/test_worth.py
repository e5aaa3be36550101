"""Worth it? by the hour: what is told of use, tariff and battery, what is refused beside it, files in and out, whose it is."""

from __future__ import annotations

import csv
import io
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from sundial.balance.sums import Sums
from tests.web.conftest import build_for
from web.builds.briefs import brief_data
from web.builds.models import Build
from web.builds.results import Results
from web.worth.models import Usage
from web.worth.tables import read_band, read_block, write_band, write_block

GRID = {"kind": "grid", "yearly": 3600.0, "shape": "home-day", "import_price": 0.3, "export_price": 0.05}
HUT = {"kind": "off-grid", "demand": 6.0, "shape": "home-evening", "missing_price": 0.6}


def text_of(answer: Any) -> str:
    return answer.content.decode()


def reread(build: Build) -> Build:
    return Build.objects.whole().get(pk=build.pk)


def sums_of(build: Build) -> Sums:
    return Results(reread(build))["worth"].comparison.base.sums


@pytest.fixture
def shared(person):
    """A build of which only a share is told to be used."""
    return build_for(person, use={"kind": "grid", "own_share": 0.45}, battery=None)


def test_a_share_stays_what_it_was_until_hours_are_told(site, shared, fill):
    page = text_of(site.get(f"/builds/{shared.pk}/worth/"))
    assert "What becomes of a kWh here" not in page and "give a battery under" in page
    answer = fill(shared, "worth", use_kind="grid", yearly="2400", shape="home-evening", battery="4")
    assert "What becomes of a kWh here" in text_of(answer) and "stored" in text_of(answer)
    brief = Results(reread(shared)).brief
    assert brief.use.yearly == 2400 and brief.use.shape == "home-evening" and brief.battery.usable == 4
    assert sums_of(shared).demand == pytest.approx(2400)
    page = text_of(site.get(f"/builds/{shared.pk}/worth/"))
    assert "give a battery under" not in page and "A battery 2 kWh bigger" in page
    fill(shared, "worth", use_kind="share")
    assert Results(reread(shared)).brief.battery is None, "a share has no hours for a battery"
    assert Usage.objects.get(build=shared).battery == 4, "and it is kept for when there are some"


def test_off_grid_counts_empty_days_and_the_plan_can_aim_at_them(site, shared, fill):
    fill(shared, "worth", use_kind="off-grid", demand="9", battery="6")
    page = text_of(site.get(f"/builds/{shared.pk}/worth/"))
    assert "empty days" in page and "The battery through the year" in page and "Something is missing:" in page
    empty = sums_of(shared).empty_days
    assert empty > 3
    answer = text_of(fill(shared, "tilt", goal="empty-days"))
    assert "empty days</b> a year" in answer
    chosen = Results(reread(shared)).plan.chosen
    assert -chosen.goal_value <= empty
    fill(shared, "worth", use_kind="grid", yearly="3000")
    refused = text_of(fill(shared, "tilt", goal="empty-days", settings="3"))
    assert "off-grid use without a generator" in refused


@pytest.mark.parametrize(
    ("answers", "words"),
    [
        ({"battery": "0"}, "A battery of 0 kWh is none: leave it empty."),
        ({"battery": "5", "round_trip": "120"}, "from 1 to 100"),
        ({"yearly": "-5"}, "from 1"),
        ({"yearly": ""}, "Give what is used in a year, or in each month, or a file of it."),
        ({"monthly": "0"}, "Nothing is used in any month."),
        ({"monthly": "1, 2, 3"}, "Give one number, or twelve"),
        ({"bands": "7-23; 0.31"}, "No band holds at 00:00"),
        ({"bands": "7-23; 0.31\n22-8; 0.2"}, "Bands 1 and 2 overlap at 22:00"),
        ({"bands": "7-23; dear"}, "Line 1, “7-23; dear”"),
        ({"bands": "7:30-23; 0.3"}, "whole hours"),
        ({"bands": "7-23; 0.3; Smarch\nrest; 0.1"}, "is no month"),
        ({"blocks": "200; 0.05\n100; 0.1\nover; 0.2"}, "Block 2 ends at 100 kWh"),
        ({"blocks": "200; 0.05"}, "what a kWh over 200 costs"),
        ({"export_limit": "-1"}, "from 0"),
    ],
)
def test_what_cannot_be_is_refused_beside_it(site, shared, fill, answers, words):
    answer = text_of(fill(shared, "worth", **{"use_kind": "grid", "yearly": "3600", **answers}))
    assert words in answer
    assert Results(reread(shared)).brief.use.yearly is None, "nothing was saved"


def test_zero_prices_and_a_limit_of_zero_are_told(site, shared, fill):
    answer = text_of(fill(shared, "worth", use_kind="grid", yearly="3600", import_price="0", export_price="0", export_limit="0"))
    assert "no kWh is worth anything" in answer and "nothing is sold" in answer and "Buy nothing" in answer


def test_tariffs_are_typed_in_lines():
    band = read_band(["22-6", "0.19", "Nov-Feb 6"], "metric")
    assert band == {"price": 0.19, "from": "22:00", "to": "06:00", "months": [1, 2, 6, 11, 12]}
    assert write_band(band, "metric") == "22-6; 0.19; Jun Nov-Feb"
    assert read_band(["rest", "0,31"], "metric") == {"price": 0.31}
    assert write_band({"price": 0.31}, "metric") == "rest; 0.31"
    assert read_block(["over", "0.2"], "metric") == {"up_to": None, "price": 0.2}
    assert write_block(read_block(["150 kWh", "0.1"], "metric"), "metric") == "150; 0.1"
    for cells in (["25-3", "1"], ["7-7", "1"], ["7-23"], ["noon", "1"]):
        with pytest.raises(ValueError, match=r"part of a day|give the hours"):
            read_band(cells, "metric")


def test_a_file_of_the_use_is_read_kept_exported_and_dropped(site, shared, fill, person):
    week = "\n".join(
        ["when;Load (kWh)", *(f"{n // 24} {n % 24}:00;{0.2 + (n % 24) / 50:.2f}".replace(".", ",") for n in range(168))]
    )
    file = SimpleUploadedFile("my meter.csv", week.encode(), "text/csv")
    answer = text_of(fill(shared, "worth", use_kind="grid", files={"profile_file": file}, profile_unit="kWh"))
    assert "The file holds 72 kWh in a week; its columns: when, Load (kWh)." in answer
    held = Usage.objects.get(build=shared)
    assert held.profile_name == "use-my meter.csv" and held.yearly is None
    assert sums_of(shared).demand == pytest.approx(72.24 * 365 / 7, rel=0.01)
    assert site.get(f"/builds/{shared.pk}/worth/profile").content == week.encode()
    brief = site.get(reverse("builds:export", args=[shared.pk])).content
    assert b'"file": "use-my meter.csv"' in brief
    forms = {"creation_key": "3f8f4d4e-8b42-4f5f-9a53-111111111111"}
    lone = site.post(reverse("builds:import"), {"brief": SimpleUploadedFile("b.json", brief), **forms}, follow=True)
    assert "choose it too" in text_of(lone)
    both = {"brief": SimpleUploadedFile("b.json", brief), "use": SimpleUploadedFile("x.csv", week.encode()), **forms}
    site.post(reverse("builds:import"), both, follow=True)
    twin = Build.objects.filter(owner=person).exclude(pk=shared.pk).get()
    assert Results(reread(twin)).study.needs.demand.sum() == pytest.approx(Results(reread(shared)).study.needs.demand.sum())
    for words, content in (("Row 2: ", b"time,use\n2025-01-01 00:00,x\n"), ("is empty", b" ")):
        bad = text_of(fill(shared, "worth", files={"profile_file": SimpleUploadedFile("bad.csv", content)}))
        assert words in bad
    assert Usage.objects.get(build=shared).profile_name == "use-my meter.csv", "what was there stays"
    fill(shared, "worth", drop_profile="on", yearly="3000")
    assert Usage.objects.get(build=shared).profile_digest == ""


def test_the_hours_as_a_file_follow_the_way_that_is_shown(site, shared, fill):
    fill(shared, "worth", use_kind="grid", yearly="3600", battery="5")
    shown = site.post(f"/builds/{shared.pk}/worth/use/", {"way": "flat", "quantity": "sold"}, headers={"HX-Request": "true"})
    assert shown.status_code == 204 and shown["HX-Trigger"] == "figures-stale"
    rows = list(csv.DictReader(io.StringIO(site.get(f"/builds/{shared.pk}/worth/hours.csv").content.decode())))
    assert len(rows) == 8760
    flat = Results(reread(shared))["worth"].row("flat")
    assert sum(float(row["energy"]) for row in rows) / 1000 == pytest.approx(flat.energy, rel=1e-3)
    page = text_of(site.get(f"/builds/{shared.pk}/worth/"))
    assert '<option value="flat" selected>' in page and "The year by the hour: sold" in page
    plain = site.post(f"/builds/{shared.pk}/worth/use/", {"way": "two-moves"}, follow=True)
    assert '<option value="two-moves" selected>' in text_of(plain), "without a script too"
    assert Build.objects.get(pk=shared.pk).version == reread(shared).version


def test_what_is_another_persons_stays_theirs(client, stranger, shared):
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    for path in ("profile", "hours.csv", ""):
        assert client.get(f"/builds/{shared.pk}/worth/{path}").status_code == 404
    assert client.post(f"/builds/{shared.pk}/worth/use/", {"way": "flat"}).status_code == 404


def test_a_price_of_the_tariff_computes_no_year_anew(site, shared, fill, monkeypatch):
    from web.worth import station as station_module

    fill(shared, "worth", use_kind="grid", yearly="3600")
    counted: list[int] = []
    real = station_module.ways_of
    monkeypatch.setattr(station_module, "ways_of", lambda study: counted.append(1) or real(study))
    for answers in ({"import_price": "0.4"}, {"battery": "3"}, {"bands": "7-23; 0.31\nrest; 0.19"}, {"yearly": "3000"}):
        assert "saved" in text_of(fill(shared, "worth", **answers))
    assert counted == []


def test_builds_of_a_yard_share_the_use(person, site):
    use = {"group": "Sorrel", "use": GRID, "battery": {"usable": 3.0}}
    one = build_for(person, name="One", **use)
    alone = sums_of(one)
    build_for(person, name="Two", spot={"x": 40.0, "y": 0.0}, **use)
    beside = sums_of(one)
    assert beside.made > 1.8 * alone.made and beside.demand == alone.demand
    assert "What becomes of a kWh here" in text_of(site.get(f"/builds/{one.pk}/worth/"))


def test_offers_of_panels_side_by_side(site, build):
    lines = "320 W; 320; 41; 90; 1.69 m; 1 m\n410 W two-sided; 410; 66; 120; 1.72 m; 1.13 m; 70\nnonsense"
    page = site.get(f"/builds/{build.pk}/worth/offers/", {"panel-offers": lines}).content.decode()
    assert "Line 3, “nonsense”: give a name, the watts and the price of one." in page and lines.splitlines()[0] in page
    page = site.get(f"/builds/{build.pk}/worth/offers/", {"panel-offers": lines.rsplit("\n", 1)[0]}).content.decode()
    assert page.count('<tr><th scope="row">') == 2 and "2 × 4, upright" in page
    assert (
        "none fits" in site.get(f"/builds/{build.pk}/worth/offers/", {"panel-offers": "x; 900; 1; 1; 4.9; 4.9"}).content.decode()
    )
    assert "one to 5" in site.get(f"/builds/{build.pk}/worth/offers/", {"panel-offers": ""}).content.decode()


def test_anothers_offers_are_not_told(site, stranger):
    assert site.get(f"/builds/{build_for(stranger).pk}/worth/offers/").status_code == 404


OTHERS = {
    "Two-sided ones beside it": {"kind": "more-own", "count": "3", "bifaciality": "75", "extra_cost": "600"},
    "The barn's roof": {"kind": "elsewhere", "azimuth": "95", "tilt": "24", "extra_cost": "-300"},
}


@pytest.mark.parametrize("name", OTHERS)
def test_other_panels_are_rows_of_the_comparison(site, build, name):
    told = {"version": str(reread(build).version), "name": name, **OTHERS[name]}
    assert site.post(f"/builds/{build.pk}/worth/rows/", told).status_code == 302
    page = site.get(f"/builds/{build.pk}/worth/").content.decode()
    assert name.replace("'", "&#x27;") in page
    row = next(row for row in Results(reread(build))["worth"].comparison.rows if row.name == name)
    assert row.kind == OTHERS[name]["kind"] and row.extra_cost == float(OTHERS[name]["extra_cost"])
    (option,) = reread(build).options.filter(row=None)
    assert brief_data(reread(build))["options"][-1]["panels"] == option.panels


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"kind": "more-own", "count": ""}, "Say how many."),
        ({"kind": "elsewhere", "azimuth": "", "tilt": "20"}, "Say which way they face."),
        ({"kind": "elsewhere", "azimuth": "95", "tilt": ""}, "Say at which angle."),
        ({"kind": "more-own", "count": "2", "tilt": "120"}, "90"),
    ],
)
def test_other_panels_that_are_not_told_whole_are_asked_about(site, build, change, words):
    told = {"version": str(reread(build).version), "name": "Some", **change}
    answer = site.post(f"/builds/{build.pk}/worth/rows/", told)
    assert answer.status_code == 422 and words in answer.content.decode()
    assert not reread(build).options.filter(row=None).exists()


def test_the_whole_build_is_set_against_the_roof(site, build, fill):
    fill(build, "worth", spent="1400")
    told = {"version": str(reread(build).version), "name": "Shed roof", "kind": "elsewhere", "azimuth": "150", "tilt": "12"}
    site.post(f"/builds/{build.pk}/worth/rows/", told)
    page = site.get(f"/builds/{build.pk}/worth/").content.decode()
    assert "Against “Shed roof”" in page


def test_what_is_known_of_its_cost_is_taken_over(site, build, fill):
    fill(build, "worth", panel_cost="120", spent="")
    Results(reread(build))["cutting"]
    page = site.get(f"/builds/{build.pk}/worth/").content.decode()
    count, cutting = Results(reread(build)).scene.array.count, Results(reread(build))["cutting"]
    assert f"{count} panels" in page and "as its cost" in page
    assert site.post(f"/builds/{build.pk}/worth/spent/").status_code == 302
    assert reread(build).economics.spent == pytest.approx(round(count * 120 + cutting.total, 2))
    assert "as its cost" not in site.get(f"/builds/{build.pk}/worth/").content.decode()


def test_anothers_cost_is_not_taken_over(site, stranger):
    other = build_for(stranger)
    assert site.post(f"/builds/{other.pk}/worth/spent/").status_code == 404
    assert Build.objects.whole().get(pk=other.pk).economics.spent is None
