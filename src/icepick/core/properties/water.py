"""Water and antifreeze mixes: what a flow of them carries."""

from __future__ import annotations

from functools import cache, lru_cache
from typing import Literal, get_args

from icepick.core.properties.quantities import Kind, spread_to_si, to_si

Antifreeze = Literal["water", "propylene_glycol", "ethylene_glycol", "methanol", "ethanol"]
ANTIFREEZES: tuple[Antifreeze, ...] = get_args(Antifreeze)

_COOLPROP: dict[Antifreeze, str] = {
    "propylene_glycol": "MPG",
    "ethylene_glycol": "MEG",
    "methanol": "MMA",
    "ethanol": "MEA",
}
_PRESSURE = 300_000.0
"""A pump's usual pressure [Pa]; density and heat capacity hardly depend on it."""

CUSTOMARY_FACTORS = {"water": 500.0, "antifreeze": 485.0}
"""The trade's own figures [Btu/h per gpm and °F]. [common practice]"""


@lru_cache(maxsize=256)
def volumetric_heat(fluid: Antifreeze, strength: float, temperature: float) -> float:
    """Density times heat capacity [J/(m³ K)].

    Parameters
    ----------
    fluid : str
        Water or what was mixed into it.
    strength : float
        Share of the antifreeze by mass, 0…0.6; ignored for water.
    temperature : float
        [K].

    Raises
    ------
    ValueError
        Strength or temperature lies outside the data of the fluid (freezing is one such edge).

    Source: CoolProp, incompressible mixtures (Melinder 2010); water by IAPWS-95.
    """
    from CoolProp.CoolProp import PropsSI  # loaded when first needed: only water asks for it

    name = "Water" if fluid == "water" else f"INCOMP::{_COOLPROP[fluid]}[{strength:.4f}]"
    density, heat = (PropsSI(key, "T", temperature, "P", _PRESSURE, name) for key in ("D", "C"))
    return float(density * heat)


def fluid_factor(fluid: Antifreeze, strength: float, temperature: float) -> float:
    """Heat carried per flow and temperature difference [Btu/h per gpm and °F], as the trade writes it.

    Parameters and errors as for :func:`volumetric_heat`.

    Parameters
    ----------
    fluid : Antifreeze
        Water, or what was mixed into it.
    strength : float
        Share of the antifreeze by mass, 0…0.6.
    temperature : float
        Temperature [K].

    Returns
    -------
    float
        [Btu/h per gpm and °F].

    Raises
    ------
    ValueError
        Strength or temperature lies outside the data of the fluid.
    """
    return volumetric_heat(fluid, strength, temperature) / si_per_factor()


@cache
def si_per_factor() -> float:
    """One Btu/h per gpm and °F, in J/(m³ K).

    Returns
    -------
    float
        [J/(m³ K)].
    """
    return to_si(1, "Btu/h", Kind.POWER) / (
        to_si(1, "gpm", Kind.WATER_FLOW) * spread_to_si(1, "delta_degF", Kind.TEMPERATURE_DIFFERENCE)
    )


def heat(flow: float, difference: float, factor: float) -> float:
    """Heat [W] carried by a flow [m³/s] over a temperature difference [K], at the trade's fluid factor.

    Parameters
    ----------
    flow : float
        Volume flow [m³/s].
    difference : float
        Temperature difference [K].
    factor : float
        [Btu/h per gpm and °F].

    Returns
    -------
    float
        [W].
    """
    return flow * difference * factor * si_per_factor()
