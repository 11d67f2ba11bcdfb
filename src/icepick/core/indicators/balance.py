"""Heat rejected = heat taken up + compressor work: the two sides held against each other. [physics; the-trade.md 5]

Heat at a coil comes from the air or water that passes it; work from the compressor's power. Where power was read and
the cycle's corners are known, the refrigerant's own flow follows, and with it the heat at both coils a second time.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from uncertainties import UFloat, ufloat

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.document.examination import Corner
from icepick.core.indicators import exchange
from icepick.core.indicators.cycle import cycle
from icepick.core.machine.parameters import of

Term = Literal["rejected", "taken_up", "work"]


@remembered
def compressor_power(context: RunContext) -> UFloat | None:
    """Electrical power of the compressor [W]: read, else current × voltage × power factor of a single-phase motor.

    [physics; the usual power factor is common practice]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [W]; None while a reading it needs is missing.
    """
    power = context.value("compressor", "power")
    current, voltage = context.value("compressor", "current"), context.value("compressor", "voltage")
    if power is not None or current is None or voltage is None:
        return power
    factor = context.practice.si("compressor_power_factor")
    return current * voltage * ufloat(factor, context.practice.si("compressor_power_band"))


@remembered
def work(context: RunContext) -> UFloat | None:
    """What of the compressor's power goes into the gas [W]: all but the shell's loss to the air around it.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [W]; None while a reading it needs is missing.
    """
    power, loss = compressor_power(context), context.practice.si("compressor_shell_loss")
    return None if power is None else power * ufloat(1 - loss, loss)


def _between(context: RunContext, start: Corner, end: Corner) -> UFloat | None:
    """Enthalpy gained between two corners [J/kg]; None where one is unread or lies on a saturation line."""
    points = cycle(context)
    if start not in points or end not in points or not (points[start].told and points[end].told):
        return None
    return points[end].enthalpy - points[start].enthalpy


@remembered
def cycle_share(context: RunContext, term: Term) -> UFloat | None:
    """What the refrigerant gives off or takes up for each joule of work, as gauges and pipes have it.

    None without gauges on both sides: bends are too coarse for this.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    term : Term
        Which term of the balance.

    Returns
    -------
    UFloat or None
        Ratio; None while a reading it needs is missing.
    """
    points = cycle(context)
    if any(points[corner].side.source != "gauge" for corner in points):
        return None
    lift = _between(context, "compressor_in", "compressor_out")
    if lift is None or lift.nominal_value <= 0:
        return None
    if term == "work":
        return lift / lift
    ends: tuple[Corner, Corner] = (
        ("condenser_out", "compressor_out") if term == "rejected" else ("meter_in", "compressor_in")
    )
    gained = _between(context, *ends)
    return None if gained is None else gained / lift


@remembered
def refrigerant_heat(context: RunContext, term: Term) -> UFloat | None:
    """Heat at a coil by the refrigerant [W]: work times what the cycle moves for each joule of it. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    term : Term
        Which term of the balance.

    Returns
    -------
    UFloat or None
        [W]; None while a reading it needs is missing.
    """
    done = work(context)
    share = None if done is None else cycle_share(context, term)
    return None if done is None or share is None else done * share


def evaporator_heat(context: RunContext) -> UFloat | None:
    """Heat the refrigerant takes up in the evaporator [W], from power and cycle.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [W]; None while a reading it needs is missing.
    """
    return refrigerant_heat(context, "taken_up")


def condenser_heat(context: RunContext) -> UFloat | None:
    """Heat the refrigerant gives off in the condenser [W], from power and cycle.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [W]; None while a reading it needs is missing.
    """
    return refrigerant_heat(context, "rejected")


@remembered
def coil_heat(context: RunContext, coil: str) -> UFloat | None:
    """Heat the air or water gets from a coil [W], negative where it gives heat; None where its flow is only assumed,
    or where air is dried by an unread amount.

    The supply fan's own heat is taken off the indoor air's: its power read, else as the maker states, else usual for the
    flow.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    coil : str
        ``indoor_coil`` or ``outdoor_coil``.

    Returns
    -------
    UFloat or None
        [W]; None where it is not known well enough.
    """
    side: exchange.Side = "source" if coil == "outdoor_coil" else "load"
    if (context.unit.source if side == "source" else context.unit.load) == "water":
        heat = exchange.water_heat(context, side)
        return None if heat is None else -heat
    flow, moved = exchange.airflow(context), exchange.air_capacity(context)
    if side == "source" or flow is None or moved is None or flow.source == "assumed":
        return None
    if context.running == "cooling":
        if not exchange.is_total(context):
            return None
        moved = -moved
    return moved - _fan_heat(context, flow.value)


def _fan_heat(context: RunContext, flow: UFloat) -> UFloat:
    read, design = context.value("supply_fan", "power"), context.unit.design
    if read is not None:
        return read
    if design is not None and design.supply_fan_power is not None:
        stated = design.supply_fan_power.si
        return ufloat(stated, stated * context.practice.si("fan_power_band"))
    usual = of("indoor_fan_power")
    return flow * ufloat(usual, usual * context.practice.si("fan_power_band"))


@dataclass(frozen=True, slots=True)
class Balance:
    """Heat rejected, heat taken up and work [W]; ``by_cycle`` names the term that was not measured but follows from
    another one and the cycle."""

    rejected: UFloat
    taken_up: UFloat
    work: UFloat
    by_cycle: Term | None

    @property
    def share(self) -> UFloat:
        """What does not add up, as a share of the heat rejected."""
        return (self.rejected - self.taken_up - self.work) / self.rejected


@remembered
def balance(context: RunContext) -> Balance | None:
    """The balance, where at least two of its terms were measured and the third follows from the cycle.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Balance or None
        None where fewer than two terms are known.
    """
    circuit = context.circuit
    if circuit is None or context.defrosting:
        return None
    taken = coil_heat(context, circuit.evaporator)
    measured: dict[Term, UFloat | None] = {
        "rejected": coil_heat(context, circuit.condenser),
        "taken_up": None if taken is None else -taken,
        "work": work(context),
    }
    missing = [term for term, value in measured.items() if value is None]
    if len(missing) > 1:
        return None
    if missing:
        base: Term = "taken_up" if missing[0] == "work" else "work"
        known, wanted = cycle_share(context, base), cycle_share(context, missing[0])
        term = measured[base]
        if known is None or wanted is None or term is None:
            return None
        measured[missing[0]] = term * wanted / known
    rejected, taken_up, done = (measured[term] for term in ("rejected", "taken_up", "work"))
    assert rejected is not None
    assert taken_up is not None
    assert done is not None
    if rejected.nominal_value <= rejected.std_dev:
        # No heat, or none that stands out of its own band: there is nothing to balance.
        return None
    return Balance(rejected, taken_up, done, missing[0] if missing else None)


def heat_balance(context: RunContext) -> UFloat | None:
    """Share of the heat rejected that does not add up.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        Share [0…1]; None while a reading it needs is missing.
    """
    found = balance(context)
    return found.share if found else None
