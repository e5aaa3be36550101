"""The verdict on a comparison in sentences, and its sensitivity to each input."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sundial.brief.model import GridUse
from sundial.money.uncertainty import is_rough
from sundial.quantities import WIND_SPEED, Units, told_quantity
from sundial.scene import Scene
from sundial.study import Study
from sundial.worth.balances import Row
from sundial.worth.comparison import Comparison, Way
from sundial.worth.other_panels import ELSEWHERE, MORE
from sundial.worth.swings import swings
from sundial.worth.ways import HAND_KINDS, TRACKER_KINDS

NUMBERS = dict(
    enumerate(("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine", "Ten", "Eleven", "Twelve"))
)
STILL_KINDS = ("flat", "best-fixed", "fixed", "yours", "winter-left", ELSEWHERE)
THROWN = 0.2  # share of the extra kWh that is thrown away from which on it is told
WASTED = 0.8  # share of the extra kWh that is thrown away from which on a way is not advised for them
SIMPLER = 0.8  # a simpler way is preferred when it keeps this share of the best one's money
WORTH_A_WORD = 0.005  # of the base's energy: what is left of a gain that is mostly thrown away
A_KWH = 1.0  # kWh a year, or the money of as much: less is nothing to speak of


@dataclass(frozen=True)
class Verdict:
    """``headline`` and the sentences after it; ``focus`` is the row that the swings are drawn for."""

    headline: str
    sentences: tuple[str, ...]
    focus: Way | None


def _sum(value: float, currency: str) -> str:
    return f"{currency} {value:.0f}".strip()


def verdict(
    study: Study, comparison: Comparison, currency: str = "", rows: Mapping[str, Row] | None = None, units: Units = "metric"
) -> Verdict:
    """The verdict: hand moves first, then trackers against panels and a bigger battery, then its assumption and its weakest number;
    off the grid without a generator by its empty days.

    ``currency`` stands before sums of money; ``rows``: the hours behind the table (see :func:`swings`).
    """
    if comparison.kind == "off-grid" and not comparison.base.sums.generator and comparison.base.sums.unmet:
        return _off_grid(study, comparison, currency, rows, units)
    ways = [row for row in comparison.rows if not row.panels_only and row.kind != "bigger-battery" and row.advisable]
    by_hand = [row for row in ways if row.kind in HAND_KINDS or (row.moves and "axis" not in row.kind)]
    hand = _fewest_moves(by_hand)
    still = _best([row for row in ways if row.kind in STILL_KINDS])
    tracker = _best([row for row in ways if row.kind in TRACKER_KINDS or "axis" in row.kind])
    sentences: list[str] = []
    simple_first = (still, hand, tracker)
    paying = [
        way
        for way in simple_first
        if way and way.money.npv is not None and way.money.npv > 0 and _gives(way, comparison, study.terms.price)
    ]
    most = max((way.money.npv or 0.0 for way in paying), default=0.0)
    focus = next((way for way in paying if (way.money.npv or 0.0) >= SIMPLER * most), None)
    panels = _best([row for row in comparison.rows if row.panels_only and row.advisable])
    contested = focus is None or focus is tracker
    rival = panels if panels and contested and _beats(panels, focus) else None
    equal = panels if panels and not rival and focus and contested and focus.extra_cost and _as_good(panels, focus) else None
    near = [way for way in paying if focus and way is not focus and not rival and _overlap(way, focus)]
    # What costs nothing is done in any case: what comes after it is the next question.
    close = [way for way in near if focus and focus.extra_cost and (way.money.npv or 0.0) >= SIMPLER * (focus.money.npv or 0.0)]
    if rival and panels:
        headline = _rival_headline(comparison.base, panels, focus)
    elif equal and focus:
        headline = _no_winner(equal, focus)
    elif close and focus:
        headline = _no_winner(focus, close[0])
    elif focus is None and comparison.base.ruled_out is not None:
        headline = _blown_headline(comparison)
    else:
        headline = _headline(comparison.base, hand, focus)
    if hand and focus is not hand and hand not in close and hand.extra_kwh >= 1:
        sentences.append(_hand_sentence(hand, comparison.base, currency))
    if panels and panels is not rival and panels is not equal and (panels.money.npv or 0.0) > 0:
        sentences.append(
            f"{_closed(_told(panels))} would pay too: {_gain(panels, comparison.base)} a year, back in {panels.money.payback_text}."
        )
    more = max(by_hand, key=lambda way: way.extra_kwh, default=None)
    if (
        hand
        and more
        and more.moves > hand.moves
        and more.extra_kwh > hand.extra_kwh
        and _gives(more, comparison, study.terms.price)
    ):
        sentences.append(f"{more.moves} moves instead of {hand.moves} would add {more.extra_kwh - hand.extra_kwh:.0f} kWh more.")
    if tracker:
        sentences.append(_tracker_sentence(tracker, currency, comparison.room))
    if near and focus and not close:
        sentences.append(f"No clear winner between “{focus.name}” and “{near[0].name}”: their ranges overlap.")
    focus = rival or focus
    barred = [row for row in comparison.rows if row.ruled_out is not None and not row.panels_only]
    if barred:
        sentences.append(_barred_sentence(barred, units))
    sentences += _about_use(study.scene, comparison, focus or tracker or hand, currency)
    shown = focus or tracker or hand
    if shown and shown.extra_kwh >= 1:
        doubt = ", how rough this sky is counted in" if is_rough(study.scene.weather) else ""
        sentences.append(
            f"Eight years in ten “{shown.name}” gives {shown.spread.kwh[0]:.0f} to {shown.spread.kwh[1]:.0f} kWh more{doubt}."
        )
    sentences.append(_rests_on(study, shown, currency, rows))
    return Verdict(headline, tuple(sentences), shown if shown and shown.extra_cost is not None else focus)


def _thrown(way: Way, base: Way) -> float:
    """Share of a way's extra kWh that nothing takes."""
    if way.extra_kwh < 1:
        return 0.0
    return min(max((way.sums.curtailed - base.sums.curtailed) / way.extra_kwh, 0.0), 1.0)


