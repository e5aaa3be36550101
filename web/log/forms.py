"""What is asked when something is logged: three taps for the common things, the rest behind."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any, ClassVar

from django import forms
from django.db.models import Model
from django.utils import timezone

from sundial.doors import in_years
from sundial.errors import BriefError
from sundial.expected.reading import refuse_reading
from sundial.expected.sweep import best_point
from sundial.quantities import TEMPERATURE
from sundial.record.entries import BATTERIES, CHANGES, INSPECTED, Change, Inspection, Move, Note, Reading
from sundial.record.inspected import looked_at
from web.builds.editing import StationForm
from web.builds.fields import ChoiceField, LineField, Measured, NumberField, PercentField, QuantityField, SwitchField
from web.builds.models import Build
from web.builds.results import Results

SKIES = [("clear", "clear"), ("haze", "thin haze"), ("broken", "broken cloud"), ("overcast", "overcast")]
DUE = {"bolts": 182, "sealant": 365, "level": 182, "growth": 91, "dirt": 91, "hinges": 182, "cables": 365}  # days, usual (thumb)
AHEAD = timedelta(minutes=10)


class LogForm(StationForm):
    """What is known of the meter."""

    paths: ClassVar[dict[str, str]] = {"log.meter_error": "meter_error"}
    meter_error = PercentField(
        0, 25, label="The meter itself may be off by", why="No figure here is surer than the meter it comes from.",
        source="Its data sheet; a clamp or a socket meter: 1 to 3 %.",
    )  # fmt: skip

    def current(self, build: Build) -> dict[str, Any]:
        return {"meter_error": build.logbook.meter_error}

    def apply(self, build: Build) -> list[Model]:
        self.put(build.logbook, ("meter_error",))
        return [build.logbook]


class EntryForm(forms.Form):
    """What every entry asks: when, and a few words."""

    kind: ClassVar[str]
    # When it was typed, by the phone's own clock in UTC: an entry may be sent long after.
    moment = forms.DateTimeField(required=False, widget=forms.HiddenInput, input_formats=["%Y-%m-%dT%H:%M:%S.%fZ"])
    at = forms.DateTimeField(
        label="When", required=False, widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"),
        input_formats=["%Y-%m-%dT%H:%M", "%Y-%m-%dT%H:%M:%S", "%Y-%m-%d %H:%M"],
        error_messages={"invalid": "Type a day and a time of day such as 2026-05-21 14:05."},
    )  # fmt: skip
    note = LineField(max_length=400, required=False, label="A few words")
    client_id = forms.UUIDField(required=False, widget=forms.HiddenInput)

    def __init__(self, build: Build, results: Results, *args: Any, **kwargs: Any) -> None:
        self.build, self.results = build, results
        kwargs.setdefault("label_suffix", "")
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            field.widget.attrs.setdefault("aria-describedby", f"err-{self.kind}-{name}")
            if isinstance(field, Measured):
                field.measure_in(build.shown_in, None)

    @property
    def zone(self) -> Any:
        return self.results.scene.site.zone

    def clean_at(self) -> datetime:
        told: datetime | None = self.cleaned_data["at"]
        if told is None:
            moment: datetime | None = self.cleaned_data.get("moment")
            now = timezone.now()
            typed = (
                moment if moment is not None and moment <= now + AHEAD else now
            )  # a phone whose clock runs ahead counts as now
            return typed.replace(microsecond=0)
        # Django reads it as UTC; it is the site's own clock that was typed.
        local = told.replace(tzinfo=self.zone)
        if local > timezone.now() + AHEAD:
            raise forms.ValidationError("That lies in the future: is the date right?")
        if local.year < 2000:
            raise forms.ValidationError("That is long past: was the clock set?")
        return local

    def entry(self) -> Any:
        """The core's entry. BriefError, naming a field, where it cannot be."""
        raise NotImplementedError

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if not self.errors:
            try:
                self.made = self.entry()
            except BriefError as error:
                self.add_error(error.path if error.path in self.fields else None, error.message[:1].upper() + error.message[1:])
            except ValueError:  # the core's own bounds
                self.add_error(None, "One of these numbers cannot be: look at them once more.")
        return data


class MoveForm(EntryForm):
    kind = "move"
    tilt = NumberField(
        -90, 90, label="It stands at", unit="°", why="Read off the glass with an inclinometer, or the hole's tilt."
    )
    before = NumberField(-90, 90, label="before", unit="°", required=False)
    minutes = NumberField(0, 1440, label="It took", unit="min", required=False)
    by = LineField(max_length=60, required=False, label="By")
    photo = forms.FileField(label="A photo", required=False, widget=forms.FileInput(attrs={"accept": "image/*"}))

    def entry(self) -> Move:
        data = self.cleaned_data
        before = data["before"] if data["before"] is not None else self.build.stands_at
        return Move(at=data["at"], tilt=data["tilt"], before=before, minutes=data["minutes"], by=data["by"], note=data["note"])


