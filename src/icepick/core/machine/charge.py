"""Where the refrigerant is: mass in every zone, line and vessel.

In a mixture the vapor runs ahead of the liquid; the share of the pipe it fills is Zivi's. [Zivi 1964, from memory]
An accumulator holds what the evaporator did not boil: as much as its oil hole needs above it to let the liquid go again.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from icepick.core.machine.coil import Condensed, Evaporated
from icepick.core.machine.variation import Value
from icepick.core.properties.states import Saturated

Array = NDArray[np.float64]

HALF_FULL_AT = 0.06
"""Share of liquid in what returns at which an accumulator stands half full. [our own choice]"""


def mixture_density(sat: Saturated, quality_from: Array, quality_to: Array) -> Array:
    """Mean density [kg/m³] of a mixture whose quality changes evenly along the pipe, either way round."""
    low, high = np.minimum(quality_from, quality_to), np.maximum(quality_from, quality_to)
    high = np.maximum(high, low + 1e-3)
    slip = np.power(sat.vapor_density / sat.liquid_density, 2 / 3)
    rest = 1 - slip
    filled = (high - low) / rest - slip / rest**2 * np.log((slip + rest * high) / (slip + rest * low))
    vapor = filled / (high - low)
    return np.asarray(sat.liquid_density + vapor * (sat.vapor_density - sat.liquid_density))


def in_condenser(volume: Value, sat: Saturated, found: Condensed, temperature: Array) -> Array:
    """Mass [kg] in a condenser; ``temperature`` of the gas that enters [K]."""
    thin = sat.vapor_density * sat.dew / (0.5 * (sat.dew + np.maximum(temperature, sat.dew)))
    mixed = mixture_density(sat, found.quality, np.ones_like(found.quality))
    return volume * (found.vapor * thin + found.mixture * mixed + found.liquid * sat.liquid_density)


def in_evaporator(volume: Value, sat: Saturated, found: Evaporated) -> Array:
    """Mass [kg] in an evaporator."""
    mixed = mixture_density(sat, found.quality_in, found.quality_out)
    thin = sat.vapor_density * sat.dew / (sat.dew + 0.5 * found.superheat)
    return volume * (found.mixture * mixed + (1 - found.mixture) * thin)


def in_accumulator(volume: float, sat: Saturated, enthalpy: Array) -> Array:
    """Mass [kg] of liquid in an accumulator when what returns has an enthalpy [J/kg]."""
    wet = np.maximum((sat.vapor - enthalpy) / (sat.vapor - sat.liquid), 0.0)
    return volume * sat.liquid_density * wet / (wet + HALF_FULL_AT)
