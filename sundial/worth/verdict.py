"""The verdict on a comparison in sentences, and its sensitivity to each input."""

from __future__ import annotations

from dataclasses import dataclass, replace

from sundial.money.finance import Terms, grid_price, outcome
from sundial.money.uncertainty import PRICE_SPREAD
from sundial.study import Study
from sundial.worth.comparison import HAND_KINDS, TRACKER_KINDS, Comparison, Way

NUMBERS = dict(
    enumerate(("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine", "Ten", "Eleven", "Twelve"))
)
SIMPLER = 0.8  # a simpler way is preferred when it keeps this share of the best one's money


@dataclass(frozen=True)
class Swing:
    """One input moved to its plausible low and high, and the net present value it then gives."""

    name: str
    low: str
    high: str
    npv_low: float
    npv_high: float

    @property
    def width(self) -> float:
        return abs(self.npv_high - self.npv_low)


def swings(study: Study, way: Way) -> list[Swing]:
    """Each input of one priced way moved alone, the widest first."""
    if way.extra_cost is None:
        return []
    use, terms, cost = study.brief.use, study.terms, way.extra_cost
    labour = study.effort.value_of_hour * way.minutes / 60 if study.brief.worth.count_hours else 0.0
    yearly = way.upkeep + labour

    def value(gain: float = way.extra_kwh, price: float = cost, terms: Terms = terms, yearly: float = yearly) -> float:
        return outcome(gain, price, yearly, terms).npv or 0.0

    def priced(buy: float, sell: float, own: float) -> Terms:
        return replace(terms, price=grid_price(buy, sell, own))

    buy, sell, own = use.import_price, use.export_price, use.own_share
    low_own, high_own = max(0.0, own - 0.15), min(1.0, own + 0.15)
    low_life, high_life = max(1, terms.life - 5), terms.life + 5
    low_gain, high_gain = way.spread.kwh
    found = [
        Swing("Extra energy", f"{low_gain:.0f} kWh", f"{high_gain:.0f} kWh", value(low_gain), value(high_gain)),
        Swing(
            "Import price",
            f"{buy * (1 - PRICE_SPREAD):.2f}",
            f"{buy * (1 + PRICE_SPREAD):.2f}",
            value(terms=priced(buy * (1 - PRICE_SPREAD), sell, own)),
            value(terms=priced(buy * (1 + PRICE_SPREAD), sell, own)),
        ),
        Swing(
            "Export price",
            f"{sell - 0.05:.2f}",
            f"{sell + 0.05:.2f}",
            value(terms=priced(buy, sell - 0.05, own)),
            value(terms=priced(buy, sell + 0.05, own)),
        ),
        Swing(
            "Own share",
            f"{low_own:.0%}",
            f"{high_own:.0%}",
            value(terms=priced(buy, sell, low_own)),
            value(terms=priced(buy, sell, high_own)),
        ),
        Swing(
            "Life",
            f"{low_life} years",
            f"{high_life} years",
            value(terms=replace(terms, life=low_life)),
            value(terms=replace(terms, life=high_life)),
        ),
        Swing(
            "Interest",
            f"{terms.interest + 0.02:.1%}",
            f"{max(terms.interest - 0.02, -0.5):.1%}",
            value(terms=replace(terms, interest=terms.interest + 0.02)),
            value(terms=replace(terms, interest=max(terms.interest - 0.02, -0.5))),
        ),
        Swing(
            "Price growth",
            f"{terms.price_growth - 0.02:+.1%}",
            f"{terms.price_growth + 0.02:+.1%}",
            value(terms=replace(terms, price_growth=terms.price_growth - 0.02)),
            value(terms=replace(terms, price_growth=terms.price_growth + 0.02)),
        ),
    ]
    if cost:
        found.append(
            Swing("Extra cost", f"{cost * 1.2:.0f}", f"{cost * 0.8:.0f}", value(price=cost * 1.2), value(price=cost * 0.8))
        )
    if yearly:
        found.append(
            Swing(
                "Upkeep and work",
                f"{yearly * 1.5:.0f}",
                f"{yearly * 0.5:.0f}",
                value(yearly=yearly * 1.5),
                value(yearly=yearly * 0.5),
            )
        )
    return sorted(found, key=lambda swing: -swing.width)


@dataclass(frozen=True)
class Verdict:
    """``headline`` and the sentences after it; ``focus`` is the row that the swings are drawn for."""

    headline: str
    sentences: tuple[str, ...]
    focus: Way | None


