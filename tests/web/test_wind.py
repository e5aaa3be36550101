"""The wind's station: nothing told, told, wrong, and what it does to plan, calendar and comparison."""

import io

import pytest
from pypdf import PdfReader

from sundial.answers.plan.report import plan_report
from tests.web.conftest import build_for
from web.builds import results as results_module
from web.builds.models import Build
from web.builds.results import Results

WIND = {
    "gust": 28.0, "surroundings": "farmland", "gusts": [26.0, 26.0, 25.0, 24.0, 22.0, 20.0, 19.0, 20.0, 22.0, 24.0, 25.0, 26.0],
    "anchored": False, "frame_mass": 160.0, "ballast": 300.0, "width": 3.4,
}  # fmt: skip


@pytest.fixture
def windy(person):
    return build_for(person, wind=WIND, footing=None, beams=[], snow=None)


def reread(build):
    return Build.objects.whole().get(pk=build.pk)


def text_of(answer):
    return answer.content.decode()


def test_nothing_counts_until_it_is_told(site, build, fill):
    page = site.get(f"/builds/{build.pk}/wind/")
    assert "How hard does it blow where it stands?" in text_of(page) and "Reckon with the wind" in text_of(page)
    assert Results(reread(build)).brief.wind is None
    answer = text_of(fill(build, "wind", ballast="700", frame_mass="150"))
    assert "it tips at" in answer.lower() or "stands every month" in answer
    brief = Results(reread(build)).brief
    assert brief.wind is not None and brief.wind.ballast == 700 and brief.wind.frame_mass == 150


def test_the_answer_names_what_happens_the_months_and_the_price(site, windy):
    page = site.get(f"/builds/{windy.pk}/wind/")
    report, months = page.context["wind"], page.context["months"]
    assert f"tips at {report.steepest.gives_way:.0f} m/s when steep" in text_of(page)
    needed = [month for month in months if month.needs]
    assert needed and f"costs {report.price.year:.0f} kWh a year" in text_of(page)
    assert "Planning estimate" in text_of(page) and "Do not leave it raised above" in text_of(page)


def test_switched_months_change_plan_calendar_ribbon_and_comparison(site, windy, fill):
    before = Results(reread(windy)).plan
    calendar = site.get(f"/builds/{windy.pk}/tilt/moves.ics").content
    barred = site.get(f"/builds/{windy.pk}/worth/")
    assert "the wind rules it out" in text_of(barred), (
        "a plan that stands steeper than a month's gust allows is no recommendation"
    )
    fill(windy, "wind", in_plan=[str(month) for month in range(1, 13)])
    report, after = Results(reread(windy))["wind"], Results(reread(windy)).plan
    assert before.chosen.energy - after.chosen.energy == pytest.approx(report.price.in_force, abs=0.01)
    assert report.price.in_force == pytest.approx(report.price.year, abs=0.01) and report.price.year > 1
    caps = [cap if cap is not None else min(after.reachable) for cap in report.caps]
    assert list(after.wind_cap) == pytest.approx(caps)
    assert site.get(f"/builds/{windy.pk}/tilt/moves.ics").content != calendar
    assert 'class="windy"' in text_of(site.get(f"/builds/{windy.pk}/tilt/"))
    assert "Two settings a year" in text_of(site.get(f"/builds/{windy.pk}/worth/"))
    two = Results(reread(windy))["worth"].row("two-moves")
    assert two is not None and two.ruled_out is None


def test_ballast_alone_computes_no_plan_anew(site, windy, fill, monkeypatch):
    counted = []
    monkeypatch.setattr(results_module, "plan_report", lambda study: counted.append(1) or plan_report(study))
    site.get(f"/builds/{windy.pk}/wind/")
    counted.clear()
    fill(windy, "wind", ballast="350")
    assert counted == [], "no month is in the plan: it follows from no ballast"
    fill(windy, "wind", in_plan=["1", "12"])
    assert len(counted) == 1
    fill(windy, "wind", ballast="351")
    assert len(counted) == 1, "the caps are the same"
    fill(windy, "wind", ballast="900")
    assert len(counted) == 2


