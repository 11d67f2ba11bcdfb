"""Numbers and lists as a technician would say them, in the units asked for."""

from __future__ import annotations

from collections.abc import Sequence

from uncertainties import UFloat

from icepick.core.document.heads import as_described, split
from icepick.core.document.stations import station
from icepick.core.document.visit import Observation, Unit
from icepick.core.document.words import METERS, OBSERVATIONS, QUANTITIES
from icepick.core.properties.quantities import (
    DISPLAY_UNITS,
    Kind,
    UnitSystem,
    from_si,
    spread_from_si,
    symbol,
)

_DECIMALS = 4


def say(value: float, kind: Kind, units: UnitSystem, atmosphere: float | None = None) -> str:
    """An SI value with its display unit: ``9.4 °F``, ``118 psig``, ``1,240 cfm``, ``4.12``.

    ``atmosphere`` [Pa] is what a gauge pressure is above, where that is not sea level.

    Parameters
    ----------
    value : float
        A number [SI].
    kind : Kind
        What the number measures.
    units : UnitSystem
        Units of what comes out.
    atmosphere : float or None
        What a gauge pressure is above [Pa]; sea level where None.

    Returns
    -------
    str
        Number and symbol.
    """
    unit = DISPLAY_UNITS[units][kind]
    number = from_si(value, unit, kind, atmosphere) if atmosphere else from_si(value, unit, kind)
    decimals = 2 if kind is Kind.RATIO else 1 if abs(number) < 1000 else 0
    text = f"{number:,.{decimals}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return f"{'0' if text == '-0' else text} {symbol(unit, kind)}".rstrip().replace("-", "−")


def display(
    value: float, kind: Kind, units: UnitSystem, atmosphere: float | None = None
) -> tuple[float, str]:
    """An SI value as (number, unit) for a document, rounded beyond what any instrument shows.

    Parameters
    ----------
    value : float
        A number [SI].
    kind : Kind
        What the number measures.
    units : UnitSystem
        Units of what comes out.
    atmosphere : float or None
        What a gauge pressure is above [Pa]; sea level where None.

    Returns
    -------
    (float, str)
        Number and name of its unit.
    """
    unit = DISPLAY_UNITS[units][kind]
    number = from_si(value, unit, kind, atmosphere) if atmosphere else from_si(value, unit, kind)
    return round(number, _DECIMALS), unit


def display_band(value: UFloat, kind: Kind, units: UnitSystem) -> float:
    """The half-width of a value's band in its display unit.

    Parameters
    ----------
    value : UFloat
        A value with its band [SI].
    kind : Kind
        What the number measures.
    units : UnitSystem
        Units of what comes out.

    Returns
    -------
    float
        In the display unit.
    """
    return display_spread(value.std_dev, kind, units)


def display_spread(spread: float, kind: Kind, units: UnitSystem) -> float:
    """A half-width [SI] in its display unit.

    Parameters
    ----------
    spread : float
        Half-width of a band [SI].
    kind : Kind
        What the number measures.
    units : UnitSystem
        Units of what comes out.

    Returns
    -------
    float
        In the display unit.
    """
    return round(spread_from_si(spread, DISPLAY_UNITS[units][kind], kind), _DECIMALS)


def listing(words: Sequence[str]) -> str:
    """``a``, ``a and b``, ``a, b and c``.

    Parameters
    ----------
    words : sequence of str
        Any number of them.

    Returns
    -------
    str
        Empty for none.
    """
    return " and ".join(filter(None, [", ".join(words[:-1]), words[-1]])) if words else ""


def names(unit: Unit, codes: Sequence[str], most: int | None = None) -> str:
    """The stations' short names on this unit, listed; names hold commas, so semicolons part them.

    Of more than ``most`` only the first are named, and how many others there are.

    Parameters
    ----------
    unit : Unit
        The equipment.
    codes : sequence of str
        Codes of stations.
    most : int or None
        How many to name before the rest are counted; all where None.

    Returns
    -------
    str
        For a sentence.
    """
    shown = codes if most is None or len(codes) <= most + 1 else codes[:most]
    listed = "; ".join(name(unit, code) for code in shown)
    return listed if len(shown) == len(codes) else f"{listed}; and {len(codes) - len(shown)} others"


def name(unit: Unit, code: str) -> str:
    """A station's short name on this unit: its metering devices go by their kind, *outdoor TXV, coil side*.

    Parameters
    ----------
    unit : Unit
        The equipment.
    code : str
        Code of the station.

    Returns
    -------
    str
        For a sentence.
    """
    whole = as_described(unit, code)
    base, head = split(whole)
    side, _, rest = base.partition("_meter_")
    if not rest:
        return station(whole).short
    of = f", head {head}" if head else ""
    return f"{device(unit, side)}, {rest.replace('_', ' ')}{of}"


def device(unit: Unit, side: str) -> str:
    """A metering device by its side and kind: *indoor TXV*.

    Parameters
    ----------
    unit : Unit
        The equipment.
    side : str
        ``indoor`` or ``outdoor``, or the name of the part.

    Returns
    -------
    str
        For a sentence.
    """
    meter = unit.indoor_meter if side.startswith("indoor") else unit.outdoor_meter
    kind = METERS[meter.kind] if meter.kind != "none" else "metering device"
    return f"{side.removesuffix('_meter')} {kind}"


def noted(one: Observation) -> str:
    """What was seen, was looked for and not seen, or can't be reached.

    Parameters
    ----------
    one : Observation
        As it was noted.

    Returns
    -------
    str
        ``filter dirty``, ``not so: filter dirty``, ``can't reach: drier, outdoor side``.
    """
    if one.code == "out_of_reach":
        code, _, quantity = str(one.value).partition("/")
        of = f", {QUANTITIES[quantity]}" if quantity not in ("", "temperature") else ""
        return f"{OBSERVATIONS[one.code]}: {station(code).short}{of}"
    return f"{'not so: ' if one.value is False else ''}{OBSERVATIONS[one.code]}"
