"""The wish behind the tilt plan."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar

from django import forms
from django.db.models import Model
from django.utils import timezone

from sundial.days import MONTH_NAMES, date_of_day
from sundial.errors import BriefError
from sundial.limits import held_tilt
from sundial.scene import Scene
from web.builds.editing import StationForm
from web.builds.fields import ChoiceField, NumberField, TwelveField, WholeField
from web.builds.models import Build
from web.builds.results import Results
from web.tilt.models import Plan

SLACKS = [
    ("0.0005", "0.05 % of the year"),
    ("0.001", "0.1 % of the year"),
    ("0.002", "0.2 % of the year"),
    ("0.005", "0.5 % of the year"),
]
SIMPLE = ("settings", "cap", "floor", "minutes_per_move", "people", "value_of_hour", "tilt_now")


def one_tilt(mount: Mapping[str, Any]) -> bool:
    """Whether a mount, as a brief tells it, has one tilt that a person may type."""
    return "tilt" in mount


def stays_put(build: Build) -> bool:
    """Whether a build has one tilt all year: told so, or the only one that its frame reaches."""
    mount = build.frame.mount
    if mount.get("kind") != "stepped":
        return one_tilt(mount)
    if mount.get("tilts") or build.frame.structure is None:
        return len(mount.get("tilts") or ()) == 1
    try:
        return held_tilt(Scene(Results(build).brief)) is not None  # which asks for no sky
    except BriefError:  # told where the frame is
        return False


class GoalForm(StationForm):
    """What the power is for: asked with the place, and changed with the plan."""

    goal_paths: ClassVar[dict[str, str]] = {"plan.months": "months", "plan.demand": "demand", "plan.goal": "goal"}

    goal = ChoiceField(
        label="What is the power for?",
        choices=Plan.GOALS,
        widget=forms.RadioSelect,
        why="Winter means the half year around the shortest day. The fewest empty days need a place without a grid: Worth it? asks.",
    )
    months = forms.TypedMultipleChoiceField(
        label="My months",
        choices=[(i, name[:3]) for i, name in enumerate(MONTH_NAMES, 1)],
        coerce=int,
        required=False,
        widget=forms.CheckboxSelectMultiple,
    )
    demand = TwelveField(
        0, 1e6, label="My demand", unit="kWh a month", required=False, why="Least unmet first, then least wasted."
    )

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        if data.get("goal") == "months" and not data.get("months"):
            self.add_error("months", "Choose at least one month.")
        if data.get("goal") == "demand" and not data.get("demand") and "demand" not in self.errors:
            self.add_error("demand", "Give twelve numbers in kWh, January to December.")
        return data

    def apply_goal(self, plan: Plan) -> None:
        """Put the goal into the plan, which the caller saves."""
        plan.goal, plan.demand = self.cleaned_data["goal"], self.cleaned_data["demand"]
        plan.months = sorted(self.cleaned_data["months"]) or None


class TiltForm(GoalForm):
    """Goal, number of settings, effort and limits."""

    paths: ClassVar[dict[str, str]] = {
        **GoalForm.goal_paths,
        "plan.cap": "cap",
        "plan.floor": "floor",
        "plan.settings": "settings",
        "plan.tilt_now": "tilt_now",
        "plan.year": "year",
        "mount.tilts": "cap",
        "mount.tilt": "angle",
    }

    angle = NumberField(
        0, 90, label="It stands at", unit="° from level", why="0 is flat, 90 upright. Try others: the year follows."
    )

    settings = WholeField(1, 12, label="Settings a year", why="1 is one angle for good; 2 is a summer and a winter tilt.")
    minutes_per_move = NumberField(0, 10000, label="It takes", unit="min", why="Loosen, lift, pin, tighten, come down.")
    people = WholeField(1, 20, label="with", unit="people")
    value_of_hour = NumberField(
        0, 1e6, label="An hour of it is worth", unit="{currency}", why="0 if you enjoy it: then every move pays."
    )
    tilt_now = NumberField(
        0,
        90,
        label="Tilt it has now",
        unit="°",
        required=False,
        why="To see what your own angle loses.",
        source="Inclinometer on the glass.",
    )
    slack = ChoiceField(label="A late move may cost", choices=SLACKS, why="Sets how wide the window of each date is.")
    weekends = forms.BooleanField(label="Only at weekends", required=False)
    year = WholeField(2000, 2200, label="Weekends of the year", why="Saturdays fall on other dates each year.")
    cap = TwelveField(
        0,
        90,
        label="No steeper than",
        unit="° by month",
        required=False,
        why="Wind: twelve caps, January to December, or one for all. Empty: none.",
    )
    floor = TwelveField(0, 90, label="No flatter than", unit="° by month", required=False, why="Drainage and snow. Empty: none.")

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        super().__init__(build, *args, **kwargs)
        self.stays, typed = stays_put(build), one_tilt(build.frame.mount)
        for name in set(self.fields) - set(GoalForm.base_fields):
            if name == "angle" and not typed or name != "angle" and self.stays:
                del self.fields[name]
        if self.stays:
            return
        kept = f"{build.plan.slack:g}"
        if kept not in dict(SLACKS):  # from an imported brief
            self.fields["slack"].choices = [*SLACKS, (kept, f"{build.plan.slack:.3%} of the year")]  # type: ignore[attr-defined]

    def current(self, build: Build) -> dict[str, Any]:
        plan = build.plan
        held = {name: getattr(plan, name) for name in (*SIMPLE, "goal", "demand", "months")}
        return {
            "angle": build.frame.mount.get("tilt"),
            **held,
            "slack": f"{plan.slack:g}",
            "weekends": plan.weekdays == [5, 6],
            "year": plan.year,
        }

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        cap, floor = data.get("cap"), data.get("floor")
        for month, (low, high) in enumerate(zip(floor or [], cap or [], strict=False)):
            if low > high:
                self.add_error(
                    "cap", f"{MONTH_NAMES[month]} is left with no tilt: no steeper than {high:g}° but no flatter than {low:g}°."
                )
                break
        return data

    def apply(self, build: Build) -> list[Model]:
        plan, data = build.plan, self.cleaned_data
        self.apply_goal(plan)
        if "angle" in data:
            build.frame.mount = {**build.frame.mount, "tilt": data["angle"]}
        if self.stays:
            return [plan, build.frame]
        for name in SIMPLE:
            setattr(plan, name, data[name])
        plan.slack, plan.year = float(data["slack"]), data["year"]
        if data["weekends"] != (plan.weekdays == [5, 6]):
            plan.weekdays = [5, 6] if data["weekends"] else None
        return [plan]


class StayForm(StationForm):
    """A few days in one place."""

    paths: ClassVar[dict[str, str]] = {"--days": "days", "--minutes": "minutes", "": "days"}
    prefix = "stay"
    first = forms.DateField(
        label="From", widget=forms.DateInput(attrs={"type": "date"}), error_messages={"invalid": "Give a date.", "required": "Give a date."}
    )  # fmt: skip
    days = WholeField(1, 365, label="Days there")
    minutes = NumberField(0, 1440, label="To raise and lower", unit="min")
    azimuth = NumberField(
        0,
        360,
        label="It faces",
        unit="°",
        required=False,
        why="From true north, as it is parked there. Empty: as the build does.",
    )
    worth = NumberField(
        0, 100000, label="Worth the work from", unit="kWh", required=False, why="What the stay must gain for you to bother."
    )

    def current(self, build: Build) -> dict[str, Any]:
        day = date_of_day(build.chosen_day, timezone.localdate().year)
        return {"first": day.isoformat(), "days": 3, "minutes": 10.0, "azimuth": None, "worth": None}
