"""From light on the glass to energy out of the inverter, each loss a named line."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from sundial.energy.irradiance import Floats, IrradianceComponents
from sundial.energy.rear import Tables
from sundial.frame.panels import Array

Mounting = Literal["open-rack", "raised", "close"]

# Faiman 2008, doi 10.1002/pip.813: W/(m2 K) and W s/(m3 K). Open rack: Faiman's own pair. The other two are the
# Sandia close-mount and insulated-back cases (King et al. 2004, SAND2004-3535) carried over to Faiman's form by
# Driesse et al. 2022, doi 10.1109/PVSC48500.2022.9938514, with pvlib's GenericLinearModel (efficiency 0.21, absorptance 0.88).
FAIMAN: dict[Mounting, tuple[float, float]] = {"open-rack": (25.0, 6.84), "raised": (19.50, 1.09), "close": (16.47, 0.883)}

MARTIN_RUIZ_AR = 0.16  # Martin and Ruiz 2001, doi 10.1016/S0927-0248(00)00408-6: glass in common use
REAR_FRAME_SHADE = 0.05  # share of rear light that rails and junction boxes take; Deline et al. 2017 find 2 to 10 %


@dataclass(frozen=True)
class Inverter:
    """Flat ``efficiency`` 0 to 1 and AC ``power`` limit in W (None: never clips)."""

    efficiency: float = 0.96
    power: float | None = None


@dataclass(frozen=True, eq=False)
class System:
    """Everything between glass and meter. ``losses`` maps a name to (12,) monthly shares lost, in order.

    ``glass`` False takes the incidence losses away (for comparison with plain models only).
    """

    array: Array
    losses: dict[str, NDArray[np.float64]] = field(default_factory=dict)
    mounting: Mounting = "open-rack"
    inverter: Inverter = Inverter()
    glass: bool = True
    tables: Tables | None = None

    @property
    def standing(self) -> Tables:
        """How the array stands over the ground, for the light on its back: as one table where nothing is told."""
        return self.tables or Tables.of(self.array)

    def kept(self, light: IrradianceComponents) -> Floats:
        """Share of DC power that the named losses leave in each lit hour (lit,)."""
        product = np.ones(12)
        for monthly in self.losses.values():
            product = product * (1 - monthly)
        return product[light.months]


def beam_glass(cosine: Floats) -> Floats:
    """Share of beam light that passes the glass, from the cosine of incidence (>= 0): Martin and Ruiz 2001."""
    return np.asarray(np.expm1(-cosine / MARTIN_RUIZ_AR) / np.expm1(-1 / MARTIN_RUIZ_AR))


LEVEL = 1e-4  # degrees: just above 0 the ground's share divides nothing by nothing


def diffuse_glass(tilts: Floats) -> tuple[Floats, Floats]:
    """Shares of sky and ground diffuse light that pass the glass of planes at ``tilts`` (P,): Martin and Ruiz 2005,
    doi 10.1016/j.solmat.2004.05.010, with c2 of IEC 61853-3, 7.2. Equal to pvlib's martin_ruiz_diffuse, written out: importing that
    takes longer than a whole plan."""
    lean = np.radians(np.where(np.abs(tilts) < LEVEL, 1e-6, np.abs(tilts)))  # pvlib's own stand-in for the level
    first, second = 0.4244, 0.5 * MARTIN_RUIZ_AR - 0.154  # 4 / 3 pi as IEC 61853-3 prints it
    shares = []
    for turned in (np.pi - lean, lean):  # the sky is seen from above what the ground is from below
        term = np.sin(lean) + (turned - np.sin(lean)) / (1 - np.cos(turned))
        shares.append(-np.expm1(-(first + second * term) * term / MARTIN_RUIZ_AR))
    return shares[0], shares[1]
