"""The shape of a limit."""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.properties.quantities import Kind

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