def _gives(way: Way, comparison: Comparison, price: float) -> bool:
    """Whether a way gives something to speak of, whatever the currency: a kWh a year, or money that counts beside what the base is worth at the
    ``price`` of a kWh; of a gain most of which is thrown away, what is left of it beside what the base makes."""
    base = comparison.base
    if _thrown(way, base) >= WASTED:
        return way.extra_kwh * (1 - _thrown(way, base)) >= WORTH_A_WORD * base.energy
    return way.extra_kwh >= A_KWH or way.saved > WORTH_A_WORD * max(base.energy * price, comparison.base_value) > 0


def _gain(way: Way, base: Way) -> str:
    """Its extra kWh; only those that something takes where many are thrown away."""
    thrown = _thrown(way, base)
    if thrown < THROWN:
        return f"{way.extra_kwh:+.0f} kWh"
    return f"{way.extra_kwh * (1 - thrown):+.0f} kWh that something takes"


def _no_winner(focus: Way, other: Way) -> str:
    return (
        f"No clear winner: {_in_quotes(focus)} {_give(focus)} {focus.extra_kwh:+.0f} kWh, {_in_quotes(other)} {other.extra_kwh:+.0f}, and what each leaves "
        "over is too unsure to tell them apart; the first is the simpler one."
    )


def _in_quotes(way: Way) -> str:
    told = _told(way)
    return told[0].lower() + told[1:] if way.panels_only else told


def _give(way: Way) -> str:
    return "give" if way.panels_only and _added(way) > 1 else "gives"


def _added(way: Way) -> int:
    """Panels that a row adds."""
    return way.added_panels or (way.same_as_panels.count if way.same_as_panels else 0)


def _about_use(scene: Scene, comparison: Comparison, way: Way | None, currency: str) -> list[str]:
    """What becomes of a way's kWh, where that speaks against it; what breaks a contract; what a bigger battery would do."""
    found = []
    if way is not None and way.extra_kwh >= 1:
        thrown = _thrown(way, comparison.base)
        if thrown >= THROWN:
            found.append(f"Of what “{way.name}” gives more, {100 * thrown:.0f} % is thrown away: it comes when nothing takes it.")
    broken = next((row for row in comparison.rows if row.breaks_contract), None)
    tariff = getattr(scene.brief.use, "tariff", None)
    if broken is not None and tariff is not None and tariff.contract is not None:
        found.append(
            f"“{broken.name}” would end the old contract (at most {tariff.contract.added:.0f} W may be added); its row is priced without it."
        )
    battery = comparison.row("bigger-battery")
    if battery is not None and battery.money.npv is not None:
        verb = "pays" if battery.money.npv > 0 else "does not pay"
        found.append(f"“{battery.name}” {verb}: it saves {_sum(battery.saved, currency)} a year.")
    if comparison.base.sums.generator_hours:
        best = min((row for row in comparison.rows if row.advisable), key=lambda row: row.sums.generator_hours, default=None)
        now = comparison.base.sums.generator_hours
        if best is not None and best.sums.generator_hours < now:
            found.append(f"The generator runs {now} hours a year now; with “{best.name}” {best.sums.generator_hours}.")
    return found


