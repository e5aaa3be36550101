"""The verdict and its swings on ways priced by hand: no year is computed, so every branch and every sum can be looked at."""

from __future__ import annotations

from dataclasses import replace
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from sundial.balance.flows import Needs
from sundial.balance.sums import Sums
from sundial.brief.model import GridUse, PlanBrief, WorthBrief
from sundial.days import HOURS
from sundial.money.finance import Terms, grid_price, outcome
from sundial.money.uncertainty import Spread
from sundial.mounts.stepped import SteppedMount
from sundial.worth import verdict as told
from sundial.worth.comparison import Comparison, SamePanels, Way
from sundial.worth.verdict import swings, verdict

BUY, SELL, OWN = 0.24, 0.06, 0.45
TERMS = Terms(life=20, interest=0.04, price_growth=0.01, ageing=0.005, price=grid_price(BUY, SELL, OWN))


SUMS = Sums(3000.0, 0.0, 1350.0, 1650.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0, 0.0, 0, 0, 0.0)


def study(
    own: float = OWN,
    terms: Terms = TERMS,
    count_hours: bool = True,
    synthetic: bool = False,
    limit: float | None = None,
    **brief: Any,
) -> Any:
    use = GridUse(kind="grid", import_price=BUY, export_price=SELL, own_share=own)
    plan = PlanBrief(minutes_per_move=15.0, people=2, value_of_hour=20.0)
    worth = WorthBrief(panel_cost=165.0, count_hours=count_hours)
    mount = SteppedMount(kind="stepped", tilts=[10.0, 60.0])
    panel = SimpleNamespace(area=1.95, power=400.0)
    usual = {"room": None, "use": use, "plan": plan, "worth": worth, "mount": mount, "options": [], "battery": None}
    about = SimpleNamespace(**{**usual, "site": SimpleNamespace(timezone="UTC"), "sky": SimpleNamespace(seed=1), **brief})
    scene = SimpleNamespace(
        brief=about,
        weather=SimpleNamespace(synthetic=synthetic, utc_offset=0.0),
        array=SimpleNamespace(count=8, wired=8, panel=panel),
        system=SimpleNamespace(inverter=SimpleNamespace(power=limit)),
    )
    return SimpleNamespace(
        brief=about,
        scene=scene,
        terms=terms,
        needs=Needs("share", np.zeros(HOURS), own_share=about.use.own_share),
    )


NONE = (0.0, 0.0)  # a range that does not matter


def way(kind: str, extra: float, cost: float | None, npv: float | None = None, **changes: Any) -> Way:
    """A row; ``npv`` replaces what the sum would give."""
    money = outcome(extra, cost, changes.get("upkeep", 0.0), TERMS)
    if npv is not None:
        money = replace(money, npv=npv)
    usual: dict[str, Any] = {
        "key": kind, "kind": kind, "name": kind.replace("-", " ").capitalize(), "energy": 3000.0 + extra, "irradiation": 1500.0,
        "gain": extra / 3000, "extra_kwh": extra, "extra_cost": cost, "upkeep": 0.0, "minutes": 0.0, "moves": 0,
        "drive_consumption": 0.0, "tilt": None, "money": money, "spread": Spread((extra - 50, extra + 50), None, ((extra - 50) * TERMS.price, (extra + 50) * TERMS.price)),
        "same_as_panels": None, "sums": SUMS, "saved_by_month": (extra * TERMS.price / 12,) * 12,
    }  # fmt: skip
    return Way(**{**usual, **changes})


BASE = way("yours", 0.0, 0.0)


def said(*rows: Way, currency: str = "", **about: Any) -> told.Verdict:
    return verdict(study(**about), Comparison(BASE, rows), currency)


# -- swings --------------------------------------------------------------------------------------------------------


def present_value(
    gain: float = 400, cost: float = 900, price: float = TERMS.price, growth: float = 0.01, life: int = 20,
    interest: float = 0.04, yearly: float = 15 + 20 * 100 / 60,
) -> float:  # fmt: skip
    """Written out year by year, without the core's sum."""
    return sum((gain * 0.995**n * price * (1 + growth) ** n - yearly) / (1 + interest) ** (n + 1) for n in range(life)) - cost


