"""What is usual of splits, ratio and air at these conditions, and where those figures hold at all. [common practice]

They are rules of thumb for a single-speed compressor at full load in ordinary weather. Outside that they judge nothing.
"""

from __future__ import annotations

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.circuit.graph import Circuit
from icepick.core.document.roles import Role
from icepick.core.properties import formulas

TON = 3516.85
"""One ton of refrigeration [W], 12 000 Btu/h by definition."""
TEN_DEGREES = 10 / 1.8
"""Ten degrees Fahrenheit [K]: what the trade's rules count changes by."""


def medium_entering(context: RunContext, coil: str) -> str:
    """The station of the air or water that enters a coil.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    coil : str
        ``indoor_coil`` or ``outdoor_coil``.

    Returns
    -------
    str
        Code of a station.
    """
    if coil == "outdoor_coil":
        return "outdoor_air_in" if context.unit.source == "air" else "source_water_in"
    return "return_air" if context.unit.load == "air" else "load_water_in"


def usual_split(context: RunContext, circuit: Circuit, role: Role) -> float:
    """Difference between saturation and what enters the coil of a side, as is usual [K].

    In heating it grows and shrinks with the capacity that outdoor air or source water leaves: a coil that moves half the
    heat has about half the difference. [physics; the-trade.md 5]

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
    float
        [K].
    """
    if "water" in medium_entering(context, circuit.coil(role)):
        return context.practice.si("water_split")
    part = "condenser" if role == "high" else "evaporator"
    if circuit.mode == "heating" and context.unit.source == "water":
        return context.practice.si("condenser_split_water_source") * extraction_share(context)
    split = context.practice.si(f"{part}_split_{circuit.mode}")
    return split * (capacity_share(context) or 1.0) if circuit.mode == "heating" else split


def extraction_share(context: RunContext) -> float:
    """Heat that source water gives over what it gives at the rating temperature; 1 where it was not read.

    Less is taken from colder water. [physics; the rating point is taken from ISO 13256-1]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    float
        Ratio, 1 at the rating temperature.
    """
    water = context.temperature("source_water_in")
    if water is None:
        return 1.0
    over = float(water.nominal_value) - context.practice.si("extraction_rating_water")
    return max(1 + context.practice.si("extraction_per_water") * over / TEN_DEGREES, 0.1)


@remembered
def at_full_load(context: RunContext) -> bool:
    """Whether the compressor is known to run at its full capacity: part load is not a weak compressor.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False also where it is not known.
    """
    if context.run.compressor_stage is not None:
        return context.run.compressor_stage == "high"
    if context.run.compressor_speed is not None:
        within = context.practice.si("full_speed_band")
        return abs(context.run.compressor_speed / 100 - 1) <= within
    return context.unit.compressor.kind == "single"


def load_noted(context: RunContext) -> bool:
    """Whether somebody noted the compressor's stage or speed in this run.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False where nobody knows at what load it ran.
    """
    return context.run.compressor_stage is not None or context.run.compressor_speed is not None


@remembered
def ordinary_weather(context: RunContext) -> bool:
    """Whether what enters the source side is read and lies where rules of thumb were made.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False also while it is unread.
    """
    entering = context.temperature(medium_entering(context, "outdoor_coil"))
    if context.running is None or entering is None:
        return False
    medium = "air" if context.unit.source == "air" else "water"
    low, high = (context.practice.si(f"usual_{medium}_{context.running}_{edge}") for edge in ("from", "to"))
    return low - 1e-6 <= float(entering.nominal_value) <= high + 1e-6


def holds(context: RunContext) -> bool:
    """Whether rules of thumb may judge this run.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        True at full load in ordinary weather.
    """
    return at_full_load(context) and ordinary_weather(context) and not context.defrosting


@remembered
def capacity_share(context: RunContext) -> float | None:
    """Total capacity over nominal that these conditions allow; None where it can't be said.

    In cooling by outdoor temperature, entering wet bulb and elevation; in heating on air by outdoor temperature, as the
    two AHRI 210/240 ratings (47 and 17 °F) usually lie. [published test points, from memory; common practice]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    float or None
        Ratio; None where it can't be said.
    """
    if context.running is None or not at_full_load(context):
        return None
    outdoor = context.temperature("outdoor_air_in")
    if context.running == "heating":
        if context.unit.source != "air" or outdoor is None:
            return 1.0 if context.unit.source == "water" else None
        warm, cold = (context.practice.si(f"heating_rating_{name}") for name in ("warm", "cold"))
        at_cold = context.practice.si("capacity_when_cold")
        share = at_cold + (1 - at_cold) * (float(outdoor.nominal_value) - cold) / (warm - cold)
        return max(share, context.practice.si("capacity_least"))
    share = formulas.thin_air_capacity(context.atmosphere, context.practice.si("capacity_per_thin_air"))
    # Unread, the outdoor temperature is taken as rated: it moves the capacity by a few percent only.
    if context.unit.source == "air" and outdoor is not None:
        over = float(outdoor.nominal_value) - context.practice.si("cooling_rating_outdoor")
        share *= 1 - context.practice.si("capacity_per_outdoor") * over / TEN_DEGREES
    wet = context.value("return_air", "wet_bulb")
    if wet is not None:
        over = float(wet.nominal_value) - context.practice.si("cooling_rating_wet_bulb")
        share *= 1 + context.practice.si("capacity_per_wet_bulb") * over / TEN_DEGREES
    return share


@remembered
def air_per_watt(context: RunContext) -> float:
    """Usual indoor airflow [m³/s] for each watt of nominal capacity.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    float
        [m³/s per W].
    """
    return context.practice.si("airflow_per_ton") / TON


@remembered
def air_difference(context: RunContext) -> tuple[float, float] | None:
    """The air's usual temperature difference over the indoor coil and how far it may stray [K].

    In cooling the target temperature split by return dry and wet bulb, as practitioners read it off a table; without a
    wet bulb the middle of what humid and dry air give. In heating by the capacity the outdoor temperature leaves.
    None where it can't be said.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    (float, float) or None
        Difference and band [K]; None where it can't be said.
    """
    share, returned = capacity_share(context), context.temperature("return_air")
    outdoor = context.temperature(medium_entering(context, "outdoor_coil"))
    in_question = context.running == "cooling" and outdoor is None and not context.defrosting
    if share is None or returned is None or not (holds(context) or in_question):
        return None
    dry = float(returned.nominal_value)
    per_flow = share / air_per_watt(context)
    if context.running == "heating":
        rise = per_flow / formulas.sensible_heat(1.0, 1.0, context.atmosphere, dry)
        return rise, rise * context.practice.si("air_rise_band")
    wet = context.value("return_air", "wet_bulb")
    if wet is None:
        driest, wettest = (context.practice.si(f"air_split_{edge}") for edge in ("dry", "humid"))
        return (driest + wettest) / 2, (driest - wettest) / 2
    leaving = context.practice.si("leaving_humidity")
    split = formulas.temperature_split(
        dry, min(float(wet.nominal_value), dry), per_flow, leaving, context.atmosphere
    )
    return split, context.practice.si("air_split_band")
