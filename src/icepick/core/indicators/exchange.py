"""Heat at both coils: splits, capacity by air and by water, and whether frost may grow. [the-trade.md 5]"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from uncertainties import UFloat, ufloat

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.circuit.load import medium_entering
from icepick.core.document.heads import calling_share
from icepick.core.indicators.refrigerant import high_side, low_side
from icepick.core.machine.parameters import of
from icepick.core.properties import formulas, moist_air, water
from icepick.core.properties.propagation import propagate

Side = Literal["source", "load"]


@remembered
def evaporator_split(context: RunContext) -> UFloat | None:
    """What enters the evaporator over the evaporating temperature [K]. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    circuit, low = context.circuit, low_side(context)
    entering = context.temperature(medium_entering(context, circuit.evaporator)) if circuit else None
    return entering - low.dew if entering is not None and low is not None else None


@remembered
def condenser_split(context: RunContext) -> UFloat | None:
    """Condensing temperature over what enters the condenser [K]. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    circuit, high = context.circuit, high_side(context)
    entering = context.temperature(medium_entering(context, circuit.condenser)) if circuit else None
    return high.bubble - entering if entering is not None and high is not None else None


@dataclass(frozen=True, slots=True)
class Flow:
    """A flow [m³/s] and where it comes from."""

    value: UFloat
    source: Literal["measured", "heater", "table", "maker", "assumed"]


@remembered
def airflow(context: RunContext) -> Flow | None:
    """Indoor airflow: read; else from the backup heater's power; else the manufacturer's; else assumed per ton.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Flow or None
        None where nothing tells it.
    """
    measured = context.value("indoor_airflow", "flow")
    if measured is not None:
        return Flow(measured, "measured")
    power, before, after = (
        context.value("backup_heat", "power"),
        context.temperature("supply_air"),
        context.temperature("supply_air_after_heat"),
    )
    if power is not None and before is not None and after is not None and (after - before).nominal_value > 0:
        found = propagate(
            # As a volume at the supply air's own temperature, at which it is used.
            lambda p, low, high: formulas.airflow_from_heater(p, high - low, context.atmosphere, low),
            power,
            before,
            after,
        )
        return Flow(found, "heater")
    design, nominal = context.unit.design, context.unit.nominal_capacity
    share = context.practice.si("airflow_uncertainty")
    if design is not None and design.indoor_airflow is not None:
        flow = design.indoor_airflow.si * calling_share(context.unit)
        return Flow(ufloat(flow, flow * share), "maker")
    if nominal is None:
        return None
    flow = of("indoor_airflow") * nominal.si * calling_share(context.unit)
    return Flow(ufloat(flow, flow * share), "assumed")


def is_total(context: RunContext) -> bool:
    """Whether the air's heat counts what it loses by drying: in cooling, with both wet bulbs read.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False where only sensible heat is known.
    """
    return context.running == "cooling" and all(
        context.value(station, "wet_bulb") is not None for station in ("return_air", "supply_air")
    )


@remembered
def air_capacity(context: RunContext) -> UFloat | None:
    """Heat the indoor air gives off or takes up [W]: total where both wet bulbs were read in cooling, else sensible.

    [physics; ASHRAE Fundamentals, chapter 1]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [W]; None while a reading it needs is missing.
    """
    if context.unit.load != "air" or context.running is None or context.defrosting:
        return None
    flow = airflow(context)
    returned, supplied = context.temperature("return_air"), context.temperature("supply_air")
    if flow is None or returned is None or supplied is None:
        return None
    wet = [context.value(station, "wet_bulb") for station in ("return_air", "supply_air")]
    if is_total(context) and wet[0] is not None and wet[1] is not None:
        return propagate(
            lambda f, t1, w1, t2, w2: formulas.total_heat(
                f, (t1, min(w1, t1)), (t2, min(w2, t2)), context.atmosphere
            ),
            flow.value,
            returned,
            wet[0],
            supplied,
            wet[1],
        )
    sign = 1 if context.running == "heating" else -1
    return propagate(
        lambda f, t1, t2: formulas.sensible_heat(f, sign * (t2 - t1), context.atmosphere, t2),
        flow.value,
        returned,
        supplied,
    )


@remembered
def water_flow(context: RunContext, side: Side) -> Flow | None:
    """Water flow by meter, else from the pressure lost between its ports by the manufacturer's table.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    side : Side
        ``source`` or ``load``.

    Returns
    -------
    Flow or None
        None where nothing tells it.
    """
    measured = context.value(f"{side}_water", "flow")
    if measured is not None:
        return Flow(measured, "measured")
    before, after = (context.value(f"{side}_water_{end}", "pressure") for end in ("in", "out"))
    rows = context.unit.design.water_flow_table if context.unit.design else None
    if before is None or after is None or not rows:
        return None
    table = [(row.drop.si, row.flow.si) for row in rows]
    drop = _one_instrument(before - after, context.practice.si("water_gauge_step"))
    try:
        return Flow(propagate(lambda d: formulas.flow_from_drop(d, table), drop), "table")
    except ValueError:
        return None


def _factor(context: RunContext, side: Side) -> UFloat:
    read = context.value(f"{side}_water", "fluid_factor")
    if read is not None:
        return read
    factor = water.CUSTOMARY_FACTORS["water"]
    return ufloat(factor, factor * context.practice.si("fluid_factor_uncertainty"))


@remembered
def water_heat(context: RunContext, side: Side) -> UFloat | None:
    """Heat the water of a side gives up to the unit [W]; negative where the unit gives to it. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    side : Side
        ``source`` or ``load``.

    Returns
    -------
    UFloat or None
        [W]; None while a reading it needs is missing.
    """
    flow = water_flow(context, side)
    before, after = (context.temperature(f"{side}_water_{end}") for end in ("in", "out"))
    if flow is None or before is None or after is None:
        return None
    return flow.value * same_probe(context, before, after) * _factor(context, side) * water.si_per_factor()


def same_probe(context: RunContext, before: UFloat, after: UFloat) -> UFloat:
    """The difference of two water temperatures, taken by one probe moved from port to port [K].

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    before : UFloat
        Water temperature at one port [K].
    after : UFloat
        Water temperature at the other [K].

    Returns
    -------
    UFloat
        [K].
    """
    return _one_instrument(before - after, context.practice.si("water_probe_step"))


def _one_instrument(difference: UFloat, fine: float) -> UFloat:
    """A difference read by one instrument: its error of the whole drops out, what is left is how well it is read."""
    middle = float(difference.nominal_value)
    return (difference - middle) * min(fine / float(difference.std_dev), 1.0) + middle


def water_capacity(context: RunContext) -> UFloat | None:
    """Heat carried by the source water, else by the load water [W], whichever way it goes. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [W]; None while a reading it needs is missing.
    """
    for side in ("source", "load"):
        found = water_heat(context, "source" if side == "source" else "load")
        if found is not None:
            return found if found.nominal_value >= 0 else -found
    return None


@remembered
def frost_margin(context: RunContext) -> UFloat | None:
    """Coil surface over the point at which frost grows: the lower of dew point and freezing [K]. [physics]

    Below zero frost grows. Only where the outdoor coil evaporates in air whose humidity was read; the surface is the
    coil's bend, else the evaporating temperature.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    circuit = context.circuit
    if circuit is None or circuit.evaporator != "outdoor_coil" or context.unit.source != "air":
        return None
    air = context.temperature("outdoor_air_in")
    humidity, wet = (context.value("outdoor_air_in", q) for q in ("relative_humidity", "wet_bulb"))
    low = low_side(context)
    surface = context.temperature("outdoor_coil") or (low.dew if low else None)
    if air is None or surface is None or (humidity is None and wet is None):
        return None
    pressure = context.atmosphere
    if humidity is not None:
        ratio = moist_air.humidity_ratio(
            float(air.nominal_value), pressure, relative_humidity=max(float(humidity.nominal_value), 0.01)
        )
    else:
        assert wet is not None
        wet_bulb = min(float(wet.nominal_value), float(air.nominal_value))
        ratio = moist_air.humidity_ratio(float(air.nominal_value), pressure, wet_bulb=wet_bulb)
    dew = moist_air.dew_point(float(air.nominal_value), max(ratio, 1e-5), pressure)
    return surface - min(dew, FREEZING)


FREEZING = 273.15
"""Freezing point of water [K], by definition of the Celsius scale."""
