"""Saturated air in arrays, laid out once for an air pressure from PsychroLib. [ASHRAE Fundamentals, chapter 1]"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import psychrolib
from numpy.typing import NDArray

from icepick.core.properties.moist_air import DRY_AIR_HEAT, VAPOR_HEAT

Array = NDArray[np.float64]

_ZERO = 273.15
_EVAPORATION = 2.501e6
"""Heat [J/kg] that water takes up as it evaporates at 0 °C; ASHRAE Fundamentals, chapter 1, eq. 30."""
_GAS_CONSTANT, _LIGHTNESS = 287.042, 1.607858
"""Of dry air [J/(kg K)], and by how much water vapor is lighter; ASHRAE Fundamentals, chapter 1, eq. 26."""
_COLDEST, _WARMEST, _PER_KELVIN = -80.0, 75.0, 4


class SaturatedAir:
    """Air over a wet surface at one air pressure: enthalpy [J/kg of dry air] over temperature [K] and back."""

    def __init__(self, atmosphere: float) -> None:
        self.atmosphere = atmosphere
        count = int((_WARMEST - _COLDEST) * _PER_KELVIN) + 1
        celsius = np.linspace(_COLDEST, _WARMEST, count)
        ratios = np.array([psychrolib.GetSatHumRatio(float(t), atmosphere) for t in celsius])
        self._temperatures: Array = celsius + _ZERO
        self._ratios: Array = ratios
        self._enthalpies: Array = enthalpy(self._temperatures, ratios)

    def enthalpy(self, temperature: Array) -> Array:
        """[J/kg of dry air] at a temperature [K]."""
        return np.interp(temperature, self._temperatures, self._enthalpies)

    def temperature(self, enthalpy: Array) -> Array:
        """[K] at an enthalpy [J/kg of dry air]."""
        return np.interp(enthalpy, self._enthalpies, self._temperatures)

    def ratio(self, temperature: Array) -> Array:
        """Humidity ratio at saturation."""
        return np.interp(temperature, self._temperatures, self._ratios)

    def dew_point(self, ratio: Array) -> Array:
        """[K] of air of a humidity ratio."""
        return np.interp(ratio, self._ratios, self._temperatures)


@lru_cache(maxsize=64)
def saturated_air(atmosphere: float) -> SaturatedAir:
    """The saturated air of a place.

    Parameters
    ----------
    atmosphere : float
        Air pressure [Pa].

    Returns
    -------
    SaturatedAir
        Made once for a pressure.
    """
    return SaturatedAir(atmosphere)


def enthalpy(temperature: Array, ratio: Array) -> Array:
    """Enthalpy of moist air [J/kg of dry air], from [K] and [kg/kg]; ASHRAE Fundamentals, chapter 1, eq. 30."""
    celsius = temperature - _ZERO
    return DRY_AIR_HEAT * celsius + ratio * (_EVAPORATION + VAPOR_HEAT * celsius)


def heat_per_mass(ratio: Array) -> Array:
    """Heat capacity of moist air [J/(kg of dry air · K)]."""
    return DRY_AIR_HEAT + VAPOR_HEAT * ratio


def dry_mass_flow(flow: Array, temperature: Array, ratio: Array, atmosphere: float) -> Array:
    """Dry air [kg/s] in a volume flow [m³/s]; ASHRAE Fundamentals, chapter 1, eq. 26."""
    return flow * atmosphere / (_GAS_CONSTANT * temperature * (1 + _LIGHTNESS * ratio))
