"""How bad a fault is, in words a technician understands."""

from __future__ import annotations

import numpy as np

from icepick.core.document.examination import Severity
from icepick.core.document.visit import Unit
from icepick.core.machine.faults import MachineFault
from icepick.core.machine.sizing import size
from icepick.core.prediction.fit import Fitted
from icepick.core.properties.quantities import DISPLAY_UNITS, Kind, UnitSystem, from_si, to_si

FOUR_IN_FIVE = (0.1, 0.5, 0.9)
"""Of the severities by their likelihood: the lower end, the middle and the upper end."""
_POUND = 0.45359237
_OF_THE_CHARGE = ("undercharge", "overcharge")


def severity(fault: MachineFault, fitted: Fitted, unit: Unit, units: UnitSystem) -> Severity | None:
    """How bad a fault is by all that was read.

    Parameters
    ----------
    fault : MachineFault
        The fault.
    fitted : Fitted
        It, held against the readings.
    unit : Unit
        The equipment.
    units : {"field", "metric"}
        Units of what comes out.

    Returns
    -------
    Severity or None
        None where the fault knows no amount.
    """
    if not fault.unit:
        return None
    sums = np.cumsum(fitted.weights) - 0.5 * fitted.weights
    low, value, high = (float(np.interp(share, sums, fitted.severities)) for share in FOUR_IN_FIVE)
    name = fault.unit
    if fault.unit == "psi":
        name = DISPLAY_UNITS[units][Kind.PRESSURE_DIFFERENCE]
        low, value, high = (
            from_si(to_si(one, "psi", Kind.PRESSURE_DIFFERENCE), name, Kind.PRESSURE_DIFFERENCE)
            for one in (low, value, high)
        )
    low, value, high = (_rounded(one) for one in (low, value, high))
    symbol = "%" if name == "percent" else name
    span = f"{low:g}" if low == high else f"{low:g} to {high:g}"
    words = f"{span} {symbol} {fault.words}"
    if fault.fault in _OF_THE_CHARGE and unit.nominal_capacity is not None:
        words += f", about {_weight(size(unit).charge * value / 100, units)} of {_weight(size(unit).charge, units)}"
    return Severity(value=value, low=low, high=high, unit=name, words=words)


def _rounded(value: float) -> float:
    """To what a technician would say: nothing finer than a twentieth of itself."""
    step = 1.0 if value < 30 else 5.0
    return float(max(round(value / step) * step, 1.0))


def _weight(kilograms: float, units: UnitSystem) -> str:
    number, unit = (kilograms / _POUND, "lb") if units == "field" else (kilograms, "kg")
    return f"{round(number, 1):g} {unit}"
