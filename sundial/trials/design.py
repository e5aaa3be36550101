"""The design of a trial: what differs, what stays the same, when to start, swap and stop on a day of this site, and what the core expects of it."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import cache
from importlib.resources import files
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from sundial.brief_section import BriefSection
from sundial.errors import BriefError
from sundial.expected.conditions import clear_light
from sundial.expected.moment import LIT, expected_series, facing_at, shade_of
from sundial.study import Study
from sundial.trials.model import MOST, Nameplate

Floats = NDArray[np.float64]
EVERY = 300.0  # seconds
ENOUGH = 0.25  # of the day's best power: under it a meter's own error and the glancing light count too much
SHORTEST = 1.5  # hours of one repeat's window
SETTLE = 15  # minutes before the start in which all is set up
Differs = Literal["tilt", "clean", "faces", "height", "moved", "cooling", "other"]


@cache
def kinds() -> dict[str, Any]:
    """What is known of each kind of trial. Source: data/trials.json."""
    found: dict[str, Any] = json.loads((files("sundial.trials") / "data" / "trials.json").read_text("utf-8"))
    return {name: kind for name, kind in found.items() if name != "source"}


class Design(BriefSection):
    """``values``: what the two arms are set to, in the kind's unit. ``swap``: the arms change places half-way through each day;
    ``alike_first``: the first day both are treated alike; ``elsewhere``: they stand where nothing shades them, not where the array stands."""

    differs: Differs = "tilt"
    arms: Annotated[list[Annotated[str, Field(min_length=1, max_length=60)]], Field(min_length=2, max_length=2)]
    values: Annotated[list[float], Field(min_length=2, max_length=2)] = [0.0, 0.0]
    nameplate: Annotated[list[Nameplate], Field(min_length=2, max_length=2)]
    swap: bool = True
    alike_first: bool = True
    elsewhere: bool = False
    repeats: Annotated[int, Field(ge=1, le=MOST)] = 6
    gain: Annotated[float, Field(gt=0, le=5)] = 0.03

    @model_validator(mode="after")
    def _can_be_tried(self) -> Design:
        if self.arms[0].strip().lower() == self.arms[1].strip().lower():
            raise ValueError("arms: both have the same name")
        low, high = {"tilt": (-90, 90), "moved": (-90, 90), "height": (0, 20), "cooling": (0, 5), "other": (-1e9, 1e9)}.get(
            self.differs, (0, 1)
        )
        for value in self.values:
            if not low <= value <= high:
                raise ValueError(f"values: {value:g} is not from {low} to {high}")
        return self

    def place(self, study: Study) -> Study:
        """The build as the arms see its yard."""
        return study.open_sky if self.elsewhere else study

    @property
    def told(self) -> dict[str, Any]:
        """What the kind of trial asks and warns of."""
        found: dict[str, Any] = kinds()[self.differs]
        return found


@dataclass(frozen=True)
class Step:
    """One line of the run sheet: when (local), what to do, and why; ``caution`` where it can hurt."""

    at: datetime
    do: str
    why: str = ""
    caution: str = ""


@dataclass(frozen=True)
class RunSheet:
    """A day: ``start`` to ``stop`` with no shade on the array, ``swap`` from and to (None: not on this day), hours of light that count, why it
    starts and stops then, its steps."""

    day: date
    start: datetime
    stop: datetime
    swap: tuple[datetime, datetime] | None
    hours: float
    starts_because: str
    stops_because: str
    steps: tuple[Step, ...]


def run_sheet(study: Study, design: Design, day: date, alike: bool = False) -> RunSheet:
    """The times of a day. ``alike``: an A/A day, both treated alike, not swapped. BriefError where shade or the season leave no window."""
    low, lit, first, last = _window(design.place(study), day)
    zone = study.scene.site.zone

    def at(place: int) -> datetime:
        return datetime.fromtimestamp(low + place * EVERY, UTC).astimezone(zone)

    start, stop = at(first), at(last)
    swap = None
    if design.swap and not alike:
        apart = float(design.told["minutes"])
        gathered = np.cumsum(lit.power[first:last])
        half = first + int(np.searchsorted(gathered, gathered[-1] / 2))
        middle = at(half)
        swap = (_whole(middle - timedelta(minutes=apart / 2)), _whole(middle + timedelta(minutes=apart / 2)))
    hours = (stop - start).total_seconds() / 3600 - ((swap[1] - swap[0]).total_seconds() / 3600 if swap else 0)
    steps = _steps(design, start, stop, swap, alike, lit.after(last))
    return RunSheet(day, start, stop, swap, hours, lit.before(first), lit.after(last), steps)


def next_day(study: Study, design: Design, day: date) -> date | None:
    """The next day, by weeks, that leaves a window; None where half a year has none."""
    for week in range(1, 27):
        other = day + timedelta(days=7 * week)
        try:
            _window(design.place(study), other)
        except BriefError:
            continue
        return other
    return None


@dataclass(frozen=True, eq=False)
class _Lit:
    """A day at five-minute steps: power (n,), shade on the direct light (n,)."""

    power: Floats
    shaded: NDArray[np.bool_]

    def before(self, first: int) -> str:
        return "shade has left by then" if first and self.shaded[first - 1] else "the light is strong enough by then"

    def after(self, last: int) -> str:
        return (
            "shade comes in after that" if last < len(self.shaded) and self.shaded[last] else "the light gets too weak after that"
        )


def _window(study: Study, day: date) -> tuple[float, _Lit, int, int]:
    """Unix time of midnight, the day, and the longest window without shade as places of five minutes."""
    start = datetime(day.year, day.month, day.day, tzinfo=study.scene.site.zone)
    low = start.timestamp()
    unix = np.asarray(low + EVERY * np.arange(round(86400 / EVERY)), dtype=np.float64)
    power = expected_series(study, unix)
    light = clear_light(study.scene, unix)
    shaded = np.zeros(len(unix), dtype=bool)
    shade = shade_of(study.scene, light)
    if shade is not None:
        shaded = np.broadcast_to(shade.of_facing(*facing_at(study, unix)).direct, (len(unix),)) < LIT
    good = (power >= ENOUGH * max(float(power.max()), 1.0)) & ~shaded & (light.elevation > 0)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], good, [False]]).astype(int)))
    spans = [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]
    first, last = max(spans, key=lambda span: span[1] - span[0], default=(0, 0))
    if (last - first) * EVERY < SHORTEST * 3600:
        raise BriefError(
            "day", f"leaves no {SHORTEST:g} hours without shade on the panels: try another day, or another place for both arms"
        )
    return low, _Lit(power, shaded), first, last


def _whole(at: datetime) -> datetime:
    return (at + timedelta(seconds=30)).replace(second=0, microsecond=0)


def _steps(
    design: Design, start: datetime, stop: datetime, swap: tuple[datetime, datetime] | None, alike: bool, because: str
) -> tuple[Step, ...]:
    first, second = design.arms
    caution = str(design.told["caution"])
    set_up = (
        f"Set both up as “{first}”, side by side"
        if alike
        else f"Set up “{first}” at position 1 and “{second}” at position 2, side by side"
    )
    steps = [
        Step(start - timedelta(minutes=SETTLE), f"{set_up}. The same for both: {', '.join(design.told['same'])}.", "", caution),
        Step(
            start,
            "Set both energy meters to nought, or write down what both show.",
            "Energy of the same hours, not watts of a moment.",
        ),
    ]
    if swap:
        steps += [
            Step(swap[0], "Write down what both show. That is the first repeat.", "Half of the day's light has come."),
            Step(swap[0], str(design.told["swap"]), "What belongs to the panels and meters then cancels.", caution),
            Step(swap[1], "Write down what both show, or set both to nought: the second repeat starts.", ""),
        ]
    last = "second repeat" if swap else "repeat"
    steps.append(Step(stop, f"Write down what both show. That is the {last}.", because[:1].upper() + because[1:] + "."))
    return tuple(steps)


@dataclass(frozen=True)
class Predicted:
    """What the core expects of the second arm over the first on such a clear day (None: it has no figure for this), and of what."""

    ratio: float | None
    why: str


def predicted(study: Study, design: Design, day: date) -> Predicted:
    """The ratio of the arms over the window of the day under a cloudless sky, one panel of each beside the other, per nameplate."""
    study = design.place(study)
    low, _, first, last = _window(study, day)
    unix = np.asarray(low + EVERY * (np.arange(first, last) + 0.5), dtype=np.float64)
    one, other = design.values
    if design.differs in ("tilt", "moved"):
        made = [float(expected_series(study, unix, value).sum()) for value in (one, other)]
        return _of(made, f"tilts of {one:g} and {other:g} degrees on {day:%-d %B}, with heat and the glass's reflection")
    if design.differs == "clean":
        return (
            Predicted(1 / (1 - other), f"dirt that takes {100 * other:g} % of the light")
            if other > 0
            else Predicted(None, "how much the dirt takes is not known")
        )
    panel = study.brief.panel
    if design.differs in ("faces", "height") and panel.bifaciality <= 0:
        return Predicted(1.0, "the panels of this build have one face: light from behind does nothing for them")
    if design.differs == "height":
        made = [_made(study, unix, clearance=value) for value in (one, other)]
        return _of(made, f"light on the back at {one:g} and {other:g} m over this ground")
    if design.differs == "faces":
        made = [_made(study, unix, bifaciality=panel.bifaciality * value) for value in (one, other)]
        return _of(
            made, f"light on the back at {study.brief.array.clearance:g} m over this ground, bifaciality {panel.bifaciality:g}"
        )
    if design.differs == "cooling":
        made = [
            _made(study, unix, mounting="close" if value < 0.05 else "raised" if value < 0.2 else "open-rack")
            for value in (one, other)
        ]
        return _of(made, "the cells' heat with and without air behind")
    return Predicted(None, "no figure of the plan belongs to this comparison")


def _of(made: list[float], why: str) -> Predicted:
    return Predicted(made[1] / made[0], why) if made[0] > 0 and made[1] > 0 else Predicted(None, why)


def _made(
    study: Study, unix: Floats, clearance: float | None = None, bifaciality: float | None = None, mounting: str = ""
) -> float:
    """Cloudless energy over these times of the build with one thing otherwise."""
    brief = study.brief
    if clearance is not None:
        brief = brief.model_copy(update={"array": brief.array.model_copy(update={"clearance": clearance})})
    if bifaciality is not None:
        brief = brief.model_copy(update={"panel": brief.panel.model_copy(update={"bifaciality": bifaciality})})
    if mounting:
        brief = brief.model_copy(update={"system": brief.system.model_copy(update={"mounting": mounting})})
    return float(expected_series(study.beside(brief), unix).sum())