def _off_grid(study: Study, comparison: Comparison, currency: str, rows: Mapping[str, Row] | None, units: Units) -> Verdict:
    """Off the grid what counts is demand met: the simplest way among those with the fewest empty days."""
    base, now = comparison.base, comparison.base.sums.empty_days
    ways = [row for row in comparison.rows if row.advisable and row.kind != base.kind]
    if not now:
        dark = "no day of the year is empty as it stands"
        return Verdict(f"Buy nothing: {dark}.", (_rests_on(study, None, currency, rows),), None)
    best = min((row.sums.empty_days for row in ways), default=now)
    enough = [row for row in ways if row.sums.empty_days <= max(best, best + (1 - SIMPLER) * (now - best))]
    focus = min(enough, key=lambda row: (_trouble(row), _cost(row), row.sums.empty_days), default=None)
    if focus is None or focus.sums.empty_days >= now:
        headline = f"Buy nothing of this: {_days(now)} of the year stay empty whichever way the panels are held."
        focus = None
    else:
        after = focus.sums.empty_days
        left = "no empty day" if not after else f"{after} empty day{'s' if after > 1 else ''}"
        price = f", for {_sum(focus.extra_cost, currency)}" if focus.extra_cost else ""
        headline = f"{_told(focus)}: {left} a year instead of {now}{price}."
    rivals = (comparison.row("bigger-battery"), _best([row for row in ways if row.panels_only]))
    sentences = [
        f"“{rival.name}” would leave {_days(rival.sums.empty_days)}{_for(rival, currency)}."
        for rival in rivals
        if rival is not None and rival is not focus
    ]
    tracker = min((row for row in ways if row.kind in TRACKER_KINDS), key=lambda row: row.sums.empty_days, default=None)
    if tracker is not None and tracker is not focus:
        sentences.append(f"The best that a motor gives is “{tracker.name}”: {_days(tracker.sums.empty_days)}.")
    barred = [row for row in comparison.rows if row.ruled_out is not None and not row.panels_only]
    if barred:
        sentences.append(_barred_sentence(barred, units))
    if focus is not None and focus.money.npv is not None and focus.money.npv < 0:
        sentences.append("In money alone it does not pay for itself: it buys days.")
    held = focus or base
    if held.sums.longest_dark > 1:
        sentences.append(f"The longest dark stretch is {_days(held.sums.longest_dark)}.")
    if held.empty_range is not None:
        low, high = held.empty_range
        sentences.append(f"In eight years of ten {low:.0f} to {high:.0f} days are empty.")
    sentences.append(_rests_on(study, focus, currency, rows))
    return Verdict(headline, tuple(sentences), focus if focus and focus.extra_cost is not None else None)


def _trouble(way: Way) -> int:
    """How much is asked of a person: standing still, a few moves, more panels or a battery, what moves by itself."""
    if way.kind in STILL_KINDS:
        return 0
    if way.kind in TRACKER_KINDS or "axis" in way.kind:
        return 5
    if way.panels_only or way.kind == "bigger-battery":
        return 3
    return 1 if way.moves <= 2 else 2 if way.moves <= 4 else 4


def _told(way: Way) -> str:
    """A way's name; panels in a few words."""
    if way.panels_only:
        count = _added(way)
        if way.kind == MORE:
            return f"“{way.name}”"
        more = f"{NUMBERS.get(count, str(count))} more panel{'s' if count > 1 else ''}"
        return f"{more}, all of it flat" if way.kind == "more-flat" else more
    return f"“{way.name}”"


def _closed(words: str) -> str:
    """Words with the comma that closes a part set off in them, before a verb."""
    return f"{words}," if "," in words else words


def _for(way: Way, currency: str) -> str:
    return " (give its price)" if way.extra_cost is None else f" for {_sum(way.extra_cost, currency)}" if way.extra_cost else ""


def _cost(way: Way) -> float:
    """What it costs; what has no price yet comes after what has one."""
    return float("inf") if way.extra_cost is None else way.extra_cost


def _days(count: int) -> str:
    return "1 day" if count == 1 else f"{count} days"