def test_each_swing_moves_one_input_by_what_it_says():
    one = way(
        "two-axis",
        400.0,
        900.0,
        upkeep=15.0,
        minutes=100.0,
        spread=Spread((310.0, 480.0), None, (310 * TERMS.price, 480 * TERMS.price)),
    )
    found = {s.name: (s.low, s.high, s.npv_low, s.npv_high) for s in swings(study(), one)}

    def price(buy=BUY, sell=SELL, own=OWN):
        return buy * own + sell * (1 - own)

    expected = {
        "Extra energy": ("310 kWh", "480 kWh", present_value(310), present_value(480)),
        "Import price": ("0.20", "0.28", present_value(price=price(0.204)), present_value(price=price(0.276))),
        "Export price": ("0.01", "0.11", present_value(price=price(sell=0.01)), present_value(price=price(sell=0.11))),
        "Own share": ("30%", "60%", present_value(price=price(own=0.3)), present_value(price=price(own=0.6))),
        "Life": ("15 years", "25 years", present_value(life=15), present_value(life=25)),
        "Interest": ("6.0%", "2.0%", present_value(interest=0.06), present_value(interest=0.02)),
        "Price growth": ("-1.0%", "+3.0%", present_value(growth=-0.01), present_value(growth=0.03)),
        "Extra cost": ("1080", "720", present_value(cost=1080), present_value(cost=720)),
        "Upkeep and work": ("72", "24", present_value(yearly=72.5), present_value(yearly=145 / 6)),
    }
    assert set(found) == set(expected)
    for name, (low, high, npv_low, npv_high) in expected.items():
        assert found[name][:2] == (low, high), name
        assert found[name][2:] == pytest.approx((npv_low, npv_high), abs=1e-6), name
    widths = [s.width for s in swings(study(), one)]
    assert widths == sorted(widths, reverse=True)
    assert widths[0] == pytest.approx(max(abs(high - low) for *_, low, high in expected.values()))


def test_the_export_price_swings_by_five_hundredths():
    use = GridUse(kind="grid", import_price=BUY, export_price=0.13, own_share=OWN)
    found = next(s for s in swings(study(use=use), way("two-axis", 400.0, 900.0)) if s.name == "Export price")
    assert (found.low, found.high) == ("0.08", "0.18")
    prices = (BUY * OWN + 0.08 * (1 - OWN), BUY * OWN + 0.18 * (1 - OWN))
    assert (found.npv_low, found.npv_high) == pytest.approx(tuple(present_value(price=price, yearly=0.0) for price in prices))


def test_swings_stop_at_what_is_possible():
    one = way("two-axis", 400.0, 900.0)

    def ends(name, **about):
        return next((s.low, s.high) for s in swings(study(**about), one) if s.name == name)

    assert ends("Own share", own=0.95) == ("80%", "100%")
    assert ends("Own share", own=0.05) == ("0%", "20%")
    assert ends("Life", terms=replace(TERMS, life=3)) == ("1 years", "8 years")
    assert ends("Interest", terms=replace(TERMS, interest=-0.49)) == ("-47.0%", "-50.0%")
    low_life = next(s for s in swings(study(terms=replace(TERMS, life=3)), one) if s.name == "Life")
    assert low_life.npv_low == pytest.approx(present_value(life=1, yearly=0.0))
    full = next(s for s in swings(study(own=0.95), one) if s.name == "Own share")
    assert full.npv_high == pytest.approx(present_value(price=BUY, yearly=0.0))
    none = next(s for s in swings(study(own=0.05), one) if s.name == "Own share")
    assert none.npv_low == pytest.approx(present_value(price=SELL, yearly=0.0))


def test_only_what_there_is_swings():
    names = {s.name for s in swings(study(count_hours=False), way("two-axis", 400.0, 0.0, minutes=90.0))}
    assert not {"Extra cost", "Upkeep and work"} & names
    assert "Upkeep and work" in {s.name for s in swings(study(), way("two-axis", 400.0, 0.0, minutes=90.0))}
    upkeep = next(s for s in swings(study(count_hours=False), way("two-axis", 1.0, 9.0, upkeep=40.0)) if s.name.startswith("Up"))
    assert (upkeep.low, upkeep.high) == ("60", "20")
    assert swings(study(), way("two-axis", 400.0, None)) == []


