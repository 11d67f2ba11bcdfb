"""A case: a unit, the weather, what the customer says, what is at hand, and what is wrong with it."""

from __future__ import annotations

from typing import Annotated, Literal, Self, cast

from pydantic import Field, FiniteFloat, model_validator

from icepick.core.circuit.graph import stations_of_unit
from icepick.core.document.base import Document, Temperature, field_error
from icepick.core.document.codes import Complaint, Method, Name, QuantityName, Text
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import Group, station
from icepick.core.document.visit import Unit
from icepick.core.machine.faults import machine_fault

Level = Literal["one_fault", "thin_kit", "look_alikes", "two_or_none"]
LEVELS: dict[Level, str] = {
    "one_fault": "one fault, everything at hand",
    "thin_kit": "one fault, little at hand",
    "look_alikes": "two faults that look alike, one of them real",
    "two_or_none": "two faults at once, or nothing wrong at all",
}
Cause = Literal["", "dirt", "fan", "duct", "bulb", "wire", "board", "too_warm", "too_cold"]
"""What lies behind a fault, where that decides what is seen or read."""
Share = Annotated[FiniteFloat, Field(ge=0.02, le=1)]


class Trouble(Document):
    """A fault: how bad, in its own unit; ``where`` is the mode whose part it sits in, null for a part of both."""

    fault: Fault
    severity: Annotated[FiniteFloat, Field(ge=0, le=1000)] = 0.0
    where: FlowMode | None = None
    cause: Cause = ""

    @model_validator(mode="after")
    def _bad_enough(self) -> Self:
        found = machine_fault(self.fault)
        if self.fault in ("none", "reading_suspect"):
            raise field_error("fault", "name a fault of the machine, or none by leaving the list empty.")
        if found is not None and not found.backwards and not 0 < self.severity <= found.most:
            least = f"more than 0 and at most {found.most:g} {found.unit}"
            raise field_error("severity", f"this fault is {least} bad.")
        return self


class Exchanged(Document):
    """Two clamps that sit on each other's pipe until one of them is set again."""

    one: str
    other: str


class Case(Document):
    """What is practiced on.

    ``ran`` is how long the unit has run when one arrives [min]; ``kit`` the instruments at hand, ``out_of_reach`` places
    that none gets to; ``logger`` says whether one was left on it over the last hours; ``individual`` draws how
    this unit differs from its nameplate.
    """

    code: Name
    title: Name
    level: Level
    site: Name
    told: Text
    complaint: Complaint
    unit: Unit
    outdoor: Temperature
    indoor: Temperature
    humidity: Share = 0.7
    indoor_humidity: Share = 0.45
    speed: Annotated[FiniteFloat, Field(ge=0.3, le=1)] = 1.0
    arrives: FlowMode
    ran: Annotated[FiniteFloat, Field(ge=0, le=600)] = 25.0
    troubles: list[Trouble] = Field(default=[], max_length=2)
    kit: list[Method] = Field(default=["clamp", "probe", "infrared", "gauge", "meter"])
    out_of_reach: list[str] = Field(default=[])
    logger: bool = False
    exchanged: Exchanged | None = None
    individual: int = 1

    @property
    def truth(self) -> list[Fault]:
        """Codes of what is wrong; ``none`` where nothing is."""
        return [one.fault for one in self.troubles] or ["none"]


def instrument(code: str, quantity: QuantityName) -> Method:
    """What a place is read with, the right way."""
    group = station(code).group
    if quantity == "pressure":
        return "gauge"
    if group is Group.ELECTRICAL:
        return "clamp" if quantity == "temperature" else "meter"
    if group in (Group.AIR, Group.WATER):
        return "probe"
    return "clamp"


def at_hand(case: Case, code: str, quantity: QuantityName) -> bool:
    """Whether a place can be read with what is there."""
    return (
        code not in case.out_of_reach
        and instrument(code, quantity) in case.kit
        and (code in stations_of_unit(case.unit) or station(code).group is Group.CIRCUIT)
    )


def beyond_reach(case: Case) -> list[str]:
    """What of the unit can't be read, place and quantity: nobody gets at it, or nothing is there to read it with."""
    return [
        f"{code}/{quantity}"
        for code in stations_of_unit(case.unit)
        for quantity in station(code).quantities
        if not at_hand(case, code, cast(QuantityName, quantity))
    ]
