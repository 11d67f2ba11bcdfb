"""What the unit's defrost is set to; where nobody noted it, what is common, and named so."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from icepick.core.document.visit import Unit
from icepick.core.practice import Practice
from icepick.core.properties import sensors

Method = Literal["time_temperature", "demand", "off_cycle", "none"]


@dataclass(frozen=True, slots=True)
class Settings:
    """Times [s], temperatures [K]; ``assumed`` names what is common practice and not this unit's own."""

    method: Method | None
    interval: float
    least_interval: float
    start_below: float
    stop_above: float
    limit: float
    demand_difference: float | None
    sensor_rows: tuple[sensors.Row, ...]
    backup: Literal["electric", "other", "none"] | None
    assumed: frozenset[str]

    def known(self, name: str) -> bool:
        """Whether a setting is this unit's own."""
        return name not in self.assumed

    @property
    def reverses(self) -> bool:
        """Whether the unit melts frost by running in cooling."""
        return self.method in (None, "time_temperature", "demand")


def settings_of(unit: Unit, practice: Practice) -> Settings:
    """The settings of a unit's defrost.

    Parameters
    ----------
    unit : Unit
        The equipment.
    practice : Practice
        The limits in force, for what is not noted.

    Returns
    -------
    Settings
        All of them.
    """
    given = unit.defrost
    assumed = set[str]()

    def of(name: str, limit: str) -> float:
        quantity = getattr(given, name, None)
        if quantity is None:
            assumed.add(name)
            return practice.si(limit)
        return float(quantity.si)

    method: Method | None = given.method if given else None
    if unit.source == "water" and method is None:
        method = "none"
    design = unit.design
    difference = given.demand_difference if given else None
    return Settings(
        method,
        of("interval", "defrost_interval"),
        of("least_interval", "defrost_interval_least"),
        of("start_below", "defrost_start"),
        of("stop_above", "defrost_stop"),
        of("limit", "defrost_limit"),
        difference.si if difference else None,
        sensors.table_of(design.sensor_rows if design else None),
        unit.backup_heat,
        frozenset(assumed),
    )
