"""Saturation temperatures of a run's two sides, from the pressure taps that are on those sides."""

from __future__ import annotations

from dataclasses import dataclass

from uncertainties import UFloat, wrap

from icepick.core.circuit import Circuit, Role
from icepick.core.context import RunContext
from icepick.core.refrigerants import Line, OutsideRangeError, saturation_temperature

_TAP_ORDER: dict[Role, tuple[str, ...]] = {
    "high": ("discharge_tap", "liquid_service_tap", "vapor_service_tap"),
    "low": ("common_suction_tap", "vapor_service_tap", "liquid_service_tap"),
}


@dataclass(frozen=True, slots=True)
class Saturation:
    """Bubble and dew temperature [K] at the pressure of one tap."""

    tap: str
    bubble: UFloat
    dew: UFloat


def at_pressure(context: RunContext, pressure: UFloat, line: Line) -> UFloat:
    """Saturation temperature [K] at an absolute pressure [Pa], its band carried through.

    Raises
    ------
    OutsideRangeError
        See :func:`icepick.core.refrigerants.saturation_temperature`.
    """
    refrigerant = context.unit.refrigerant
    saturation_temperature(refrigerant, pressure.nominal_value, line)
    return wrap(lambda p: saturation_temperature(refrigerant, p, line))(pressure)


def side(context: RunContext, circuit: Circuit, role: Role, without: frozenset[str]) -> Saturation | None:
    """Saturation on one side, from its best tap that was read and is not in ``without``."""
    on_side = {tap.tap for tap in circuit.taps if tap.role == role}
    for tap in _TAP_ORDER[role]:
        current = context.readings.get(tap, "pressure")
        if tap not in on_side or tap in without or current is None:
            continue
        try:
            return Saturation(
                tap,
                at_pressure(context, current.value, "bubble"),
                at_pressure(context, current.value, "dew"),
            )
        except OutsideRangeError:
            continue
    return None
