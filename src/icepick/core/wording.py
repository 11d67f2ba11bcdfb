"""Numbers and lists as a technician would say them, in the units asked for."""

from __future__ import annotations

from collections.abc import Sequence

from uncertainties import UFloat

from icepick.core.quantities import DISPLAY_UNITS, SYMBOLS, Kind, UnitSystem, from_si, spread_from_si
from icepick.core.stations import station

_DECIMALS = 4


def say(value: float, kind: Kind, units: UnitSystem) -> str:
    """An SI value with its display unit, to one decimal: ``9.4 °F``."""
    unit = DISPLAY_UNITS[units][kind]
    text = f"{from_si(value, unit, kind):.1f}".removesuffix(".0")
    symbol = SYMBOLS[unit]
    return f"{'0' if text == '-0' else text} {symbol}".rstrip().replace("-", "−")


def display(
    value: float, kind: Kind, units: UnitSystem, atmosphere: float | None = None
) -> tuple[float, str]:
    """An SI value as (number, unit) for a document, rounded beyond what any instrument shows."""
    unit = DISPLAY_UNITS[units][kind]
    number = from_si(value, unit, kind, atmosphere) if atmosphere else from_si(value, unit, kind)
    return round(number, _DECIMALS), unit


def display_band(value: UFloat, kind: Kind, units: UnitSystem) -> float:
    """The half-width of a value's band in its display unit."""
    return round(spread_from_si(value.std_dev, DISPLAY_UNITS[units][kind], kind), _DECIMALS)


def listing(words: Sequence[str]) -> str:
    """``a``, ``a and b``, ``a, b and c``."""
    return " and ".join(filter(None, [", ".join(words[:-1]), words[-1]])) if words else ""


def titles(codes: Sequence[str]) -> str:
    """The stations' short names, listed."""
    return listing([station(code).short for code in codes])
