"""The frame: panels from their label, how they stand, what the mount can reach."""

from __future__ import annotations

import re
from typing import Any, ClassVar

from django import forms
from django.db.models import Model

from sundial.errors import BriefError
from sundial.quantities import parse_tilts
from sundial.sun import Site
from web.builds.fields import Asked, ChoiceField, LengthField, NumberField, PercentField, SwitchField, WholeField
from web.builds.models import Build
from web.frame.built import BuiltForm
from web.frame.models import Frame

MOTOR = ("standby_watts", "moving_watts", "speed", "aim")
PLAIN = (
    "power", "rows", "columns", "orientation", "length", "width", "clearance", "azimuth", "bifaciality", "mass",
    "mounting", "inverter_power", "inverter_efficiency",
    "transposition",
)  # fmt: skip
TILTS = ("tilts", "min", "max", "step", "axis_tilts", "weekdays", "months")
DAYS = ("Mo", "Tu", "We", "Th", "Fr", "Sa", "Su")
MONTHS = ("J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D")
LOSSES = ("soiling", "wiring", "mismatch", "light_induced", "availability", "ageing")


class HolesField(Asked, forms.CharField):
    """The list, range or pasted hole table of reachable tilts."""

    def __init__(self, why: str, source: str, **kwargs: Any) -> None:
        super().__init__(max_length=8000, widget=forms.Textarea(attrs={"rows": 3}), **kwargs)
        self.ask("°", why, source)


