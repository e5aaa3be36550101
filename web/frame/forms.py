"""The frame: panels from their label, how they stand, what the mount can reach."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms
from django.db.models import Model

from sundial.quantities import FORCE, MASS
from sundial.sun import Site
from web.builds.fields import ChoiceField, LengthField, NumberField, PercentField, QuantityField, SpeedField, WholeField
from web.builds.models import Build
from web.frame.built import BuiltForm
from web.frame.models import FIXINGS, HOUSE, STAND, Frame, Stand
from web.frame.mounts.registry import asking, mounts
from web.frame.stands import FIXED_TO, HANDS, MOTORS, MOVES, ON_A_HOUSE, RAISED, SLOPED, STANDS

PLAIN = (
    "power", "rows", "columns", "orientation", "length", "width", "clearance", "azimuth", "turned", "bifaciality", "mass",
    "mounting", "inverter_power", "inverter_efficiency",
    "transposition",
)  # fmt: skip
TILTS = ("tilts", "min", "max", "step", "axis_tilts", "weekdays", "months")
LOSSES = ("soiling", "wiring", "mismatch", "light_induced", "availability", "ageing")


MountFields = type(
    "MountFields", (BuiltForm,), {name: field for kind in mounts().values() for name, field in kind.fields.items()}
)
HOUSES = tuple(f"house_{name}" for name in HOUSE)
BOTH = (
    ("stand_house_height", "stand_house_width", "Say how wide that wall is."),
    ("stand_house_width", "stand_house_height", "Say how high that wall is."),
    ("stand_house_out", "stand_house_under", "Say how high its underside is."),
    ("stand_house_under", "stand_house_out", "Say how far it stands out."),
)  # measures of the house that say nothing one without the other


class FrameForm(MountFields):  # type: ignore[valid-type, misc]  # its fields are those of all kinds
    """Panels, array and mount."""

    paths: ClassVar[dict[str, str]] = {
        **BuiltForm.built_paths,
        **{path: name for kind in mounts().values() for path, name in kind.paths.items()},
        "array.rows": "rows",
        "array.columns": "columns",
        "array.azimuth": "azimuth",
        "array.turned": "turned",
        "plan.cap": "tilts",
        "plan.settings": "tilts",
        "panel.power": "power",
        **{f"stand.{name}": f"stand_{name}" for name in STAND},
        **{f"stand.fixings.{name}": f"stand_{name}" for name in FIXINGS},
        **{f"stand.house.{name}": f"stand_house_{name}" for name in HOUSE},
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
        0,
        20,
        label="Lower edge above that",
        why="Above the ground, or above what it stands on. Room for snow, grass and splash; lets light under bifacial panels.",
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
    turned = NumberField(
        -90,
        90,
        label="Panels turned on the axis",
        unit="°",
        required=False,
        why="0: straight. To the right as you look along the axis: it dodges a shadow that comes from one side.",
    )
    kind = ChoiceField(
        label="The mount is",
        choices=[(kind.key, kind.label) for kind in mounts().values()],
        why="What can move, and who moves it.",
    )
    tilt = NumberField(
        0,
        90,
        label="Tilt",
        unit="° from level",
        required=False,
        why="0 is flat, 90 upright. Measured from the level, not from the wall.",
    )
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
    stand_on = forms.ChoiceField(
        label="It stands on", choices=[(one.key, one.label) for one in STANDS.values()], required=False, widget=forms.RadioSelect
    )
    stand_height = LengthField(
        0,
        200,
        required=False,
        label="How high that is over the ground",
        why="The wind knows it; the frame gets no legs of that length.",
    )
    stand_slope = NumberField(0, 70, required=False, label="It falls forward", unit="°", why="Toward where the glass looks.")
    stand_count = WholeField(2, 400, required=False, label="Fixings in all", why="Screws, bolts or clamps, on two lines.")
    stand_lines_apart = LengthField(
        0.01,
        20,
        small=True,
        required=False,
        label="Two lines of them, apart",
        why="Along the slope, or one over the other on a wall or railing.",
    )
    stand_rating = QuantityField(
        FORCE, 0.1, 1e6, required=False, label="One is rated for", why="By its maker or engineer. Empty: no gust is named."
    )
    stand_road_speed = SpeedField(
        required=False, label="It drives at", why="With the panels on its roof; 10 m/s of head wind are added."
    )
    stand_house_height = LengthField(
        0.1, 60, required=False, label="Its wall over the ground", why="Of the house that it hangs on. Empty: no shade of it."
    )
    stand_house_width = LengthField(0.1, 100, required=False, label="That wall is wide", why="Along the row.")
    stand_house_aside = LengthField(
        -60,
        60,
        required=False,
        label="Its middle, to the right",
        why="Of the panels' middle, as you look at the glass; below zero to the left.",
    )
    stand_house_behind = LengthField(
        0.01,
        20,
        required=False,
        small=True,
        label="From glass to wall",
        why="From its rearmost edge, level: how deep a balcony is.",
    )
    stand_house_depth = LengthField(0.1, 60, required=False, label="The house is deep", why="Behind that wall.")
    stand_house_out = LengthField(
        0.01, 10, required=False, label="A roof or balcony over it stands out", why="From the wall. Empty: nothing does."
    )
    stand_house_under = LengthField(0.1, 60, required=False, label="Its underside over the ground")
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
    mass = QuantityField(MASS, 0, 200, label="Panel mass", why="For later: load and lifting.", source="Label.")
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
        losses = {name: value for name, value in frame.losses.items() if not isinstance(value, list)}
        usual = {name: value for kind in mounts().values() for name, value in kind.usual.items()}
        shown = {name: value for kind in mounts().values() for name, value in kind.shown(build).items()}
        stand = {f"stand_{name}": getattr(build.stand, name) for name in (*STAND, *FIXINGS, *HOUSES)}
        return {
            **stand,
            "tilt": 30.0, "min_tilt": 0.0, "max_tilt": 80.0, "standby_watts": 1.5, "moving_watts": 20.0, "speed": 6.0, "aim": "sun",
            **usual, **self.built_now(frame.structure), **held, **losses, **frame.mount, **shown, "gamma": round(frame.gamma * 100, 6),
        }  # fmt: skip

    @property
    def stands(self) -> list[tuple[Any, str]]:
        """Each thing to stand on with the template of its picture."""
        return [(box, f"frame/stands/{box.data['value']}.svg") for box in self["stand_on"]]

    @property
    def of_stands(self) -> dict[str, str]:
        """Which of them have a height of their own, a slope, fixings, as the page's condition has them."""
        return {"raised": RAISED, "sloped": SLOPED, "fixed": FIXED_TO, "house": ON_A_HOUSE}

    @property
    def mount_questions(self) -> list[tuple[str, str]]:
        """Each kind that has questions of its own, with their template."""
        return [(kind.key, kind.questions) for kind in mounts().values() if kind.questions]

    @property
    def shared_by(self) -> dict[str, str]:
        """Which kinds share a field, as the page's condition has them."""
        return {name: asking(name) for name in ("tilt", "min_tilt", "speed")}

    def clean_bifaciality(self) -> float:
        """A factor of the data sheet (0.7) typed where per cent are asked is asked about, not taken as under one per cent."""
        share: float = self.cleaned_data["bifaciality"]
        if 0 < share < 0.01:
            factor = share * 100
            raise forms.ValidationError(f"{factor:g} % is next to nothing: for a factor of {factor:g} write {factor * 100:g}.")
        return share

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        if "built" in self.fields:
            self.need_measures(data)
        for one, other, words in BOTH:
            if data.get(one) is not None and data.get(other) is None and other not in self.errors:
                self.add_error(other, words)
        self.mount_words: dict[str, Any] = {}
        kind = mounts().get(data.get("kind") or "")
        if kind is not None:
            for name in kind.needed:
                if data.get(name) is None and name not in self.errors:
                    self.add_error(name, "Give a number.")
            self.mount_words = {"kind": kind.key, **kind.read(self, data)}
        return data

    def apply(self, build: Build) -> list[Model]:
        frame, data = build.frame, self.cleaned_data
        self.put(frame, PLAIN)
        if data.get("turned") is None and "turned" in data:
            frame.turned = 0.0
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
            frame.mount = {**kept, **self.mount_words}
        stand = build.stand
        for name in (*STAND, *FIXINGS, *HOUSES):
            if f"stand_{name}" in data:
                given, empty = data[f"stand_{name}"], getattr(Stand(), name)
                setattr(stand, name, empty if given is None else given)
        return [frame, stand]