REFUSED = [
    ({"gust": "70"}, "gust", "would be 252 km/h"),
    ({"gust": "400"}, "gust", "is it km/h"),
    ({"gust": "-4"}, "gust", "not a speed"),
    ({"gusts": "26, 26, 130" + ", 20" * 9}, "gusts", "Number 3"),
    ({"ballast": "-1"}, "ballast", "Give 0 kg to 100000 kg"),
    ({"friction": "1.6"}, "friction", "from 0 to 1.5"),
    ({"factor": "0.5"}, "factor", "from 1 to 5"),
    ({"front_foot": "0.1 m"}, "back_foot", "both lines"),
    ({"front_foot": "1 m", "back_foot": "1.2 m"}, "front_foot", "in still air"),
    ({"anchored": "no", "frame_mass": "nought"}, "frame_mass", "is no mass"),
    ({"footing_kind": "post", "footing_soil": "peat"}, "footing_soil", "counted on"),
    ({"footing_kind": "screw"}, "footing_rating", "never assumed"),
    ({"footing_kind": "pier", "footing_fresh_fill": "on"}, "footing_fresh_fill", "counted on"),
    ({"footing_kind": "post", "footing_depth": "90 m"}, "footing_depth", "Give a length"),
    ({"table": "0 0.3 0.6\n30 a b"}, "table", "Line 2"),
    ({"table": "30 1.2 1.8"}, "table", "Two tilts"),
    ({"snow_load": "40"}, "snow_load", "Give 0 kN/m² to 20 kN/m²"),
]


@pytest.mark.parametrize(("typed", "field", "words"), REFUSED)
def test_wrong_answers_are_refused_beside_their_field(site, windy, fill, typed, field, words):
    before = Results(reread(windy)).brief
    answer = fill(windy, "wind", htmx=False, **typed)
    assert answer.status_code == 422
    assert any(words in error for error in answer.context["form"].errors[field]), answer.context["form"].errors
    for name, value in typed.items():
        assert answer.context["form"][name].value() == (True if value == "on" else value), "what was typed is kept"
    assert Results(reread(windy)).brief == before


def test_own_coefficients_are_typed_and_kept(site, windy, fill):
    before = Results(reread(windy))["wind"].steepest.lifting
    fill(windy, "wind", table="0  0.3 0.9\n90; 0,3; 0,9")
    assert reread(windy).wind.table == [[0.0, 0.3, 0.9], [90.0, 0.3, 0.9]]
    assert Results(reread(windy))["wind"].steepest.lifting == pytest.approx(before / 2)
    fill(windy, "wind", table="")
    assert reread(windy).wind.table is None


def test_nothing_that_weighs_is_refused(site, person, fill):
    light = build_for(person, wind=WIND, panel={"power": 430.0, "length": 1.722, "width": 1.134, "mass": 0.0})
    answer = fill(light, "wind", htmx=False, ballast="0", frame_mass="0")
    assert any("weighs" in error for error in answer.context["form"].errors["frame_mass"])


@pytest.mark.parametrize(
    ("typed", "speed"), [("90 km/h", 25.0), ("56 mph", 25.03), ("70 m/s", 70.0), ("48,6 kn", 25.0), ("25", 25.0)]
)
def test_gusts_are_read_in_any_unit(site, windy, fill, typed, speed):
    fill(windy, "wind", gust=typed, gusts="")
    assert reread(windy).wind.gust == pytest.approx(speed, abs=0.02)


def test_a_forecast_says_what_to_do(site, windy):
    def asked(**told):
        return site.get(f"/builds/{windy.pk}/wind/forecast/", told)

    report = Results(reread(windy))["wind"]
    calm, storm = asked(forecast_gust="6"), asked(forecast_gust="28")
    assert calm.context["advice"].todo == "stay" and "Leave it as it stands" in text_of(calm)
    assert storm.context["advice"].todo in ("lower", "flat", "beyond")
    mean = asked(mean="8 m/s")
    assert mean.context["advice"].gust == pytest.approx(8 * 1.7), "farmland's gust factor"
    lowest = report.flattest.allowed
    assert asked(forecast_gust=f"{lowest * 1.02:.2f} m/s").context["advice"].todo == "beyond"
    assert "Give the mean wind or the gust" in text_of(asked())
    assert "not a speed" in text_of(asked(forecast_gust="strong"))


