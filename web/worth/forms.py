"""Prices, and the rows of the comparison."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms
from django.db.models import Model

from sundial.brief.model import ROWS
from sundial.errors import BriefError
from sundial.quantities import parse_tilts
from sundial.worth.comparison import PANEL_KINDS
from sundial.worth.other_panels import ELSEWHERE, MORE
from sundial.worth.ways import ASKED_FOR, NAMES
from web.builds.editing import StationForm
from web.builds.fields import ChoiceField, LineField, NumberField, PercentField, SwitchField, WholeField
from web.builds.models import CURRENCIES, Build
from web.builds.results import Results
from web.builds.typed_tables import TableField
from web.worth.models import Option
from web.worth.use_forms import UseForm

ECONOMICS = (
    "import_price",
    "export_price",
    "self_consumption",
    "life",
    "interest",
    "price_growth",
    "ageing",
    "panel_cost",
    "count_hours",
    "room",
    "spent",
)
FREE = ("flat", "best-fixed", "yours", "winter-left")
UNPRICED = (*FREE, *PANEL_KINDS)
NEEDED = {"count": "Say how many.", "azimuth": "Say which way they face.", "tilt": "Say at which angle."}


def _asked(build: Build) -> list[str]:
    """Rows that are there only where they are asked for: not the build's own mount."""
    return [kind for kind in ASKED_FOR if kind != build.frame.mount["kind"]]


class WorthForm(UseForm):
    """Prices and terms; one switch, cost and upkeep for each row."""

    paths: ClassVar[dict[str, str]] = {
        "room": "room",
        "worth.life": "life",
        "worth.interest": "interest",
        "use.own_share": "self_consumption",
        **UseForm.use_paths,
    }

    currency = ChoiceField(label="Money in", choices=CURRENCIES)
    import_price = NumberField(
        -100,
        10000,
        label="Buying a kWh",
        unit="{currency}",
        why="What a kWh you use yourself saves.",
        source="Your bill, taxes in.",
    )
    export_price = NumberField(
        -100,
        10000,
        label="Selling a kWh",
        unit="{currency}",
        why="Negative where feeding in costs money.",
        source="Your contract.",
    )
    self_consumption = PercentField(0, 100, label="Used on the spot", why="Share of extra energy that you use yourself.")
    panel_cost = NumberField(
        0,
        1e6,
        label="One more panel costs",
        unit="{currency}",
        required=False,
        why="With its part of frame, wire, freight and tax.",
    )
    room = WholeField(
        0,
        1000,
        label="Room for more panels",
        unit="panels",
        required=False,
        why="More panels are a tracker's rival. 0: there is no room.",
        source="Empty: not looked at yet.",
    )
    spent = NumberField(
        0,
        1e9,
        label="The whole build costs",
        unit="{currency}",
        required=False,
        why="Panels, frame, wires, converter, fixings, hours: against nothing built at all.",
    )
    life = WholeField(1, 60, label="Counted over", unit="years")
    interest = PercentField(-99, 100, label="Interest", why="What the money would earn elsewhere.")
    price_growth = PercentField(-50, 50, label="Prices grow", unit="% a year")
    ageing = PercentField(0, 100, label="Panels age", unit="% a year")
    count_hours = SwitchField(label="Put a price on my hours", why="Takes the value of an hour from The tilt plan.")

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        options = build.economics.options
        self.held = {option.row: option for option in options if option.row}
        self.own = [option for option in options if not option.row]
        super().__init__(build, *args, **kwargs)
        for kind in ROWS:
            self._add_row(kind, NAMES[kind], priced=kind not in UNPRICED)
        for name, field in self.fields.items():
            if isinstance(field, TableField):
                field.held = self.initial.get(name) or []
        for option in self.own:
            self._add_row(f"own{option.pk}", option.name, priced=True)

    def _add_row(self, key: str, name: str, priced: bool) -> None:
        self.fields[f"{key}_on"] = forms.BooleanField(label=f"Show “{name}”", required=False)
        if priced:
            self.fields[f"{key}_cost"] = NumberField(-1e9, 1e9, label=f"Extra cost of “{name}”", required=False)
            self.fields[f"{key}_upkeep"] = NumberField(0, 1e6, label=f"Upkeep of “{name}” a year", required=False)

    def current(self, build: Build) -> dict[str, Any]:
        values: dict[str, Any] = {name: getattr(build.economics, name) for name in ECONOMICS} | {"currency": build.currency}
        values |= self.current_use(build)
        for kind in ROWS:
            option = self.held.get(kind)
            values |= {
                f"{kind}_on": not option.off if option else kind not in _asked(build),
                f"{kind}_cost": option and option.extra_cost,
                f"{kind}_upkeep": option.upkeep if option else None,
            }
        for option in self.own:
            key = f"own{option.pk}"
            values |= {f"{key}_on": not option.off, f"{key}_cost": option.extra_cost, f"{key}_upkeep": option.upkeep}
        return values

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        self.clean_use(data)
        return data

    def apply(self, build: Build) -> list[Model]:
        self.put(build, ("currency",))
        self.put(build.economics, ECONOMICS)
        options = build.economics.options
        known = {option.row: option for option in options if option.row}
        changed: list[Model] = [build.economics, *self.apply_use(build)]
        for kind in ROWS:
            option = known.get(kind) or Option(build=build, row=kind, position=ROWS.index(kind), off=kind in _asked(build))
            if self._changed(option, kind):
                changed.append(option)
                if kind not in known:
                    options.append(option)
        changed += [option for option in options if not option.row and self._changed(option, f"own{option.pk}")]
        options.sort(key=lambda option: (option.position, option.pk or float("inf")))
        return changed

    def _changed(self, option: Option, key: str) -> bool:
        data = self.cleaned_data
        if f"{key}_on" not in self.fields:  # added in another tab meanwhile
            return False
        new = (not data[f"{key}_on"], data.get(f"{key}_cost"), data.get(f"{key}_upkeep") or 0.0)
        if new == (option.off, option.extra_cost, option.upkeep):
            return False
        option.off, option.extra_cost, option.upkeep = new
        return True

    def check(self, results: Results) -> None:
        results["worth"]


