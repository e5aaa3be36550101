"""Fields for several lengths or tilts at once, as people write them."""

from __future__ import annotations

import re
from typing import Any

from django import forms

from sundial.errors import BriefError
from sundial.quantities import Units, format_length, parse_length, parse_tilts
from web.builds.fields import Asked, Measured

MOST = 40


class LengthsField(Measured, forms.CharField):
    """Several lengths in either system: "1.5, 1.2, 0.9", "1,5; 1,2", "4 ft 11 in, 3 ft", or "0.6 to 1.5 by 0.1"."""

    def __init__(self, why: str = "", source: str = "", names: tuple[tuple[str, str, str], ...] = (), **kwargs: Any) -> None:
        super().__init__(max_length=1000, **kwargs)
        self.widget.attrs.update({"autocomplete": "off"})
        self.ask("", why, source)
        self.names = names

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


class HolesField(Asked, forms.CharField):
    """The list, range or pasted hole table of reachable tilts."""

    def __init__(self, why: str, source: str, **kwargs: Any) -> None:
        super().__init__(max_length=8000, widget=forms.Textarea(attrs={"rows": 3}), **kwargs)
        self.ask("°", why, source)
