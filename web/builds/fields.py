"""Form fields that read what people type: decimal commas, feet and inches, degrees and minutes, shares as per cent."""

from __future__ import annotations

from math import isfinite
from typing import Any, Literal

from django import forms

from sundial.brief_section import one_line
from sundial.days import MONTH_NAMES
from sundial.positions import parse_angle
from sundial.quantities import (
    Kind,
    Units,
    format_length,
    format_speed,
    in_unit,
    parse_length,
    parse_quantity,
    parse_speed,
    unit_of,
    write_quantity,
)

THIN = 0.1  # m: small measures under it are written in millimetres


class LineField(forms.CharField):
    """A name or a place in one line; what cannot be printed in it becomes a space."""

    def to_python(self, value: Any) -> str:
        return one_line(super().to_python(value) or "")


class Asked:
    """Mixin: the unit shown behind the input, and the two lines behind the field's name; ``names``: other names and explanations of the same
    question, each by the answers with which it is shown (as in ``data-when``)."""

    names: tuple[tuple[str, str, str], ...] = ()

    def ask(self, unit: str = "", why: str = "", source: str = "") -> Any:
        self.unit, self.why, self.source = unit, why, source
        return self


class NumberField(Asked, forms.FloatField):
    """A number with a decimal point or comma, within its range."""

    widget = forms.TextInput

    def __init__(
        self, low: float | None = None, high: float | None = None, unit: str = "", why: str = "", source: str = "", **kwargs: Any
    ) -> None:
        words = "Give a number"
        if low is not None and high is not None:
            words += f" from {low:g} to {high:g}"
        kwargs.setdefault("error_messages", {"invalid": f"{words}.", "required": f"{words}."})
        super().__init__(min_value=low, max_value=high, **kwargs)
        for limit in self.validators:
            limit.message = f"{words}."  # type: ignore[attr-defined]
        self.widget.attrs.update({"inputmode": "decimal", "autocomplete": "off"})
        self.ask(unit, why, source)

    def to_python(self, value: Any) -> float | None:  # type: ignore[override]
        number = super().to_python(value.replace(",", ".").replace("−", "-").strip() if isinstance(value, str) else value)
        if number is not None and not isfinite(number):
            raise forms.ValidationError(self.error_messages["invalid"], code="invalid")
        return number

    def prepare_value(self, value: Any) -> Any:
        return f"{value:.10g}" if isinstance(value, float) else value


class WholeField(NumberField):
    """A whole number within its range."""

    def to_python(self, value: Any) -> int | None:
        number = super().to_python(value)
        if number is None:
            return None
        if number != int(number):
            raise forms.ValidationError(self.error_messages["invalid"].replace("a number", "a whole number"), code="invalid")
        return int(number)


class PercentField(NumberField):
    """A share kept from 0 to 1, typed and shown in per cent."""

    def __init__(self, low: float = 0, high: float = 100, **kwargs: Any) -> None:
        super().__init__(low, high, unit=kwargs.pop("unit", "%"), **kwargs)

    def clean(self, value: Any) -> float | None:
        per_cent = super().clean(value)
        return None if per_cent is None else per_cent / 100

    def prepare_value(self, value: Any) -> Any:
        return f"{value * 100:.6g}" if isinstance(value, (int, float)) else value


class Measured(Asked):
    """Mixin: a quantity that is typed in either system and shown in the build's; the form says which, and what is kept."""

    units: Units = "metric"
    held: Any = None  # what is kept now: an untouched text stands for exactly that

    def measure_in(self, units: Units, held: Any) -> None:
        self.units, self.held = units, held


