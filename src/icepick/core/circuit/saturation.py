"""Saturation temperatures of a run's two sides, from the pressure taps that are on those sides."""

from __future__ import annotations

from dataclasses import dataclass

from uncertainties import UFloat, ufloat

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.circuit.graph import Circuit
from icepick.core.document.examination import Source
from icepick.core.document.roles import Role
from icepick.core.properties.propagation import propagate
from icepick.core.properties.refrigerants import (
    LINES,
    Line,
    OutsideRangeError,
    saturation_pressure,
    saturation_temperature,
)


@dataclass(frozen=True, slots=True)
class Saturation:
    """Bubble and dew temperature [K] at the pressure of one tap."""

    tap: str
    bubble: UFloat
    dew: UFloat


def at_pressure(context: RunContext, pressure: UFloat, line: Line) -> UFloat:
    """Saturation temperature [K] at an absolute pressure [Pa], its band carried through.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    pressure : UFloat
        Absolute pressure [Pa], with its band.
    line : Line
        ``bubble`` or ``dew``.

    Returns
    -------
    UFloat
        [K].

    Raises
    ------
    OutsideRangeError
        See :func:`icepick.core.properties.refrigerants.saturation_temperature`.
    """
    refrigerant = context.unit.refrigerant
    return propagate(lambda p: float(saturation_temperature(refrigerant, p, line)), pressure)


def side(context: RunContext, circuit: Circuit, role: Role, without: frozenset[str]) -> Saturation | None:
    """Saturation on one side, from the tap nearest the compressor that was read and is not in ``without``.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.
    role : Role
        The side.
    without : frozenset of str
        Stations that are left out.

    Returns
    -------
    Saturation or None
        None where no gauge tells it.
    """
    return _best_of(context, circuit.taps_on(role), without)


@remembered
def gas_alone(context: RunContext) -> UFloat | None:
    """How far the high side stands below what any liquid at the coldest place around would hold up [K]; positive.

    Liquid anywhere on the high side keeps its pressure at saturation or over it. Believed only where the low side was read
    too, and the two lie closer than anything that pumps liquid holds them. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None where it is not so, or not known.
    """
    if context.circuit is None or context.defrosting:
        return None
    high, low = (side_pressure(context, context.circuit, role) for role in _SIDES)
    around = [t for code in _AROUND if (t := context.temperature(code)) is not None]
    if high is None or low is None or not around:
        return None
    across = (high - low).nominal_value
    if not 0 <= across < context.practice.si("shift_pressure"):
        return None
    coldest = min(around, key=lambda t: t.nominal_value)
    try:
        under = coldest - at_pressure(context, high, "dew")
    except OutsideRangeError:
        return None
    return under if under.nominal_value - under.std_dev > context.practice.si("standing_difference") else None


_SIDES: tuple[Role, Role] = ("high", "low")
_AROUND = ("outdoor_air_in", "return_air", "source_water_in", "load_water_in")


def side_pressure(context: RunContext, circuit: Circuit, role: Role) -> UFloat | None:
    """Pressure of one side [Pa, absolute], from the tap nearest the compressor that was read; None without a gauge there."""
    taps = circuit.taps_on(role)
    return next((v for tap in taps if (v := context.value(tap, "pressure")) is not None), None)


def _best_of(context: RunContext, taps: tuple[str, ...], without: frozenset[str]) -> Saturation | None:
    return next(
        (found for tap in taps if tap not in without and (found := _at_tap(context, tap)) is not None), None
    )


@remembered
def _at_tap(context: RunContext, tap: str) -> Saturation | None:
    pressure = context.value(tap, "pressure")
    if pressure is None:
        return None
    try:
        bubble, dew = (at_pressure(context, pressure, line) for line in LINES)
        return Saturation(tap, bubble, dew)
    except OutsideRangeError:
        return None


@dataclass(frozen=True, slots=True)
class SideState:
    """One side of the circuit: absolute pressure [Pa], bubble and dew temperature [K], and where they come from.

    ``gauge``: a pressure tap. ``bend``: a return bend halfway through the coil, with a wider band. ``usual``: what this unit
    should show in these conditions, with that one's.
    """

    pressure: UFloat
    bubble: UFloat
    dew: UFloat
    source: Source


def state_of(context: RunContext, circuit: Circuit, role: Role) -> SideState | None:
    """The best that is known of one side at its compressor end: suction, or head.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.
    role : Role
        The side.

    Returns
    -------
    SideState or None
        None where nothing tells it.
    """
    return _by_gauge(context, circuit.taps_on(role), False) or _by_bend(context, circuit.coil(role))


def liquid_state(context: RunContext, circuit: Circuit) -> SideState | None:
    """The best that is known of the high side at its liquid end: what subcooling and flash are held to.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.

    Returns
    -------
    SideState or None
        None where nothing tells it.
    """
    taps = circuit.taps_on("high")[::-1]
    return _by_gauge(context, taps, True) or _by_bend(context, circuit.coil("high"))


@remembered
def _by_gauge(context: RunContext, taps: tuple[str, ...], at_liquid_end: bool) -> SideState | None:
    """By the first tap that was read. Where head stands for liquid or liquid for head, what a condenser usually loses lies
    between them, give or take as much."""
    found = _best_of(context, taps, frozenset())
    pressure = context.value(found.tap, "pressure") if found else None
    if found is None or pressure is None:
        return None
    on_high_side = "discharge_tap" in taps
    if not on_high_side or (found.tap == "liquid_service_tap") == at_liquid_end:
        return SideState(pressure, found.bubble, found.dew, "gauge")
    drop = context.practice.si("condenser_drop")
    return at(context, pressure + ufloat(-drop if at_liquid_end else drop, drop), "gauge")


def _by_bend(context: RunContext, coil: str) -> SideState | None:
    bend = context.temperature(coil)
    if bend is None:
        return None
    return around(context, bend + ufloat(0, context.practice.si("bend_uncertainty")), "bend")


def around(context: RunContext, middle: UFloat, source: Source = "usual") -> SideState | None:
    """A side whose coil saturates around a temperature: halfway between bubble and dew.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    middle : UFloat
        Temperature halfway between bubble and dew [K].
    source : Source
        Where it comes from.

    Returns
    -------
    SideState or None
        None outside the refrigerant's tables.
    """
    refrigerant = context.unit.refrigerant

    def pressure(temperature: float) -> float:
        bubble, dew = (
            float(saturation_pressure(refrigerant, temperature, line)) for line in ("bubble", "dew")
        )
        return float((bubble * dew) ** 0.5)

    try:
        return at(context, propagate(pressure, middle), source)
    except OutsideRangeError:
        return None


def at(context: RunContext, pressure: UFloat, source: Source) -> SideState | None:
    """A side at a pressure.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    pressure : UFloat
        Absolute [Pa], with its band.
    source : Source
        Where it comes from.

    Returns
    -------
    SideState or None
        None outside the refrigerant's tables.
    """
    try:
        bubble, dew = (at_pressure(context, pressure, line) for line in LINES)
    except OutsideRangeError:
        return None
    return SideState(pressure, bubble, dew, source)
