"""Superheat and subcooling against their targets. [published: ANSI/ACCA 5 QI tolerances; from memory; the-trade.md 4, 5]"""

from __future__ import annotations

import numpy as np

from icepick.core.checks.rule import Outcome, held_to_target, status_below
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.usual import at_full_load, load_noted, medium_entering
from icepick.core.document.visit import ModeTarget
from icepick.core.document.wording import listing, say
from icepick.core.indicators import refrigerant
from icepick.core.indicators.metering import active_device, is_orifice
from icepick.core.properties import formulas
from icepick.core.properties.quantities import Kind

_DELTA = Kind.TEMPERATURE_DIFFERENCE


def makers_target(context: RunContext) -> ModeTarget | None:
    """The manufacturer's targets for the mode the circuit runs in.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    ModeTarget or None
        None where the manufacturer states none.
    """
    design = context.unit.design
    if context.running is None or design is None:
        return None
    return design.cooling if context.running == "cooling" else design.heating


def superheat_target(context: RunContext) -> float | None:
    """What the superheat should be [K]: the manufacturer's figure, an orifice's target, or a TXV's usual setting.

    None for a fixed orifice in heating, which runs near zero, healthy; and in cooling without its wet bulb.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    float or None
        [K]; None where there is nothing to hold it to.
    """
    if active_device(context) is None:
        return None
    stated = makers_target(context)
    if stated is not None and stated.superheat is not None:
        return stated.superheat.si
    if not is_orifice(context):
        return context.practice.si("superheat_target")
    wet_bulb, outdoor = context.value("return_air", "wet_bulb"), context.temperature("outdoor_air_in")
    if context.running == "heating" or wet_bulb is None or outdoor is None:
        return None
    return formulas.target_superheat(float(wet_bulb.nominal_value), float(outdoor.nominal_value))


def judge_superheat(context: RunContext) -> Outcome | None:
    """Superheat at the evaporator held to its target.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Outcome or None
        None where it is not judged.
    """
    value = refrigerant.superheat(context)
    if context.circuit is None or value is None:
        return None
    target = superheat_target(context)
    if target is not None:
        return held_to_target(
            context,
            value,
            target,
            context.practice.si("superheat_tolerance"),
            above="a starved evaporator",
            below="an overfed evaporator, with floodback to follow",
        )
    if context.running == "heating":
        return _orifice_in_heating(context)
    lacks = {
        code: words
        for code, quantity, words in (
            ("return_air", "wet_bulb", "the return air's wet bulb"),
            ("outdoor_air_in", "temperature", "outdoor air"),
        )
        if context.value(code, quantity) is None
    }
    return Outcome("needs_readings", f"Needs {listing(list(lacks.values()))}.", needs=list(lacks))


def _orifice_in_heating(context: RunContext) -> Outcome | None:
    """No target: near zero in the cold is healthy, and so is some superheat in mild weather."""
    value, most = refrigerant.superheat(context), _orifice_most(context)
    if value is None:
        return None
    amount, margin = say(float(value.nominal_value), _DELTA, context.units), most - value.nominal_value
    if margin > value.std_dev:
        return Outcome(
            "pass",
            f"{amount}: a fixed orifice in heating runs near zero in the cold and shows more in mild weather, which is "
            "normal.",
            value,
            margin,
            limit=most,
        )
    if margin >= -value.std_dev:
        return Outcome("watch", f"{amount}: near the most a fixed orifice shows.", value, margin, limit=most)
    return Outcome(
        "fail", f"{amount}: a starved evaporator, even for a fixed orifice.", value, margin, limit=most
    )


def _orifice_most(context: RunContext) -> float:
    """The most superheat a sound fixed orifice shows in heating [K]; with the source side unread, that of mild weather."""
    limits = context.practice.si
    entering = context.temperature(medium_entering(context, "outdoor_coil"))
    if entering is None:
        return limits("orifice_superheat_mild")
    weather = (limits("orifice_cold_at"), limits("orifice_mild_at"))
    most = (limits("orifice_superheat_cold"), limits("orifice_superheat_mild"))
    return float(np.interp(float(entering.nominal_value), weather, most))


def subcooling_target(context: RunContext) -> float | None:
    """What the subcooling should be [K]: the manufacturer's figure, else what is usual for a TXV at full load in cooling.

    None where it judges no charge: in heating, at part load, with a fixed orifice.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    float or None
        [K]; None where it judges no charge.
    """
    stated = makers_target(context)
    if stated is not None and stated.subcooling is not None:
        return stated.subcooling.si
    if context.running != "cooling" or is_orifice(context) or not at_full_load(context):
        return None
    return context.practice.si("subcooling_target")


def judge_subcooling(context: RunContext) -> Outcome | None:
    """Subcooling held to its target, where it has one.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Outcome or None
        None where it is not judged.
    """
    value, target = refrigerant.subcooling(context), subcooling_target(context)
    if context.circuit is None or value is None:
        return None
    amount = say(float(value.nominal_value), _DELTA, context.units)
    lost = refrigerant.lost_before_liquid_port(context)
    if lost is not None and status_below(lost, context.practice.si("head_to_liquid")) == "fail":
        gone = say(float(lost.nominal_value), Kind.PRESSURE_DIFFERENCE, context.units)
        return Outcome(
            "watch",
            f"{amount} behind a loss of {gone}, which says nothing of the charge: find that loss first.",
            value,
        )
    if target is None:
        return Outcome("pass", f"{amount}, which does not judge the charge: {_why_no_target(context)}")
    return held_to_target(
        context,
        value,
        target,
        context.practice.si("subcooling_tolerance"),
        above="liquid backs up in the condenser, or noncondensables lift the gauge",
        below="too little liquid is left in the condenser",
    )


def _why_no_target(context: RunContext) -> str:
    if context.running == "heating":
        return (
            "how much sits in the accumulator is unknown in heating. Enter the manufacturer's heating chart, weigh the "
            "charge in, or judge it in cooling."
        )
    if is_orifice(context):
        return "a fixed orifice is charged by superheat, and its subcooling moves with the weather."
    if load_noted(context):
        return "this run is at part load. Judge it at full load, or by the manufacturer's figure."
    return "this run is not known to be at full load. Enter stage or speed, or the manufacturer's figure."
