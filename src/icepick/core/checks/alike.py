"""Two circuits of one unit held against each other: the best comparison there is, while both are called for the same and
take in the same air or water.

What siblings may lie apart is worked out from what the machine model does not know of them and how much of that they have in
common. One reading cannot tell which of two is off; that one is, which lies farther from what the unit should show.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import hypot, sqrt

import numpy as np
from numpy.typing import NDArray
from uncertainties import UFloat, ufloat

from icepick.core.checks.rule import CheckRule, Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import medium_entering
from icepick.core.circuit.saturation import at_pressure
from icepick.core.document.roles import Role
from icepick.core.document.stations import Group, station
from icepick.core.document.wording import name, say
from icepick.core.machine.expected import expected
from icepick.core.machine.siblings import together
from icepick.core.properties.quantities import Kind
from icepick.core.properties.refrigerants import OutsideRangeError

Array = NDArray[np.float64]
Spot = tuple[str, str]

_FARTHEST = 2.8
"""Standard deviations that the farthest of some twenty places of two sound siblings may lie apart. [our own choice]"""
_MODEL = 0.4
"""What the model gets wrong of one sibling and not of the other [K, one standard deviation]. [our own choice]"""


@dataclass(frozen=True, slots=True)
class _Apart:
    """How far two circuits lie apart at one place [K], beyond what their conditions make of it: how far they may, and how
    many half-widths each lies from what it should show."""

    place: Spot
    by: UFloat
    may: float
    own: float
    other: float
    than: RunContext

    @property
    def times(self) -> float:
        return abs(float(self.by.nominal_value)) / (self.may + float(self.by.std_dev))


def alike(context: RunContext, siblings: Sequence[RunContext]) -> Outcome | None:
    """A run held against its siblings'.

    Parameters
    ----------
    context : RunContext
        The run, by the readings that may carry a judgement.
    siblings : sequence of RunContext
        Runs on the other circuits of the unit, likewise.

    Returns
    -------
    Outcome or None
        None while no sibling was run in this mode.
    """
    if context.commanded is None or context.defrosting:
        return None
    same = [one for one in siblings if _called_alike(context, one)]
    if not same:
        return None
    odd = next(_runs_otherwise(context, same), None)
    if odd is not None:
        return odd
    near = [one for one in same if _in_one_weather(context, one)]
    if not near:
        return _not_comparable(context, same[-1])
    apart = [found for one in near for found in _apart(context, one)]
    if not apart:
        return Outcome("needs_readings", f"Needs a pipe that was read on {_circuit(near[-1])} too.")
    return _judged(context, max(apart, key=lambda one: one.times), len(apart))


def _called_alike(context: RunContext, other: RunContext) -> bool:
    run, its = context.run, other.run
    stage = {run.compressor_stage, its.compressor_stage} - {None}
    speed = [one.compressor_speed for one in (run, its) if one.compressor_speed is not None]
    at_one_load = len(stage) < 2 and (len(speed) < 2 or abs(speed[0] - speed[1]) < _ONE_SPEED)
    return run.mode == its.mode and run.after_repair == its.after_repair and at_one_load


_ONE_SPEED = 5.0
"""Percent of the rated speed within which two compressors run alike. [our own choice]"""


def _circuit(context: RunContext) -> str:
    return f"circuit {context.run.circuit}"


def _runs_otherwise(context: RunContext, siblings: Sequence[RunContext]) -> Iterator[Outcome]:
    """Two valves, called for the same, that do not stand alike."""
    for other in siblings:
        ways = {context.apparent, other.apparent}
        if "unknown" in ways or len(ways) == 1:
            continue
        as_told = context.apparent == context.commanded
        odd, right = (other, context) if as_told else (context, other)
        words = (
            f"called for {context.commanded}, {_circuit(right)} {_way(right)}, {_circuit(odd)} {_way(odd)}."
        )
        yield Outcome("watch" if as_told else "fail", words[0].upper() + words[1:])


def _way(context: RunContext) -> str:
    return "is on neither side" if context.apparent == "neither" else f"runs in {context.apparent}"


def _in_one_weather(context: RunContext, other: RunContext) -> bool:
    """They take in the same air and water: what was read on one of them alone holds for both."""
    most = context.practice.si("siblings_conditions")
    for coil in ("outdoor_coil", "indoor_coil"):
        here, there = (one.temperature(medium_entering(one, coil)) for one in (context, other))
        if here is not None and there is not None and abs((here - there).nominal_value) > most:
            return False
    return True


def _not_comparable(context: RunContext, other: RunContext) -> Outcome:
    entering = [medium_entering(context, coil) for coil in ("outdoor_coil", "indoor_coil")]
    words = f"{_circuit(other)} was read in other conditions: read both at the same entering temperatures."
    return Outcome("needs_readings", words[0].upper() + words[1:], needs=entering)


def _apart(context: RunContext, other: RunContext) -> Iterator[_Apart]:
    for current in context.readings.all():
        place = current.reading.station, current.reading.quantity
        if station(place[0]).group not in (Group.LINE, Group.TAP):
            continue
        here, there = _shown(context, place), _shown(other, place)
        if here is not None and there is not None:
            yield _between(place, here, there, other)


@dataclass(frozen=True, slots=True)
class _Shown:
    """What one circuit shows at a place [K], how far that is from what it should show, and what would move it."""

    read: UFloat
    off: UFloat
    half_widths: float
    slopes: Array
    unknowns: tuple[str, ...]


def _shown(context: RunContext, place: Spot) -> _Shown | None:
    value, sound = context.value(*place), expected(context)
    read = None if value is None else _degrees(context, place, value)
    if read is None or value is None:
        return None
    if place not in sound.slopes:
        return _Shown(read, read, 0.0, np.zeros(0), ())
    plain, step = sound.plain[place], 1e-3 * sound.plain[place]
    should, more = (_degrees(context, place, _exactly(one)) for one in (plain, plain + step))
    if should is None or more is None:
        return None
    per = float((more - should).nominal_value) / step
    off = read - float(should.nominal_value)
    spread = max(per * sound.stations[place].spread, 1e-9)
    return _Shown(read, off, abs(off.nominal_value) / spread, per * sound.slopes[place], sound.unknowns)


def _exactly(value: float) -> UFloat:
    return ufloat(value, 1e-9)


def _between(place: Spot, here: _Shown, there: _Shown, other: RunContext) -> _Apart:
    if not (here.unknowns and there.unknowns):
        return _Apart(place, here.read - there.read, 0.0, 0.0, 0.0, other)
    may = _FARTHEST * hypot(_siblings_spread(here, there), _MODEL)
    return _Apart(place, here.off - there.off, may, here.half_widths, there.half_widths, other)


def _siblings_spread(here: _Shown, there: _Shown) -> float:
    """One standard deviation of what lies between two siblings, each unknown as far their own as siblings' are."""
    every = list(dict.fromkeys([*here.unknowns, *there.unknowns]))
    moves = np.zeros((2, len(every)))
    for row, shown in enumerate((here, there)):
        moves[row, [every.index(name) for name in shown.unknowns]] = shown.slopes
    one, two = moves
    return sqrt(float(np.sum(one**2 + two**2 - 2 * together(every) * one * two)))


