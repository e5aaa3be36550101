"""What the frame is built from, as asked: the measures of each kind, to and from the words of a brief."""

from __future__ import annotations

import re
from typing import Any, ClassVar

from django import forms

from sundial.errors import BriefError
from sundial.quantities import Units, format_length, parse_length, parse_tilts
from web.builds.editing import StationForm
from web.builds.fields import Asked, LengthField, NumberField, PercentField
from web.builds.models import Build

KINDS = [
    ("", "I know its tilts"),
    ("legs", "Front and rear legs"),
    ("prop", "A prop with holes"),
    ("a-frame", "A folding A-frame"),
    ("pole", "A joint on a pole"),
    ("pole-jack", "A pole and a jack"),
    ("jack", "A jack or actuator"),
    ("wall", "A bracket on a wall"),
    ("wedge", "A wedge"),
]
ACTUATOR = {
    "base": "base_x", "rail_point": "jack_rail", "retracted": "retracted", "extended": "extended",
    "thrust": "jack_thrust", "speed": "jack_speed",
}  # fmt: skip
SCREW = {
    "base": "screw_x", "rail_point": "screw_rail", "retracted": "screw_retracted", "extended": "screw_extended",
    "thrust": "screw_thrust", "speed": "screw_speed",
}  # fmt: skip
# Keys of a brief's frame (of a jack on a pole: of its own object), and the fields that ask them.
MEASURES: dict[str, dict[str, str]] = {
    "legs": {"support_spacing": "spacing", "rear_heights": "rear_heights"},
    "prop": {
        "rail_points": "rail_points", "lengths": "prop_lengths", "base_holes": "base_holes", "base_length": "bar_length",
    },
    "a-frame": {
        "front_leg": "front_leg", "back_leg": "back_leg",
        "rail_points": "rail_points", "lengths": "prop_lengths", "base_holes": "base_holes",
    },
    "pole": {"height": "pole_height", "offset": "offset", "min_tilt": "pole_min", "max_tilt": "pole_max", "holes": "pole_holes"},
    "pole-jack": {"height": "pole_height", "offset": "offset", "min_tilt": "pole_min", "max_tilt": "pole_max", **SCREW},
    "jack": ACTUATOR,
    "wall": {"lower_height": "lower_height"},
    "wedge": {"rise": "rise", "slope_length": "board"},
}  # fmt: skip
GROUND = {"slope": "slope", "cross_slope": "cross_slope", "mass": "rail_mass", "frames": "trestles", "overhang": "overhang"}
OPTIONAL = ("rear_heights", "thrust", "speed", "offset", "base_length", "holes")
SAYS_TILTS = ("prop", "a-frame", "pole", "pole-jack", "jack", "wedge")
MOST = 40
USUAL: dict[str, Any] = {
    "spacing": 1.45, "rail_points": [1.1], "prop_lengths": [0.8], "base_holes": [1.5, 1.2, 0.9],
    "front_leg": 2.2, "back_leg": 2.0, "pole_height": 2.4, "offset": 0.1, "pole_min": 15.0, "pole_max": 60.0,
    "screw_x": 0.08, "screw_z": -0.72, "screw_rail": 0.62, "screw_retracted": 0.98, "screw_extended": 1.26,
    "base_x": 0.9, "base_z": -0.25, "jack_rail": 1.2, "retracted": 0.72, "extended": 1.3, "lower_height": 0.4,
    "rise": 0.5, "board": 2.0, "slope": 0.0, "cross_slope": 0.0, "rail_mass": 0.0, "trestles": 2, "overhang": 0.0,
}  # fmt: skip


class LengthsField(Asked, forms.CharField):
    """Several lengths in either system: "1.5, 1.2, 0.9", "1,5; 1,2", "4 ft 11 in, 3 ft", or "0.6 to 1.5 by 0.1"."""

    units: Units = "metric"
    held: list[float] | None = None

    def __init__(self, why: str = "", source: str = "", **kwargs: Any) -> None:
        super().__init__(max_length=1000, **kwargs)
        self.widget.attrs.update({"autocomplete": "off"})
        self.ask("", why, source)

    def _one(self, text: str, number: int) -> float:
        try:
            metres = parse_length(text, self.units)
        except ValueError as error:
            raise forms.ValidationError(f"Number {number}, “{text[:40]}”: {error}") from None
        if not 0.005 <= metres <= 20:
            raise forms.ValidationError(f"Number {number}, “{text[:40]}”: a hole lies from 5 mm to 20 m away.")
        return metres

    def clean(self, value: Any) -> list[float]:
        text = (super().clean(value) or "").strip()
        if not text:
            return []
        if self.held and text in (self._shown(self.held, "metric"), self._shown(self.held, "us")):
            return self.held
        spread = re.fullmatch(r"(.+?)\s+to\s+(.+?)\s+by\s+(.+)", text)
        if spread:
            low, high, step = (self._one(part, number) for number, part in enumerate(spread.groups(), 1))
            if high < low:
                raise forms.ValidationError("The second length must not be under the first.")
            if (high - low) / step > MOST - 1:
                raise forms.ValidationError(f"That is more than {MOST} holes: take a longer step.")
            return [round(low + index * step, 6) for index in range(int((high - low) / step + 1e-6) + 1)]
        parts = [part for part in re.split(r";|\n|,\s+|,(?=\S*\.)", text) if part.strip()]
        if len(parts) > MOST:
            raise forms.ValidationError(f"{len(parts)} are too many: {MOST} at most.")
        return [self._one(part.strip(), number) for number, part in enumerate(parts, 1)]

    @staticmethod
    def _shown(values: list[float], units: Units) -> str:
        return ", ".join(format_length(value, units) for value in values)

    def prepare_value(self, value: Any) -> Any:
        return self._shown(value, self.units) if isinstance(value, list) else value