def _barred_sentence(rows: list[Way], units: Units) -> str:
    """What the wind rules out, and why the first of it."""
    first = rows[0].ruled_out
    named = " and ".join(f"“{row.name}”" for row in rows[:2]) + (f" and {len(rows) - 2} more" if len(rows) > 2 else "")
    why = (
        f"; at {first.tilt:.0f}° it may stand {told_quantity(first.allowed, WIND_SPEED, units)}, and {first.month}'s gusts reach {told_quantity(first.gust, WIND_SPEED, units)}"
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
        if hand and hand.extra_cost == 0 and _thrown(hand, base) >= WASTED:
            return f"Buy nothing: stay with “{base.name}”; what more could be made here, nothing takes."
        return f"Buy nothing: stay with “{base.name}”; nothing here earns back what it costs."
    if focus is hand:
        work = f" for {focus.minutes:.0f} minutes of work a year" if focus.minutes else ""
        settings = {2: "Two", 4: "Four", 12: "Twelve"}.get(focus.moves, str(focus.moves))
        return f"{settings} moves a year pay: {_gain(focus, base)}{work}."
    if focus.moves == 0 and "axis" not in focus.kind and focus.kind != ELSEWHERE:
        angle = f" ({focus.tilt:.0f}°)" if focus.tilt is not None else ""
        if focus.extra_kwh < A_KWH:
            return f"Just change the angle: “{focus.name}”{angle} saves {focus.saved:.0f} a year, with {-focus.extra_kwh:.0f} kWh less made."
        return f"Just change the angle: “{focus.name}”{angle} gives {_gain(focus, base)} a year."
    return f"“{focus.name}” pays: {_gain(focus, base)} a year, back in {focus.money.payback_text}."


def _blown_headline(comparison: Comparison) -> str:
    """Where the wind rules out the base itself: what it leaves."""
    base = comparison.base
    left = [
        row
        for row in comparison.rows
        if row.advisable and not row.panels_only and row.kind != "bigger-battery" and row.moves == 0
    ]
    free = [row for row in left if row.extra_cost == 0]  # what it can be until then, before anything is bought
    best = max(free or left, key=lambda row: row.extra_kwh, default=None)
    start = f"The wind rules out “{base.name}” as it stands"
    if best is None:
        return f"{start}, and leaves no other way of holding these panels: anchor it, or make it heavier."
    than = "less" if best.extra_kwh < 0 else "more"
    return f"{start}: “{best.name}” is what it leaves, with {abs(best.extra_kwh):.0f} kWh a year {than}, until it is held better."


def _as_good(panels: Way, focus: Way) -> bool:
    """Whether panels leave nearly as much as a way that has to be paid for, or both are too unsure to tell apart."""
    left, other = panels.money.npv or 0.0, focus.money.npv or 0.0
    return left > 0 and (left >= SIMPLER * other or _overlap(panels, focus))


def _beats(panels: Way, focus: Way | None) -> bool:
    """Whether more panels leave more money than a way that has to be paid for; what costs nothing extra does not rule them out."""
    left = panels.money.npv
    if left is None or left <= 0:
        return False
    return focus is None or (bool(focus.extra_cost) and left > (focus.money.npv or 0.0))


def _rival_headline(base: Way, panels: Way, focus: Way | None) -> str:
    count, more = _added(panels), _told(panels)
    gain = f"{_gain(panels, base)} a year, back in {panels.money.payback_text}."
    verb = "beat" if count > 1 else "beats"
    if focus and _overlap(panels, focus):
        verb = f"most likely {verb}"
    if focus is None and base.ruled_out is not None:
        return f"The wind rules out “{base.name}” as it stands; {_closed(more.lower())} would pay: {gain}"
    if focus is None:
        return f"Stay with “{base.name}”; {_closed(more.lower())} would pay: {gain}"
    return f"{_closed(more)} {verb} “{focus.name}”: {gain}"


def _hand_sentence(hand: Way, base: Way, currency: str) -> str:
    if _thrown(hand, base) >= WASTED:
        return (
            f"Moving by hand makes {hand.extra_kwh:+.0f} kWh for {hand.minutes:.0f} minutes a year, and hardly any of it is used."
        )
    if hand.extra_cost is None:
        return f"Moving by hand ({hand.moves} times a year) adds {hand.extra_kwh:.0f} kWh; it may cost at most {_sum(hand.money.break_even_cost, currency)}."
    if (hand.money.npv or 0) > 0:
        return f"Moving by hand {hand.moves} times a year also pays: {_gain(hand, base)} for {hand.minutes:.0f} minutes."
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


def _rests_on(study: Study, way: Way | None, currency: str, rows: Mapping[str, Row] | None = None) -> str:
    use, terms = study.brief.use, study.terms
    if isinstance(use, GridUse) and not use.by_hour:
        about = f"({100 * use.own_share:.0f} % used on the spot)"
    else:
        about = f"(of {study.needs.demand.sum() / 1000:.0f} kWh wanted a year, hour by hour)"
    words = (
        f"Rests on {(currency + ' ').lstrip()}{terms.price:.2f} for one more kWh {about}, "
        f"{terms.life} years and {100 * terms.interest:.0f} % interest"
    )
    found = swings(study, way, rows) if way and (rows or not study_by_hour(study.scene)) else []
    weakest = f"; its weakest number is the {_lower(found[0].name)}" if found else ""
    sky = (
        " (the sky is grown from monthly numbers, so a tracker's gain is the least sure)" if study.scene.weather.synthetic else ""
    )
    return f"{words}{weakest}{sky}."


def study_by_hour(scene: Scene) -> bool:
    """Whether the use of every hour is told."""
    use = scene.brief.use
    return not isinstance(use, GridUse) or use.by_hour


def _lower(words: str) -> str:
    return words[0].lower() + words[1:]
