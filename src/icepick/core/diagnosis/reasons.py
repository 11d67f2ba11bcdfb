"""What speaks for and against a fault, numbers against numbers: as measured, as a sound machine would show it, as one with
the fault would."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot, log

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.document.codes import QuantityName
from icepick.core.document.examination import Compared, Measured
from icepick.core.document.heads import as_described
from icepick.core.document.stations import station
from icepick.core.document.wording import display, display_spread, name
from icepick.core.indicators import INDICATORS
from icepick.core.machine.expected import COVERAGE
from icepick.core.prediction.fit import Fit, Fitted
from icepick.core.prediction.told_figures import Shown, figure, place
from icepick.core.properties.quantities import SYMBOLS, Kind

_FITS = 2.5
"""A number that lies so many spreads from both says nothing of either."""
_SAID = log(1.5)
"""A number is said to speak once it is so many times likelier under the one than under the other."""


@dataclass(frozen=True, slots=True)
class _Told:
    """A number that may be told: what it is called, which others say the same, and where it comes from."""

    words: str
    alike: str
    indicator: str = ""
    spot: tuple[str, QuantityName] | None = None


_TOLD: tuple[_Told, ...] = (
    _Told("evaporates at", "low side", "evaporating_temperature"),
    _Told("evaporator TD", "low side", "evaporator_split"),
    _Told("condenses at", "high side", "condensing_temperature"),
    _Told("condenser split", "high side", "condenser_split"),
    _Told("superheat", "superheat", "superheat"),
    _Told("superheat at the compressor", "superheat", "total_superheat"),
    _Told("subcooling", "subcooling", "subcooling"),
    _Told("pressure ratio", "ratio", "compression_ratio"),
    _Told("suction rise in the valve", "rise", "valve_suction_rise"),
    _Told("discharge drop in the valve", "drop", "valve_discharge_drop"),
    _Told("drop across the active device", "active", "active_meter_drop"),
    _Told("drop across the bypassed device", "bypassed", "bypassed_meter_drop"),
    _Told("drop across the drier", "drier", "drier_drop"),
    _Told("", "discharge", spot=("discharge_line", "temperature")),
    _Told("", "supply", spot=("supply_air", "temperature")),
    _Told("", "outdoor air", spot=("outdoor_air_out", "temperature")),
    _Told("", "source water", spot=("source_water_out", "temperature")),
    _Told("", "load water", spot=("load_water_out", "temperature")),
    _Told("", "water flow", spot=("source_water", "flow")),
    _Told("", "current", spot=("compressor", "current")),
    _Told("", "liquid port", spot=("liquid_service_tap", "pressure")),
    _Told("", "condenser bend", spot=("outdoor_coil", "temperature")),
    _Told("", "condenser bend", spot=("indoor_coil", "temperature")),
    _Told("", "common suction", spot=("common_suction", "temperature")),
)
_BY_NAME = {rule.name: rule for rule in INDICATORS}


@dataclass(frozen=True, slots=True)
class Reason:
    """A comparison, with how much likelier what was measured is under the fault, as a logarithm."""

    compared: Compared
    strength: float


def reasons(fit: Fit, own: Fitted, against: Fitted, *, sound: bool) -> list[Reason]:
    """Every number that speaks for or against a hypothesis.

    Parameters
    ----------
    fit : Fit
        All hypotheses, held against the readings.
    own : Fitted
        The one it is about.
    against : Fitted
        What it is held to: the sound machine; of that itself, the likeliest fault.
    sound : bool
        Whether it is the sound machine it is about.

    Returns
    -------
    list of Reason
        The strongest first; of numbers that say the same the strongest alone.
    """
    return [_reason(context, one, sound) for context, one in _found(fit, own, against)]


def _found(fit: Fit, own: Fitted, against: Fitted) -> list[tuple[RunContext, _Found]]:
    """Numbers that speak, as :func:`reasons`, each with its run."""
    found: list[tuple[RunContext, _Found]] = []
    for k, held in enumerate(fit.stack.runs):
        best: dict[str, _Found] = {}
        for told, measured in _measured(held.context):
            here, there = _shown(own, k, told), _shown(against, k, told)
            if here is None or there is None:
                continue
            (here_away, here_likely), (there_away, there_likely) = (
                _beside(measured, one) for one in (here, there)
            )
            if min(here_away, there_away) > _FITS:
                continue
            strength = here_likely - there_likely
            if abs(strength) < _SAID or (
                told.alike in best and abs(best[told.alike].strength) >= abs(strength)
            ):
                continue
            best[told.alike] = _Found(told, measured, here, there, strength)
        found += [(held.context, one) for one in best.values()]
    return sorted(found, key=lambda one: -abs(one[1].strength))


@dataclass(frozen=True, slots=True)
class _Found:
    """A number that speaks: as measured, as the hypothesis makes it, as what that is held to does."""

    told: _Told
    measured: _Read
    here: Shown
    there: Shown
    strength: float


def _reason(context: RunContext, one: _Found, sound: bool) -> Reason:
    pair = (one.here, one.there) if sound else (one.there, one.here)
    compared = _compared(context, one.told, one.measured, *pair, sound)
    return Reason(compared, one.strength)


def apart(fit: Fit, first: Fitted, second: Fitted, title: str) -> str:
    """What separates the likeliest fault from the one after it, in a sentence; empty where nothing read does.

    Parameters
    ----------
    fit : Fit
        All hypotheses, held against the readings.
    first, second : Fitted
        The two.
    title : str
        What the second is called.

    Returns
    -------
    str
        For the screen.
    """
    speaking = next(((context, one) for context, one in _found(fit, first, second) if one.strength > 0), None)
    if speaking is None:
        return ""
    compared = _reason(*speaking, sound=False).compared
    mode, _, read = compared.words.partition(";")[0].partition(": ")
    number = _number(compared.sound)
    return f"What separates it from {title}: in {mode}, {read}, where that would show {number}."


def not_explained(fit: Fit, own: Fitted) -> list[str]:
    """Numbers that neither a machine with the fault nor a sound one would show: something else may be wrong besides.

    Parameters
    ----------
    fit : Fit
        All hypotheses, held against the readings.
    own : Fitted
        The one it is about.

    Returns
    -------
    list of str
        Each with what the fault would show, the farthest off first; of numbers that say the same the farthest alone.
    """
    found: dict[tuple[int, str], tuple[float, str]] = {}
    for k, held in enumerate(fit.stack.runs):
        for told, measured in _measured(held.context):
            here, there = _shown(own, k, told), _shown(fit.none, k, told)
            if here is None or there is None:
                continue
            moved, off = here.value - there.value, measured.value - there.value
            if told.indicator not in _OF_ITS_OWN or moved * off > _TOWARDS * off**2:
                continue  # Worse than thought of the same fault is no second one.
            away = min(_beside(measured, here)[0], _beside(measured, there)[0])
            if away > max(_FAR, found.get((k, told.alike), (0.0, ""))[0]):
                kind = _kind(told)
                read = _in_units(held.context, kind, measured.value, measured.band)
                due = _in_units(held.context, kind, here.value, COVERAGE * here.spread)
                words = f"{_called(held.context, told)} {_plain(read, symbol=True)} (with it {_number(due)})"
                found[k, told.alike] = away, words
    return [words for _, words in sorted(found.values(), key=lambda one: -one[0])]


_OF_ITS_OWN = frozenset(
    {
        "superheat",
        "subcooling",
        "valve_suction_rise",
        "valve_discharge_drop",
        "bypassed_meter_drop",
        "drier_drop",
    }
)
"""Numbers that point to one part; pressures and air go with everything, and so does superheat at the compressor."""
_TOWARDS = 0.25
"""So much of the way from sound, and a fault explains the direction of a number. [our own choice]"""
_FAR = 3.0
"""A number so many spreads from what a fault shows, and from a sound unit, is not explained by it. [our own choice]"""


@dataclass(frozen=True, slots=True)
class _Read:
    """What was measured, and its half-width [SI]."""

    value: float
    band: float


@remembered
def _measured(context: RunContext) -> list[tuple[_Told, _Read]]:
    """Every number of a run that may be told."""
    found = []
    for told in _TOLD:
        value = context.value(*told.spot) if told.spot else _BY_NAME[told.indicator].compute(context)
        if value is not None:
            found.append((told, _Read(float(value.nominal_value), float(value.std_dev))))
    return found


def _shown(fitted: Fitted, k: int, told: _Told) -> Shown | None:
    return place(fitted, k, told.spot) if told.spot else figure(fitted, k, told.indicator)


def _beside(measured: _Read, shown: Shown) -> tuple[float, float]:
    """How many spreads what was measured lies from what is shown, and how likely that is, as a logarithm."""
    spread = hypot(shown.spread, measured.band / COVERAGE)
    away = abs(measured.value - shown.value) / spread
    return away, -0.5 * away**2 - log(spread)


def _compared(
    context: RunContext, told: _Told, measured: _Read, sound: Shown, fault: Shown, of_sound: bool
) -> Compared:
    kind = _kind(told)
    read = _in_units(context, kind, measured.value, measured.band)
    due, other = (_in_units(context, kind, shown.value, COVERAGE * shown.spread) for shown in (sound, fault))
    with_fault = (
        f"with the likeliest fault {_number(other)}" if of_sound else f"with this fault {_number(other)}"
    )
    start = f"{context.run.mode}: {_called(context, told)} {_plain(read, symbol=True)}"
    return Compared(
        run=context.run.id,
        name=told.indicator or (as_described(context.unit, told.spot[0]) if told.spot else ""),
        quantity=told.spot[1] if told.spot else None,
        measured=read,
        sound=due,
        fault=other,
        words=f"{start}; sound it should be {_number(due)}, {with_fault}",
    )


def _called(context: RunContext, told: _Told) -> str:
    return told.words or name(context.unit, told.spot[0] if told.spot else "")


def _kind(told: _Told) -> Kind:
    if told.spot is not None:
        return station(told.spot[0]).quantities[told.spot[1]].kind
    return _BY_NAME[told.indicator].kind


def _in_units(context: RunContext, kind: Kind, value: float, spread: float) -> Measured:
    number, unit = display(value, kind, context.units, context.atmosphere)
    return Measured(value=number, unit=unit, uncertainty=display_spread(spread, kind, context.units))


def _decimals(one: Measured) -> int:
    return 0 if one.uncertainty >= 1 else 1 if one.uncertainty >= 0.15 else 2


def _plain(one: Measured, *, symbol: bool) -> str:
    text = f"{one.value:,.{_decimals(one)}f}".replace("-", "−")
    text = text.removeprefix("−") if not any(digit in "123456789" for digit in text) else text
    return f"{text} {SYMBOLS[one.unit]}".rstrip() if symbol else text


def _number(one: Measured) -> str:
    return f"{_plain(one, symbol=False)} ± {one.uncertainty:,.{_decimals(one)}f}"
