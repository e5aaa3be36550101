"""Production: any facing of the array, or every tilt at once."""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, sum_by_month
from sundial.energy.irradiance import Floats, IrradianceComponents
from sundial.energy.rear import RearLight
from sundial.energy.shade_factors import ShadeFactors
from sundial.energy.shaded import Shade
from sundial.energy.system import FAIMAN, REAR_FRAME_SHADE, System, beam_glass, diffuse_glass
from sundial.mounts.facing import Drive, Facing


@dataclass(frozen=True, eq=False)
class Steps:
    """Irradiance and power along the chain, each (..., lit).

    ``open_sky``: plane-of-array irradiance without shade, W/m2; ``poa_global``: with shade; ``effective``: behind the glass;
    ``rear``: on the back, times bifaciality. ``dc_uniform``: DC power, W, at uniform irradiance and cell temperature;
    ``dc``: after electrical mismatch from shade; ``dc_net``: after the named losses; ``ac``: out of the inverter.
    """

    open_sky: Floats
    poa_global: Floats
    effective: Floats
    rear: Floats
    dc_uniform: Floats
    dc: Floats
    dc_net: Floats
    ac: Floats

    def times(self, share: NDArray[np.bool_]) -> Steps:
        """The same with hours (lit,) taken out where ``share`` is False."""
        return Steps(*(getattr(self, part.name) * share for part in fields(self)))


def convert(
    light: IrradianceComponents,
    system: System,
    tilts: Floats,
    azimuths: Floats,
    shade: ShadeFactors | None = None,
    on_back: Floats | None = None,
) -> Steps:
    """Irradiance on planes and the power it makes. ``tilts`` and ``azimuths`` broadcast to (..., lit). ``on_back``: W/m2 on the
    back under an open sky (None: nothing comes from there).

    Cell temperature: Faiman 2008. DC: power x irradiance / 1000 x (1 + gamma (cell - 25)), linear in irradiance (Dobos 2014,
    NREL/TP-6A20-62641). Inverter: flat efficiency up to its limit.
    """
    array = system.array
    tilt, facing = np.radians(tilts), np.radians(azimuths)
    cos_t, sin_t = np.cos(tilt), np.sin(tilt)
    cosine = light.north * (sin_t * np.cos(facing))
    cosine += light.east * (sin_t * np.sin(facing))
    cosine += light.up * cos_t
    np.maximum(cosine, 0, out=cosine)
    direct = (light.beam + light.circumsolar) * cosine
    sky = light.isotropic * ((1 + cos_t) / 2)
    if light.horizon_brightening.any():
        sky = np.maximum(sky + light.horizon_brightening * np.abs(sin_t), -light.circumsolar * cosine)
    ground = light.ground * ((1 - cos_t) / 2)
    poa_global = direct + sky
    poa_global += ground
    open_sky = poa_global
    if shade is not None:
        direct, sky, ground = direct * shade.direct, sky * shade.sky, ground * shade.ground
        poa_global = direct + sky
        poa_global += ground
    if system.glass:
        sky_glass, ground_glass = diffuse_glass(tilts)
        effective = direct * beam_glass(cosine)
        effective += sky * sky_glass
        effective += ground * ground_glass
    else:
        effective = poa_global
    rear = np.zeros(1)
    useful = effective
    if on_back is not None:
        rear = on_back * (array.panel.bifaciality * (1 - REAR_FRAME_SHADE))
        if shade is not None:  # the ground that lights the back lies in much the same shade as the front
            level = (light.beam + light.circumsolar) * np.maximum(light.up, 0)
            rear = rear * (level * shade.direct + light.isotropic * shade.sky) / np.maximum(level + light.isotropic, 1e-9)
        useful = effective + rear
    u0, u1 = FAIMAN[system.mounting]
    gamma = array.panel.gamma
    # power x useful / 1000 x (1 + gamma (air + poa_global / (u0 + u1 wind) - 25)), arranged to touch large arrays least
    factor = poa_global * (gamma / (u0 + u1 * light.wind_speed))
    factor += 1 + gamma * (light.temp_air - 25)
    dc = useful * factor
    dc *= array.power / 1000
    np.maximum(dc, 0, out=dc)
    dc_uniform = dc
    if shade is not None:
        dc = dc * shade.electrical_mismatch
    dc_net = dc * system.kept(light)
    ac = dc_net * system.inverter.efficiency
    if system.inverter.power is not None:
        np.minimum(ac, system.inverter.power, out=ac)
    return Steps(open_sky, poa_global, effective, rear, dc_uniform, dc, dc_net, ac)


@dataclass(frozen=True, eq=False)
class TiltSurface:
    """Every tilt on every day at one azimuth: ``tilts`` (T,), ``energy`` (365, T) kWh, ``irradiation`` (365, T) kWh/m2."""

    tilts: Floats
    azimuth: float
    energy: Floats
    irradiation: Floats

    def column(self, tilt: float) -> int:
        """Index of a tilt that is in the surface; KeyError when it is not."""
        found = np.flatnonzero(np.abs(self.tilts - tilt) < 1e-6)
        if not found.size:
            raise KeyError(tilt)
        return int(found[0])

    @property
    def best_fixed_daily(self) -> Floats:
        """kWh of each day (365,) at the tilt that gives the most in a year."""
        best: Floats = self.energy[:, int(self.energy.sum(axis=0).argmax())]
        return best

    def daily(self, tilt: float, by: str = "energy") -> Floats:
        """Daily sums (365,) at any tilt inside the surface, linear between its tilts."""
        values = self.energy if by == "energy" else self.irradiation
        right = int(np.clip(np.searchsorted(self.tilts, tilt), 1, len(self.tilts) - 1))
        low, high = self.tilts[right - 1], self.tilts[right]
        share = np.clip((tilt - low) / (high - low), 0, 1)
        between: Floats = values[:, right - 1] * (1 - share) + values[:, right] * share
        return between


