"""The shape of a limit."""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.properties.quantities import Kind

COMMON = "common practice"


@dataclass(frozen=True, slots=True)
class Limit:
    """One limit: its name, default, unit, the standing of that default and why it is there."""

    name: str
    default: float
    unit: str
    kind: Kind
    standing: str
    reason: str

    def allows(self, value: float) -> bool:
        """Whether a shop may set it to this: above zero, and not ten times the default or more."""
        return 0 < value < 10 * self.default