class FrameForm(BuiltForm):
    """Panels, array and mount."""

    paths: ClassVar[dict[str, str]] = {
        **BuiltForm.built_paths,
        "mount.facings": "facings",
        "mount.weekdays": "turn_days",
        "mount.months": "turn_months",
        "mount.tilts": "tilts",
        "mount.min": "tilts",
        "mount.max": "tilts",
        "mount.axis_tilts": "axis_tilts",
        "mount.tilt": "tilt",
        "mount.limit": "limit",
        "mount.min_tilt": "min_tilt",
        "mount.max_tilt": "max_tilt",
        "array.rows": "rows",
        "array.columns": "columns",
        "array.azimuth": "azimuth",
        "plan.cap": "tilts",
        "plan.settings": "tilts",
        "panel.power": "power",
    }

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        super().__init__(build, *args, **kwargs)
        if "azimuth" in self.fields:
            toward = Site(build.place.latitude, build.place.longitude).equator_ward
            self.fields["azimuth"].widget.attrs["placeholder"] = f"{toward:.0f}, {'south' if toward == 180 else 'north'}"

    power = NumberField(1, 2000, label="Nameplate", unit="W", why="Power at 1000 W/m² and 25 °C.", source="Label: Pmax or Wp.")
    rows = WholeField(1, 50, label="Rows up the slope", why="How many panels stand one above the other.")
    columns = WholeField(1, 200, label="Columns along it", why="How many panels stand side by side.")
    orientation = ChoiceField(
        label="Panels stand",
        choices=[("portrait", "portrait"), ("landscape", "landscape")],
        why="Portrait: the short side is level.",
    )
    length = LengthField(0.1, 5, small=True, label="Panel length", why="The long side of one panel.", source="Label or tape.")
    width = LengthField(0.1, 5, small=True, label="Panel width", why="The short side of one panel.", source="Label or tape.")
    clearance = LengthField(
        0, 20, label="Lower edge above ground", why="Room for snow, grass and splash; lets light under bifacial panels."
    )
    azimuth = NumberField(
        0,
        360,
        label="Facing",
        unit="° from true north",
        required=False,
        why="180 is south, 90 east, 270 west, 0 north. Empty: toward the equator, which is what the field shows.",
        source="A compass shows magnetic north: see The place.",
    )
    kind = ChoiceField(label="The mount is", choices=Frame.KINDS, why="What can move, and who moves it.")
    tilt = NumberField(
        0,
        90,
        label="Tilt",
        unit="° from level",
        required=False,
        why="0 is flat, 90 upright. Measured from the level, not from the wall.",
    )
    tilts = HolesField(
        label="Tilts it can reach",
        required=False,
        why="A list (15, 22, 29), a range (10 to 60 by 5), or a pasted hole table: one hole a line, its tilt last.",
        source="Inclinometer on the glass at each hole.",
    )
    both_sides = SwitchField(
        label="Leans to both sides",
        why="Tilts below 0 lean away from the facing: of use in the tropics, where the summer sun stands on the polar side.",
    )
    axis_tilt = NumberField(
        0, 90, label="Axis tilt", unit="°", required=False, why="0 is a level axis; tilted axes lean to the equator."
    )
    axis_tilts = forms.CharField(label="Axis tilts set by hand", max_length=400, required=False)
    limit = NumberField(1, 180, label="Rolls to each side", unit="°", required=False, why="Where the end stops are.")
    backtrack = SwitchField(label="Backtracks", why="Rolls back early and late so that rows do not shade each other.")
    ground_cover = NumberField(0.01, 0.99, label="Slope length over row pitch", required=False, why="Only for backtracking rows.")
    min_tilt = NumberField(0, 90, label="Flattest tilt", unit="°", required=False)
    max_tilt = NumberField(0, 90, label="Steepest tilt", unit="°", required=False)
    standby_watts = NumberField(
        0, 1000, label="Controller takes", unit="W always", required=False, why="Day and night: 1.5 W is 13 kWh a year."
    )
    moving_watts = NumberField(0, 5000, label="Motor takes", unit="W moving", required=False)
    speed = NumberField(0.01, 3600, label="Turns at", unit="° a minute", required=False)
    aim = ChoiceField(
        label="Looks at",
        choices=[("sun", "the sun, always"), ("light", "the brightest sky, flatter when dull")],
        required=False,
        why="Under a dull sky lying flat catches more.",
    )
    facings = forms.CharField(label="Facings, morning to evening", max_length=120, required=False, initial="120, 180, 240")
    turn_days = forms.TypedMultipleChoiceField(
        label="Days it is really done",
        choices=list(enumerate(DAYS)),
        coerce=int,
        required=False,
        widget=forms.CheckboxSelectMultiple,
    )
    turn_months = forms.TypedMultipleChoiceField(
        label="in these months",
        choices=list(enumerate(MONTHS, 1)),
        coerce=int,
        required=False,
        widget=forms.CheckboxSelectMultiple,
    )
    turn_minutes = NumberField(0, 240, label="One turn takes", unit="min", required=False)
    gamma = NumberField(
        -1,
        0,
        label="Power and heat",
        unit="% per °C",
        why="How much power each degree takes.",
        source="Label: temperature coefficient of Pmax.",
    )
    bifaciality = PercentField(
        0, 100, label="Back side makes", why="0 for panels with an opaque back.", source="Data sheet: bifaciality."
    )
    mass = NumberField(0, 200, label="Panel mass", unit="kg", why="For later: load and lifting.", source="Label.")
    mounting = ChoiceField(label="Air behind", choices=Frame.MOUNTINGS, why="Panels with no air behind run hotter.")
    transposition = ChoiceField(
        label="Sky model",
        choices=[("hay-davies", "Hay and Davies"), ("perez", "Perez")],
        why="How the bright part of the sky round the sun is told from the rest. The two differ by about a per cent.",
        source="Hay and Davies 1980; Perez et al. 1990.",
    )
    inverter_power = NumberField(
        1,
        1_000_000,
        label="Inverter limit",
        unit="W",
        required=False,
        why="What the sun gives above it is lost. Empty: no limit.",
    )
    inverter_efficiency = PercentField(50, 100, label="Inverter efficiency")
    soiling = PercentField(0, 100, label="Dirt (soiling)", required=False)
    wiring = PercentField(0, 100, label="Wiring", required=False)
    mismatch = PercentField(0, 100, label="Mismatch", required=False)
    light_induced = PercentField(0, 100, label="Light-induced loss", required=False)
    availability = PercentField(0, 100, label="Down time", required=False)
    ageing = PercentField(0, 100, label="Ageing so far", required=False)

    def current(self, build: Build) -> dict[str, Any]:
        frame = build.frame
        held = {name: getattr(frame, name) for name in self.base_fields if hasattr(frame, name)}
        mount = dict(frame.mount)
        axis = mount.get("axis_tilts") or []
        losses = {name: value for name, value in frame.losses.items() if not isinstance(value, list)}
        return {
            "tilt": 30.0, "axis_tilt": 0.0, "limit": 55.0, "ground_cover": 0.3, "min_tilt": 0.0, "max_tilt": 80.0,
            "standby_watts": 1.5, "moving_watts": 20.0, "speed": 6.0, "aim": "sun",
            "turn_minutes": mount.get("minutes", 2.0), "turn_days": mount.get("weekdays") or range(7),
            "turn_months": mount.get("months") or range(1, 13),
            **self.built_now(frame.structure), **held, **losses, **mount,
            "facings": ", ".join(f"{way:g}" for way in mount.get("facings", self._ways(build))),
            "tilts": frame.tilts_typed or "15, 20, 25, 30, 35, 40, 45, 50, 55, 60",
            "axis_tilts": ", ".join(f"{t:g}" for t in axis),
            "gamma": round(frame.gamma * 100, 6),
        }  # fmt: skip

    @staticmethod
    def _ways(build: Build) -> list[float]:
        """Facings to begin with: half way to the morning, straight, half way to the evening."""
        straight = Site(build.place.latitude, build.place.longitude).equator_ward
        turn = 60.0 if straight == 180 else -60.0
        return [(straight + step) % 360 for step in (-turn, 0.0, turn)]

    def clean_bifaciality(self) -> float:
        """A factor of the data sheet (0.7) typed where per cent are asked is asked about, not taken as under one per cent."""
        share: float = self.cleaned_data["bifaciality"]
        if 0 < share < 0.01:
            factor = share * 100
            raise forms.ValidationError(f"{factor:g} % is next to nothing: for a factor of {factor:g} write {factor * 100:g}.")
        return share

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        kind = data.get("kind")
        if "built" in self.fields:
            self.need_measures(data)
        needed = {
            "fixed": ("tilt",),
            "one-axis": ("axis_tilt", "limit"),
            "two-axis": ("min_tilt", "max_tilt"),
            "hinge": ("min_tilt", "max_tilt"),
            "turned": ("tilt",),
        }.get(kind or "", ())
        for name in needed:
            if data.get(name) is None and name not in self.errors:
                self.add_error(name, "Give a number.")
        if kind in ("two-axis", "hinge") and (data.get("min_tilt") or 0) > (data.get("max_tilt") or 90):
            self.add_error("max_tilt", "The steepest tilt must not be under the flattest.")
        self.told_by_frame = kind == "stepped" and self.says_tilts(data)
        self.reached = self._tilts("tilts", data) if kind == "stepped" and not self.told_by_frame else []
        self.ways = self._facings(data) if kind == "turned" else []
        self.axis_reached = self._tilts("axis_tilts", data) if kind == "one-axis" and data.get("axis_tilts") else []
        return data

    def _facings(self, data: dict[str, Any]) -> list[float]:
        parts = [part for part in re.split(r"[;,\s]+", data.get("facings") or "") if part]
        try:
            ways = [float(part) for part in parts]
        except ValueError:
            ways = []
        if not 2 <= len(ways) <= 5 or not all(0 <= way <= 360 for way in ways):
            self.add_error("facings", "Give two to five facings in degrees from true north, such as 120, 180, 240.")
            return []
        return ways

    def _tilts(self, name: str, data: dict[str, Any]) -> list[float]:
        try:
            tilts = parse_tilts(data.get(name) or "")
            if any(tilt < 0 for tilt in tilts) and not (name == "tilts" and data.get("both_sides")):
                raise BriefError("", "tilts lie from 0 (flat) to 90 (upright)")
        except BriefError as error:
            where = error.path.replace("mount.tilts", "").strip()
            said = f"{where}: {error.message}" if where else error.message
            self.add_error(name, said[0].upper() + said[1:])
            return []
        repeated = {tilt for tilt in tilts if tilts.count(tilt) > 1}
        if repeated:
            self.add_error(name, f"{min(repeated):g}° is there twice: name each tilt once.")
        return sorted(set(tilts))

    def apply(self, build: Build) -> list[Model]:
        frame, data = build.frame, self.cleaned_data
        self.put(frame, PLAIN)
        if "gamma" in data:
            frame.gamma = round(data["gamma"] / 100, 10)
        # An empty loss keeps what was there: an imported brief may hold twelve monthly ones.
        frame.losses = {name: frame.losses[name] if data.get(name) is None else data[name] for name in LOSSES}
        if "built" in data:
            frame.structure = self.structure(data, frame.structure)
        if "kind" in data:
            frame.tilts_typed = data["tilts"]
            # Keys of an imported brief that are not asked here stay.
            kept = (
                {key: value for key, value in frame.mount.items() if key not in TILTS}
                if frame.mount["kind"] == data["kind"]
                else {}
            )
            frame.mount = {**kept, **self._mount(data)}
        return [frame]

    def _mount(self, data: dict[str, Any]) -> dict[str, Any]:
        kind = data["kind"]
        if kind == "fixed":
            return {"kind": kind, "tilt": data["tilt"]}
        if self.told_by_frame:
            return {"kind": kind}
        if kind == "turned":
            days, months = data.get("turn_days") or [], data.get("turn_months") or []
            return {
                "kind": kind, "tilt": data["tilt"], "facings": self.ways, "minutes": data.get("turn_minutes") or 0.0,
                **({"weekdays": days} if len(days) < 7 else {}), **({"months": months} if len(months) < 12 else {}),
            }  # fmt: skip
        if kind == "stepped":
            return {"kind": kind, "tilts": self.reached, "both_sides": data.get("both_sides", False)}
        motor = {name: data[name] for name in MOTOR if data.get(name) not in (None, "")}
        if kind in ("two-axis", "hinge"):
            return {"kind": kind, "min_tilt": data["min_tilt"], "max_tilt": data["max_tilt"], **motor}
        mount = {
            "kind": kind,
            "axis_tilt": data["axis_tilt"],
            "limit": data["limit"],
            "backtrack": data.get("backtrack", False),
            **motor,
        }
        if data.get("ground_cover"):
            mount["ground_cover"] = data["ground_cover"]
        return {**mount, "axis_tilts": self.axis_reached} if self.axis_reached else mount


class PanelsStep(FrameForm):
    """The second step of a new build."""

    only = ("power", "rows", "columns", "orientation", "length", "width", "clearance")


class AnglesStep(FrameForm):
    """The third step of a new build."""

    only = ("kind", "tilt", "tilts", "axis_tilt", "limit", "min_tilt", "max_tilt", "facings", "azimuth")