# -- the verdict ---------------------------------------------------------------------------------------------------

RESTS = "Rests on 0.14 for one more kWh (45 % used on the spot), 20 years and 4 % interest"


def test_hand_moves_that_pay_are_the_headline():
    two = way("two-moves", 120.0, 0.0, 200.0, moves=2, minutes=60.0)
    four = way("four-moves", 250.0, 0.0, 245.0, moves=4, minutes=120.0)
    found = said(way("flat", -200.0, 0.0, -300.0), two, four)
    assert found.headline == "Two moves a year pay: +120 kWh for 60 minutes of work a year."
    assert found.sentences == (
        "4 moves instead of 2 would add 130 kWh more.",
        "Eight years in ten “Two moves” gives 70 to 170 kWh more.",
        RESTS + "; its weakest number is the upkeep and work.",
    )
    assert found.focus is two


def test_the_fewest_moves_that_keep_four_fifths_of_the_money():
    def chosen(*npvs, extra=100.0):
        rows = [way("stepped", extra, 0.0, npv, moves=moves) for moves, npv in zip((2, 4, 12), npvs, strict=True)]
        return told._fewest_moves(rows).moves

    assert chosen(80.0, 100.0, 90.0) == 2
    assert chosen(79.0, 100.0, 90.0) == 4
    assert chosen(50.0, 79.0, 100.0) == 12
    assert chosen(-5.0, -1.0, -9.0) == 4, "nothing pays: the one that loses least"
    assert chosen(0.0, -1.0, -9.0) == 2
    assert chosen(5.0, 9.0, 1.0, extra=0.0) == 4, "nothing is gained"
    assert told._fewest_moves([]) is None
    unpriced = [way("stepped", extra, None, moves=moves) for extra, moves in ((69.0, 1), (70.0, 2), (100.0, 4), (90.0, 12))]
    assert told._fewest_moves(unpriced).moves == 2
    assert told._fewest_moves([*unpriced, way("stepped", 5.0, 0.0, 1.0, moves=9)]).moves == 9, "what is priced goes first"


def test_the_best_is_the_most_money_then_the_most_energy():
    dear, cheap = way("two-axis", 500.0, 2000.0, -900.0), way("one-axis", 300.0, 100.0, -20.0)
    even = way("fixed", 10.0, 10.0, 0.0)
    assert told._best([dear, cheap]) is cheap
    assert told._best([dear, cheap, even]) is even
    assert told._best([dear, way("two-axis", 900.0, None)]) is dear
    assert told._best([way("two-axis", 300.0, None), way("two-axis", 310.0, None)]).extra_kwh == 310
    assert told._best([]) is None


@pytest.mark.parametrize(
    ("focus", "is_hand", "words"),
    [
        (None, False, "Buy nothing: stay with “Yours”; nothing here earns back what it costs."),
        (way("two-moves", 120.4, 0.0, moves=2), True, "Two moves a year pay: +120 kWh."),
        (way("four-moves", 99.6, 0.0, moves=4, minutes=48.0), True,
         "Four moves a year pay: +100 kWh for 48 minutes of work a year."),
        (way("twelve-moves", 99.6, 0.0, moves=12), True, "Twelve moves a year pay: +100 kWh."),
        (way("stepped", 99.6, 0.0, moves=3), True, "3 moves a year pay: +100 kWh."),
        (way("best-fixed", 55.0, 0.0, tilt=33.4), False,
         "Just change the angle: “Best fixed” (33°) gives +55 kWh a year."),
        (way("best-fixed", 55.0, 0.0), False, "Just change the angle: “Best fixed” gives +55 kWh a year."),
        (way("one-axis", 300.0, 100.0, tilt=0.0), False, "“One axis” pays: +300 kWh a year, back in 2.4 years."),
        (way("stepped", 300.0, 100.0, moves=2), False, "“Stepped” pays: +300 kWh a year, back in 2.4 years."),
    ],
)  # fmt: skip
def test_headlines(focus, is_hand, words):
    assert told._headline(BASE, focus if is_hand else None, focus) == words