def tilt_surface(
    light: IrradianceComponents,
    system: System,
    azimuth: float,
    tilts: Floats,
    shade: Shade | None = None,
    without: frozenset[str] = frozenset(),
) -> TiltSurface:
    """Energy and irradiation of all ``tilts`` (T,) (rising; below zero leans to the other side) for all days, past all the
    ``shade`` but that of the things ``without``."""
    energy = np.empty((DAYS, len(tilts)))
    irradiation = np.empty((DAYS, len(tilts)))
    if shade is not None:
        shade.trace_around(tilts, azimuth)
    behind = _rear_light(light, system)
    block = 4  # small enough that the work stays in the processor's cache
    for start in range(0, len(tilts), block):
        part = slice(start, start + block)
        factors = None if shade is None else shade.at_tilts(tilts[part], azimuth, without)
        on_back = None if behind is None else behind.fixed(tilts[part], azimuth)
        steps = convert(light, system, tilts[part, None], np.full((1, 1), azimuth), factors, on_back)
        energy[:, part] = light.daily(steps.ac).T / 1000
        irradiation[:, part] = light.daily(steps.poa_global).T / 1000
    return TiltSurface(tilts, azimuth, energy, irradiation)


@dataclass(frozen=True, eq=False)
class Production:
    """A year of one way of holding the panels.

    ``hourly`` (8760,) Wh out, own use taken off; ``plane`` (8760,) W/m2 on the front, shade counted; ``energy`` (365,) kWh and ``irradiation`` (365,) kWh/m2 by day;
    ``ledger``: kWh at label conditions, then each line that takes (positive) or gives (negative), down to the energy.
    """

    hourly: Floats
    plane: Floats
    energy: Floats
    irradiation: Floats
    label_energy: float
    ledger: dict[str, float]

    @property
    def year(self) -> float:
        """kWh in the year."""
        return float(self.energy.sum())

    @property
    def by_month(self) -> Floats:
        """kWh of each month (12,)."""
        return sum_by_month(self.energy)


def produce(
    light: IrradianceComponents,
    system: System,
    facing: Facing,
    drive: Drive | None = None,
    shade: Shade | None = None,
    without: frozenset[str] = frozenset(),
) -> Production:
    """The year's production of panels that face as told, past all the ``shade`` but that of the things ``without``."""
    tilts, azimuths = facing.surface_tilt[light.hours], facing.surface_azimuth[light.hours]
    factors = None if shade is None else shade.of_facing(tilts, azimuths, without)
    behind = _rear_light(light, system)
    on_back = None if behind is None else behind.of_facing(tilts, azimuths)
    steps = convert(light, system, tilts, azimuths, factors, on_back)
    if facing.in_service is not None:
        steps = steps.times(facing.in_service[light.hours])
    hourly = light.whole_year(steps.ac)
    drive_consumption = drive.drive_consumption(facing) if drive else np.zeros_like(hourly)
    hourly = hourly - drive_consumption
    return Production(
        hourly=hourly,
        plane=light.whole_year(steps.poa_global),
        energy=hourly.reshape(DAYS, 24).sum(axis=1) / 1000,
        irradiation=light.daily(steps.poa_global) / 1000,
        label_energy=float(steps.open_sky.sum() * system.array.power / 1e6),
        ledger=_ledger(light, system, steps, float(drive_consumption.sum()) / 1000, shade is not None),
    )


def _rear_light(light: IrradianceComponents, system: System) -> RearLight | None:
    """The light on the backs, None for panels that make nothing of it."""
    if system.array.panel.bifaciality <= 0:
        return None
    return RearLight(light, system.standing, system.array.azimuth)


def _ledger(
    light: IrradianceComponents, system: System, steps: Steps, drive_consumption: float, shaded: bool
) -> dict[str, float]:
    scale = system.array.power / 1e6  # W/m2 hours to kWh at label conditions
    ledger = {}
    if shaded:
        ledger["shade"] = float((steps.open_sky - steps.poa_global).sum() * scale)
    ledger["glass"] = float((steps.poa_global - steps.effective).sum() * scale)
    rear = float(np.broadcast_to(steps.rear, steps.poa_global.shape).sum() * scale)
    if system.array.panel.bifaciality > 0:
        ledger["rear_gain"] = -rear
    ledger["heat"] = float(steps.effective.sum() * scale) + rear - float(steps.dc_uniform.sum()) / 1000
    if shaded:
        ledger["uneven_shade"] = float((steps.dc_uniform - steps.dc).sum()) / 1000
    left = steps.dc
    for name, monthly in system.losses.items():
        taken = left * monthly[light.months]
        ledger[name] = float(taken.sum()) / 1000
        left = left - taken
    through = left * system.inverter.efficiency
    ledger["inverter"] = float((left - through).sum()) / 1000
    ledger["clipping"] = float((through - steps.ac).sum()) / 1000
    ledger["own_use"] = drive_consumption
    return ledger