def _side(context: RunContext, tap: str) -> Role:
    return "high" if context.circuit is not None and context.circuit.is_on(tap, "high") else "low"


def _degrees(context: RunContext, place: Spot, value: UFloat) -> UFloat | None:
    """A temperature as it is, a pressure as the saturation temperature it stands for [K]."""
    if place[1] != "pressure":
        return value
    try:
        return at_pressure(context, value, "bubble" if _side(context, place[0]) == "high" else "dew")
    except OutsideRangeError:
        return None


def _judged(context: RunContext, worst: _Apart, places: int) -> Outcome:
    tolerance = context.practice.si("siblings_apart")
    off, band = float(worst.by.nominal_value), float(worst.by.std_dev)
    margin = max(tolerance, worst.may) - abs(off)
    limit = max(tolerance, worst.may)
    kind = Kind.TEMPERATURE_DIFFERENCE
    what = name(context.unit, worst.place[0])
    degrees = say(abs(off), kind, context.units)
    if worst.place[1] == "pressure":
        what = f"saturation at the {what}"
    than = _circuit(worst.than)
    within = f"siblings should lie within {say(limit, kind, context.units)} of each other"
    hot = ("higher", "lower") if worst.place[1] == "pressure" else ("warmer", "colder")
    how = f"{degrees} {hot[0] if off > 0 else hot[1]} than on {than}"
    if abs(off) <= limit:
        words = f"Like {than}: farthest apart: {what}, {how}; {within}."
        if places == 1:
            words = f"Like {than} at the one place read on both, {what}: {how}; {within}."
        return Outcome("pass", words, worst.by, margin, limit=limit)
    what = f"{what[0].upper()}{what[1:]}"
    if worst.may == 0:
        words = f"{what}: {how}, and nothing says how much of that the conditions make."
        return Outcome("watch", words, worst.by, margin, limit=limit)
    words = f"{what}: {how}, conditions allowed for; {within}."
    far = abs(off) > hypot(tolerance, worst.may) + band
    if worst.own < worst.other:
        words += f" {than[0].upper()}{than[1:]} is the one farther from what this unit should show."
        return Outcome("watch", words, worst.by, margin, limit=limit)
    return Outcome("fail" if far else "watch", words, worst.by, margin, limit=limit)


ALIKE = CheckRule(
    "circuits.alike",
    "sibling circuit",
    Kind.TEMPERATURE_DIFFERENCE,
    "siblings_apart",
    lambda context: None,
)
"""Judged beside the other circuits' runs, by :func:`alike`."""
