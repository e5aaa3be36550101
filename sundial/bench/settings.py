"""What a controller is set to, and what can be said of it before it runs."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, ValidationError, model_validator

from sundial.bench.axes import BenchMount
from sundial.brief.sections.base import BriefSection
from sundial.errors import BriefError

SUN = 0.25  # degrees a minute that the sun moves, about
Level = Annotated[float, Field(ge=0, le=2000, description="W/m2")]
Minutes = Annotated[float, Field(ge=0, le=1440)]


class Settings(BriefSection):
    """A controller. ``control``: two light cells, a clock, both (``hybrid``: cells in the sun, the clock when it is dull, never farther than
    ``window`` degrees from it), or by hand (it stays at ``manual_angle``).

    Cells: each leans ``cell_angle`` degrees to its side; ``threshold`` of their difference, a share of their sum or W/m2 (``threshold_kind``), below
    which nothing moves; a mean over ``averaging`` minutes; ``noise`` W/m2 of one look; ``mismatch`` gain of the one cell over the other, ``dirt``
    share that its glass takes, ``shadow`` hours of the day in which something shades it. ``sunny`` and ``night`` levels of their mean light, W/m2,
    each left again at ``hysteresis`` above. ``cycle``: minutes from one look to the next; ``pulse``: seconds of the shortest run of the motor.

    ``dull``: what it does when it is light and not sunny for ``dull_after`` minutes; ``night_to``: where it goes at night; ``timeout``: minutes after
    which any move ends. Clock: ``step`` degrees, ``clock_error`` minutes ahead, ``drift`` seconds a day since the year began. ``stow_gust`` m/s
    (none: never) lays it flat until ``stow_release`` minutes without. ``backlash`` degrees; ``position``: known, or counted from the
    end switches (each move is off by ``slip`` degrees until an end or the level switch is met); ``north_error``: degrees it stands turned."""

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

    @model_validator(mode="after")
    def _shadow_has_two_ends(self) -> Settings:
        if len(self.shadow) == 1 or (len(self.shadow) == 2 and self.shadow[1] <= self.shadow[0]):
            raise ValueError("shadow: give its first and its last hour, such as [15, 17]")
        return self

    @property
    def gain(self) -> float:
        """Of the one cell over the other, dirt counted."""
        return self.mismatch * (1 - self.dirt)


def read_settings(text: bytes | str) -> Settings:
    """Settings from JSON. BriefError naming the path of what is wrong."""
    try:
        return Settings.model_validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        path = ".".join(str(part) for part in first["loc"]) or "settings"
        raise BriefError(path, first["msg"].removeprefix("Value error, ")) from None


def remarks(settings: Settings, mount: BenchMount) -> tuple[tuple[str, str], ...]:
    """What a person should know of these settings before they run: the field and a sentence. They are simulated as they stand."""
    found: list[tuple[str, str]] = []
    cells = settings.control in ("sensor", "hybrid")
    if cells:
        sum_of_both = 2 * max(settings.sunny, 50.0)
        threshold = settings.threshold * sum_of_both if settings.threshold_kind == "share" else settings.threshold
        noise = settings.noise * 1.4 / settings.averaging**0.5  # two cells
        if threshold < 2 * noise:
            found.append(
                (
                    "threshold",
                    f"It will hunt: in weak sun the threshold is {threshold:.0f} W/m2 and the noise of a look about {noise:.0f}.",
                )
            )
        if settings.night >= settings.sunny:
            found.append(("night", "It sleeps while it is sunny: the night level lies over the sunny level."))
        if (
            settings.gain != 1
            and settings.threshold_kind == "share"
            and abs(settings.gain - 1) / (settings.gain + 1) > settings.threshold
        ):
            found.append(("mismatch", "The two cells differ by more than the threshold: it settles beside the sun."))
    if settings.cycle == 0:
        found.append(("cycle", "A cycle of 0 s looks all the time; here that is once a minute."))
    for axis in mount.axes:
        if axis.slowest < SUN * (2 if axis.name == "azimuth" else 1):
            found.append(("speed", f"The motor is slower than the sun: {axis.slowest:.2f} degrees a minute in {axis.name}."))
        if settings.timeout < axis.full_minutes:
            found.append(
                (
                    "timeout",
                    f"A full travel in {axis.name} takes {axis.full_minutes:.0f} minutes; the time-out ends it after {settings.timeout:g}.",
                )
            )
        if cells:
            pulse = float(axis.speeds.max()) * settings.pulse / 60
            if settings.threshold_kind == "share" and pulse > 3 * band(settings):
                found.append(
                    (
                        "pulse",
                        f"One pulse turns it by {pulse:.1f} degrees, more than its dead band of {2 * band(settings):.1f}: it will hunt.",
                    )
                )
    if settings.stow_gust is None:
        found.append(("stow_gust", "No gust lays it flat: the wind says from which gust on it must."))
    return tuple(found)


def band(settings: Settings) -> float:
    """Half of the dead band in the full sun, degrees between sun and glass: where a relative difference of the threshold arises."""
    from math import asin, degrees, radians, tan

    return degrees(asin(min(1.0, settings.threshold / tan(radians(settings.cell_angle)))))
