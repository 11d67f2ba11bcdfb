"""The shape of a limit."""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.properties.quantities import DISPLAY_UNITS, Kind, UnitSystem, from_si, symbol, to_si

COMMON = "common practice"


_TEMPERATURE_SWAY = 40
"""How far a shop may move a limit that is a temperature [°F]."""


@dataclass(frozen=True, slots=True)
class Limit:
    """One limit: its name, default, unit, the standing of that default and why it is there.

    ``most`` is set where physics ends it sooner than common sense does.
    """

    name: str
    default: float
    unit: str
    kind: Kind
    standing: str
    reason: str
    most: float | None = None

    @property
    def title(self) -> str:
        """Its name in words."""
        return self.name.replace("_", " ")

    def shown(self, value: float, units: UnitSystem) -> tuple[float, str]:
        """A value of it as it is shown, and how its unit is written: in field units as the trade quotes it."""
        unit = self.unit_in(units)
        if unit != self.unit:
            value = round(from_si(to_si(value, self.unit, self.kind), unit, self.kind), 3) + 0.0
        return value, symbol(unit, self.kind)

    def unit_in(self, units: UnitSystem) -> str:
        """The unit it is shown in."""
        return self.unit if units == "field" else DISPLAY_UNITS[units][self.kind]

    @property
    def bounds(self) -> tuple[float, float]:
        """The range a shop may set it in [its own unit]: a temperature within 40 °F of its default, anything else from a
        tenth of it to ten times it, a share of a whole to that whole. [our own choice]"""
        if self.kind is Kind.TEMPERATURE:
            return self.default - _TEMPERATURE_SWAY, self.default + _TEMPERATURE_SWAY
        most = 10 * self.default
        if self.unit == "percent":
            most = min(most, 100.0 if self.default < 100 else 2 * self.default)
        return self.default / 10, most if self.most is None else self.most

    def allows(self, value: float) -> bool:
        """Whether a shop may set it to this, the other limits aside.

        Parameters
        ----------
        value : float
            In the limit's own unit.

        Returns
        -------
        bool
            True within its bounds.
        """
        least, most = self.bounds
        return least <= value <= most
