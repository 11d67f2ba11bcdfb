"""The trade's arithmetic as plain functions: SI in, SI out, each with its source and standing.

Indicators, checks and the Handbook's calculators all call these; no formula is written twice.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from icepick.core.properties import moist_air
from icepick.core.properties.quantities import Kind, from_si
from icepick.core.properties.refrigerants import (
    Refrigerant,
    mixture,
    saturated_enthalpy,
    saturation_pressure,
    saturation_temperature,
)


def superheat(refrigerant: Refrigerant, pressure: float, temperature: float) -> float:
    """Line temperature over dew at the suction pressure [K]. [physics; ASHRAE terminology]

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : float
        Suction pressure, absolute [Pa].
    temperature : float
        Of the suction line [K].

    Returns
    -------
    float
        [K].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return temperature - float(saturation_temperature(refrigerant, pressure, "dew"))


def subcooling(refrigerant: Refrigerant, pressure: float, temperature: float) -> float:
    """Bubble temperature at the liquid's pressure over the line's [K]. [physics; ASHRAE terminology]

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : float
        The liquid's pressure, absolute [Pa].
    temperature : float
        Of the liquid line [K].

    Returns
    -------
    float
        [K].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return float(saturation_temperature(refrigerant, pressure, "bubble")) - temperature


def target_superheat(indoor_wet_bulb: float, outdoor: float) -> float:
    """Target superheat [K] of a fixed orifice in cooling: (3·wet bulb − 80 − outdoor) / 2 in °F.

    Never below zero. [common practice; from memory]

    Parameters
    ----------
    indoor_wet_bulb : float
        Entering wet bulb [K].
    outdoor : float
        Outdoor dry bulb [K].

    Returns
    -------
    float
        [K].
    """
    wet, dry = (from_si(t, "degF", Kind.TEMPERATURE) for t in (indoor_wet_bulb, outdoor))
    return max((3 * wet - 80 - dry) / 2, 0.0) / 1.8


def flash_fraction(refrigerant: Refrigerant, liquid: float, evaporating: float) -> float:
    """Share of the liquid that flashes to vapor at the meter, enthalpy unchanged.

    The pressure before the meter hardly matters to a liquid; that of boiling is taken. [physics: constant
    enthalpy]

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    liquid : float
        Temperature before the meter [K].
    evaporating : float
        Dew temperature after it [K].

    Returns
    -------
    float
        Share [0…1].

    Raises
    ------
    OutsideRangeError
        The liquid is colder than what it should boil at, so that nothing flashes.
    """
    before = float(
        saturated_enthalpy(refrigerant, float(saturation_pressure(refrigerant, liquid, "bubble")), "bubble")
    )
    after = float(saturation_pressure(refrigerant, evaporating, "dew"))
    return mixture(refrigerant, after, before).quality


def pressure_before_flash(refrigerant: Refrigerant, pressure: float, temperature: float) -> float:
    """Pressure [Pa] that a liquid at ``pressure`` [Pa, absolute] and ``temperature`` [K] can lose and stay
    liquid.

    Until then it loses no temperature either, so that nothing is felt. [physics]

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : float
        The liquid's pressure, absolute [Pa].
    temperature : float
        The liquid's temperature [K].

    Returns
    -------
    float
        [Pa].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return pressure - float(saturation_pressure(refrigerant, temperature, "bubble"))


def compression_ratio(suction: float, discharge: float) -> float:
    """Absolute discharge over absolute suction pressure. [physics]

    Parameters
    ----------
    suction : float
        Absolute [Pa].
    discharge : float
        Absolute [Pa].

    Returns
    -------
    float
        Ratio.
    """
    return discharge / suction


def airflow_from_heater(
    power: float, rise: float, pressure: float, temperature: float, ratio: float = 0.0
) -> float:
    """Airflow [m³/s] from the heat put into it [W] and its temperature rise [K].

    At sea level this is cfm = W · 3.412 / (1.08 · ΔT). [physics; standard practice of field airflow measurement]

    Parameters
    ----------
    power : float
        Heat put into the air [W].
    rise : float
        Its temperature rise [K].
    pressure : float
        Of the air [Pa].
    temperature : float
        Of the air [K].
    ratio : float
        Humidity ratio [kg of water per kg of dry air].

    Returns
    -------
    float
        [m³/s].
    """
    return power / (rise * moist_air.heat_capacity_rate(1.0, temperature, ratio, pressure))


