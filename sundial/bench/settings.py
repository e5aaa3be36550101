"""What can be said of a controller's settings before it runs."""

from __future__ import annotations

from math import asin, degrees, radians, tan

from pydantic import ValidationError

from sundial.bench.axes import BenchMount
from sundial.brief.model import BenchBrief
from sundial.errors import BriefError

SUN = 0.25  # degrees a minute that the sun moves, about
Settings = BenchBrief


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
    for axis in mount.axes if mount.kind == "hinge" else ():
        for name, tilt in settings.places.model_dump().items():
            if tilt is not None and not axis.low <= tilt <= axis.high:
                nearest = axis.low if tilt < axis.low else axis.high
                found.append((f"place_{name}", f"It cannot go to {tilt:g}°: it is put at its end stop, {nearest:g}°."))
    for axis in mount.axes:
        if settings.night_to == "east" and axis.east is None and not (axis.places and settings.places.night is not None):
            found.append(("night_to", "It has no east end, since it never faces east: at night it lies flat instead."))
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
    return degrees(asin(min(1.0, settings.threshold / tan(radians(settings.cell_angle)))))
