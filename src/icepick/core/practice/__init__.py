"""The practice profile: every limit of the trade in one place, with unit, standing and reason.

A shop may change a limit; nothing in the rest of the core holds one of its own.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from icepick.core.practice import air, coils, command, compressor, metering, readings, valve, water
from icepick.core.practice.definition import Limit
from icepick.core.properties.quantities import to_si

__all__ = ["DEFAULT_PRACTICE", "KNOWN", "LIMITS", "Limit", "Practice", "limit"]

LIMITS: tuple[Limit, ...] = (
    *readings.LIMITS,
    *command.LIMITS,
    *valve.LIMITS,
    *compressor.LIMITS,
    *metering.LIMITS,
    *coils.LIMITS,
    *air.LIMITS,
    *water.LIMITS,
)
"""Every limit, in the order of the work."""

_BY_NAME = {limit.name: limit for limit in LIMITS}
KNOWN = frozenset(_BY_NAME)


@dataclass(frozen=True, slots=True)
class Practice:
    """The limits in force: the defaults, with what the shop has changed.

    ``changes`` maps a limit's name to a value in that limit's own unit.
    """

    changes: Mapping[str, float] = field(default_factory=dict)
    _in_si: dict[str, float] = field(default_factory=dict, init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        for name in self.changes:
            limit(name)

    def value(self, name: str) -> float:
        """The limit in its own unit."""
        return self.changes.get(name, limit(name).default)

    def si(self, name: str) -> float:
        """The limit in SI."""
        if name not in self._in_si:
            entry = limit(name)
            self._in_si[name] = to_si(self.value(name), entry.unit, entry.kind)
        return self._in_si[name]


def limit(name: str) -> Limit:
    """Look up a limit.

    Raises
    ------
    KeyError
        There is no limit of this name.
    """
    try:
        return _BY_NAME[name]
    except KeyError:
        raise KeyError(f"there is no practice limit {name!r}") from None


DEFAULT_PRACTICE = Practice()
