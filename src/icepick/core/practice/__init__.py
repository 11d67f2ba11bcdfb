"""The practice profile: every limit of the trade in one place, with unit, standing and reason.

A shop may change a limit; nothing in the rest of the core holds one of its own.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from icepick.core.practice import (
    air,
    call,
    coils,
    command,
    compressor,
    danger,
    defrost,
    heads,
    metering,
    readings,
    valve,
    water,
)
from icepick.core.practice.definition import Limit
from icepick.core.properties.quantities import symbol, to_si

__all__ = ["DEFAULT_PRACTICE", "GROUPS", "LIMITS", "Limit", "Practice", "PracticeError", "limit"]

GROUPS: dict[str, tuple[Limit, ...]] = {
    "stop at once": danger.LIMITS,
    "readings": readings.LIMITS,
    "command and voltage": command.LIMITS,
    "reversing valve": valve.LIMITS,
    "compressor": compressor.LIMITS,
    "metering": metering.LIMITS,
    "coils": coils.LIMITS,
    "air": air.LIMITS,
    "water": water.LIMITS,
    "what answers the call": call.LIMITS,
    "heads": heads.LIMITS,
    "defrost": defrost.LIMITS,
}
"""Every limit by its subject, in the order of the work."""

LIMITS: tuple[Limit, ...] = tuple(limit for group in GROUPS.values() for limit in group)
"""Every limit, in the order of the work."""

_BY_NAME = {limit.name: limit for limit in LIMITS}

IN_ORDER: tuple[tuple[str, str], ...] = (
    ("unit_doubt_near", "unit_doubt_far"),
    ("supply_lukewarm", "skin"),
    ("thermostat_closes", "thermostat_open_still"),
    ("thermostat_open_still", "thermostat_opens"),
    ("switch_closed", "switch_open"),
    ("control_absent", "control_present"),
    ("isentropic_low", "isentropic_high"),
    ("defrost_interval_least", "defrost_interval"),
    ("head_still", "head_fed"),
    ("head_still", "head_fed_in_heating"),
    ("head_fed_in_heating", "head_bleeds_most"),
    ("defrost_start", "defrost_stop"),
    ("current_over", "current_locked"),
    ("defrost_stop_least", "defrost_stop_most"),
)
"""Limits of which the first must stay below the second."""


class PracticeError(ValueError):
    """A limit was set where it means nothing; the message says what it may be."""


@dataclass(frozen=True, slots=True)
class Practice:
    """The limits in force: the defaults, with what the shop has changed.

    ``changes`` maps a limit's name to a value in that limit's own unit.

    Raises
    ------
    KeyError
        There is no limit of one of these names.
    PracticeError
        A value lies outside its limit's bounds, or two limits stand the wrong way round.
    """

    changes: Mapping[str, float] = field(default_factory=dict)
    _in_si: dict[str, float] = field(default_factory=dict, init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        for _, why in _objections(self.changes):
            raise PracticeError(why)

    @classmethod
    def of_what_stands(cls, changes: Mapping[str, float]) -> Practice:
        """The practice by those changes that mean something to this Icepick; an older one may have kept others.

        Parameters
        ----------
        changes : mapping of str to float
            Values by the names of their limits, each in its limit's own unit.

        Returns
        -------
        Practice
            With the defaults for the rest.
        """
        kept = {name: value for name, value in changes.items() if name in _BY_NAME}
        while wrong := {name for name, _ in _objections(kept)}:
            kept = {name: value for name, value in kept.items() if name not in wrong}
        return cls(kept)

    def value(self, name: str) -> float:
        """The limit in its own unit.

        Parameters
        ----------
        name : str
            Name of the limit.

        Returns
        -------
        float
            In its own unit.

        Raises
        ------
        KeyError
            There is no limit of this name.
        """
        return self.changes.get(name, limit(name).default)

    def si(self, name: str) -> float:
        """The limit in SI.

        Parameters
        ----------
        name : str
            Name of the limit.

        Returns
        -------
        float
            [SI].

        Raises
        ------
        KeyError
            There is no limit of this name.
        """
        if name not in self._in_si:
            entry = limit(name)
            self._in_si[name] = to_si(self.value(name), entry.unit, entry.kind)
        return self._in_si[name]


def _objections(changes: Mapping[str, float]) -> Iterator[tuple[str, str]]:
    """The changes that can't stand, and why."""
    for name, value in changes.items():
        entry = limit(name)
        if not entry.allows(value):
            least, most = entry.bounds
            yield name, f"{_said(entry, value)} makes no sense here: {least:g} to {_said(entry, most)}."
    for low, high in IN_ORDER:
        below, above = (changes.get(name, limit(name).default) for name in (low, high))
        if below >= above:
            for name in {low, high} & changes.keys():
                yield (
                    name,
                    f"“{limit(low).title}” must stay below “{limit(high).title}” ({_said(limit(high), above)}).",
                )


def _said(entry: Limit, value: float) -> str:
    return f"{value:g} {symbol(entry.unit, entry.kind)}".rstrip()


def limit(name: str) -> Limit:
    """Look up a limit.

    Parameters
    ----------
    name : str
        Name of the limit.

    Returns
    -------
    Limit
        With unit, standing and reason.

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
