"""Refrigerants: saturation, enthalpy, entropy and density, from tables made of CoolProp.

Every function takes SI and gives SI, for single values or NumPy arrays of one shape, and raises
:class:`OutsideRangeError` outside −60 °C to some 10 K below the critical point (see :func:`highest`) of saturation, 150 K of
superheat or 60 K of subcooling; nothing
is extrapolated. Source: CoolProp's reference equations of state; R-410A and R-407C as pseudo-pure fluids with
a bubble and a dew line of their own. Against CoolProp itself the tables stay within 0.02 K in saturation, 0.2
% in enthalpy differences and 0.5 % in vapor density (tests say so).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from icepick.core.properties.refrigerant_table import LOWEST, Line, Number, OutsideRangeError, table

__all__ = ["LOWEST", "REFRIGERANTS", "SAFETY_GROUPS", "Line", "Number", "OutsideRangeError"]

Refrigerant = Literal["R-410A", "R-32", "R-454B", "R-22", "R-407C", "R-134a", "R-290", "R-513A"]
REFRIGERANTS: tuple[Refrigerant, ...] = get_args(Refrigerant)
LINES: tuple[Line, Line] = ("bubble", "dew")

SAFETY_GROUPS: dict[Refrigerant, str] = {
    "R-410A": "A1",
    "R-32": "A2L",
    "R-454B": "A2L",
    "R-22": "A1",
    "R-407C": "A1",
    "R-134a": "A1",
    "R-290": "A3",
    "R-513A": "A1",
}
"""Safety group of each refrigerant. [published: ASHRAE Standard 34; from memory]"""

_H, _S, _D = 1, 2, 3

Array = NDArray[np.float64]


def highest(refrigerant: Refrigerant) -> float:
    """The warmest saturation temperature answered [K].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.

    Returns
    -------
    float
        [K].
    """
    return table(refrigerant).highest


def saturation_temperature(refrigerant: Refrigerant, pressure: Number, line: Line) -> Number:
    """Bubble or dew temperature [K] at an absolute pressure [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : Number
        Absolute pressure [Pa].
    line : Line
        ``bubble`` or ``dew``.

    Returns
    -------
    Number
        [K].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return table(refrigerant).temperature(pressure, line)


def nearest_saturation_temperature(refrigerant: Refrigerant, pressure: Array, line: Line) -> Array:
    """As :func:`saturation_temperature`, at the table's own end for pressures that lie beyond it.

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : Array
        Absolute pressures [Pa].
    line : Line
        ``bubble`` or ``dew``.

    Returns
    -------
    Array
        [K].
    """
    data = table(refrigerant)
    # A hair inside, so that no rounding lies without.
    lowest, most = (float(data.pressure(np.array(at), line)) for at in (LOWEST + 1e-6, data.highest - 1e-6))
    return np.asarray(data.temperature(np.clip(pressure, lowest, most), line))


def saturation_pressure(refrigerant: Refrigerant, temperature: Number, line: Line) -> Number:
    """Bubble or dew pressure [Pa, absolute] at a temperature [K].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    temperature : Number
        Temperature [K].
    line : Line
        ``bubble`` or ``dew``.

    Returns
    -------
    Number
        [Pa, absolute].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return table(refrigerant).pressure(temperature, line)


def glide(refrigerant: Refrigerant, pressure: Number) -> Number:
    """Dew minus bubble temperature [K] at an absolute pressure [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : Number
        Absolute pressure [Pa].

    Returns
    -------
    Number
        [K].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return saturation_temperature(refrigerant, pressure, "dew") - saturation_temperature(
        refrigerant, pressure, "bubble"
    )


def _saturated(refrigerant: Refrigerant, pressure: Number, line: Line, row: int) -> Number:
    data = table(refrigerant)
    return data.saturated(data.temperature(pressure, line), line, row)


def saturated_enthalpy(refrigerant: Refrigerant, pressure: Number, line: Line) -> Number:
    """Enthalpy [J/kg] of boiling liquid (bubble) or dry vapor (dew) at an absolute pressure [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : Number
        Absolute pressure [Pa].
    line : Line
        ``bubble`` or ``dew``.

    Returns
    -------
    Number
        [J/kg].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return _saturated(refrigerant, pressure, line, _H)


def saturated_density(refrigerant: Refrigerant, pressure: Number, line: Line) -> Number:
    """Density [kg/m³] of boiling liquid (bubble) or dry vapor (dew) at an absolute pressure [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : Number
        Absolute pressure [Pa].
    line : Line
        ``bubble`` or ``dew``.

    Returns
    -------
    Number
        [kg/m³].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return _saturated(refrigerant, pressure, line, _D)


def _single_phase(
    refrigerant: Refrigerant, temperature: Number, pressure: Number, line: Line, row: int
) -> Number:
    data = table(refrigerant)
    saturation = data.temperature(pressure, line)
    distance = temperature - saturation if line == "dew" else saturation - temperature
    return data.beside(saturation, distance, line, row)


def vapor_enthalpy(refrigerant: Refrigerant, temperature: Number, pressure: Number) -> Number:
    """Enthalpy [J/kg] of vapor at a temperature [K], not below dew, and an absolute pressure [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    temperature : Number
        Temperature [K].
    pressure : Number
        Absolute pressure [Pa].

    Returns
    -------
    Number
        [J/kg].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return _single_phase(refrigerant, temperature, pressure, "dew", _H)


def phase_enthalpy(refrigerant: Refrigerant, temperature: float, pressure: float, line: Line) -> float:
    """Enthalpy [J/kg] of vapor (``dew``) or liquid (``bubble``) at a temperature [K] and an absolute pressure [Pa].

    That of the line itself where the temperature reads beyond it: what is mixed in there no thermometer tells.

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    temperature : float
        Temperature [K].
    pressure : float
        Absolute pressure [Pa].
    line : Line
        ``bubble`` or ``dew``.

    Returns
    -------
    float
        [J/kg].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    data = table(refrigerant)
    saturation = data.temperature(pressure, line)
    distance = temperature - saturation if line == "dew" else saturation - temperature
    return float(data.beside(saturation, max(distance, 0.0), line, _H))


def vapor_entropy(refrigerant: Refrigerant, temperature: Number, pressure: Number) -> Number:
    """Entropy [J/(kg K)] of vapor at a temperature [K], not below dew, and an absolute pressure [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    temperature : Number
        Temperature [K].
    pressure : Number
        Absolute pressure [Pa].

    Returns
    -------
    Number
        [J/(kg K)].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return _single_phase(refrigerant, temperature, pressure, "dew", _S)


def vapor_density(refrigerant: Refrigerant, temperature: Number, pressure: Number) -> Number:
    """Density [kg/m³] of vapor at a temperature [K], not below dew, and an absolute pressure [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    temperature : Number
        Temperature [K].
    pressure : Number
        Absolute pressure [Pa].

    Returns
    -------
    Number
        [kg/m³].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return _single_phase(refrigerant, temperature, pressure, "dew", _D)


def liquid_enthalpy(refrigerant: Refrigerant, temperature: Number, pressure: Number) -> Number:
    """Enthalpy [J/kg] of liquid at a temperature [K], not above bubble, and an absolute pressure [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    temperature : Number
        Temperature [K].
    pressure : Number
        Absolute pressure [Pa].

    Returns
    -------
    Number
        [J/kg].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return _single_phase(refrigerant, temperature, pressure, "bubble", _H)


def liquid_density(refrigerant: Refrigerant, temperature: Number, pressure: Number) -> Number:
    """Density [kg/m³] of liquid at a temperature [K], not above bubble, and an absolute pressure [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    temperature : Number
        Temperature [K].
    pressure : Number
        Absolute pressure [Pa].

    Returns
    -------
    Number
        [kg/m³].

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    return _single_phase(refrigerant, temperature, pressure, "bubble", _D)


def vapor_temperature(
    refrigerant: Refrigerant, pressure: float, *, enthalpy: float | None = None, entropy: float | None = None
) -> float:
    """Temperature [K] of superheated vapor of a given enthalpy [J/kg] or entropy [J/(kg K)] at a pressure
    [Pa].

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : float
        Absolute pressure [Pa].
    enthalpy : float or None
        Specific enthalpy [J/kg]; this or the entropy.
    entropy : float or None
        Specific entropy [J/(kg K)]; this or the enthalpy.

    Returns
    -------
    float
        [K].

    Raises
    ------
    TypeError
        Neither enthalpy nor entropy was given, or both.
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    data = table(refrigerant)
    dew = float(data.temperature(pressure, "dew"))
    if enthalpy is not None:
        return dew + float(data.distance(dew, enthalpy, "dew", _H))
    if entropy is None:
        raise TypeError("give enthalpy or entropy")
    return dew + float(data.distance(dew, entropy, "dew", _S))


@dataclass(frozen=True, slots=True)
class Mixture:
    """Boiling liquid and vapor together: temperature [K] and the share of vapor by mass."""

    temperature: float
    quality: float


def mixture(refrigerant: Refrigerant, pressure: float, enthalpy: float) -> Mixture:
    """State of a mixture of liquid and vapor, from absolute pressure [Pa] and enthalpy [J/kg].

    Temperature is taken to rise evenly over the glide, which is within 0.6 K for the blends here.

    Parameters
    ----------
    refrigerant : Refrigerant
        By its number, as the visit document has it.
    pressure : float
        Absolute pressure [Pa].
    enthalpy : float
        Specific enthalpy [J/kg].

    Returns
    -------
    Mixture
        Quality and temperature.

    Raises
    ------
    OutsideRangeError
        The state lies outside the tables (see the module); nothing is extrapolated.
    """
    liquid, vapor = (float(saturated_enthalpy(refrigerant, pressure, line)) for line in ("bubble", "dew"))
    quality = (enthalpy - liquid) / (vapor - liquid)
    if not -1e-9 <= quality <= 1 + 1e-9:
        raise OutsideRangeError(f"{refrigerant} is not a mixture at this pressure and enthalpy")
    bubble = float(saturation_temperature(refrigerant, pressure, "bubble"))
    return Mixture(bubble + quality * float(glide(refrigerant, pressure)), quality)