def _sum(value: float, currency: str) -> str:
    return f"{currency} {value:.0f}".strip()


def verdict(study: Study, comparison: Comparison, currency: str = "") -> Verdict:
    """The verdict: hand moves first, then trackers against panels, then its assumption and its weakest number.

    ``currency`` stands before sums of money.
    """
    rows = [row for row in comparison.rows if not row.panels_only and row.ruled_out is None]
    by_hand = [row for row in rows if row.kind in HAND_KINDS or (row.moves and "axis" not in row.kind)]
    hand = _fewest_moves(by_hand)
    still = _best([row for row in rows if row.kind in ("flat", "best-fixed", "fixed", "yours")])
    tracker = _best([row for row in rows if row.kind in TRACKER_KINDS or "axis" in row.kind])
    sentences: list[str] = []
    ways = (still, hand, tracker)  # from the simplest to the least simple
    paying = [way for way in ways if way and way.money.npv is not None and way.money.npv > 0 and way.extra_kwh >= 1]
    most = max((way.money.npv or 0.0 for way in paying), default=0.0)
    focus = next((way for way in paying if (way.money.npv or 0.0) >= SIMPLER * most), None)
    panels = comparison.row("more-panels")
    if panels is not None and panels.ruled_out is not None:
        panels = None
    rival = panels if panels and (focus is tracker or focus is None) and _beats(panels, focus) else None
    headline = _rival_headline(comparison.base, panels, focus) if rival and panels else _headline(comparison.base, hand, focus)
    if hand and focus is not hand and hand.extra_kwh >= 1:
        sentences.append(_hand_sentence(hand, currency))
    more = max(by_hand, key=lambda way: way.extra_kwh, default=None)
    if hand and more and more.moves > hand.moves:
        sentences.append(f"{more.moves} moves instead of {hand.moves} would add {more.extra_kwh - hand.extra_kwh:.0f} kWh more.")
    if tracker:
        sentences.append(_tracker_sentence(tracker, currency, comparison.room))
    focus = rival or focus
    close = [way for way in paying if way is not focus and focus and not rival and _overlap(way, focus)]
    if close and focus:
        sentences.append(f"No clear winner between “{focus.name}” and “{close[0].name}”: their ranges overlap.")
    barred = [row for row in comparison.rows if row.ruled_out is not None and not row.panels_only]
    if barred:
        sentences.append(_barred_sentence(barred))
    shown = focus or tracker or hand
    if shown and shown.extra_kwh >= 1:
        sentences.append(
            f"Eight years in ten “{shown.name}” gives {shown.spread.kwh[0]:.0f} to {shown.spread.kwh[1]:.0f} kWh more."
        )
    sentences.append(_rests_on(study, shown, currency))
    return Verdict(headline, tuple(sentences), shown if shown and shown.extra_cost is not None else focus)


def _barred_sentence(rows: list[Way]) -> str:
    """What the wind rules out, and why the first of it."""
    first = rows[0].ruled_out
    named = " and ".join(f"“{row.name}”" for row in rows[:2]) + (f" and {len(rows) - 2} more" if len(rows) > 2 else "")
    why = (
        f"; at {first.tilt:.0f}° it may stand {first.allowed:.0f} m/s, and {first.month}'s gusts reach {first.gust:.0f}"
        if first
        else ""
    )
    return f"The wind rules out {named}{why} (see The wind)."


def _best(rows: list[Way]) -> Way | None:
    """The row with the most money left; unpriced rows only where nothing is priced, by energy."""
    priced = [row for row in rows if row.money.npv is not None]
    if priced:
        return max(priced, key=lambda row: row.money.npv or 0.0)
    return max(rows, key=lambda row: row.extra_kwh, default=None)


def _fewest_moves(rows: list[Way]) -> Way | None:
    """The recommended hand plan: the fewest moves that keep four fifths of the best one's money."""
    best = _best(rows)
    if best is None:
        return None
    if best.extra_kwh <= 0:
        return best
    if best.money.npv is None:
        return min((row for row in rows if row.extra_kwh >= 0.7 * best.extra_kwh), key=lambda row: row.moves)
    if best.money.npv <= 0:
        return best
    enough = [row for row in rows if row.money.npv is not None and row.money.npv >= SIMPLER * best.money.npv]
    return min(enough, key=lambda row: row.moves)


