"""What is asked of the cutting, of the parts, and of the wiring."""

from __future__ import annotations

import re
from typing import Any, ClassVar

from django import forms
from django.db.models import Model

from sundial.answers.cutting.report import refuse_cutting
from sundial.answers.electrics.report import label_of
from sundial.beams.sections import USUAL_SECTION, usual_sections
from sundial.cutting.cut_list import asked_names, section_key
from sundial.errors import BriefError
from sundial.quantities import TEMPERATURE, WIRE
from web.builds.editing import StationForm
from web.builds.fields import (
    ChoiceField,
    LengthField,
    LineField,
    NumberField,
    PercentField,
    QuantityField,
    SwitchField,
    WholeField,
)
from web.builds.models import Build
from web.builds.results import Results
from web.builds.typed_tables import TableField
from web.cutting.models import OF_BASE, OF_LABEL, SPLICES, WAYS, Cutting, Electrics
from web.cutting.tables import (
    read_part,
    read_piece,
    read_price,
    read_stock,
    write_part,
    write_piece,
    write_price,
    write_stock,
)

PLAIN = (
    "default", "purlins", "braces", "fixing", "end_distance", "bolt", "kerf", "least_rest", "splices", "overlap", "stock", "parts",
    "freight", "tax", "longer", "longer_rows", "longer_way", "gap", "hole_pitch",
)  # fmt: skip
LABEL = ("voc", "isc", "vmp", "imp", "beta")
INPUT = ("max_voltage", "low", "high", "max_current", "inputs")
CABLE = ("length", "area", "material", "strands", "temperature")


def slug(name: str) -> str:
    """A piece's name as a part of a field's name."""
    return re.sub(r"[^a-z0-9]+", "_", name.lower()).strip("_")