class QuantityField(Measured, forms.CharField):
    """A quantity of a ``kind`` in its SI unit, from ``low`` to ``high`` of these; ``whole`` values alone where it is."""

    def __init__(self, kind: Kind, low: float, high: float, why: str = "", source: str = "", **kwargs: Any) -> None:
        super().__init__(max_length=60, **kwargs)
        self.kind, self.low, self.high = kind, low, high
        self.widget.attrs.update({"autocomplete": "off"})
        self.ask("", why, source)

    def clean(self, value: Any) -> float | None:
        text = super().clean(value)
        if not text:
            return None
        if self.held is not None and text in (self._shown(self.held, "metric"), self._shown(self.held, "us")):
            return float(self.held)
        try:
            found = parse_quantity(text, self.kind, self.units)
        except ValueError as error:
            said = str(error)
            raise forms.ValidationError(f"{said[0].upper()}{said[1:]}.") from None
        slack = 1e-9 * max(abs(self.low), abs(self.high))
        if not self.low - slack <= found <= self.high + slack:
            low, high = (write_quantity(end, self.kind, self.units) for end in (self.low, self.high))
            raise forms.ValidationError(f"Give {low} to {high}.")
        return found

    def _shown(self, value: float, units: Units) -> str:
        return write_quantity(value, self.kind, units)

    def prepare_value(self, value: Any) -> Any:
        return self._shown(value, self.units) if isinstance(value, (int, float)) else value


class LengthField(Measured, forms.CharField):
    """A length in metres, typed in either system."""

    def __init__(self, low: float, high: float, small: bool = False, why: str = "", source: str = "", **kwargs: Any) -> None:
        super().__init__(max_length=60, **kwargs)
        self.low, self.high, self.small = low, high, small
        self.widget.attrs.update({"autocomplete": "off"})
        self.ask("", why, source)

    def clean(self, value: Any) -> float | None:
        text = super().clean(value)
        if not text:
            return None
        if self.held is not None and text in (format_length(self.held), format_length(self.held, "us"), self._thin(self.held)):
            return self.held
        try:
            metres = parse_length(text, self.units, self.small)
        except ValueError as error:
            raise forms.ValidationError(str(error)) from None
        if not self.low <= metres <= self.high:
            low, high = format_length(self.low, self.units), format_length(self.high, self.units)
            raise forms.ValidationError(f"Give a length from {low} to {high}.")
        return metres

    def prepare_value(self, value: Any) -> Any:
        if not isinstance(value, (int, float)):
            return value
        thin = self.small and self.units == "metric" and 0 < value < THIN
        return self._thin(value) if thin else format_length(value, self.units)

    @staticmethod
    def _thin(value: float) -> str:
        return f"{round(value * 1000, 2):g} mm"


class SpeedField(Measured, forms.CharField):
    """A speed of wind in m/s, typed in any usual unit."""

    def __init__(self, why: str = "", source: str = "", **kwargs: Any) -> None:
        super().__init__(max_length=40, **kwargs)
        self.widget.attrs.update({"autocomplete": "off"})
        self.ask("", why, source)

    def clean(self, value: Any) -> float | None:
        text = super().clean(value)
        if not text:
            return None
        if self.held is not None and text in (format_speed(self.held), format_speed(self.held, "us")):
            return self.held
        try:
            speed = parse_speed(text, self.units)
        except ValueError as error:
            said = str(error)
            raise forms.ValidationError(said[0].upper() + said[1:] + ".") from None
        if speed <= 0:
            raise forms.ValidationError("Give a speed over 0.")
        return speed

    def prepare_value(self, value: Any) -> Any:
        return format_speed(value, self.units) if isinstance(value, (int, float)) else value


class AngleField(Asked, forms.CharField):
    """Latitude or longitude in any usual notation."""

    def __init__(self, axis: Literal["latitude", "longitude"], why: str = "", source: str = "", **kwargs: Any) -> None:
        super().__init__(max_length=80, **kwargs)
        self.axis = axis
        self.widget.attrs.update({"autocomplete": "off"})
        self.ask("°", why, source)

    def clean(self, value: Any) -> float | None:
        text = super().clean(value)
        if not text:
            return None
        try:
            return parse_angle(text, self.axis)
        except ValueError as error:
            raise forms.ValidationError(str(error)) from None

    def prepare_value(self, value: Any) -> Any:
        return f"{value:.6g}" if isinstance(value, float) else value