def test_a_known_force_is_scaled_by_the_square(site, windy):
    answer = site.get(f"/builds/{windy.pk}/wind/scaled/", {"force": "900", "at": "18", "other": "27"})
    assert answer.context["found"]["force"] == pytest.approx(2025)
    assert "twice the wind, four times the force" in text_of(answer)
    assert "not a speed" in text_of(site.get(f"/builds/{windy.pk}/wind/scaled/", {"force": "900", "at": "x", "other": "27"}))
    assert "Give a speed over 0" in text_of(
        site.get(f"/builds/{windy.pk}/wind/scaled/", {"force": "900", "at": "0", "other": "27"})
    )


def test_beams_and_levels_come_and_go(site, windy):
    def post(what, **data):
        version = reread(windy).version
        return site.post(f"/builds/{windy.pk}/wind/{what}", {"version": version, **data})

    beam = {"name": "purlin", "section": "45x95 C24", "span": "1.8", "spacing": "90 cm", "members": "1"}
    assert post("beams/", **beam).status_code == 302
    page = site.get(f"/builds/{windy.pk}/wind/")
    assert page.context["beams"][0].ok and "45x95 C24" in text_of(page)
    wrong = post("beams/", **{**beam, "section": "pine", "span": "0"})
    assert wrong.status_code == 422 and "names no size" in text_of(wrong) and "Give a length from" in text_of(wrong)
    ends = {**beam, "name": "porch", "beyond_first": "2 ft", "beyond_last": "", "carries": "floor", "load": "900 N/m"}
    assert post("beams/", **ends).status_code == 302
    held = reread(windy).footing.beams[1]
    assert held["beyond"] == [pytest.approx(0.6096), 0.0] and held["carries"] == "floor"
    page = site.get(f"/builds/{windy.pk}/wind/")
    porch = page.context["beams"][1]
    assert len(porch.supports) == 2 and porch.supports[0] > 10 and "beyond" in text_of(page)
    assert any(note.startswith("The worst of them is") for note in page.context["beam_notes"])
    assert post("beams/1/delete/").status_code == 302
    assert post("levels/", date="2026-05-01", levels="10, 12, 11").status_code == 302
    assert post("levels/", date="2026-11-01", levels="8 -40 9").status_code == 302
    page = site.get(f"/builds/{windy.pk}/wind/")
    assert page.context["footing"].settling[1].uneven and "L/200" in text_of(page)
    odd = post("levels/", date="2026-12-01", levels="8, 9")
    assert odd.status_code == 422 and "2 feet" in text_of(odd)
    assert "Foot 2" in text_of(post("levels/", date="2026-12-01", levels="8, deep"))
    assert post("levels/0/delete/").status_code == 302 and len(reread(windy).footing.levels) == 1
    assert post("beams/0/delete/").status_code == 302 and reread(windy).footing.beams == []
    assert post("beams/0/delete/").status_code == 404


def test_a_piece_of_the_frame_is_taken_as_a_beam_by_a_tap(site, person):
    frame = {"kind": "legs", "front_height": 0.8, "overhang": 0.3, "support_spacing": 1.1, "frames": 3}
    windy = build_for(person, wind=WIND, footing=None, beams=[], snow=None, frame=frame)
    address = f"/builds/{windy.pk}/wind/"
    page = site.get(address)
    rows = page.context["own_beams"]
    assert rows and 'name="piece"' in page.content.decode()
    assert site.post(f"{address}beams/own/", {"version": windy.version, "piece": rows[0].number}).status_code == 302
    held = reread(windy).footing.beams
    assert held[0]["section"] == rows[0].beam.section and held[0]["span"] == pytest.approx(rows[0].beam.span, abs=1e-4)
    for piece in ("77", "-1", "rail"):
        assert site.post(f"{address}beams/own/", {"version": reread(windy).version, "piece": piece}).status_code == 422
    assert len(reread(windy).footing.beams) == 1