class CuttingForm(StationForm):
    """Sections of the pieces, stock, the saw, parts, the base plate, and the wiring's figures."""

    paths: ClassVar[dict[str, str]] = {
        "stock": "stock",
        "pieces": "pieces",
        "kerf": "kerf",
        "cutting.base": "base_bolt_circle",
        "cutting.longer_rows": "longer_rows",
        "cutting.longer": "longer",
        "cutting.parts": "parts",
        "cutting.default": "default",
        "electrics.input.window": "input_low",
        "electrics.input": "input_max_voltage",
        "electrics.cable.material": "cable_material",
        "electrics.cable": "cable_length",
        **{f"electrics.{name}": name for name in OF_LABEL},
        "wiring": "__all__",
    }

    default = LineField(label="Section", max_length=60, required=False)
    fixing = ChoiceField(label="Panels are held by", choices=Cutting.FIXING, why="Four brackets a panel, or clamps on rails.")
    purlins = WholeField(0, 4, label="Purlins a row", why="Along the row, under each row of panels; 0: the rails alone.")
    braces = SwitchField(label="A crossed brace between the rear supports")
    stock = TableField(
        read_stock, write_stock, label="Stock", rows=5, columns=("section", "length", "on hand", "price of one"),
        why="How many lie there, and what one costs: two numbers, neither is guessed from the other. On hand empty: as many as are wanted.",
    )  # fmt: skip
    pieces = TableField(
        read_piece, write_piece, label="Your own pieces", rows=3, why="Name; section; length; how many; angles of both cuts; where its supports are, such as 1.2 m, 3.4 m.",
    )  # fmt: skip
    splices = ChoiceField(
        label="Splice", choices=SPLICES, why="Longer than any board: of two parts or more, unequal where that saves a board."
    )
    overlap = LengthField(
        0,
        3,
        small=True,
        required=False,
        label="Lapped by",
        why="Over a support. Empty: what two bolts in a row need in timber; nothing in metal, which a plate joins.",
    )
    kerf = LengthField(0, 0.1, small=True, label="The saw takes", why="Width of its cut: 3 mm for most.")
    least_rest = LengthField(0, 10, label="Rests are kept from", why="Shorter ones count as waste.")
    bolt = LengthField(0.003, 0.05, small=True, label="Frame bolts", why="Thickness: 12 mm is M12.")
    end_distance = LengthField(
        0, 0.5, small=True, label="From bolt to end", why="Timber splits when it is less than seven bolts.",
        source="EN 1995-1-1 table 8.4: 7 d, at least 80 mm.",
    )  # fmt: skip
    parts = TableField(
        read_part, write_part, label="What parts cost", rows=3, why="Name as the list has it; price of a pack; how many in it; kg of one.",
    )  # fmt: skip
    freight = NumberField(0, 1e6, label="Freight")
    tax = PercentField(0, 100, label="Tax on all of it")
    longer = WholeField(0, 20, label="Columns to add", why="What it takes to make the rack longer as it stands.")
    longer_rows = WholeField(0, 10, label="Rows to add")
    longer_way = ChoiceField(label="Rows are added", choices=WAYS)
    gap = LengthField(0, 0.2, small=True, label="Gap between panels")
    hole_pitch = LengthField(0, 0.5, small=True, label="Holes of the channel, every", why="0: there are none.")

    base_told = SwitchField(label="It stands on a base plate")
    base_plate = LengthField(0.05, 1.2, small=True, label="Side of the plate")
    base_bolt_circle = LengthField(0.03, 1.5, small=True, label="Circle through the bolts")
    base_bolts = WholeField(3, 16, label="Bolts")
    base_bolt = LengthField(0.004, 0.06, small=True, label="each thick")
    base_pole = LengthField(0.02, 1, small=True, label="Across the pole")
    base_turn = NumberField(-180, 180, label="First bolt from north", unit="°", why="Clockwise, seen from above.")

    voc = NumberField(0.1, 500, required=False, label="Voc", unit="V", why="On the panel's label, at 25 °C.")
    vmp = NumberField(0.1, 500, required=False, label="Vmp", unit="V")
    isc = NumberField(0.01, 100, required=False, label="Isc", unit="A")
    imp = NumberField(0.01, 100, required=False, label="Imp", unit="A")
    beta = NumberField(
        required=False, label="Voltage by heat", unit="%/K", why="Temperature coefficient of Voc: below zero, about −0.27.",
    )  # fmt: skip
    alpha = NumberField(-0.1, 0.5, label="Current by heat", unit="%/K", why="Temperature coefficient of Isc: about +0.05.")
    min_temp = QuantityField(
        TEMPERATURE, -70, 30, label="Coldest morning", why="In ten years, at sunrise: the string is at its highest then."
    )
    max_temp = QuantityField(
        TEMPERATURE,
        0,
        60,
        label="Hottest air",
    )
    input_max_voltage = NumberField(
        1, 2000, required=False, label="The input bears", unit="V", why="Open circuit, on its own label."
    )
    input_low = NumberField(0, 2000, required=False, label="It tracks from", unit="V")
    input_high = NumberField(1, 2000, required=False, label="to", unit="V")
    input_max_current = NumberField(0.1, 500, required=False, label="It takes", unit="A")
    input_inputs = WholeField(1, 12, required=False, label="Inputs")
    cable_length = LengthField(0.1, 1e6, required=False, label="Cable, one way")
    cable_area = QuantityField(
        WIRE,
        0.5,
        400,
        required=False,
        label="thick",
    )
    cable_material = LineField(max_length=40, required=False, label="of")
    cable_strands = ChoiceField(label="Strands", choices=Electrics.STRANDS)
    cable_temperature = QuantityField(TEMPERATURE, -40, 120, label="Warm", why="Of the conductor itself in summer.")
    cable_prices = TableField(
        read_price, write_price, label="What cable costs", rows=3, why="Thickness; price of one conductor by the metre, or by the foot in a build told in feet.",
    )  # fmt: skip
    lead = LengthField(0.05, 10, required=False, label="Each lead of a panel", why="Two of them, as the maker ships it.")
    boxes = ChoiceField(label="Leads leave", choices=Electrics.BOXES)
    leapfrog = SwitchField(label="Every second panel out, the others back")

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        self.named = piece_names(build)
        super().__init__(build, *args, **kwargs)
        for name in self.named:
            self.fields[f"section_{slug(name)}"] = LineField(label=name.capitalize(), max_length=60, required=False)
            self.fields[f"there_{slug(name)}"] = SwitchField(label=f"{name} stands already")
        for name, field in self.fields.items():
            if isinstance(field, TableField):
                field.units, field.held = self.chosen_units(), self.initial.get(name) or []
            field.widget.attrs.update(
                {"list": "known-sections"} if isinstance(field, LineField) and "aterial" not in str(field.label) else {}
            )

    @property
    def of_pieces(self) -> list[tuple[str, Any, Any]]:
        """Name, section and switch of every piece that the frame asks for."""
        return [(name, self[f"section_{slug(name)}"], self[f"there_{slug(name)}"]) for name in self.named]

    @property
    def on_page(self) -> list[Any]:
        """Pieces come and go with the frame and with what is saved here: the page knows those whose section it sent."""
        return [
            field
            for field in self
            if not field.name.startswith(("section_", "there_")) or f"section_{field.name.partition('_')[2]}" in self.data
        ]

    @property
    def other_pieces(self) -> CuttingForm | None:
        """A fresh form, where the build as saved asks for other pieces than the page shows."""
        shown = {name.partition("_")[2] for name in self.data if name.startswith("section_")}
        return None if shown == set(map(slug, piece_names(self.build))) else CuttingForm(self.build)

    @property
    def known_sections(self) -> list[str]:
        return usual_sections()

    def current(self, build: Build) -> dict[str, Any]:
        held, label = build.cutting, build.electrics
        values = {name: getattr(held, name) for name in PLAIN} | {"pieces": held.pieces}
        told = {section_key(key): value for key, value in held.sections.items()}
        left_out = {section_key(name) for name in held.leave_out}
        for name in self.named:
            values[f"section_{slug(name)}"] = told.get(section_key(name), "")
            values[f"there_{slug(name)}"] = section_key(name) in left_out
        base = {"plate": 0.3, "bolt_circle": 0.25, "bolts": 4, "bolt": 0.016, "pole": 0.114, "turn": 45.0} | (held.base or {})
        values |= {f"base_{name}": base[name] for name in OF_BASE} | {"base_told": held.base is not None}
        values |= {name: getattr(label, name) for name in OF_LABEL}
        for name in ("beta", "alpha"):
            values[name] = None if values[name] is None else round(values[name] * 100, 6)
        into = label.input or {}
        window = into.get("window") or (None, None)
        values |= {"input_max_voltage": into.get("max_voltage"), "input_low": window[0], "input_high": window[1]}
        values |= {"input_max_current": into.get("max_current"), "input_inputs": into.get("inputs", 1)}
        cable = {"material": "copper", "strands": "class 2", "temperature": 50.0} | (label.cable or {})
        values |= {f"cable_{name}": cable.get(name) for name in CABLE}
        values["cable_prices"] = [{"area": area, "price": price} for area, price in cable.get("prices", [])]
        return values

    def clean_kerf(self) -> float:
        kerf = float(self.cleaned_data["kerf"])
        if kerf > 0.01:
            raise forms.ValidationError(f"{kerf * 100:.0f} cm? A saw takes 1 to 5 mm: write 3 mm.")
        return kerf

    def clean_beta(self) -> float | None:
        beta = self.cleaned_data["beta"]
        if beta is None:
            return None
        if beta >= 0:
            raise forms.ValidationError("Below zero: a panel's voltage falls as it warms. Write −0.27 for −0.27 % a kelvin.")
        if beta < -1:
            raise forms.ValidationError("In per cent a kelvin, about −0.27; times the voltage where the label has mV/K.")
        return beta / 100

    def clean_alpha(self) -> float:
        return float(self.cleaned_data["alpha"]) / 100

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        given = [name for name in LABEL if data.get(name) is not None]
        if given and not self.errors:
            for name in set(LABEL) - set(given):
                self.add_error(name, "Also on the label: all five, or none.")
        self._together(data, [f"input_{name}" for name in INPUT[:-1]], "The input's other figures stand on the same label.")
        self._together(data, ["cable_length", "cable_area"], "Both length and thickness.")
        asked = any(data.get(name) is not None for name in ("input_max_voltage", "cable_length", "lead"))
        if asked and not given and not self.errors:
            self.add_error("voc", "The panel's own label first: Voc, Vmp, Isc, Imp and the coefficient.")
        return data

    def _together(self, data: dict[str, Any], names: list[str], words: str) -> None:
        given = [name for name in names if data.get(name) is not None]
        if given:
            for name in names:
                if name not in given and name not in self.errors:
                    self.add_error(name, words)

    def apply(self, build: Build) -> list[Model]:
        held, label, data = build.cutting, build.electrics, self.cleaned_data
        self.put(held, PLAIN)
        held.default = data["default"] or USUAL_SECTION[build.shown_in]
        held.pieces = data["pieces"]
        sections = {key: value for key, value in held.sections.items() if section_key(key) not in map(section_key, self.named)}
        held.sections = sections | {name: data[f"section_{slug(name)}"] for name in self.named if data[f"section_{slug(name)}"]}
        others = [name for name in held.leave_out if section_key(name) not in map(section_key, self.named)]
        held.leave_out = others + [name for name in self.named if data[f"there_{slug(name)}"]]
        held.base = {name: data[f"base_{name}"] for name in OF_BASE} if data["base_told"] else None
        self.put(label, OF_LABEL)
        label.told = data["voc"] is not None
        label.input = label.cable = None
        if data["input_max_voltage"] is not None:
            label.input = {
                "max_voltage": data["input_max_voltage"], "window": [data["input_low"], data["input_high"]],
                "max_current": data["input_max_current"], "inputs": data["input_inputs"] or 1,
            }  # fmt: skip
        if data["cable_length"] is not None:
            label.cable = {name: data[f"cable_{name}"] for name in CABLE}
            label.cable["material"] = label.cable["material"] or "copper"
            label.cable["prices"] = [[row["area"], row["price"]] for row in data["cable_prices"]]
        return [held, label]

    def check(self, results: Results) -> None:
        results.check()
        refuse_cutting(results.scene, results.build.shown_in)
        if results.brief.electrics is not None:
            label_of(results.scene)


def piece_names(build: Build) -> list[str]:
    """Names of the pieces that the frame asks for, each once; none of a frame that cannot be worked with."""
    try:
        return asked_names(Results(build).scene)
    except BriefError:
        return []
