"""What a trial asks: five questions for its design, and what both meters showed for each repeat."""

from __future__ import annotations

from datetime import datetime, time
from typing import Any
from zoneinfo import ZoneInfo

from django import forms
from django.utils import timezone

from sundial.trials.design import Design, kinds
from sundial.trials.model import Repeat
from sundial.trials.spots import Spot
from web.builds.fields import ChoiceField, LineField, NumberField, PercentField, SwitchField

STOPPED = [
    ("", "it ran to the end"), ("shade", "shade came in"), ("throttled", "battery full, or a limit"), ("cloud", "cloud"), ("other", "something else"),
]  # fmt: skip
UNITS = [("Wh", "Wh"), ("kWh", "kWh")]


class DesignForm(forms.Form):
    """The design. What the arms are set to is asked in the unit of what differs."""

    arm_a = LineField(max_length=60, label="First arm")
    arm_b = LineField(max_length=60, label="Second arm")
    value_a = NumberField(label="First is set to", required=False)
    value_b = NumberField(label="second to", required=False)
    nameplate_a = NumberField(0.1, 1e6, label="Nameplate of position 1", unit="W")
    nameplate_b = NumberField(0.1, 1e6, label="of position 2", unit="W")
    swap = SwitchField(label="Change over half-way through the day")
    alike_first = SwitchField(label="Treat both alike on the first day")
    elsewhere = SwitchField(label="They stand where nothing shades them, not where the array stands")
    gain = PercentField(0.1, 400, label="A gain worth knowing")
    scatter = PercentField(
        0.1,
        50,
        label="Two repeats differ by about",
        why="By chance alone, from one to the next.",
        source="Paired panels on clear days: 1 to 2 % (thumb)",
    )

    def __init__(self, differs: str, *args: Any, **kwargs: Any) -> None:
        self.differs, self.told = differs, kinds()[differs]
        kwargs.setdefault("label_suffix", "")
        super().__init__(*args, **kwargs)
        for name in ("value_a", "value_b"):
            field = self.fields[name]
            if isinstance(field, NumberField):
                field.unit = {"degrees": "°", "m": "m"}.get(self.told["unit"], "")
            field.required = bool(self.told["unit"])

    @staticmethod
    def start(differs: str, power: float) -> dict[str, Any]:
        """What is filled in before anybody types."""
        told = kinds()[differs]
        return {
            "arm_a": told["arms"][0], "arm_b": told["arms"][1], "value_a": told["values"][0], "value_b": told["values"][1],
            "nameplate_a": power, "nameplate_b": power, "swap": True, "alike_first": True, "gain": 0.03, "scatter": 0.015,
        }  # fmt: skip

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if self.errors:
            return data
        try:
            self.design = Design(
                differs=self.differs, arms=[data["arm_a"], data["arm_b"]], values=[data.get("value_a") or 0.0, data.get("value_b") or 0.0],
                nameplate=[data["nameplate_a"], data["nameplate_b"]], swap=data["swap"], alike_first=data["alike_first"], elsewhere=data["elsewhere"], gain=data["gain"],
            )  # fmt: skip
        except ValueError as error:
            words = str(error)
            if "same name" in words:
                self.add_error("arm_b", "Both arms have the same name: how would you tell them apart?")
            else:
                self.add_error("value_b", f"One of the two cannot be{': ' + self.told['asks'] if self.told['asks'] else ''}.")
        return data


class SpotsForm(forms.Form):
    """Watts of single moments: a line each, the time, the position and the watts."""

    on = forms.DateField(
        label="Day",
        widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
        error_messages={"invalid": "Type a day such as 2026-05-21."},
    )
    lines = forms.CharField(
        max_length=6000,
        label="Time, position, watts: a line each",
        widget=forms.Textarea(attrs={"class": "form-control", "rows": 5, "placeholder": "13:05 1 184\n13:08 2 191"}),
    )

    def __init__(self, zone: ZoneInfo, *args: Any, **kwargs: Any) -> None:
        self.zone = zone
        kwargs.setdefault("label_suffix", "")
        super().__init__(*args, **kwargs)

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        self.spots: list[Spot] = []
        for number, line in enumerate((data.get("lines") or "").splitlines(), 1):
            if not line.strip():
                continue
            parts = line.replace(";", " ").split()
            try:
                clock = time.fromisoformat(parts[0].zfill(5))
                arm, watts = {"1": 0, "2": 1}[parts[1]], float(parts[2].replace(",", "."))
                if len(parts) != 3 or not 0 < watts < 1e7 or "on" not in data:
                    raise ValueError
            except (ValueError, KeyError, IndexError):
                self.add_error(
                    "lines", f"Line {number}, “{line.strip()[:40]}”: type a time, 1 or 2, and watts, such as 13:05 1 184."
                )
                break
            self.spots.append(Spot(datetime.combine(data["on"], clock, self.zone), arm, watts))
        return data


class RepeatForm(forms.Form):
    """What both meters showed over the same hours."""

    on = forms.DateField(
        label="Day",
        widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
        error_messages={"invalid": "Type a day such as 2026-05-21."},
    )
    a = NumberField(0, 1e9, label="Position 1 gave")
    b = NumberField(0, 1e9, label="Position 2 gave")
    unit = ChoiceField(choices=UNITS, label="in")
    hours = NumberField(0.01, 240, label="Over", unit="h", required=False)
    order = ChoiceField(
        choices=[("set", "as set up"), ("swapped", "changed over"), ("alike", "both treated alike")], label="The arms stood"
    )
    stopped = ChoiceField(choices=STOPPED, label="Ended", required=False)
    client_id = forms.UUIDField(required=False, widget=forms.HiddenInput)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        kwargs.setdefault("label_suffix", "")
        super().__init__(*args, **kwargs)

    def clean_on(self) -> Any:
        day = self.cleaned_data["on"]
        if day > timezone.localdate():
            raise forms.ValidationError("That lies in the future: is the date right?")
        return day

    @property
    def repeat(self) -> Repeat:
        """The core's repeat."""
        data = self.cleaned_data
        scale = 1000.0 if data["unit"] == "kWh" else 1.0
        return Repeat(
            a=data["a"] * scale, b=data["b"] * scale, swapped=data["order"] == "swapped", alike=data["order"] == "alike", hours=data.get("hours"),
            stopped=data.get("stopped") or "", on=data["on"],
        )  # fmt: skip