class TiltsField(Asked, forms.CharField):
    """Several tilts: "10, 20, 30", or "10 to 50 by 10"."""

    def __init__(self, why: str = "", source: str = "", **kwargs: Any) -> None:
        super().__init__(max_length=400, **kwargs)
        self.widget.attrs.update({"autocomplete": "off"})
        self.ask("°", why, source)

    def clean(self, value: Any) -> list[float]:
        text = (super().clean(value) or "").strip()
        try:
            tilts = parse_tilts(text) if text else []
        except BriefError as error:
            raise forms.ValidationError(error.message[:1].upper() + error.message[1:]) from None
        wrong = next((tilt for tilt in tilts if not 0 <= tilt <= 90), None)
        if wrong is not None:
            raise forms.ValidationError(f"{wrong:g}: tilts lie from 0 (flat) to 90 (upright).")
        return sorted(set(tilts))

    def prepare_value(self, value: Any) -> Any:
        return ", ".join(f"{tilt:g}" for tilt in value) if isinstance(value, list) else value


def _beside(name: str) -> str:
    """The field of the height that belongs to one of a distance."""
    return name.replace("_x", "_z")


def kind_shown(structure: dict[str, Any]) -> str:
    """The picture that stands for a brief's frame."""
    if structure["kind"] == "prop" and structure.get("front_leg"):
        return "a-frame"
    return "pole-jack" if structure["kind"] == "pole" and structure.get("jack") else str(structure["kind"])


