"""The practice limits as the screens show them."""

from __future__ import annotations

from pydantic import BaseModel

from icepick.core.checks import CHECKS
from icepick.core.practice import GROUPS, Limit
from icepick.core.properties.quantities import DISPLAY_UNITS, UnitSystem, from_si, symbol, to_si
from icepick.store.practice import practice
from icepick.web.connection import connection


class LimitInUnits(BaseModel):
    """The value in force, the default, and the unit both are shown in."""

    value: float
    default: float
    unit: str


class LimitView(BaseModel):
    """A practice limit; ``value`` is the one in force, in the limit's own unit, ``shown`` how a screen writes it,
    ``checks`` the titles of the checks held to it."""

    name: str
    title: str
    group: str
    value: float
    default: float
    unit: str
    shown: dict[UnitSystem, LimitInUnits]
    standing: str
    reason: str
    checks: list[str]


def limits() -> list[LimitView]:
    """Every limit, with the value in force."""
    in_force = practice(connection())
    return [
        LimitView(
            name=entry.name,
            title=entry.title,
            group=group,
            value=in_force.value(entry.name),
            default=entry.default,
            unit=symbol(entry.unit, entry.kind),
            shown={units: _shown(entry, in_force.value(entry.name), units) for units in DISPLAY_UNITS},
            standing=entry.standing,
            reason=entry.reason,
            checks=[check.title for check in CHECKS if check.practice == entry.name],
        )
        for group, entries in GROUPS.items()
        for entry in entries
    ]


def _shown(entry: Limit, value: float, units: UnitSystem) -> LimitInUnits:
    (shown, unit), (default, _) = entry.shown(value, units), entry.shown(entry.default, units)
    return LimitInUnits(value=shown, default=default, unit=unit)


def own_value(entry: Limit, value: float, units: UnitSystem) -> float:
    """A value that was typed in the units of a screen, in the limit's own unit.

    Parameters
    ----------
    entry : Limit
        The limit.
    value : float
        As typed.
    units : {"field", "metric"}
        The units of the screen.

    Returns
    -------
    float
        In the limit's own unit.
    """
    unit = entry.unit_in(units)
    if unit == entry.unit:
        return value
    return round(from_si(to_si(value, unit, entry.kind), entry.unit, entry.kind), 6)