@pytest.mark.parametrize("address", ["forecast/?forecast_gust=20", "scaled/?force=1&at=1&other=2", "wind.csv", "drawing.svg"])
def test_anothers_wind_is_not_found(client, windy, stranger, address):
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert client.get(f"/builds/{windy.pk}/wind/{address}").status_code == 404
    for what in ("beams/", "beams/own/", "levels/", "beams/0/delete/", "levels/0/delete/"):
        assert client.post(f"/builds/{windy.pk}/wind/{what}", {"version": windy.version}).status_code == 404


def test_a_pole_on_its_pier_and_a_pergola_tell_what_they_ask(site, demo, client):
    client.force_login(demo, backend="django.contrib.auth.backends.ModelBackend")
    pages = {build.name: client.get(f"/builds/{build.pk}/wind/") for build in Build.objects.of(demo)}
    pole, pergola, trailer = pages["Lookout pole"], pages["Kiln pergola"], pages["Goat trailer"]
    assert "Anchored a foot is pushed over" in text_of(pole) and "mph" in text_of(pole) and pole.context["foot"].needed
    assert "up on the pergola" in text_of(pergola) and "somebody else" in text_of(pergola)
    assert trailer.context["wind"].moves_until is not None and "The actuator can move it up to" in text_of(trailer)
    assert trailer.context["wind"].position.by == "motor"


@pytest.mark.parametrize("paper", ["a4", "letter"])
def test_the_sheet_holds_inputs_results_sources_and_cautions(site, windy, work, paper):
    address = f"/builds/{windy.pk}/wind/sheet-{paper}.pdf"
    site.get(address)
    work()
    pages = PdfReader(io.BytesIO(site.get(address).content)).pages
    said = " ".join(" ".join(page.extract_text() for page in pages).split())
    assert len(pages) == 1
    for words in (
        "strongest gust 28 m/s",
        "ballast on each side 300 kg",
        "Planning estimate",
        "EN 1991-1-4",
        "licensed engineer",
        "January"[:3],
    ):
        assert words in said, words
    assert round(float(pages[0].mediabox.width)) == {"a4": 595, "letter": 612}[paper]


def test_the_first_line_names_the_foot_that_fails(site, person):
    """A shallow post that the soil holds less than the wind pushes: the footing comes first, then the gust at which which foot gives way."""
    post = {"kind": "post", "diameter": 0.2, "depth": 0.4, "soil": "clay"}
    build = build_for(person, wind={"gust": 30.0, "anchored": True, "frame_mass": 160.0}, footing=post, beams=[], snow=None)
    page = text_of(site.get(f"/builds/{build.pk}/wind/"))
    report = Results(reread(build))["wind"]
    worst = min(report.own, key=lambda one: one.gives_way)
    assert worst.first == "breaks" and worst.by_foot in ("pulled", "pushed", "pressed")
    words = {"pulled": "a foot is pulled out", "pushed": "a foot is pushed over", "pressed": "a foot is pressed in"}[
        worst.by_foot
    ]
    failing = Results(reread(build))["footing"].failing
    where = "every foot" if len(failing) == 2 else f"the {failing[0]}"
    assert (
        failing
        and f"<h1>The footing is the weakest, at {where}:" in page
        and f"Anchored {words} at {worst.gives_way:.0f} m/s" in page
    )
    assert "It stands every month" not in page


def test_while_months_are_not_told_the_page_says_that_the_gust_holds_all_year(site, person):
    wind = {**WIND, "gusts": None, "ballast": 3000.0}
    build = build_for(person, wind=wind, footing=None, beams=[], snow=None)
    page = text_of(site.get(f"/builds/{build.pk}/wind/"))
    assert "It stands that gust, taken for every month," in page
    assert "Months are not told: the strongest gust is taken for every one of them." in page