class ReadingForm(EntryForm):
    kind = "reading"
    power = NumberField(0, 2_000_000, label="It reads", unit="W", required=False)
    volts = NumberField(0, 2000, label="or volts", unit="V", required=False)
    amps = NumberField(0, 2000, label="and amps", unit="A", required=False)
    sky = ChoiceField(label="The sky", choices=SKIES, required=False)
    with_load = NumberField(
        0, 2_000_000, label="With a load switched on", unit="W", required=False,
        why="Switch something on and read again within a minute: if it rises, the meter showed demand and not sun.",
    )  # fmt: skip
    battery = ChoiceField(
        label="The battery", choices=[("", "none, or not known"), *((b, b) for b in BATTERIES[1:])], required=False
    )
    tilt = NumberField(-90, 90, label="Tilt, if not as logged", unit="°", required=False)
    panel_temp = QuantityField(TEMPERATURE, -60, 120, label="Panel temperature", required=False)
    in_the_way = SwitchField(label="Somebody stood in the light")
    quantity = NumberField(0, 1e9, label="Or another meter", required=False)
    unit = LineField(
        max_length=20, required=False, label="in", widget=forms.TextInput(attrs={"placeholder": "litres, Ah, minutes"})
    )
    since = forms.DateTimeField(
        label="since", required=False, widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"),
        input_formats=["%Y-%m-%dT%H:%M", "%Y-%m-%d %H:%M"],
    )  # fmt: skip
    sweep = forms.CharField(
        label="A sweep: volts and amps, a line each", required=False, max_length=4000,
        widget=forms.Textarea(attrs={"rows": 3, "placeholder": "28.0 9.2\n30.5 8.9"}),
    )  # fmt: skip
    sure = SwitchField(label="The display really shows that")

    def entry(self) -> Reading:
        data = self.cleaned_data
        since = data["since"].replace(tzinfo=self.zone) if data["since"] else None
        if data["sweep"]:
            self._take_sweep(data)
        names = (
            "at",
            "note",
            "power",
            "volts",
            "amps",
            "with_load",
            "battery",
            "tilt",
            "panel_temp",
            "in_the_way",
            "quantity",
            "unit",
        )
        reading = Reading(sky=data["sky"] or "clear", since=since, **{name: data[name] for name in names})
        refuse_reading(self.results.scene, reading, timezone.now(), data["sure"])
        return reading

    @staticmethod
    def _take_sweep(data: dict[str, Any]) -> None:
        """The best point of a sweep becomes the reading, by a fit through its top."""
        rows = []
        for number, line in enumerate(data["sweep"].splitlines(), 1):
            cells = line.replace(",", ".").replace(";", " ").split()
            if not cells:
                continue
            try:
                volts, amps = (float(cell) for cell in cells)
            except ValueError:
                raise BriefError("sweep", f"line {number}, {line[:30]!r}: give volts and amps, such as 30.5 8.9") from None
            rows.append((volts, amps))
        try:
            best = best_point(rows)
        except BriefError as error:
            raise BriefError("sweep", f"{error.path}: {error.message}" if error.path != "rows" else error.message) from None
        data["power"], data["volts"], data["amps"] = None, round(best.volts, 2), round(best.amps, 3)
        said = (
            f"Best of a sweep of {len(rows)}: {best.power:.1f} W by a fit through its top, {best.largest:.1f} W the largest row."
        )
        data["note"] = f"{data['note']} {said}".strip()[:400]


class InspectionForm(EntryForm):
    kind = "inspection"
    what = ChoiceField(label="Looked at", choices=[(one, one) for one in INSPECTED])
    fine = SwitchField(label="In order", initial=True)
    due = forms.DateField(
        label="Again on", required=False, widget=forms.DateInput(attrs={"type": "date"}),
        error_messages={"invalid": "Type a day such as 2026-10-01."},
    )  # fmt: skip
    photo = forms.FileField(label="A photo", required=False, widget=forms.FileInput(attrs={"accept": "image/*"}))

    def __init__(self, build: Build, results: Results, *args: Any, **kwargs: Any) -> None:
        super().__init__(build, results, *args, **kwargs)
        there = looked_at(results.scene)
        self.fields["what"].choices = [(one, one) for one in INSPECTED if one in there]  # type: ignore[attr-defined]

    def entry(self) -> Inspection:
        data = self.cleaned_data
        due = data["due"] or (data["at"].date() + timedelta(days=DUE[data["what"]]))
        if due <= data["at"].date():
            raise BriefError("due", "must lie after the day on which it was looked at")
        return Inspection(at=data["at"], what=data["what"], fine=data["fine"], due=due, note=data["note"])


class ChangeForm(EntryForm):
    kind = "change"
    what = ChoiceField(label="What was done", choices=[(one, one) for one in CHANGES])

    def entry(self) -> Change:
        return Change(at=self.cleaned_data["at"], what=self.cleaned_data["what"], note=self.cleaned_data["note"])


class NoteForm(EntryForm):
    kind = "note"

    def entry(self) -> Note:
        if not self.cleaned_data["note"]:
            raise BriefError("note", "write a few words")
        return Note(at=self.cleaned_data["at"], note=self.cleaned_data["note"])


FORMS: dict[str, type[EntryForm]] = {form.kind: form for form in (MoveForm, ReadingForm, InspectionForm, ChangeForm, NoteForm)}


class SpanForm(forms.Form):
    """A span of days to delete, or to take out."""

    start = forms.DateField(label="from", widget=forms.DateInput(attrs={"type": "date"}))
    end = forms.DateField(label="to", widget=forms.DateInput(attrs={"type": "date"}))

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        for name in ("start", "end"):
            if data.get(name) is not None:
                try:
                    in_years(data[name], name)
                except BriefError as error:
                    self.add_error(name, f"{error.message[0].upper()}{error.message[1:]}.")
        if data.get("start") and data.get("end") and data["end"] < data["start"]:
            self.add_error("end", "The last day lies before the first.")
        return data
