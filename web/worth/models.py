"""Prices, and the rows of the comparison that the person priced, added or switched off."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from typing import Any

from django.db import models
from django.db.models import Q

from sundial.balance.shapes import shapes
from sundial.brief.model import Brief, DirectUse, GridUse, OffGridUse, ProfileBrief, TariffBrief
from sundial.errors import BriefError
from web.builds.part import Part, Progress

WORTH = ("life", "interest", "price_growth", "ageing", "panel_cost", "count_hours", "spent")
OPTION = ("mount", "panels", "settings", "extra_cost", "upkeep", "minutes_per_move", "off")


class Economics(Part):
    """What energy and money are worth to this build. ``listed``: its options as they stand, saved or not (None: they are read when asked
    for)."""

    listed: list[Option] | None = None

    import_price = models.FloatField(default=0.25)
    export_price = models.FloatField(default=0.05)
    self_consumption = models.FloatField(default=0.4)
    life = models.PositiveSmallIntegerField(default=20)
    interest = models.FloatField(default=0.03)
    price_growth = models.FloatField(default=0.0)
    ageing = models.FloatField(default=0.005)
    panel_cost = models.FloatField(null=True, blank=True)
    count_hours = models.BooleanField(default=False)
    spent = models.FloatField(null=True, blank=True)
    room = models.PositiveSmallIntegerField(null=True, blank=True)

    shared = ("import_price", "export_price", "self_consumption")
    shared_words = "what a kWh is worth"
    further = ("options",)

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(life__gte=1), name="economics_of_a_year_or_more"),
            models.CheckConstraint(condition=Q(self_consumption__gte=0, self_consumption__lte=1), name="economics_share"),
        ]

    def complete(self) -> Progress:
        return "enough" if self.panel_cost is None else "complete"

    @property
    def options(self) -> list[Option]:
        """The build's options in their order; changes to the list count for what is computed, saved or not."""
        if self.listed is None:
            self.listed = list(self.build.options.all()) if self.build_id else []
        return self.listed

    def to_brief(self) -> dict[str, Any]:
        return {
            "worth": {name: getattr(self, name) for name in WORTH},
            "options": [option.to_brief() for option in self.options],
            "room": self.room,
        }

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        use, worth = brief.use, brief.worth.model_dump()
        if isinstance(use, GridUse):
            self.import_price, self.export_price, self.self_consumption = use.import_price, use.export_price, use.own_share
        self.room = brief.room
        for name in WORTH:
            setattr(self, name, worth[name])
        self.listed = [
            Option(build=self.build, position=position, **option.model_dump(exclude_none=True))
            for position, option in enumerate(brief.options)
        ]

    def child_rows(self) -> list[models.Model]:
        return list(self.options)


def monthly_use() -> list[float]:
    return [300.0] * 12


def off_grid_demand() -> list[float]:
    return [1.5] * 12


