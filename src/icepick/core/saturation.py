"""Saturation temperatures of a run's two sides, from the pressure taps that are on those sides."""

from __future__ import annotations

from dataclasses import dataclass

from uncertainties import UFloat, ufloat

from icepick.core.circuit import Circuit, Role
from icepick.core.context import RunContext, remembered
from icepick.core.examination import Source
from icepick.core.propagation import propagate
from icepick.core.refrigerants import Line, OutsideRangeError, saturation_pressure, saturation_temperature

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
    return propagate(lambda p: float(saturation_temperature(refrigerant, p, line)), pressure)


def side(context: RunContext, circuit: Circuit, role: Role, without: frozenset[str]) -> Saturation | None:
    """Saturation on one side, from its best tap that was read and is not in ``without``."""
    return _best_of(context, taps_on(circuit, role), without)


def taps_on(circuit: Circuit, role: Role) -> tuple[str, ...]:
    """The taps that open into a side in this mode, the best first."""
    on_side = {tap.tap for tap in circuit.taps if tap.role == role}
    return tuple(tap for tap in _TAP_ORDER[role] if tap in on_side)


@remembered
def _best_of(context: RunContext, taps: tuple[str, ...], without: frozenset[str]) -> Saturation | None:
    for tap in taps:
        current = context.readings.get(tap, "pressure")
        if tap in without or current is None:
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


@dataclass(frozen=True, slots=True)
class SideState:
    """One side of the circuit: absolute pressure [Pa], bubble and dew temperature [K], and where they come from.

    ``gauge``: a pressure tap. ``bend``: a return bend halfway through the coil, with a wider band. ``usual``: the
    entering air or water and the split usual for it, with a wide one.
    """

    pressure: UFloat
    bubble: UFloat
    dew: UFloat
    source: Source


def medium_entering(context: RunContext, coil: str) -> str:
    """The station of the air or water that enters a coil."""
    if coil == "outdoor_coil":
        return "outdoor_air_in" if context.unit.source == "air" else "source_water_in"
    return "return_air" if context.unit.load == "air" else "load_water_in"


def usual_split(context: RunContext, circuit: Circuit, role: Role) -> float:
    """Difference between saturation and what enters the coil of a side, as is usual [K]."""
    coil = circuit.condenser if role == "high" else circuit.evaporator
    if "water" in medium_entering(context, coil):
        return context.practice.si("water_split")
    part = "condenser" if role == "high" else "evaporator"
    return context.practice.si(f"{part}_split_{circuit.mode}")


def state_of(context: RunContext, circuit: Circuit, role: Role, *, guess: bool = False) -> SideState | None:
    """The best that is known of one side; ``guess`` allows the usual split as the last resort."""
    measured = side(context, circuit, role, context.doubted)
    if measured is not None:
        current = context.readings.get(measured.tap, "pressure")
        assert current is not None
        return SideState(current.value, measured.bubble, measured.dew, "gauge")
    coil = circuit.condenser if role == "high" else circuit.evaporator
    bend = context.temperature(coil)
    if bend is not None and coil not in context.doubted:
        return around(context, bend + ufloat(0, context.practice.si("bend_uncertainty")), "bend")
    entering = context.temperature(medium_entering(context, coil))
    if guess and entering is not None and medium_entering(context, coil) not in context.doubted:
        split = usual_split(context, circuit, role) * (1 if role == "high" else -1)
        return around(
            context, entering + split + ufloat(0, context.practice.si("guess_uncertainty")), "usual"
        )
    return None


def around(context: RunContext, middle: UFloat, source: Source = "usual") -> SideState | None:
    """A side whose coil saturates around a temperature: halfway between bubble and dew."""
    refrigerant = context.unit.refrigerant

    def pressure(temperature: float) -> float:
        bubble, dew = (
            float(saturation_pressure(refrigerant, temperature, line)) for line in ("bubble", "dew")
        )
        return float((bubble * dew) ** 0.5)

    try:
        found = propagate(pressure, middle)
        return SideState(
            found, at_pressure(context, found, "bubble"), at_pressure(context, found, "dew"), source
        )
    except OutsideRangeError:
        return None
