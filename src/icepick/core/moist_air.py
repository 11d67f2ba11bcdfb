"""Air: pressure at elevation. PsychroLib, in SI, does the computing."""

from __future__ import annotations

import psychrolib

psychrolib.SetUnitSystem(psychrolib.SI)

SEA_LEVEL_PRESSURE = 101_325.0
"""Standard atmosphere at sea level [Pa], exact by definition (ICAO standard atmosphere)."""


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