class Usage(Part):
    """What the energy is used for, hour by hour, and what stores it. Lists of twelve run January to December."""

    KINDS = [
        ("share", "a fixed share of it"),
        ("grid", "a house on the grid, by the hour"),
        ("off-grid", "a place without a grid"),
        ("direct", "a load that runs on the sun"),
    ]
    SHAPES = [(key, shape["name"]) for key, shape in shapes().items()]
    UNITS = [("kWh", "kWh a row"), ("Wh", "Wh a row"), ("kW", "kW"), ("W", "W")]

    kind = models.CharField(max_length=8, choices=KINDS, default="share")
    shape = models.CharField(max_length=16, choices=SHAPES, default="home-day")
    yearly = models.FloatField(null=True, blank=True, default=3600.0)
    monthly = models.JSONField(null=True, blank=True)
    profile_name = models.CharField(max_length=120, blank=True)
    profile_data = models.BinaryField(null=True, blank=True)
    profile_digest = models.CharField(max_length=64, blank=True)
    profile_time = models.CharField(max_length=80, blank=True)
    profile_column = models.CharField(max_length=80, blank=True)
    profile_unit = models.CharField(max_length=4, choices=UNITS, default="kWh")
    bands = models.JSONField(default=list)
    blocks = models.JSONField(default=list)
    export_bands = models.JSONField(default=list)
    export_limit = models.FloatField(null=True, blank=True)
    credit_expires = models.PositiveSmallIntegerField(null=True, blank=True)
    credit_payout = models.FloatField(default=0.0)
    standing = models.FloatField(default=0.0)
    contract_added = models.FloatField(null=True, blank=True)
    contract_export = models.FloatField(default=0.0)
    demand = models.JSONField(default=off_grid_demand)
    generator_power = models.FloatField(null=True, blank=True)
    generator_cost = models.FloatField(default=0.6)
    generator_run = models.PositiveSmallIntegerField(default=1)
    missing_price = models.FloatField(default=0.5)
    load_demand = models.JSONField(default=monthly_use)
    load_power = models.FloatField(null=True, blank=True)
    tank = models.FloatField(default=0.0)
    load_price = models.FloatField(default=0.2)
    battery = models.FloatField(null=True, blank=True)
    charge = models.FloatField(default=2500.0)
    discharge = models.FloatField(default=2500.0)
    round_trip = models.FloatField(default=0.9)
    reserve = models.FloatField(default=0.0)
    battery_more = models.FloatField(null=True, blank=True)
    shown = models.JSONField(default=dict)  # which way and which quantity its drawings show

    shared = (
        "kind", "shape", "yearly", "monthly", "profile_name", "profile_data", "profile_digest", "profile_time", "profile_column",
        "profile_unit", "bands", "blocks", "export_bands", "export_limit", "credit_expires", "credit_payout", "standing",
        "contract_added", "contract_export", "demand", "generator_power", "generator_cost", "generator_run", "missing_price",
        "load_demand", "load_power", "tank", "load_price", "battery", "charge", "discharge", "round_trip", "reserve", "battery_more",
    )  # fmt: skip
    shared_words = "what the energy is used for, and the battery"

    def complete(self) -> Progress:
        return "enough" if self.kind == "share" else "complete"

    def to_brief(self) -> dict[str, Any]:
        return {"use": self._use(), "battery": self._battery()}

    def _use(self) -> dict[str, Any]:
        if self.kind == "off-grid":
            generator = None
            if self.generator_power is not None:
                generator = {
                    "power": self.generator_power,
                    "cost_per_kwh": self.generator_cost,
                    "minimum_run": self.generator_run,
                }
            return {
                "kind": "off-grid",
                "demand": self.demand,
                "shape": self.shape,
                "profile": self._profile(),
                "generator": generator,
                "missing_price": self.missing_price,
            }
        if self.kind == "direct":
            held = {"demand": self.load_demand, "power": self.load_power, "tank": self.tank, "price": self.load_price}
            return {"kind": "direct", "shape": "constant", **held}
        prices = Economics.of(self.build)
        simple = {
            "kind": "grid",
            "import_price": prices.import_price,
            "export_price": prices.export_price,
            "own_share": prices.self_consumption,
        }
        if self.kind == "share":
            return simple
        amount = {"monthly": self.monthly} if self.monthly else {"yearly": self.yearly}
        if self.profile_digest and not self.monthly and self.yearly is None:
            amount = {}
        return {**simple, **amount, "shape": self.shape, "profile": self._profile(), "tariff": self._tariff()}

    def _profile(self) -> dict[str, Any] | None:
        if not self.profile_digest:
            return None
        return {"file": self.profile_name, "time": self.profile_time, "column": self.profile_column, "unit": self.profile_unit}

    def _tariff(self) -> dict[str, Any]:
        credit = None if self.credit_expires is None else {"expires": self.credit_expires, "payout": self.credit_payout}
        contract = None
        if self.contract_added is not None:
            contract = {"added": self.contract_added, "export": self.contract_export}
        return {
            "import": self.bands or None,
            "blocks": self.blocks or None,
            "export": self.export_bands or None,
            "export_limit": self.export_limit,
            "credit": credit,
            "standing": self.standing,
            "contract": contract,
        }

    def _battery(self) -> dict[str, Any] | None:
        if self.battery is None or self.kind in ("share", "direct"):
            return None
        held = {name: getattr(self, name) for name in ("charge", "discharge", "round_trip", "reserve")}
        return {"usable": self.battery, **held, "more": self.battery_more}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        use, battery = brief.use, brief.battery
        self.kind = "share" if isinstance(use, GridUse) and not use.by_hour else use.kind
        if isinstance(use, DirectUse):
            self.load_demand, self.load_power, self.tank, self.load_price = twelve(use.demand), use.power, use.tank, use.price
        else:
            self.shape = use.shape
            self._take_profile(use.profile, files)
        if isinstance(use, OffGridUse):
            self.demand, self.missing_price = twelve(use.demand), use.missing_price
            self.generator_power = None
            if use.generator is not None:
                self.generator_power, self.generator_cost = use.generator.power, use.generator.cost_per_kwh
                self.generator_run = use.generator.minimum_run
        if isinstance(use, GridUse):
            self.yearly, self.monthly = use.yearly if use.by_hour else 3600.0, use.monthly
            self._take_tariff(use.tariff or TariffBrief())
        self.battery = None if battery is None else battery.usable
        if battery is not None:
            self.charge, self.discharge, self.round_trip = battery.charge, battery.discharge, battery.round_trip
            self.reserve, self.battery_more = battery.reserve, battery.more

    def _take_profile(self, profile: ProfileBrief | None, files: Mapping[str, bytes]) -> None:
        if profile is None:
            self.profile_name, self.profile_data, self.profile_digest = "", None, ""
            return
        if "use.profile.file" not in files:
            raise BriefError("use.profile.file", f"the brief names the file of the use {profile.file!r}: choose it too")
        self.take_file(profile.file, files["use.profile.file"])
        self.profile_time, self.profile_column, self.profile_unit = profile.time, profile.column, profile.unit

    def _take_tariff(self, tariff: TariffBrief) -> None:
        held = tariff.model_dump(by_alias=True, exclude_none=True)
        self.bands = held.get("import", [])
        self.blocks = [{"up_to": block.up_to, "price": block.price} for block in tariff.blocks or ()]
        export = held.get("export")
        self.export_bands = export if isinstance(export, list) else [] if export is None else [{"price": export}]
        self.export_limit, self.standing = tariff.export_limit, tariff.standing
        self.credit_expires = None if tariff.credit is None else tariff.credit.expires
        self.credit_payout = 0.0 if tariff.credit is None else tariff.credit.payout
        self.contract_added = None if tariff.contract is None else tariff.contract.added
        self.contract_export = 0.0 if tariff.contract is None else tariff.contract.export

    def take_file(self, name: str, data: bytes) -> None:
        """Keep an uploaded file of the use with its digest."""
        plain = name.replace("\\", "/").rpartition("/")[2][-100:] or "use.csv"
        self.profile_name = plain if plain.startswith("use") else f"use-{plain}"  # never that of a weather file
        self.profile_data = data
        self.profile_digest = hashlib.sha256(data).hexdigest()

    def file_digests(self) -> dict[str, str]:
        return {"use.profile.file": self.profile_digest}

    def file(self, name: str) -> bytes | None:
        held = self.profile_digest and name == self.profile_name
        return bytes(self.profile_data or b"") if held else None