def test_a_month_above_the_strongest_gust_is_refused_beside_the_months(site, windy, fill):
    answer = text_of(fill(windy, "wind", gusts=", ".join(["26"] * 11 + ["29"])))
    assert "December has 29 m/s, more than the strongest gust (28 m/s)" in answer
    assert Results(reread(windy)).brief.wind.gusts[11] == 26.0


def test_a_row_pressed_away_twice_goes_once(site, windy):
    """Rows go by the version they were looked at in: a second press, or one from an old window, takes no other row."""
    windy.footing.beams = [
        {"name": name, "section": "45x95 C24", "span": 1.8, "spacing": 0.9, "members": 1} for name in ("a", "b", "c")
    ]
    windy.footing.save()
    page = text_of(site.get(f"/builds/{windy.pk}/wind/"))
    assert page.count(f'<input type="hidden" name="version" value="{windy.version}">') >= 3
    for _ in range(2):
        site.post(f"/builds/{windy.pk}/wind/beams/0/delete/", {"version": windy.version})
    assert [beam["name"] for beam in reread(windy).footing.beams] == ["b", "c"]
    assert "press once more" in text_of(site.get(f"/builds/{windy.pk}/wind/"))
    site.post(f"/builds/{windy.pk}/wind/beams/1/delete/", {"version": reread(windy).version})
    assert [beam["name"] for beam in reread(windy).footing.beams] == ["b"]


@pytest.mark.parametrize(
    ("units", "typed", "metres"),
    [
        ("us", "-1/2, 0, +1 1/4, 3 mm", [-0.0127, 0.0, 0.03175, 0.003]),
        ("metric", "-4 0 +2.5 1", [-0.004, 0.0, 0.0025, 0.001]),
        ("metric", "-4; 0.25 in; 2; 0", [-0.004, 0.00635, 0.002, 0.0]),
    ],
)
def test_levels_are_read_as_people_write_them(site, person, units, typed, metres):
    build = build_for(person, wind={"gust": 30.0, "anchored": True}, footing={"kind": "pad", "soil": "clay"})
    Build.objects.filter(pk=build.pk).update(units=units)
    site.post(f"/builds/{build.pk}/wind/levels/", {"date": "2026-05-02", "levels": typed, "version": build.version})
    assert reread(build).footing.levels[0]["levels"] == pytest.approx(metres)
    page = text_of(
        site.post(
            f"/builds/{build.pk}/wind/levels/", {"date": "2026-06-02", "levels": "1; deep", "version": reread(build).version}
        )
    )
    assert "Foot 2, &#x27;deep&#x27;, is not a number" in page


def test_a_beam_that_is_refused_leaves_the_station_working(site, windy):
    """The page that tells it saves and loads as the station does, at its own address."""
    shelf = {
        "version": windy.version,
        "name": "shelf",
        "section": "2x8",
        "span": "2.4",
        "spacing": "0.6",
        "members": "1",
        "carries": "glass",
    }
    told = site.post(f"/builds/{windy.pk}/wind/beams/", shelf)
    page = told.content.decode()
    assert told.status_code == 422
    assert f'action="/builds/{windy.pk}/wind/" novalidate' in page and f'hx-post="/builds/{windy.pk}/wind/"' in page
    assert (
        f'data-answer="/builds/{windy.pk}/wind/?part=answer"' in page and f'hx-get="/builds/{windy.pk}/wind/?part=answer"' in page
    )
    late = site.post(f"/builds/{windy.pk}/wind/beams/", {**shelf, "version": windy.version - 1, "section": "45x95 C24"})
    assert late.status_code == 422 and f'href="/builds/{windy.pk}/wind/" data-forget' in late.content.decode()
    for path in ("wind/beams/", "wind/beams/own/", "wind/levels/", "worth/rows/", "log/add/reading/"):
        again = site.get(f"/builds/{windy.pk}/{path}")
        assert (again.status_code, again["Location"]) == (302, f"/builds/{windy.pk}/{path.split('/')[0]}/"), path
