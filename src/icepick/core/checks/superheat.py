"""Superheat and subcooling against what this unit should show. [tolerances published: ANSI/ACCA 5 QI; from memory;
the-trade.md 4, 5]

The sound unit holds the manufacturer's figures where they are stated, and what is customary where they are not; what that
comes to in a run's conditions is the machine model's to say.
"""

from __future__ import annotations

from dataclasses import replace

from uncertainties import UFloat

from icepick.core.checks.departure import judge_departure, should_show, with_band
from icepick.core.checks.rule import Outcome, status_below
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import at_full_load, load_noted
from icepick.core.document.visit import ModeTarget
from icepick.core.document.wording import say
from icepick.core.indicators import refrigerant
from icepick.core.indicators.metering import active_device, is_orifice
from icepick.core.machine.expected import Value
from icepick.core.machine.parameters import of
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


def judge_superheat(context: RunContext) -> Outcome | None:
    """Superheat at the evaporator held to what this unit should show.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Outcome or None
        None where it is not judged.
    """
    value, should = refrigerant.superheat(context), _superheat_due(context)
    if context.circuit is None or value is None:
        return None
    if (wet := _wet_at_orifice(context, value)) is not None:
        return wet
    if should is None:
        return None
    found = judge_departure(
        context,
        value,
        should,
        context.practice.si("superheat_tolerance"),
        _DELTA,
        what="Superheat",
        above="a starved evaporator",
        below="an overfed evaporator, with floodback to follow",
    )
    floods = value.nominal_value < should.value and is_orifice(context) and context.running == "heating"
    # A fixed orifice in heating runs near zero, healthy, and nobody knows quite up to what weather. [the-trade.md 5]
    return replace(found, status="watch") if found.status == "fail" and floods else found


def _wet_at_orifice(context: RunContext, value: UFloat) -> Outcome | None:
    """No superheat behind a fixed orifice in weather for which its charging chart asks for some: liquid leaves the coil."""
    due = refrigerant.charging_superheat(context)
    tolerance = context.practice.si("superheat_tolerance")
    if not is_orifice(context) or due is None or value.nominal_value > value.std_dev:
        return None
    if due.nominal_value - tolerance <= value.nominal_value + value.std_dev:
        return None
    said, asked = (say(max(float(one.nominal_value), 0.0), _DELTA, context.units) for one in (value, due))
    return Outcome(
        "fail",
        f"Superheat of {said}, where a fixed orifice's charging chart asks for {asked} in this weather: liquid leaves the "
        "evaporator. Look at airflow first, then at the charge and the orifice's size and seat.",
        value,
        float(value.nominal_value - due.nominal_value),
        limit=float(due.nominal_value),
    )


def _superheat_due(context: RunContext) -> Value | None:
    """The manufacturer's figure as it stands; else what the machine model says, else what a TXV or EEV holds by custom."""
    stated = makers_target(context)
    if stated is not None and stated.superheat is not None:
        return Value(stated.superheat.si, 0.0)
    custom = None if is_orifice(context) or active_device(context) is None else Value(of("superheat"), 0.0)
    return should_show(context, "superheat") or custom


def judges_charge(context: RunContext) -> bool:
    """Whether subcooling says how much is charged: by the manufacturer's figure, else in cooling with a TXV or EEV at a
    known full load.

    In heating nobody knows how much sits in the accumulator. [the-trade.md 2]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False in heating, at part load and with a fixed orifice, unless the manufacturer states a figure.
    """
    stated = makers_target(context)
    if stated is not None and stated.subcooling is not None:
        return True
    return context.running == "cooling" and not is_orifice(context) and at_full_load(context)


def _subcooling_due(context: RunContext) -> Value:
    """The manufacturer's figure as it stands; else what the machine model says, else the customary one."""
    stated = makers_target(context)
    if stated is not None and stated.subcooling is not None:
        return Value(stated.subcooling.si, 0.0)
    return should_show(context, "subcooling") or Value(of("subcooling"), 0.0)


def judge_subcooling(context: RunContext) -> Outcome | None:
    """Subcooling held to what this unit should show, where it judges the charge.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Outcome or None
        None where it is not judged.
    """
    value = refrigerant.subcooling(context)
    if context.circuit is None or value is None:
        return None
    amount, should = say(float(value.nominal_value), _DELTA, context.units), _subcooling_due(context)
    lost = refrigerant.lost_before_liquid_port(context)
    if lost is not None and status_below(lost, context.practice.si("head_to_liquid")) == "fail":
        gone = say(float(lost.nominal_value), Kind.PRESSURE_DIFFERENCE, context.units)
        return Outcome(
            "watch",
            f"{amount} behind a loss of {gone}, which says nothing of the charge: find that loss first.",
            value,
        )
    if not judges_charge(context):
        said = f"{amount}; about {with_band(should, _DELTA, context.units)} would be normal here"
        return Outcome("pass", f"{said}. It does not judge the charge: {_why_not(context)}")
    return judge_departure(
        context,
        value,
        should,
        context.practice.si("subcooling_tolerance"),
        _DELTA,
        what="Subcooling",
        above="liquid backs up in the condenser, or noncondensables lift the gauge",
        below="too little liquid is left in the condenser",
    )


def _why_not(context: RunContext) -> str:
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