class BuiltForm(StationForm):
    """The questions about what a frame is built from; a station's form takes them in."""

    built_paths: ClassVar[dict[str, str]] = {
        "frame.base": "base_x",
        **{f"frame.{key}": name for kind in MEASURES.values() for key, name in kind.items()},
        **{f"frame.{key}": name for key, name in GROUND.items()},
        **{f"frame.jack.{key}": name for key, name in SCREW.items()},
        "frame.front_height": "clearance",
        "frame.run": "board",
        "frame": "built",
    }
    built = forms.ChoiceField(label="What do you build it from?", choices=KINDS, required=False, widget=forms.RadioSelect)
    spacing = LengthField(
        0.05, 20, label="Between front and rear support", required=False, why="Along the slope, from bolt to bolt."
    )
    rear_heights = LengthsField(
        label="Rear legs you have",
        required=False,
        why="Swapped legs, or the holes of telescoping ones. Empty: cut to the tilts below.",
    )
    front_leg = LengthField(0.1, 20, label="Front leg", required=False, why="From the hinge at the top to the front foot.")
    back_leg = LengthField(0.1, 20, label="Back leg", required=False, why="From the hinge at the top to the back foot.")
    rail_points = LengthsField(label="Holes in the rail", required=False, why="Each from the hinge: 1.1, or several.")
    prop_lengths = LengthsField(
        label="Prop", required=False, why="From bolt to bolt; several if it has holes or there are several."
    )
    base_holes = LengthsField(
        label="Holes in the base bar", required=False, why="Each from the hinge: 1.5, 1.2, 0.9, or 0.6 to 1.5 by 0.1.",
        source="Tape along the bar, hinge to hole.",
    )  # fmt: skip
    pole_height = LengthField(0.2, 20, label="Joint above ground", required=False)
    offset = LengthField(
        0, 3, small=True, label="Glass before the joint", required=False, why="How far the glass sits before the pivot."
    )
    pole_min = NumberField(0, 90, label="Flattest", unit="°", required=False)
    pole_max = NumberField(0, 90, label="Steepest", unit="°", required=False)
    pole_holes = TiltsField(
        label="Tilts of its holes",
        required=False,
        why="Of a joint that a bolt holds: 10, 20, 30. Empty: any tilt between the two.",
    )
    bar_length = LengthField(
        0.05, 20, label="The whole base bar", required=False, why="So far holes can be drilled. Empty: not known."
    )
    overhang = LengthField(0, 10, label="Glass below the hinge", small=True, required=False, why="Along the slope.")
    base_x = LengthField(
        -20,
        20,
        label="Its base behind the hinge",
        required=False,
    )
    base_z = LengthField(-20, 20, label="and above it", required=False, why="Below zero: under the hinge.")
    jack_rail = LengthField(0.05, 20, label="Meets the rail", required=False, why="From the hinge along the rail.")
    retracted = LengthField(0.05, 20, label="Retracted", required=False, why="From bolt to bolt.")
    extended = LengthField(0.05, 20, label="Extended", required=False)
    jack_thrust = NumberField(1, 1_000_000, label="Rated for", unit="N", required=False, why="Empty: not known.")
    jack_speed = NumberField(0.1, 1000, label="Its speed", unit="mm/s", required=False)
    screw_x = LengthField(
        -3,
        3,
        small=True,
        label="Its lower end behind the joint",
        required=False,
        why="A bracket on the pole, or a clamp round it.",
    )
    screw_z = LengthField(-20, 20, label="and above it", required=False, why="Below zero: down the pole.")
    screw_rail = LengthField(0.05, 20, label="Meets the rail", required=False, why="From the joint up the rail.")
    screw_retracted = LengthField(0.05, 20, label="Jack screwed in", required=False, why="From bolt to bolt.")
    screw_extended = LengthField(0.05, 20, label="Screwed out", required=False)
    screw_thrust = NumberField(1, 1_000_000, label="Rated for", unit="N", required=False, why="Empty: not known.")
    screw_speed = NumberField(0.1, 1000, label="Its speed", unit="mm/s", required=False, why="Where a motor turns it.")
    lower_height = LengthField(0, 20, label="Lower ledger above ground", required=False)
    rise = LengthField(0.005, 20, label="Raised by", required=False)
    board = LengthField(0.05, 20, label="Board, along its slope", required=False)
    slope = NumberField(
        -45, 45, label="Falls forward", unit="°", required=False, why="Toward where the glass looks; below zero it rises."
    )
    cross_slope = NumberField(
        -45,
        45,
        label="Falls to the right",
        unit="°",
        required=False,
        why="As you look at the glass. It turns the glass that way.",
    )
    rail_mass = NumberField(0, 2000, label="Rails that move", unit="kg", required=False)
    trestles = NumberField(1, 60, label="Trestles", required=False)

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        super().__init__(build, *args, **kwargs)
        for name, field in self.fields.items():
            if isinstance(field, LengthsField):
                field.units, field.held = self.chosen_units(), self.initial.get(name)

    def built_now(self, structure: dict[str, Any] | None) -> dict[str, Any]:
        """What the fields show for a brief's frame, or usual measures where there is none."""
        if not structure:
            return {**USUAL, "built": ""}
        structure = {**structure, **(structure.get("jack") or {})}
        kind = kind_shown(structure)
        shown = {**USUAL, "built": kind}
        for key, name in {**MEASURES[kind], **GROUND}.items():
            value: Any = structure.get(key)
            if key == "base":
                shown[name], shown[_beside(name)] = value
            elif key == "speed" and value is not None:
                shown[name] = value * 1000
            elif value is not None or key in OPTIONAL:
                shown[name] = value
        return shown

    def need_measures(self, data: dict[str, Any]) -> None:
        """Every measure that the kind needs must be there."""
        for key, name in MEASURES.get(data.get("built") or "", {}).items():
            if key not in OPTIONAL and data.get(name) in (None, [], "") and name not in self.errors:
                self.add_error(name, "Give a length." if name not in ("pole_min", "pole_max") else "Give a number.")

    def structure(self, data: dict[str, Any], kept: dict[str, Any] | None) -> dict[str, Any] | None:
        """The frame in a brief's words; keys of an imported one that are not asked here stay."""
        kind = data.get("built") or ""
        if not kind:
            return None
        told: dict[str, Any] = {"kind": {"a-frame": "prop", "pole-jack": "pole"}.get(kind, kind)}
        asked = {key for measures in MEASURES.values() for key in measures} | set(GROUND) | {"kind", "run", "jack"}
        if kept and kept["kind"] == told["kind"]:
            told = {**{key: value for key, value in kept.items() if key not in asked}, **told}
        for key, name in {**MEASURES[kind], **GROUND}.items():
            value = data.get(name)
            if key == "base":
                value = [data[name], data.get(_beside(name)) or 0.0]
            elif key == "speed" and value:
                value = value / 1000
            elif key == "frames":
                value = int(value or 2)
            if value not in (None, [], ""):
                told[key] = value
        if kind == "pole-jack":
            told["jack"] = {key: told.pop(key) for key in ACTUATOR if key in told}
        return told

    def says_tilts(self, data: dict[str, Any]) -> bool:
        """Whether the frame's measures say the tilts it reaches."""
        kind = data.get("built") or ""
        return kind in SAYS_TILTS or (kind == "legs" and bool(data.get("rear_heights")))


class DrillForm(StationForm):
    """How finely a bar may be drilled, and what the plan may lose by it."""

    paths: ClassVar[dict[str, str]] = {"pitch": "pitch", "loss": "loss", "": "pitch"}
    prefix = "drill"
    pitch = LengthField(0.005, 1, small=True, label="A place every", why="How far apart two holes may be set.")
    loss = PercentField(0, 20, label="The plan may lose", why="Of what it would make at any whole degree.")

    def current(self, build: Build) -> dict[str, Any]:
        return {"pitch": 0.05, "loss": 0.01}