def twelve(value: list[float] | float) -> list[float]:
    """Twelve numbers from twelve or one."""
    return list(value) if isinstance(value, list) else [value] * 12


class Option(models.Model):
    """One row: a standard one (``row``) priced or switched off, or one of the person's own with its ``mount`` or other ``panels``."""

    build = models.ForeignKey("builds.Build", on_delete=models.CASCADE, related_name="options")
    position = models.PositiveSmallIntegerField(default=0)
    name = models.CharField(max_length=120, blank=True)
    row = models.CharField(max_length=20, null=True, blank=True)
    mount = models.JSONField(null=True, blank=True)
    panels = models.JSONField(null=True, blank=True)  # other panels, in the words of a brief
    settings = models.PositiveSmallIntegerField(null=True, blank=True)
    off = models.BooleanField(default=False)
    extra_cost = models.FloatField(null=True, blank=True)
    upkeep = models.FloatField(default=0.0)
    minutes_per_move = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["position", "pk"]
        constraints = [models.UniqueConstraint(fields=["build", "row"], name="one_option_a_row")]  # own ones have no row

    def to_brief(self) -> dict[str, Any]:
        """The option as a brief holds it."""
        return {"name": self.name or None, "row": self.row or None, **{name: getattr(self, name) for name in OPTION}}