@pytest.mark.parametrize(
    ("hand", "words"),
    [
        (way("two-moves", 100.4, None, moves=2),
         "Moving by hand (2 times a year) adds 100 kWh; it may cost at most € 200."),
        (way("two-moves", 100.4, 50.0, 1.0, moves=2, minutes=59.6),
         "Moving by hand 2 times a year also pays: +100 kWh for 60 minutes."),
        (way("two-moves", 100.4, 50.0, 0.0, moves=2, minutes=59.6),
         "Moving by hand does not pay here: +100 kWh for 60 minutes a year."),
    ],
)  # fmt: skip
def test_sentences_about_moving_by_hand(hand, words):
    assert hand.money.break_even_cost == pytest.approx(present_value(100.4, 0.0, yearly=0.0))
    assert told._hand_sentence(hand, BASE, "€") == words


def panels(count: int, cost: float | None) -> SamePanels:
    return SamePanels(count - 0.5, count, cost, count * 1.95)


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"same_as_panels": None, "extra_kwh": 0.0}, "“Two axis” gives no more than the base here."),
        ({"same_as_panels": panels(1, 165.0)},
         "“Two axis” gives +400 kWh, as one more panel on the same frame would for a fifth of its price: "
         "it makes sense only where there is no room for them."),
        ({"same_as_panels": panels(3, 900.0)},
         "“Two axis” gives +400 kWh, as 3 more panels on the same frame would, and costs less than they do."),
        ({"same_as_panels": panels(3, 1200.0)},
         "“Two axis” gives +400 kWh, as 3 more panels on the same frame would, and costs less than they do."),
        ({"same_as_panels": panels(3, 899.0)},
         "“Two axis” gives +400 kWh, as 3 more panels on the same frame would for most of its price: "
         "it makes sense only where there is no room for them."),
        ({"same_as_panels": panels(3, None)},
         "“Two axis” gives +400 kWh, as 3 more panels on the same frame would; "
         "give the price of one more panel to see which is cheaper."),
        ({"same_as_panels": panels(3, 495.0), "extra_cost": None},
         "“Two axis” gives +400 kWh, as 3 more panels on the same frame would; "
         "it may cost at most 799 before it stops paying (give its price to settle it)."),
    ],
)  # fmt: skip
def test_sentences_about_trackers(changes, words):
    one = way("two-axis", 400.0, 900.0)
    assert told._tracker_sentence(replace(one, **changes), "") == words


def test_a_tracker_that_loses_may_cost_nothing():
    one = replace(way("two-axis", 400.0, None, upkeep=500.0), same_as_panels=panels(2, 1.0))
    assert "it may cost at most € 0 before" in told._tracker_sentence(one, "€")


@pytest.mark.parametrize(
    ("share", "words"),
    [(0.1, "a fifth"), (0.22, "a fifth"), (0.2201, "a quarter"), (0.29, "a quarter"), (0.2901, "a third"), (0.4, "a third"),
     (0.4001, "half"), (0.58, "half"), (0.5801, "two thirds"), (0.8, "two thirds"), (0.8001, "most")],
)  # fmt: skip
def test_parts_in_words(share, words):
    assert told._part(share) == words


@pytest.mark.parametrize(
    ("one", "other", "meet"),
    [((0.0, 10.0), (9.0, 20.0), True), ((9.0, 20.0), (0.0, 10.0), True), ((0.0, 10.0), (10.0, 20.0), False),
     ((10.0, 20.0), (0.0, 10.0), False), ((0.0, 9.0), (10.0, 20.0), False), ((10.0, 20.0), (0.0, 9.0), False),
     ((0.0, 9.0), (4.0, 5.0), True), (None, (0.0, 1.0), False), ((0.0, 1.0), None, False)],
)  # fmt: skip
def test_ranges_overlap(one, other, meet):
    a, b = (way("fixed", 10.0, 0.0, spread=Spread((0.0, 1.0), npv, NONE)) for npv in (one, other))
    assert told._overlap(a, b) is meet


