"""How a monitor's file is read, as its person confirms it; the name of a device."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from zoneinfo import available_timezones

from django import forms

from sundial.record.dialect import FORMATS, Columns
from web.builds.fields import LineField


def _as_written(form: str) -> str:
    """A way to write times, by an example whose day can be no month."""
    told = {
        "ISO8601": "2026-12-31T18:05:09, or with an offset",
        "unix": "seconds since 1970",
        "unix ms": "milliseconds since 1970",
    }
    return told.get(form) or datetime(2026, 12, 31, 18, 5, 9).strftime(form)


class ColumnsForm(forms.Form):
    """How a file is to be read: what was guessed, confirmed or put right."""

    source = LineField(max_length=60, label="Which monitor is it from?")
    time = forms.ChoiceField(label="Times stand in")
    clock = forms.ChoiceField(label="their time of day in", required=False)
    time_format = forms.ChoiceField(label="written as", choices=[(form, _as_written(form)) for form in FORMATS])
    value = forms.ChoiceField(label="Values stand in")
    kind = forms.ChoiceField(
        label="they are", choices=[("power", "power"), ("energy", "energy of each interval"), ("total", "a counter that goes on")]
    )
    unit = forms.ChoiceField(label="in", choices=[(one, one) for one in ("W", "kW", "Wh", "kWh")])
    zone = forms.ChoiceField(
        label="Times without an offset are",
        required=False,
        choices=[
            ("", "the site's own clock"),
            ("UTC", "UTC"),
            *((zone, zone) for zone in sorted(available_timezones()) if "/" in zone),
        ],
    )

    def __init__(self, heads: list[str], held: Columns, *args: Any, **kwargs: Any) -> None:
        self.held = held
        kwargs.setdefault("label_suffix", "")
        kwargs.setdefault(
            "initial",
            {
                "source": "Monitor", "time": held.time, "clock": held.clock, "time_format": held.time_format or "ISO8601",
                "value": held.value, "kind": held.kind, "unit": held.unit, "zone": held.zone,
            },
        )  # fmt: skip
        super().__init__(*args, **kwargs)
        named = [(head, head) for head in heads]
        for name in ("time", "clock", "value"):
            field = self.fields[name]
            if isinstance(field, forms.ChoiceField):
                field.choices = [("", "–"), *named] if name == "clock" else named

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if data.get("kind") and data.get("unit") and data["unit"].endswith("h") == (data["kind"] == "power"):
            right = "W or kW" if data["kind"] == "power" else "Wh or kWh"
            self.add_error("unit", f"{'Power' if data['kind'] == 'power' else 'Energy'} is told in {right}.")
        if data.get("time") and data.get("time") == data.get("value"):
            self.add_error("value", "That column holds the times.")
        return data

    def columns(self) -> Columns:
        """What was confirmed."""
        data, held = self.cleaned_data, self.held
        named = {"power": "", "energy": "", "total": "", data["kind"]: data["value"]}
        return Columns(
            data["time"], named["power"], named["energy"], named["total"], data["unit"], data["zone"], data["clock"],
            data["time_format"], held.delimiter, held.decimal, held.encoding, held.skip,
        )  # fmt: skip


class TokenForm(forms.Form):
    name = LineField(max_length=60, label="Name of the device")
