"""Superheat against its target: what the working meter holds, and how much of the evaporator is used.

[published: ANSI/ACCA 5 QI tolerances, from memory; trade.md sections 4 and 5]
"""

from __future__ import annotations

from icepick.core import formulas
from icepick.core.checks.rule import Outcome, held_to_target, needs_readings
from icepick.core.context import RunContext
from icepick.core.indicators import refrigerant
from icepick.core.indicators.metering import working_meter
from icepick.core.indicators.valve import running_circuit
from icepick.core.quantities import Kind
from icepick.core.visit import ModeTarget
from icepick.core.wording import say


def makers_target(context: RunContext) -> ModeTarget | None:
    """The maker's targets for the mode the circuit runs in."""
    circuit, design = running_circuit(context), context.unit.design
    if circuit is None or design is None:
        return None
    return design.cooling if circuit.mode == "cooling" else design.heating


def superheat_target(context: RunContext) -> float | None:
    """What the superheat should be [K]: the maker's figure, an orifice's target, or a valve's usual setting.

    None for a fixed orifice in heating, which runs near zero, healthy; and in cooling without its wet bulb.
    """
    circuit, meter = running_circuit(context), working_meter(context)
    if circuit is None or meter is None:
        return None
    stated = makers_target(context)
    if stated is not None and stated.superheat is not None:
        return stated.superheat.si
    if meter.kind in ("piston", "capillary"):
        wet_bulb, outdoor = context.value("return_air", "wet_bulb"), context.temperature("outdoor_air_in")
        if circuit.mode == "heating" or wet_bulb is None or outdoor is None:
            return None
        return formulas.target_superheat(float(wet_bulb.nominal_value), float(outdoor.nominal_value))
    return context.practice.si("superheat_target")


def against_target(context: RunContext, starving: str, flooding: str) -> Outcome | None:
    """Superheat held to its target; ``starving`` and ``flooding`` say what too much and too little of it means."""
    circuit, value = running_circuit(context), refrigerant.superheat(context)
    if circuit is None or value is None:
        return None
    target = superheat_target(context)
    if target is None:
        if circuit.mode == "heating":
            amount = say(float(value.nominal_value), Kind.TEMPERATURE_DIFFERENCE, context.units)
            return Outcome(
                "pass",
                f"{amount}: a fixed orifice in heating runs near zero superheat, and that is well.",
                value,
            )
        return needs_readings([s for s in ("return_air", "outdoor_air_in") if _lacks_target(context, s)])
    tolerance = context.practice.si("superheat_tolerance")
    return held_to_target(context, value, target, tolerance, above=starving, below=flooding)


def _lacks_target(context: RunContext, code: str) -> bool:
    quantity = "wet_bulb" if code == "return_air" else "temperature"
    return context.value(code, quantity) is None
