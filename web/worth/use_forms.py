"""What the energy is used for, hour by hour: the questions about use, tariff, battery and generator."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms
from django.db.models import Model

from sundial.balance.profile import LARGEST, read_profile, read_table
from sundial.days import MONTH_NAMES
from sundial.errors import BriefError
from web.builds.editing import StationForm
from web.builds.fields import ChoiceField, LineField, NumberField, PercentField, SwitchField, TwelveField, WholeField
from web.builds.models import Build
from web.builds.quota import refuse_over
from web.builds.typed_tables import TableField
from web.worth.models import Usage
from web.worth.tables import read_band, read_block, write_band, write_block

PLAIN = (
    "shape", "yearly", "bands", "blocks", "export_bands", "export_limit", "credit_payout", "standing", "contract_added",
    "contract_export", "generator_power", "generator_cost", "generator_run", "missing_price", "load_power", "tank", "load_price",
    "battery", "charge", "discharge", "round_trip", "reserve", "battery_more", "profile_unit", "profile_time", "profile_column",
)  # fmt: skip


class UseForm(StationForm):
    """The fields about the use; the station's form adds prices and rows."""

    use_paths: ClassVar[dict[str, str]] = {
        "use.yearly": "yearly",
        "use.monthly": "monthly",
        "use.profile": "profile_file",
        "use.profile.time": "profile_time",
        "use.profile.column": "profile_column",
        "use.tariff.import": "bands",
        "use.tariff.blocks": "blocks",
        "use.tariff.export": "export_bands",
        "use.tariff.export_limit": "export_limit",
        "use.tariff": "bands",
        "use.demand": "demand",
        "use.generator.power": "generator_power",
        "use": "use_kind",
        "battery": "battery",
    }

    use_kind = ChoiceField(label="What is it used for?", choices=Usage.KINDS, widget=forms.RadioSelect)
    shape = ChoiceField(
        label="How the use lies in the day", choices=Usage.SHAPES, source="A shape of ours (thumb), scaled to your kWh."
    )
    yearly = NumberField(
        1, 1e7, label="Used in a year", unit="kWh", required=False, why="Of your bill. Empty where a file says it."
    )
    monthly = TwelveField(
        0, 1e6, label="Used in each month", unit="kWh", required=False, why="In place of the year, where you know them."
    )
    profile_file = forms.FileField(
        label="Your own hours, as CSV", required=False, widget=forms.FileInput(attrs={"accept": ".csv,.txt"})
    )
    profile_unit = ChoiceField(label="Its numbers are", choices=Usage.UNITS)
    profile_time = LineField(label="Column of times", max_length=80, required=False)
    profile_column = LineField(label="Column of the use", max_length=80, required=False)
    drop_profile = SwitchField(label="Go back to a shape")
    bands = TableField(
        read_band, write_band, label="Buying by the hour", rows=2, why="A line each: hours (7-23, or rest); price of a kWh; months such as Jun-Sep."
    )  # fmt: skip
    blocks = TableField(
        read_block, write_block, label="Blocks of the month", rows=2, why="A line each: kWh it ends at (or: over); price on top of the hour's."
    )  # fmt: skip
    export_bands = TableField(
        read_band, write_band, label="Selling by the hour", rows=2, why="As for buying. Empty: one price at every hour."
    )  # fmt: skip
    export_limit = NumberField(
        0, 1e6, label="At most fed in", unit="W", required=False, why="0: nothing may be sold. Empty: no limit."
    )
    credit_expires = ChoiceField(
        label="Sold kWh are credit until the end of",
        choices=[("", "– no credit, money –"), *((str(i), name) for i, name in enumerate(MONTH_NAMES, 1))],
        required=False,
        why="They are set against what you buy later; what is left then expires.",
    )
    credit_payout = NumberField(-100, 1000, label="Paid for what expires", unit="{currency} a kWh")
    standing = NumberField(
        0, 1e5, label="Standing charge", unit="{currency} a month", why="Paid whatever you do: it changes nothing here."
    )
    contract_added = NumberField(
        0, 1e6, label="Old contract: at most added", unit="W", required=False, why="More nameplate than this ends it. Empty: there is none."
    )  # fmt: skip
    contract_export = NumberField(-100, 1000, label="After it, a kWh sells for", unit="{currency}")
    demand = TwelveField(0, 1e5, label="Needed a day", unit="kWh", why="By month. One number is taken for all.")
    missing_price = NumberField(
        0, 1e4, label="A kWh that is missing costs", unit="{currency}", why="What you would pay to have it another way."
    )
    generator_power = NumberField(1, 1e6, label="Generator", unit="W", required=False, why="Empty: there is none.")
    generator_cost = NumberField(0, 1e4, label="A kWh from it", unit="{currency}", why="Fuel and wear.")
    generator_run = WholeField(1, 24, label="It runs at least", unit="hours")
    load_demand = TwelveField(0, 1e6, label="The load needs a month", unit="kWh")
    load_power = NumberField(1, 1e6, label="It takes at most", unit="W", required=False)
    tank = NumberField(
        0,
        1e5,
        label="Its tank holds",
        unit="kWh",
        why="What the load has worked ahead. 0: each day's need is met that day or not.",
    )
    load_price = NumberField(0, 1e4, label="A kWh of it replaces", unit="{currency}")
    battery = NumberField(0, 1e5, label="Battery, usable", unit="kWh", required=False, why="Empty: there is none.")
    charge = NumberField(1, 1e6, label="Charges with", unit="W")
    discharge = NumberField(1, 1e6, label="Gives at most", unit="W")
    round_trip = PercentField(1, 100, label="Comes out again", why="Of what goes in: 85 to 95 % for most.")
    reserve = PercentField(0, 95, label="Kept back", why="Never used here: for a failure of the grid, or for the battery's life.")
    battery_more = NumberField(
        0.1, 1e5, label="The bigger one holds", unit="kWh more", required=False, why="The rival row. Empty: half as much again."
    )

    upload: bytes | None = None

    def current_use(self, build: Build) -> dict[str, Any]:
        usage = build.usage
        held = {name: getattr(usage, name) for name in PLAIN}
        held |= {name: getattr(usage, name) for name in ("demand", "load_demand", "monthly")}
        return held | {"use_kind": usage.kind, "credit_expires": str(usage.credit_expires or ""), "drop_profile": False}

    def clean_use(self, data: dict[str, Any]) -> None:
        """What the fields say together; a file is read once with what is told of it."""
        kind = data.get("use_kind")
        if data.get("battery") == 0:
            self.add_error("battery", "A battery of 0 kWh is none: leave it empty.")
        if data.get("yearly") and data.get("monthly"):
            data["yearly"] = None  # the months say more
        usage = self.build.usage
        stays = usage.profile_digest and not data.get("drop_profile")
        told = data.get("yearly") or data.get("monthly") or data.get("profile_file") or stays
        if kind == "grid" and not told and not {"yearly", "monthly", "profile_file"} & set(self.errors):
            self.add_error("yearly", "Give what is used in a year, or in each month, or a file of it.")
        if data.get("monthly") and not sum(data["monthly"]):
            self.add_error("monthly", "Nothing is used in any month.")
        if data.get("profile_file") and "profile_unit" in data:
            self._read(data)

    def _read(self, data: dict[str, Any]) -> None:
        file = data["profile_file"]
        if file.size > LARGEST:
            self.add_error("profile_file", f"That file has {file.size / 1e6:.0f} MB; {LARGEST / 1e6:.0f} MB are the most.")
            return
        self.upload = file.read()
        place = self.build.place
        try:
            refuse_over(self.build.owner, len(self.upload), instead=Usage.bytes_of(Build.objects.filter(pk=self.build.pk)))
            read = read_profile(
                self.upload,
                place.timezone,
                0.0,
                data.get("profile_time") or "",
                data.get("profile_column") or "",
                data["profile_unit"],
            )
        except BriefError as error:
            named = {"use.profile.time": "profile_time", "use.profile.column": "profile_column"}.get(error.path, "profile_file")
            row = error.path.partition(" ")[2]
            words = f"{row}: {error.message}" if row else error.message
            self.add_error(named, words[0].upper() + words[1:])
            return
        heads = read_table(self.upload).heads
        self.told.append(
            f"The file holds {read.hours.sum() / 1000:,.0f} kWh in {'a week' if read.is_week else 'a year'}"
            + (f"; its columns: {', '.join(heads)}." if heads else ".")
            + "".join(f" {note}" for note in read.notes)
        )

    def apply_use(self, build: Build) -> list[Model]:
        usage, data = build.usage, self.cleaned_data
        usage.kind = data["use_kind"]
        self.put(usage, PLAIN)
        usage.monthly = data.get("monthly") or None
        for name in ("demand", "load_demand"):
            if data.get(name):
                setattr(usage, name, data[name])
        usage.credit_expires = int(data["credit_expires"]) if data.get("credit_expires") else None
        if data.get("drop_profile"):
            usage.profile_name, usage.profile_data, usage.profile_digest = "", None, ""
        if self.upload is not None:
            usage.take_file(data["profile_file"].name, self.upload)
            if "yearly" not in self.changed_data:
                usage.yearly = None  # the file says it
        return [usage]