def sensible_heat(
    flow: float, difference: float, pressure: float, temperature: float, ratio: float = 0.0
) -> float:
    """Heat [W] a flow of air [m³/s] carries over a temperature difference [K]: the trade's 1.08 · cfm · ΔT.

    Corrected for density. [physics]

    Parameters
    ----------
    flow : float
        Volume flow [m³/s].
    difference : float
        Temperature difference [K].
    pressure : float
        Of the air [Pa].
    temperature : float
        Of the air [K].
    ratio : float
        Humidity ratio [kg of water per kg of dry air].

    Returns
    -------
    float
        [W].
    """
    return difference * moist_air.heat_capacity_rate(flow, temperature, ratio, pressure)


def total_heat(
    flow: float, entering: tuple[float, float], leaving: tuple[float, float], pressure: float
) -> float:
    """Heat [W] taken from air, by what enters and what leaves.

    [physics; ASHRAE Fundamentals, chapter 1; the water drained off is left out, about 1 %]

    Parameters
    ----------
    flow : float
        As it enters [m³/s].
    entering : (float, float)
        Dry bulb and wet bulb [K].
    leaving : (float, float)
        Dry bulb and wet bulb [K].
    pressure : float
        Of the air [Pa].

    Returns
    -------
    float
        [W].
    """
    ratios = [moist_air.humidity_ratio(dry, pressure, wet_bulb=wet) for dry, wet in (entering, leaving)]
    mass = moist_air.dry_mass_flow(flow, entering[0], ratios[0], pressure)
    return mass * _enthalpy_lost(entering, leaving, ratios)


def standard_total_heat(
    flow: float, entering: tuple[float, float], leaving: tuple[float, float], pressure: float
) -> float:
    """As :func:`total_heat`, the flow counted in standard air: the trade's 4.5 · cfm · Δh, of which 1.08 · cfm · ΔT is
    sensible. [common practice; ASHRAE Fundamentals, chapter 1]

    Parameters
    ----------
    flow : float
        Of standard air [m³/s].
    entering : (float, float)
        Dry bulb and wet bulb [K].
    leaving : (float, float)
        Dry bulb and wet bulb [K].
    pressure : float
        Of the air [Pa].

    Returns
    -------
    float
        [W].
    """
    ratios = [moist_air.humidity_ratio(dry, pressure, wet_bulb=wet) for dry, wet in (entering, leaving)]
    mass = moist_air.dry_mass_flow(flow, moist_air.STANDARD_AIR, 0.0, pressure)
    return mass * _enthalpy_lost(entering, leaving, ratios)


def _enthalpy_lost(
    entering: tuple[float, float], leaving: tuple[float, float], ratios: Sequence[float]
) -> float:
    return moist_air.enthalpy(entering[0], ratios[0]) - moist_air.enthalpy(leaving[0], ratios[1])


def flow_from_drop(drop: float, rows: Sequence[tuple[float, float]]) -> float:
    """Water flow [m³/s] from the pressure lost through a coil [Pa], by the manufacturer's table of (drop, flow).

    Straight between the rows over the square root of the drop, as turbulent flow has it. [manufacturer's data; physics]

    Parameters
    ----------
    drop : float
        Pressure lost through the coil [Pa].
    rows : sequence of (float, float)
        The table: (drop [Pa], flow [m³/s]).

    Returns
    -------
    float
        [m³/s].

    Raises
    ------
    ValueError
        The drop lies outside the table, or the table has fewer than two rows.
    """
    ordered = sorted(set(rows))
    if len(ordered) < 2:
        raise ValueError("the table needs at least two rows")
    drops, flows = zip(*ordered, strict=True)
    if not drops[0] <= drop <= drops[-1]:
        raise ValueError("the drop lies outside the manufacturer's table")
    return float(np.interp(np.sqrt(drop), np.sqrt(drops), flows))


def balance_point(
    warm: tuple[float, float], cold: tuple[float, float], design: tuple[float, float], no_load: float
) -> float:
    """Outdoor temperature [K] at which the heat pump just carries the building.

    Two straight lines, the unit's and the building's. [common practice]

    Parameters
    ----------
    warm : (float, float)
        Outdoor temperature [K] and capacity [W] of the unit.
    cold : (float, float)
        The same at a lower temperature.
    design : (float, float)
        Outdoor temperature [K] and load [W] of the building.
    no_load : float
        Outdoor temperature at which the load is nothing [K].

    Returns
    -------
    float
        [K].

    Raises
    ------
    ValueError
        The lines don't cross.
    """
    slope = (warm[1] - cold[1]) / (warm[0] - cold[0])
    load_slope = design[1] / (design[0] - no_load)
    if abs(slope - load_slope) < 1e-9:
        raise ValueError("load and capacity run side by side and never meet")
    found = (load_slope * no_load - slope * cold[0] + cold[1]) / (load_slope - slope)
    if found >= no_load:
        raise ValueError("the unit never carries the building")
    return found
