"""The bench: what a simulated controller is set to."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from sundial.brief_section import BriefSection, Upright

Level = Annotated[float, Field(ge=0, le=2000, description="W/m2")]
Minutes = Annotated[float, Field(ge=0, le=1440)]


class PlacesBrief(BriefSection):
    """Tilts, degrees, at which a flap on a hinge is put when it does not follow the sun; left out: at ``night`` as ``night_to`` says, in a
    ``storm`` and when ``driving`` at its flattest; ``away``: while it is parked for some time."""

    night: Upright | None = None
    storm: Upright | None = None
    driving: Upright | None = None
    away: Upright | None = None


class BenchBrief(BriefSection):
    """A controller. ``control``: two light cells, a clock, both (``hybrid``: cells in the sun, the clock when it is dull, never farther than
    ``window`` degrees from it), or by hand (it stays at ``manual_angle``).

    Cells: each leans ``cell_angle`` degrees to its side; ``threshold`` of their difference, a share of their sum or W/m2 (``threshold_kind``), below
    which nothing moves; a mean over ``averaging`` minutes; ``noise`` W/m2 of one look; ``mismatch`` gain of the one cell over the other, ``dirt``
    share that its glass takes, ``shadow`` hours of the day in which something shades it. ``sunny`` and ``night`` levels of their mean light, W/m2,
    each left again at ``hysteresis`` above. ``cycle``: minutes from one look to the next; ``pulse``: seconds of the shortest run of the motor.

    ``dull``: what it does when it is light and not sunny for ``dull_after`` minutes; ``night_to``: where it goes at night; ``timeout``: minutes after
    which any move ends. Clock: ``step`` degrees, ``clock_error`` minutes ahead, ``drift`` seconds a day since the year began. ``stow_gust`` m/s
    (none: never) lays it flat until ``stow_release`` minutes without. ``backlash`` degrees; ``position``: known, or counted from the
    end switches (each move is off by ``slip`` degrees until an end or the level switch is met); ``north_error``: degrees it stands turned. ``places`` of a flap on a hinge."""

    control: Literal["sensor", "clock", "hybrid", "manual"] = "sensor"
    cell_angle: Annotated[float, Field(ge=2, le=60)] = 30.0
    threshold: Annotated[float, Field(ge=0, le=2000)] = 0.06
    threshold_kind: Literal["share", "absolute"] = "share"
    averaging: Annotated[float, Field(ge=1, le=60)] = 2.0
    noise: Annotated[float, Field(ge=0, le=200)] = 2.0
    mismatch: Annotated[float, Field(ge=0.5, le=2)] = 1.0
    dirt: Annotated[float, Field(ge=0, le=0.95)] = 0.0
    shadow: Annotated[list[Annotated[float, Field(ge=0, le=24)]], Field(max_length=2)] = []
    sunny: Level = 180.0
    night: Level = 15.0
    hysteresis: Annotated[float, Field(ge=1, le=5)] = 1.3
    cycle: Minutes = 5.0
    pulse: Annotated[float, Field(gt=0, le=600)] = 1.0
    dull: Literal["stay", "flat", "clock"] = "stay"
    dull_after: Minutes = 10.0
    night_to: Literal["east", "flat", "stay"] = "east"
    timeout: Annotated[float, Field(gt=0, le=1440)] = 60.0
    step: Annotated[float, Field(gt=0, le=90)] = 5.0
    clock_error: Annotated[float, Field(ge=-720, le=720)] = 0.0
    drift: Annotated[float, Field(ge=-600, le=600)] = 0.0
    window: Annotated[float, Field(gt=0, le=180)] = 20.0
    stow_gust: Annotated[float | None, Field(gt=0, le=100)] = None
    stow_release: Minutes = 15.0
    backlash: Annotated[float, Field(ge=0, le=20)] = 0.0
    position: Literal["known", "switches"] = "known"
    slip: Annotated[float, Field(ge=0, le=5)] = 0.2
    manual_angle: Annotated[float, Field(ge=-180, le=180)] = 0.0
    north_error: Annotated[float, Field(ge=-45, le=45)] = 0.0
    places: PlacesBrief = PlacesBrief()

    @model_validator(mode="after")
    def _shadow_has_two_ends(self) -> BenchBrief:
        if len(self.shadow) == 1 or (len(self.shadow) == 2 and self.shadow[1] <= self.shadow[0]):
            raise ValueError("shadow: give its first and its last hour, such as [15, 17]")
        return self

    @property
    def gain(self) -> float:
        """Of the one cell over the other, dirt counted."""
        return self.mismatch * (1 - self.dirt)
