"""Air: its pressure at elevation and what is in it. PsychroLib, in SI, does the computing.

Temperatures in K, pressures in Pa, humidity ratio in kg of water per kg of dry air. Source of every equation:
ASHRAE Handbook Fundamentals, chapter 1 (psychrometrics), as implemented by PsychroLib.
"""

from __future__ import annotations

import psychrolib

psychrolib.SetUnitSystem(psychrolib.SI)

SEA_LEVEL_PRESSURE = 101_325.0
"""Standard atmosphere at sea level [Pa], exact by definition (ICAO standard atmosphere)."""
STANDARD_AIR = 294.261
"""Temperature of standard air [K], 70 °F: what a cfm of the trade's 1.08 and 4.5 is counted in. [common practice]"""
_ZERO_CELSIUS = 273.15


def standard_pressure(elevation: float) -> float:
    """Air pressure of the standard atmosphere.

    Parameters
    ----------
    elevation : float
        Height above sea level [m].

    Returns
    -------
    float
        Pressure [Pa].

    Source: ASHRAE Handbook Fundamentals, chapter 1, eq. 3 (as implemented by PsychroLib).
    """
    return float(psychrolib.GetStandardAtmPressure(elevation))


def humidity_ratio(
    temperature: float,
    pressure: float,
    *,
    wet_bulb: float | None = None,
    relative_humidity: float | None = None,
) -> float:
    """Humidity ratio from dry bulb [K] and either wet bulb [K] or relative humidity [0…1].

    Parameters
    ----------
    temperature : float
        Dry bulb [K].
    pressure : float
        Air pressure [Pa].
    wet_bulb : float or None
        Wet bulb [K].
    relative_humidity : float or None
        Relative humidity [0…1].

    Returns
    -------
    float
        [kg of water per kg of dry air].

    Raises
    ------
    ValueError
        The wet bulb lies above the dry bulb, or neither was given.
    """
    if wet_bulb is not None:
        if wet_bulb > temperature:
            raise ValueError("a wet bulb can't be above its dry bulb")
        return float(
            psychrolib.GetHumRatioFromTWetBulb(
                temperature - _ZERO_CELSIUS, wet_bulb - _ZERO_CELSIUS, pressure
            )
        )
    if relative_humidity is None:
        raise ValueError("give a wet bulb or a relative humidity")
    return float(psychrolib.GetHumRatioFromRelHum(temperature - _ZERO_CELSIUS, relative_humidity, pressure))


def dew_point(temperature: float, ratio: float, pressure: float) -> float:
    """Dew point [K] of air at a dry bulb [K] and humidity ratio.

    Parameters
    ----------
    temperature : float
        Dry bulb [K].
    ratio : float
        Humidity ratio [kg of water per kg of dry air].
    pressure : float
        Air pressure [Pa].

    Returns
    -------
    float
        [K].
    """
    found = psychrolib.GetTDewPointFromHumRatio(temperature - _ZERO_CELSIUS, ratio, pressure)
    return float(found) + _ZERO_CELSIUS


def wet_bulb(temperature: float, ratio: float, pressure: float) -> float:
    """Wet bulb [K] of air at a dry bulb [K] and humidity ratio.

    Parameters
    ----------
    temperature : float
        Dry bulb [K].
    ratio : float
        Humidity ratio [kg of water per kg of dry air].
    pressure : float
        Air pressure [Pa].

    Returns
    -------
    float
        [K].
    """
    found = psychrolib.GetTWetBulbFromHumRatio(temperature - _ZERO_CELSIUS, ratio, pressure)
    return float(found) + _ZERO_CELSIUS


def enthalpy(temperature: float, ratio: float) -> float:
    """Enthalpy [J per kg of dry air] above dry air at 0 °C.

    Parameters
    ----------
    temperature : float
        Dry bulb [K].
    ratio : float
        Humidity ratio [kg of water per kg of dry air].

    Returns
    -------
    float
        [J per kg of dry air].
    """
    return float(psychrolib.GetMoistAirEnthalpy(temperature - _ZERO_CELSIUS, ratio))


def density(temperature: float, ratio: float, pressure: float) -> float:
    """Density [kg/m³] of moist air.

    Parameters
    ----------
    temperature : float
        Dry bulb [K].
    ratio : float
        Humidity ratio [kg of water per kg of dry air].
    pressure : float
        Air pressure [Pa].

    Returns
    -------
    float
        [kg/m³].
    """
    return float(psychrolib.GetMoistAirDensity(temperature - _ZERO_CELSIUS, ratio, pressure))


def dry_mass_flow(flow: float, temperature: float, ratio: float, pressure: float) -> float:
    """Dry air [kg/s] in a volume flow [m³/s] of moist air.

    Parameters
    ----------
    flow : float
        Volume flow [m³/s].
    temperature : float
        Dry bulb [K].
    ratio : float
        Humidity ratio [kg of water per kg of dry air].
    pressure : float
        Air pressure [Pa].

    Returns
    -------
    float
        [kg/s].
    """
    volume = psychrolib.GetMoistAirVolume(temperature - _ZERO_CELSIUS, ratio, pressure)
    return flow / float(volume)


DRY_AIR_HEAT = 1006.0
VAPOR_HEAT = 1860.0
"""Specific heat of dry air and of water vapor [J/(kg K)]; ASHRAE Fundamentals, chapter 1, eq. 30."""


def heat_capacity_rate(flow: float, temperature: float, ratio: float, pressure: float) -> float:
    """What a volume flow of air [m³/s] carries per kelvin [W/K]; the trade's 1.08 × cfm, at any density.

    Parameters
    ----------
    flow : float
        Volume flow [m³/s].
    temperature : float
        Dry bulb [K].
    ratio : float
        Humidity ratio [kg of water per kg of dry air].
    pressure : float
        Air pressure [Pa].

    Returns
    -------
    float
        [m³/s].
    """
    return dry_mass_flow(flow, temperature, ratio, pressure) * (DRY_AIR_HEAT + ratio * VAPOR_HEAT)
