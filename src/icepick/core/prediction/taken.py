"""The readings of a run that a machine foretells: value, instrument, and where each stands among what is foretold."""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.checks.compressor import draws_nothing, rotor_locked, signs
from icepick.core.checks.water import stated_heat
from icepick.core.circuit.context import RunContext, turned_afar
from icepick.core.circuit.load import medium_entering
from icepick.core.indicators import exchange
from icepick.core.machine.expected import COVERAGE, at_rating
from icepick.core.machine.sized_unit import sized
from icepick.core.machine.sizing import UnsizedError
from icepick.core.machine.surroundings import Surroundings, beyond, surroundings
from icepick.core.prediction.foretold import Foretold, foretold
from icepick.core.prediction.reading import Taken
from icepick.core.prediction.unread import as_told_by


@dataclass(frozen=True, slots=True)
class TakenRun:
    """A run that machines are held against: what they foretell, and what was read of it."""

    context: RunContext
    around: Surroundings
    foretold: Foretold
    readings: tuple[Taken, ...]


def why_not(context: RunContext) -> str:
    """Why no machine is held against a run, in a sentence; empty where one is.

    Parameters
    ----------
    context : RunContext
        The run by the readings that may carry a judgement.

    Returns
    -------
    str
        For the screen.
    """
    if context.running is None:
        return "The compressor is off."
    if context.defrosting:
        return "A defrost does not settle."
    if context.apparent not in ("unknown", "neither", context.commanded):
        return "It runs the other way than it is called for: that comes first."
    if turned_afar(context):
        return "It may run the other way than it is called for: that comes first."
    if context.apparent == "neither":
        return "The slide is on neither side, or nothing is pumped."
    if signs(context).get("pressures") or draws_nothing(context) or rotor_locked(context):
        return "Nothing is pumped."
    return beyond(context, context.running)


def taken(context: RunContext) -> TakenRun | None:
    """What was read of a run, beside what its unit would show.

    Parameters
    ----------
    context : RunContext
        The run by the readings that may carry a judgement.

    Returns
    -------
    TakenRun or None
        None where no machine is held against it.
    """
    mode = context.running
    if mode is None or why_not(context):
        return None
    try:
        around = surroundings(context, mode)
        found = foretold(context.unit, mode, around)
        if found is not None:
            asked = sized(context.unit)
            around = as_told_by(asked, mode, around, found, _readings(context, found))
            found = foretold(context.unit, mode, around)
    except UnsizedError:
        return None
    return TakenRun(context, around, found, tuple(_readings(context, found))) if found else None


_NOT_BY_ITSELF = frozenset({"outdoor_circuit:N", "indoor_circuit:N"})


def _readings(context: RunContext, found: Foretold) -> list[Taken]:
    rated = context.unit.nominal_capacity is not None
    entering = {medium_entering(context, coil) for coil in ("indoor_coil", "outdoor_coil")}
    readings = []
    for column, (station, quantity) in enumerate(found.places):
        if station in entering or station in _NOT_BY_ITSELF:
            continue
        if (not rated and quantity in ("flow", "power")) or _unrated(context, station):
            continue
        current = context.readings.get(station, quantity)
        if current is not None:
            value, method = current.value, current.reading.method or quantity
        elif (station, quantity) == ("source_water", "flow") and (
            flow := exchange.water_flow(context, "source")
        ):
            value, method = flow.value, "table"
        else:
            continue
        number, spread = float(value.nominal_value), float(value.std_dev) / COVERAGE
        if (station, quantity) == ("source_water_out", "temperature"):
            number, spread = _as_stated(context, number, spread)
        readings.append(Taken((station, quantity), number, spread, f"{method} {quantity}", column))
    return readings


def _as_stated(context: RunContext, leaving: float, spread: float) -> tuple[float, float]:
    """Leaving source water as a machine of the model's own heat would have it, where the manufacturer states another."""
    mode, entering = context.running, context.temperature("source_water_in")
    stated = stated_heat(context, mode) if mode is not None else None
    if stated is None or entering is None or mode is None:
        return leaving, spread
    share = at_rating(context.unit, mode)["water_capacity"] / stated
    start = float(entering.nominal_value)
    return start + share * (leaving - start), share * spread


def _unrated(context: RunContext, station: str) -> bool:
    """The current of a compressor whose nameplate nobody noted: volts and motor are anybody's guess."""
    return station == "compressor" and context.unit.compressor.rated_current is None