def _headline(base: Way, hand: Way | None, focus: Way | None) -> str:
    if focus is None:
        return f"Stay with “{base.name}”: nothing here earns back what it costs."
    if focus is hand:
        work = f" for {focus.minutes:.0f} minutes of work a year" if focus.minutes else ""
        settings = {2: "Two", 4: "Four", 12: "Twelve"}.get(focus.moves, str(focus.moves))
        return f"{settings} moves a year pay: {focus.extra_kwh:+.0f} kWh{work}."
    if focus.moves == 0 and "axis" not in focus.kind:
        angle = f" ({focus.tilt:.0f}°)" if focus.tilt is not None else ""
        return f"Just change the angle: “{focus.name}”{angle} gives {focus.extra_kwh:+.0f} kWh a year."
    return f"“{focus.name}” pays: {focus.extra_kwh:+.0f} kWh a year, back in {focus.money.payback_text}."


def _beats(panels: Way, focus: Way | None) -> bool:
    """Whether more panels leave more money than a tracker that has to be paid for; what costs nothing extra does not rule them
    out."""
    left = panels.money.npv
    if left is None or left <= 0:
        return False
    return focus is None or (bool(focus.extra_cost) and left > (focus.money.npv or 0.0))


def _rival_headline(base: Way, panels: Way, focus: Way | None) -> str:
    count = panels.same_as_panels.count if panels.same_as_panels else 0
    more = f"{NUMBERS.get(count, str(count))} more panel{'s' if count > 1 else ''}"
    gain = f"{panels.extra_kwh:+.0f} kWh a year, back in {panels.money.payback_text}."
    verb = "beat" if count > 1 else "beats"
    if focus and _overlap(panels, focus):
        verb = f"most likely {verb}"
    if focus is None:
        return f"Stay with “{base.name}”; {more.lower()} would pay: {gain}"
    return f"{more} {verb} “{focus.name}”: {gain}"


def _hand_sentence(hand: Way, currency: str) -> str:
    if hand.extra_cost is None:
        return f"Moving by hand ({hand.moves} times a year) adds {hand.extra_kwh:.0f} kWh; it may cost at most {_sum(hand.money.break_even_cost, currency)}."
    if (hand.money.npv or 0) > 0:
        return f"Moving by hand {hand.moves} times a year also pays: {hand.extra_kwh:+.0f} kWh for {hand.minutes:.0f} minutes."
    return f"Moving by hand does not pay here: {hand.extra_kwh:+.0f} kWh for {hand.minutes:.0f} minutes a year."


def _tracker_sentence(way: Way, currency: str, room: int | None = None) -> str:
    same = way.same_as_panels
    if same is None and way.extra_kwh >= 1:
        return f"“{way.name}” gives {way.extra_kwh:+.0f} kWh; no number of panels gives that on this inverter."
    if same is None:
        return f"“{way.name}” gives no more than the base here."
    panels = "one more panel" if same.count == 1 else f"{same.count} more panels"
    start = f"“{way.name}” gives {way.extra_kwh:+.0f} kWh, as {panels} on the same frame would"
    if way.extra_cost is None:
        return f"{start}; it may cost at most {_sum(max(way.money.break_even_cost, 0), currency)} before it stops paying (give its price to settle it)."
    if same.cost is None:
        return f"{start}; give the price of one more panel to see which is cheaper."
    if same.cost < way.extra_cost:
        share = same.cost / way.extra_cost if way.extra_cost else 1.0
        if room is not None and room < same.count:
            there = f"for {room}" if room else "for none"
            return f"{start} for {_part(share)} of its price; there is room {there}."
        return f"{start} for {_part(share)} of its price: it makes sense only where there is no room for them."
    return f"{start}, and costs less than they do."


def _part(share: float) -> str:
    for limit, words in ((0.22, "a fifth"), (0.29, "a quarter"), (0.4, "a third"), (0.58, "half"), (0.8, "two thirds")):
        if share <= limit:
            return words
    return "most"


def _overlap(one: Way, other: Way) -> bool:
    a, b = one.spread.npv, other.spread.npv
    return bool(a and b and a[0] < b[1] and b[0] < a[1])


def _rests_on(study: Study, way: Way | None, currency: str) -> str:
    use, terms = study.brief.use, study.terms
    words = (
        f"Rests on {(currency + ' ').lstrip()}{terms.price:.2f} for one more kWh ({use.own_share:.0%} used on the spot), "
        f"{terms.life} years and {terms.interest:.0%} interest"
    )
    found = swings(study, way) if way else []
    weakest = f"; its weakest number is the {found[0].name.lower()}" if found else ""
    sky = " (the sky is grown from monthly numbers, so a tracker's gain is the least sure)" if study.weather.synthetic else ""
    return f"{words}{weakest}{sky}."