class TwelveField(Measured, forms.CharField):
    """Twelve numbers, or one for all months, typed in a line; ``optional`` ones may be empty. Of a ``kind`` (``low``, ``high`` and what is kept in
    its SI unit) they are typed and shown in the build's units."""

    def __init__(
        self, low: float, high: float, unit: str = "", why: str = "", source: str = "", kind: Kind | None = None, **kwargs: Any
    ) -> None:
        super().__init__(max_length=400, **kwargs)
        self.least, self.most, self.kind = low, high, kind
        self.low, self.high = low, high  # in the units that are shown
        self.widget.attrs.update({"autocomplete": "off", "data-twelve": "", "data-low": low, "data-high": high})
        self.ask(unit if kind is None else unit_of(kind), why, source)

    def measure_in(self, units: Units, held: Any) -> None:
        super().measure_in(units, held)
        if self.kind is None:
            return
        self.low, self.high = (float(f"{in_unit(end, self.kind, units):.4g}") for end in (self.least, self.most))
        self.widget.attrs.update({"data-low": self.low, "data-high": self.high})
        self.unit = unit_of(self.kind, units)

    def clean(self, value: Any) -> list[float] | None:
        text = super().clean(value)
        if not text:
            return None
        if self.kind is None:
            return self._numbers(text)
        if isinstance(self.held, list) and text == self._shown(self.held):
            return list(self.held)
        return [parse_quantity(f"{number:.10g}", self.kind, self.units) for number in self._numbers(self._bare(text))]

    def _bare(self, text: str) -> str:
        """The numbers alone, where one unit that is the field's stands after them ("30, 32 mph")."""
        return text.removesuffix(self.unit).rstrip() if self.unit and text.endswith(self.unit) else text

    def _numbers(self, text: str) -> list[float]:
        words = (
            text.replace(";", " ").replace("\t", " ").split()
            if "," not in text or ". " in text
            else text.replace(";", " ").replace(",", " ").split()
        )
        numbers = []
        for place, word in enumerate(words, 1):
            if word.strip(",") == "?" and len(words) == 12:  # a cell of the row left empty
                raise forms.ValidationError(f"{MONTH_NAMES[place - 1]} has no number: give one for each month.")
            try:
                number = float(word.strip(","))
            except ValueError:
                raise forms.ValidationError(f"Number {place}, {word[:20]!r}, is not a number.") from None
            if not self.low <= number <= self.high:
                raise forms.ValidationError(f"Number {place}, {number:g}, must lie from {self.low:g} to {self.high:g}.")
            numbers.append(number)
        if len(numbers) not in (1, 12):
            raise forms.ValidationError(f"Give one number, or twelve (January to December), not {len(numbers)}.")
        return numbers * 12 if len(numbers) == 1 else numbers

    def prepare_value(self, value: Any) -> Any:
        return self._shown(value) if isinstance(value, list) else value

    def _shown(self, values: list[float]) -> str:
        told = values if self.kind is None else [round(in_unit(number, self.kind, self.units), 2) for number in values]
        return f"{told[0]:g}" if len(set(told)) == 1 else ", ".join(f"{number:g}" for number in told)


class ChoiceField(Asked, forms.ChoiceField):
    """A choice with its question explained."""

    def __init__(self, why: str = "", source: str = "", unit: str = "", **kwargs: Any) -> None:
        super().__init__(**kwargs)
        self.ask(unit, why, source)


class SwitchField(Asked, forms.BooleanField):
    """Yes or no."""

    def __init__(self, why: str = "", source: str = "", **kwargs: Any) -> None:
        super().__init__(required=False, **kwargs)
        self.ask("", why, source)
