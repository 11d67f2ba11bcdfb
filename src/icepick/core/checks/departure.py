"""A figure held to what this unit, sound, should show in the run's conditions: the limit applies to the departure.

What is expected has a band, of what nobody knows of the unit and nobody read of its conditions. Within it nothing is a
finding, however small the limit; nor within the limit, however narrow the band.
"""

from __future__ import annotations

from math import exp, floor, hypot, log10

from uncertainties import UFloat

from icepick.core.checks.rule import Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import medium_entering
from icepick.core.document.wording import display, display_spread, listing, names, say
from icepick.core.machine.expected import Value, expected
from icepick.core.properties.quantities import Kind, UnitSystem


def should_show(context: RunContext, figure: str) -> Value | None:
    """What a figure of the sound unit should be in this run.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    figure : str
        Its name, as in ``machine/figures.py``.

    Returns
    -------
    Value or None
        [SI], with its band; None where the machine model says nothing.
    """
    return expected(context).figures.get(figure)


def with_band(should: Value, kind: Kind, units: UnitSystem) -> str:
    """An expected value and its band in words: *24 ± 4 °F*.

    Parameters
    ----------
    should : Value
        What is expected [SI].
    kind : Kind
        What it measures.
    units : UnitSystem
        Units of what comes out.

    Returns
    -------
    str
        For a sentence.
    """
    if should.spread <= 0:
        return say(should.value, kind, units)
    symbol = say(should.value, kind, units).partition(" ")[2]
    spread = display_spread(should.spread, kind, units)
    # As many digits as the band has: one, or two where it begins with 1 or 2.
    place = floor(log10(spread))
    digits = (1 if spread < 3 * 10**place else 0) - place
    number, band = round(display(should.value, kind, units)[0], digits), round(spread, digits)
    shown = max(digits, 0)
    return f"{number:,.{shown}f} ± {band:,.{shown}f} {symbol}".replace("-", "−").rstrip()


def judge_departure(
    context: RunContext,
    value: UFloat,
    should: Value,
    tolerance: float,
    kind: Kind,
    *,
    what: str,
    above: str,
    below: str,
) -> Outcome:
    """A figure held to what the sound unit should show, either way.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    value : UFloat
        What was measured [SI].
    should : Value
        What it should be [SI].
    tolerance : float
        How far it may depart from that, whatever the band [SI].
    kind : Kind
        What it measures.
    what : str
        What the figure is called.
    above : str
        What too much of it means.
    below : str
        What too little of it means.

    Returns
    -------
    Outcome
        ``pass`` within what is expected, or the tolerance less the reading's own band; ``fail`` beyond all three together.
    """
    number = float(value.nominal_value)
    off = number - should.value
    margin = max(tolerance, should.spread) - abs(off)
    said = f"{what} of {say(number, kind, context.units)}, where this unit should show "
    said += with_band(should, kind, context.units)
    if abs(off) <= max(tolerance - value.std_dev, should.spread):
        unsaid = _too_wide(context, should, tolerance)
        return unsaid or Outcome("pass", f"{said}.", value, margin, limit=should.value)
    far = abs(off) > hypot(tolerance, should.spread) + value.std_dev
    words = f"{said}: {above if off > 0 else below}."
    return Outcome("fail" if far else "watch", words, value, margin, limit=should.value)


WIDE = 2.0
"""An expected band of so many tolerances judges nothing while conditions are unread. [our own choice]"""


def _too_wide(context: RunContext, should: Value, tolerance: float) -> Outcome | None:
    """Where nothing departs only because nobody read the conditions, they are asked for."""
    if should.spread <= WIDE * tolerance:
        return None
    lacks = {station: names(context.unit, [station]) for station in _unread(context)}
    wet = context.running == "cooling" and context.unit.load == "air"
    if wet and "return_air" not in lacks and "indoor_humidity" in expected(context).unread:
        lacks["return_air"] = "the return air's wet bulb"
    if not lacks:
        return None
    return Outcome("needs_readings", f"Needs {listing(list(lacks.values()))}.", needs=list(lacks))


def _unread(context: RunContext) -> list[str]:
    """What enters a coil and was not read."""
    entering = (medium_entering(context, coil) for coil in ("outdoor_coil", "indoor_coil"))
    return [station for station in entering if context.temperature(station) is None]


def may_show(context: RunContext, should: Value | None) -> float | None:
    """The most that the sound unit may show in these conditions; None while what enters a coil is unread: what nobody read
    excuses nothing.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    should : Value or None
        What is expected [SI].

    Returns
    -------
    float or None
        [SI].
    """
    return None if should is None or _unread(context) else should.value + should.spread


def most_here(context: RunContext, figure: str, limit_name: str) -> float:
    """The most a figure may be: the limit, or what the sound unit may show in these conditions where that is more.

    A shop that has set the limit itself is held to it as it stands. So is everybody while what enters a coil is unread:
    what nobody read excuses nothing.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    figure : str
        Its name, as in ``machine/figures.py``.
    limit_name : str
        The practice limit: what the trade allows in ordinary conditions.

    Returns
    -------
    float
        [SI].
    """
    should, limit = should_show(context, figure), context.practice.si(limit_name)
    if should is None or should.value <= 0 or limit_name in context.practice.changes or _unread(context):
        return limit
    # Heat through pipes and bodies is known by a factor: what may be a third more may be half as much again.
    return max(limit, should.value * exp(min(should.spread / should.value, 1.0)))


def least_here(context: RunContext, figure: str, limit_name: str) -> float:
    """The least a figure may be: the limit, or what the sound unit may show in these conditions where that is less.

    A shop that has set the limit itself is held to it as it stands.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    figure : str
        Its name, as in ``machine/figures.py``.
    limit_name : str
        The practice limit: what the trade asks for in ordinary conditions.

    Returns
    -------
    float
        [SI].
    """
    should, limit = should_show(context, figure), context.practice.si(limit_name)
    if should is None or limit_name in context.practice.changes:
        return limit
    return min(limit, should.value - should.spread)