class AddRowForm(StationForm):
    """A way of holding the panels of the person's own, or other panels."""

    name = LineField(label="Its name", max_length=120)
    kind = ChoiceField(
        label="It is",
        choices=[
            ("fixed", "fixed"),
            ("stepped", "stepped by hand"),
            ("one-axis", "one axis"),
            ("two-axis", "two axes"),
            (MORE, "more panels, beside these"),
            (ELSEWHERE, "these panels, on a roof or elsewhere"),
        ],
    )
    tilts = forms.CharField(label="Tilt, or tilts it reaches", max_length=400, required=False)
    settings = WholeField(1, 12, label="Settings a year", required=False)
    count = WholeField(1, 400, label="How many more", required=False)
    power = NumberField(1, 2000, label="Nameplate of one", unit="W", required=False, why="Empty: as the panels that are there.")
    bifaciality = PercentField(
        0, 100, label="Back side makes", required=False, why="Empty: as the panels that are there. 0: nothing."
    )
    azimuth = NumberField(
        0,
        360,
        label="They face",
        unit="° from true north",
        required=False,
        why="East 90, south 180, west 270. Empty: as the array does.",
    )
    tilt = NumberField(0, 90, label="At", unit="° from level", required=False, why="Empty: as the base.")
    extra_cost = NumberField(-1e9, 1e9, label="Extra cost", unit="{currency}", required=False)
    upkeep = NumberField(0, 1e6, label="Upkeep", unit="{currency} a year", required=False)

    def current(self, build: Build) -> dict[str, Any]:
        return {"settings": 2, "kind": "fixed"}

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        kind, typed = data.get("kind"), data.get("tilts") or ""
        self.mount: dict[str, Any] | None = {"kind": kind}
        self.panels: dict[str, Any] | None = None
        if kind in (MORE, ELSEWHERE):
            self.mount, self.panels = None, self._panels(data, kind)
            return data
        if kind in ("fixed", "stepped") or typed:
            try:
                tilts = sorted(set(parse_tilts(typed)))
            except BriefError as error:
                self.add_error("tilts", error.message[0].upper() + error.message[1:])
                return data
            if tilts[0] < 0:
                self.add_error("tilts", "Tilts lie from 0 (flat) to 90 (upright).")
            if kind == "fixed":
                self.mount["tilt"] = tilts[0]
            elif kind == "stepped":
                self.mount["tilts"] = tilts
            elif kind == "one-axis":
                self.mount |= {"axis_tilts": tilts} if len(tilts) > 1 else {"axis_tilt": tilts[0]}
        return data

    def _panels(self, data: dict[str, Any], kind: str) -> dict[str, Any]:
        """Other panels, in the words of a brief."""
        needed = ("count",) if kind == MORE else ("azimuth", "tilt")
        for name in needed:
            if data.get(name) is None and name not in self.errors:
                self.add_error(name, NEEDED[name])
        asked = ("count", "power", "bifaciality", "azimuth", "tilt") if kind == MORE else needed
        return {name: data[name] for name in asked if data.get(name) is not None}

    def apply(self, build: Build) -> list[Model]:
        data = self.cleaned_data
        option = Option(
            build=build,
            position=50,
            name=data["name"],
            mount=self.mount,
            panels=self.panels,
            settings=data["settings"] if data["kind"] in ("stepped", "one-axis") else None,
            extra_cost=data["extra_cost"],
            upkeep=data["upkeep"] or 0.0,
        )
        build.economics.options.append(option)
        return [option]

    def check(self, results: Results) -> None:
        results["worth"]
