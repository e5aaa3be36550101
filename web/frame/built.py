"""What the frame is built from, as asked: the measures of each kind, to and from the words of a brief."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any, ClassVar

from django import forms

from sundial.quantities import INCH, MASS
from web.builds.editing import StationForm
from web.builds.fields import LengthField, NumberField, PercentField, QuantityField
from web.builds.models import Build
from web.frame.fields import LengthsField
from web.frame.kinds.registry import choice_of, choices, kinds

GROUND = {"slope": "slope", "cross_slope": "cross_slope", "mass": "rail_mass", "frames": "trestles", "overhang": "overhang"}
USUAL: dict[str, Any] = {
    **{name: value for kind in kinds() for name, value in kind.usual.items()},
    "slope": 0.0, "cross_slope": 0.0, "rail_mass": 0.0, "trestles": 2, "overhang": 0.0,
}  # fmt: skip
KindFields = type("KindFields", (StationForm,), {name: field for kind in kinds() for name, field in kind.fields.items()})


def _beside(name: str) -> str:
    """The field of the height that belongs to one of a distance."""
    return name.replace("_x", "_z")


class BuiltForm(KindFields):  # type: ignore[valid-type, misc]  # its fields are those of all kinds
    """The questions about what a frame is built from; a station's form takes them in."""

    built_paths: ClassVar[dict[str, str]] = {
        "frame.base": "base_x",
        **{choice.path(key): name for choice in choices().values() for key, name in choice.measures.items()},
        **{f"frame.{key}": name for key, name in GROUND.items()},
        "frame.front_height": "clearance",
        "frame.run": "board",
        "frame": "built",
    }
    built = forms.ChoiceField(
        label="What do you build it from?",
        choices=[("", "I know its tilts"), *((one.key, one.label) for one in choices().values())],
        required=False,
        widget=forms.RadioSelect,
    )
    overhang = LengthField(0, 10, label="Glass below the hinge", small=True, required=False, why="Along the slope.")
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
    rail_mass = QuantityField(MASS, 0, 2000, label="Rails that move", required=False)
    trestles = NumberField(1, 60, label="Trestles", required=False)

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        super().__init__(build, *args, **kwargs)
        for name, field in self.fields.items():
            if isinstance(field, LengthsField):
                field.units, field.held = self.chosen_units(), self.initial.get(name)

    @property
    def pictured(self) -> list[tuple[Any, str]]:
        """Each choice with the template of its picture."""
        return [(box, f"frame/kinds/{box.data['value'] or 'untold'}.svg") for box in self["built"]]

    @property
    def kind_templates(self) -> list[str]:
        """The questions of every kind."""
        return [kind.template for kind in kinds()]

    @property
    def told_keys(self) -> str:
        """All choices of a frame whose measures are told."""
        return ",".join(choices())

    def usual(self, measures: Mapping[str, Any]) -> dict[str, Any]:
        """Measures to begin with, lengths in whole inches where the build is told in feet."""
        if self.chosen_units() == "metric":
            return dict(measures)

        def round_(name: str, value: Any) -> Any:
            if isinstance(value, list):
                return [round_(name, one) for one in value]
            return round(value / INCH) * INCH if isinstance(self.base_fields[name], LengthField | LengthsField) else value

        return {name: round_(name, value) for name, value in measures.items()}

    @property
    def usual_of_choices(self) -> str:
        """JSON: what fields hold that several answers share, for each of them, as it is shown."""
        told = {key: self.usual(choice.usual) for key, choice in choices().items() if choice.usual}
        return json.dumps(
            {key: {name: self.fields[name].prepare_value(value) for name, value in one.items()} for key, one in told.items()}
        )

    def built_now(self, structure: dict[str, Any] | None) -> dict[str, Any]:
        """What the fields show for a brief's frame, or usual measures where there is none."""
        if not structure:
            return {**self.usual(USUAL), "built": ""}
        choice = choice_of(structure)
        told = {**structure, **(structure.get(choice.inside) or {})}
        shown = {**self.usual(USUAL), "built": choice.key}
        for key, name in {**choice.measures, **GROUND}.items():
            value: Any = told.get(key)
            if key == "base":
                shown[name], shown[_beside(name)] = value
            elif value is not None or key in choice.optional:
                shown[name] = value
        return shown

    def need_measures(self, data: dict[str, Any]) -> None:
        """Every measure that the kind needs must be there."""
        choice = choices().get(data.get("built") or "")
        if choice is None:
            return
        for key, name in choice.measures.items():
            if key not in choice.optional and data.get(name) in (None, [], "") and name not in self.errors:
                of_length = isinstance(self.fields[name], LengthField | LengthsField)
                self.add_error(name, "Give a length." if of_length else "Give a number.")

    def structure(self, data: dict[str, Any], kept: dict[str, Any] | None) -> dict[str, Any] | None:
        """The frame in a brief's words; keys of an imported one that are not asked here stay."""
        if not data.get("built"):
            return None
        choice = choices()[data["built"]]
        told: dict[str, Any] = {"kind": choice.kind}
        asked = {key for one in choices().values() for key in (*one.measures, *one.instead, one.inside)} | set(GROUND) | {"kind"}
        if kept and kept["kind"] == told["kind"]:
            told = {**{key: value for key, value in kept.items() if key not in asked}, **told}
        for key, name in {**choice.measures, **GROUND}.items():
            value = data.get(name)
            if key == "base":
                value = [data[name], data.get(_beside(name)) or 0.0]
            elif key == "frames":
                value = int(value or 2)
            if value not in (None, [], ""):
                told[key] = value
        if choice.inside:
            told[choice.inside] = {key: told.pop(key) for key in choice.inner if key in told}
        return told

    def says_tilts(self, data: Mapping[str, Any]) -> bool:
        """Whether the frame's measures say the tilts it reaches."""
        choice = choices().get(data.get("built") or "")
        return choice is not None and choice.says_tilts(data)


class DrillForm(StationForm):
    """How finely a bar may be drilled, and what the plan may lose by it."""

    paths: ClassVar[dict[str, str]] = {"pitch": "pitch", "loss": "loss", "": "pitch"}
    prefix = "drill"
    pitch = LengthField(0.005, 1, small=True, label="A place every", why="How far apart two holes may be set.")
    loss = PercentField(0, 20, label="The plan may lose", why="Of what it would make at any whole degree.")

    def current(self, build: Build) -> dict[str, Any]:
        return {"pitch": 0.05, "loss": 0.01}
