"""The one reading that, left out, lets all the others fit: which it is, and what it should have been."""

from __future__ import annotations

from typing import cast

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.belief import Belief
from icepick.core.document.codes import QuantityName
from icepick.core.document.examination import Measured, Suspect
from icepick.core.document.heads import as_described
from icepick.core.document.stations import station
from icepick.core.document.wording import display, display_spread, name, say
from icepick.core.document.words import QUANTITIES
from icepick.core.machine.expected import COVERAGE
from icepick.core.prediction.fit import Fit
from icepick.core.prediction.slips import Slip
from icepick.core.properties.quantities import Kind


def suspected(belief: Belief, place: int) -> Suspect | None:
    """Which reading is wrong under a hypothesis, of a sound machine or beside a fault.

    Parameters
    ----------
    belief : Belief
        What is thought of each hypothesis.
    place : int
        Which hypothesis.

    Returns
    -------
    Suspect or None
        None where none is, and where physics has named it already.
    """
    hypothesis, fit = belief.hypotheses[place], belief.fit
    if fit is None:
        return None
    if hypothesis.fault == "reading_suspect":
        return suspect(fit) if hypothesis.variant == "one off" else None
    fitted = belief.fitted(place)
    return told(fit, fitted.wrong) if fitted is not None and fitted.wrong is not None else None


def suspect(fit: Fit) -> Suspect | None:
    """The likeliest wrong reading of a sound machine.

    Parameters
    ----------
    fit : Fit
        All hypotheses, held against the readings.

    Returns
    -------
    Suspect or None
        None while nothing was read.
    """
    return told(fit, fit.wrong.likeliest) if fit.wrong else None


def told(fit: Fit, slip: Slip) -> Suspect:
    """A wrong reading in words.

    Parameters
    ----------
    fit : Fit
        All hypotheses, held against the readings.
    slip : Slip
        Which is wrong, and what it should have been.

    Returns
    -------
    Suspect
        In the units asked for.
    """
    stack = fit.stack
    run = stack.runs[stack.owner[slip.reading]]
    context, taken = run.context, [one for held in stack.runs for one in held.readings]
    code, quantity = taken[slip.reading].place
    kind = station(code).quantities[quantity].kind
    number, unit = display(slip.value, kind, context.units, context.atmosphere)
    spread = display_spread(COVERAGE * slip.spread, kind, context.units)
    other = taken[slip.other].place[0] if slip.other is not None else None
    read = say(taken[slip.reading].value, kind, context.units, context.atmosphere)
    should = say(slip.value, kind, context.units, context.atmosphere)
    return Suspect(
        run=context.run.id,
        station=as_described(context.unit, code),
        quantity=cast(QuantityName, quantity),
        should=Measured(value=number, unit=unit, uncertainty=spread),
        exchanged_with=None if other is None else as_described(context.unit, other),
        slip=slip.words if slip.words and other is None else None,
        words=_words(context, code, quantity, read, should, other, slip.words, kind),
    )


def _words(
    context: RunContext,
    code: str,
    quantity: str,
    read: str,
    should: str,
    other: str | None,
    slip: str,
    kind: Kind,
) -> str:
    place = name(context.unit, code)
    what = place if quantity == "temperature" else f"{place}, {QUANTITIES[quantity]}"
    if other is not None:
        sensors = "thermometers" if kind is Kind.TEMPERATURE else "gauges"
        return f"All fits if the {sensors} at {place} and {name(context.unit, other)} were exchanged."
    if slip:
        return f"{what}: {read}; all fits if it was {slip}: {should}."
    return f"{what}: {read}; by all the other readings it should be about {should}."