def test_the_simplest_way_that_keeps_four_fifths_is_chosen():
    still = way("best-fixed", 60.0, 0.0, 80.0, tilt=40.0)
    hand = way("two-moves", 100.0, 0.0, 90.0, moves=2, minutes=30.0)
    axis = way("one-axis", 300.0, 300.0, 100.0, same_as_panels=panels(1, 165.0))
    found = said(still, hand, axis, currency="€")
    assert found.headline == "Just change the angle: “Best fixed” (40°) gives +60 kWh a year."
    assert found.sentences[:3] == (
        "Moving by hand 2 times a year also pays: +100 kWh for 30 minutes.",
        "“One axis” gives +300 kWh, as one more panel on the same frame would for half of its price: "
        "it makes sense only where there is no room for them.",
        "Eight years in ten “Best fixed” gives 10 to 110 kWh more.",
    )
    assert found.sentences[3].startswith("Rests on € 0.14 for one more kWh (45 % used")
    assert found.focus is still
    less = replace(still, money=replace(still.money, npv=79.0))
    assert said(less, hand, axis).focus is hand
    assert said(less, replace(hand, money=replace(hand.money, npv=79.0)), axis).focus is axis
    tiny = replace(still, extra_kwh=0.9, saved_by_month=(0.01,) * 12)
    assert said(tiny, hand, axis).focus is hand, "less than one kWh is no gain"
    assert said(replace(still, extra_kwh=1.0), hand, axis).focus.extra_kwh == 1.0


def test_what_is_a_hand_plan_what_stands_still_and_what_tracks():
    own = way("stepped", 110.0, 0.0, 100.0, moves=3, name="A-frame")
    axis = way("one-axis-hand", 350.0, 0.0, 90.0, moves=2, same_as_panels=panels(1, 1.0))
    assert said(own).headline == "3 moves a year pay: +110 kWh."
    assert said(way("stepped", 110.0, 0.0, 100.0)).headline.startswith("Buy nothing"), "without moves it is no hand plan"
    alone = said(axis)
    assert alone.headline == f"“One axis hand” pays: +350 kWh a year, back in {axis.money.payback_text}."
    assert said(way("own-axis", 50.0, 0.0, 9.0)).headline.startswith("“Own axis” pays")
    for kind in ("flat", "best-fixed", "fixed", "yours"):
        assert said(way(kind, 20.0, 0.0, 5.0)).headline.startswith("Just change the angle"), kind
    more = way("more-panels", 900.0, 0.0, -1.0, panels_only=True, moves=2)
    assert said(more).headline == "Buy nothing: stay with “Yours”; nothing here earns back what it costs.", (
        "panels are no way of holding them"
    )


def test_more_panels_compete_in_the_headline():
    """They beat a tracker that costs money and leaves less; never what costs nothing extra, nor a hand plan."""
    more = way("more-panels", 1000.0, 480.0, 900.0, panels_only=True, same_as_panels=panels(3, 480.0))
    axis = way("one-axis", 900.0, 600.0, 899.0, same_as_panels=panels(3, 480.0))
    found = said(axis, more, currency="€")
    assert found.headline == f"Three more panels beat “One axis”: +1000 kWh a year, back in {more.money.payback_text}."
    assert found.focus is more
    assert found.sentences[1] == "Eight years in ten “More panels” gives 950 to 1050 kWh more."
    for left, start in ((900.0, "No clear winner: three more panels give +1000 kWh, “One axis” +900"), (1125.0, "No clear winner"), (1126.0, "“One axis” pays")):  # fmt: skip
        assert said(replace(axis, money=replace(axis.money, npv=left)), more).headline.startswith(start), (
            "four fifths of it are 900"
        )
    wide = [replace(row, spread=replace(row.spread, npv=(low, high))) for row, low, high in ((axis, 700, 950), (more, 850, 980))]
    likely = said(*wide)
    assert likely.headline.startswith("Three more panels most likely beat “One axis”: +1000")
    assert not any("No clear winner" in sentence for sentence in likely.sentences), "the headline is not taken back"
    free = replace(axis, extra_cost=0.0)
    assert said(free, more).headline.startswith("“One axis” pays"), "what costs nothing does not rule panels out"
    one = replace(more, same_as_panels=panels(1, 165.0))
    assert said(axis, one).headline.startswith("One more panel beats “One axis”")
    assert said(replace(more, same_as_panels=panels(14, 1.0))).headline.startswith(
        "Stay with “Yours”; 14 more panels would pay: +1000"
    )
    hand = way("two-moves", 100.0, 60.0, 850.0, moves=2)
    assert said(hand, axis, more).headline.startswith("Two moves a year pay")
    nothing = replace(more, money=replace(more.money, npv=None))
    assert said(axis, nothing).headline.startswith("“One axis” pays")


