"""Refrigerants: saturation, from tables made of CoolProp's reference equations of state.

A table is made once in a process, when its refrigerant is first asked for: ln p at steps of 1 K, read by
straight lines over 1/T (within 0.005 K of CoolProp itself; a test says so). Blends are given by mass fraction
as ASHRAE Standard 34 lists them [from memory]. CoolProp treats R-410A and R-407C as pseudo-pure fluids with a
bubble and a dew line of their own.
"""

from __future__ import annotations

from functools import cache
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from icepick.core.visit import Refrigerant

Line = Literal["bubble", "dew"]

_FLUIDS: dict[Refrigerant, tuple[str, tuple[float, ...]]] = {
    "R-410A": ("R410A", ()),
    "R-32": ("R32", ()),
    "R-454B": ("R32&R1234YF", (0.689, 0.311)),
    "R-22": ("R22", ()),
    "R-407C": ("R407C", ()),
    "R-134a": ("R134a", ()),
    "R-290": ("Propane", ()),
    "R-513A": ("R1234YF&R134a", (0.56, 0.44)),
}
LOWEST, HIGHEST = 213.15, 339.15
"""Range of saturation temperatures answered [K]: −60 °C to 66 °C, below every critical point here."""
_STEP = 1.0


class OutsideRangeError(ValueError):
    """The state lies outside the range the refrigerant's data are used in."""


@cache
def _table(refrigerant: Refrigerant, line: Line) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """1/T and ln p along one line, both falling and rising with temperature respectively."""
    import CoolProp  # loaded when first needed: nothing but pressures asks for it

    name, fractions = _FLUIDS[refrigerant]
    state = CoolProp.AbstractState("HEOS", name)
    if fractions:
        state.set_mass_fractions(list(fractions))
    quality = 1.0 if line == "dew" else 0.0
    temperatures = np.arange(LOWEST, HIGHEST + _STEP / 2, _STEP)
    pressures: list[float] = []
    for temperature in temperatures:
        # Near their critical point blends converge only from the neighbouring state.
        if fractions and pressures:
            state.update_with_guesses(CoolProp.QT_INPUTS, quality, temperature, _as_guess(state))
        else:
            state.update(CoolProp.QT_INPUTS, quality, temperature)
        pressures.append(state.p())
    return 1 / temperatures, np.log(pressures)


def _as_guess(state: Any) -> Any:
    import CoolProp
    from CoolProp.CoolProp import PyGuessesStructure

    guess = PyGuessesStructure()
    guess.T, guess.p = state.T(), state.p()
    guess.x, guess.y = state.mole_fractions_liquid(), state.mole_fractions_vapor()
    guess.rhomolar_liq = state.saturated_liquid_keyed_output(CoolProp.iDmolar)
    guess.rhomolar_vap = state.saturated_vapor_keyed_output(CoolProp.iDmolar)
    return guess


def saturation_temperature(refrigerant: Refrigerant, pressure: float, line: Line) -> float:
    """Bubble or dew temperature [K] at an absolute pressure [Pa].

    Raises
    ------
    OutsideRangeError
        The pressure belongs to no saturation temperature between −60 and 66 °C.

    Source: CoolProp, reference equations of state.
    """
    inverse, log_pressure = _table(refrigerant, line)
    log = np.log(pressure) if pressure > 0 else -np.inf
    if not log_pressure[0] <= log <= log_pressure[-1]:
        raise OutsideRangeError(f"{refrigerant} has no {line} point at {pressure / 1000:.0f} kPa here")
    return float(1 / np.interp(log, log_pressure, inverse))


def saturation_pressure(refrigerant: Refrigerant, temperature: float, line: Line) -> float:
    """Bubble or dew pressure [Pa, absolute] at a temperature [K].

    Raises
    ------
    OutsideRangeError
        The temperature is not between −60 and 66 °C.

    Source: CoolProp, reference equations of state.
    """
    if not LOWEST <= temperature <= HIGHEST:
        raise OutsideRangeError(f"{temperature - 273.15:.0f} °C is outside −60 to 66 °C")
    inverse, log_pressure = _table(refrigerant, line)
    return float(np.exp(np.interp(-1 / temperature, -inverse, log_pressure)))