class PanelsStep(FrameForm):
    """The second step of a new build."""

    only = ("power", "rows", "columns", "orientation", "length", "width")


class AnglesStep(FrameForm):
    """The third step of a new build: what it stands on, whether it moves, and then only what that needs."""

    moves = forms.ChoiceField(
        label="Does it move?", choices=MOVES, widget=forms.RadioSelect, error_messages={"required": "Say whether it moves."}
    )
    by_hand = ChoiceField(
        label="A hand sets", choices=HANDS, required=False, why="Tilts are few in a year; facings are many in a day."
    )
    motor = ChoiceField(label="The motor", choices=MOTORS, required=False, why="What it turns.")
    clearance = LengthField(
        0,
        20,
        required=False,
        label="Lower edge above that",
        why="Above the ground, or above what it stands on. Empty: as is usual there.",
    )
    only = (
        "stand_on", "moves", "by_hand", "motor", "stand_height", "stand_slope", "stand_lines_apart", "stand_count", "stand_road_speed", "clearance", "azimuth",
        *dict.fromkeys(name for kind in mounts().values() for name in kind.first),
    )  # fmt: skip
    field_order = only

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        super().__init__(build, *args, **kwargs)
        self.fields["stand_on"].required = True
        self.fields["stand_on"].error_messages["required"] = "Say what it stands on."

    @property
    def usual_tilts(self) -> dict[str, float]:
        """The tilt that is usual on each, degrees."""
        return {kind.key: kind.tilt for kind in STANDS.values()}

    def current(self, build: Build) -> dict[str, Any]:
        kind = build.frame.mount["kind"]
        moves = "fixed" if kind == "fixed" else "hand" if kind in ("stepped", "turned") else "motor"
        asked = (
            {}
            if build.unfinished and not build.stand.on
            else {
                "moves": moves,
                "by_hand": kind if moves == "hand" else "stepped",
                "motor": kind if moves == "motor" else "hinge",
            }
        )
        return {**super().current(build), "clearance": build.frame.clearance if build.stand.on else None, **asked}

    def clean(self) -> dict[str, Any]:
        given = self.cleaned_data
        moves, on = given.get("moves"), STANDS.get(given.get("stand_on") or "")
        given["kind"] = {"fixed": "fixed", "hand": given.get("by_hand") or "stepped", "motor": given.get("motor") or "hinge"}.get(
            moves or "", ""
        )
        if on is not None and given.get("clearance") is None and "clearance" not in self.errors:
            given["clearance"] = on.clearance
        if moves == "fixed" and given.get("tilt") is None and "tilt" not in self.errors and on is not None:
            given["tilt"] = on.tilt
        if (
            on is not None
            and on.key == "railing"
            and given.get("stand_lines_apart") is None
            and "stand_lines_apart" not in self.errors
        ):
            self.add_error("stand_lines_apart", "Say how far apart its two rails are: an upright plate has no other hold.")
        return super().clean()

    def apply(self, build: Build) -> list[Model]:
        build.frame.mounting = STANDS[self.cleaned_data["stand_on"]].mounting
        return super().apply(build)