@pytest.mark.parametrize(
    ("room", "end"),
    [(None, ": it makes sense only where there is no room for them."), (3, ": it makes sense only where there is no room for them."),
     (2, "; there is room for 2."), (0, "; there is room for none.")],
)  # fmt: skip
def test_room_for_panels_ends_the_sentence(room, end):
    axis = way("one-axis", 900.0, 900.0, 50.0, same_as_panels=panels(3, 495.0))
    assert told._tracker_sentence(axis, "", room) == (
        f"“One axis” gives +900 kWh, as 3 more panels on the same frame would for half of its price{end}"
    )


def test_what_no_number_of_panels_gives_is_told():
    axis = way("one-axis", 900.0, 900.0, 50.0)
    assert told._tracker_sentence(axis, "") == "“One axis” gives +900 kWh; no number of panels gives that on this inverter."


def test_overlapping_ranges_have_no_clear_winner():
    still = way("best-fixed", 60.0, 20.0, 90.0, spread=Spread((50.0, 70.0), (60.0, 120.0), NONE))
    hand = way("two-moves", 100.0, 0.0, 100.0, moves=2, spread=Spread((80.0, 120.0), (70.0, 130.0), NONE))
    sentence = "No clear winner between “Best fixed” and “Two moves”: their ranges overlap."
    found = said(still, hand)
    assert found.headline.startswith("No clear winner: “Best fixed” gives +60 kWh, “Two moves” +100,")
    assert sentence not in found.sentences, "said once"
    free = said(replace(still, extra_cost=0.0), hand)
    assert free.headline.startswith("Just change the angle") and sentence in free.sentences, "what costs nothing is done anyway"
    less = said(still, replace(hand, money=replace(hand.money, npv=70.0)))
    assert less.headline.startswith("Just change the angle") and sentence in less.sentences
    for other in (
        replace(hand, spread=Spread((80.0, 120.0), (121.0, 130.0), NONE)),
        replace(hand, money=replace(hand.money, npv=0.0)),
    ):
        clear = said(still, other)
        assert sentence not in clear.sentences and not clear.headline.startswith("No clear")


def test_where_nothing_pays_the_tracker_is_still_shown():
    hand = way("two-moves", 0.9, 10.0, -8.0, moves=2)
    axis = way("one-axis", 300.0, 5000.0, -4000.0, same_as_panels=panels(1, 165.0))
    found = said(hand, axis)
    assert found.headline == "Buy nothing: stay with “Yours”; nothing here earns back what it costs."
    assert len(found.sentences) == 3
    assert found.sentences[1] == "Eight years in ten “One axis” gives 250 to 350 kWh more."
    assert found.focus is axis
    unpriced = said(way("one-axis", 300.0, None, same_as_panels=panels(1, 165.0)))
    assert unpriced.focus is None
    assert unpriced.sentences[-1] == RESTS + "."
    assert said().sentences == (RESTS + ".",)
    only_hand = said(hand)
    assert only_hand.focus is hand
    assert only_hand.sentences == (RESTS + "; its weakest number is the extra energy.",)


def test_a_grown_sky_is_told():
    assert said(synthetic=True).sentences[-1] == (
        RESTS + " (the sky is grown from monthly numbers, so a tracker's gain is the least sure)."
    )


# -- pricing -------------------------------------------------------------------------------------------------------
