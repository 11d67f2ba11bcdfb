"""What can be done at the bench, and what it takes: minutes, refrigerant, money."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, FiniteFloat, model_validator

from icepick.bench.case import Case, instrument
from icepick.core.diagnosis.question import ANOTHER_TAP, MINUTES
from icepick.core.document.base import Document, field_error
from icepick.core.document.codes import Method, QuantityName, StationCode
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import station
from icepick.core.properties.refrigerants import SAFETY_GROUPS

Care = Literal["lock_out", "gloves", "ventilate"]
CARES: dict[Care, tuple[str, str]] = {
    "lock_out": ("lock out", "Lock out and verify zero voltage; wait for capacitors."),
    "gloves": ("glasses, gloves", "Safety glasses and gloves on before a gauge goes on or comes off."),
    "ventilate": ("air it, no flames", "A2L or A3 refrigerant: air the place, no flames, rated tools."),
}
"""Cautions, in short and as they are said. [common practice; the-trade.md 9]"""


def cares_on(case: Case) -> list[Care]:
    """The cautions that this unit can call for."""
    flammable = SAFETY_GROUPS[case.unit.refrigerant] != "A1"
    return [care for care in CARES if flammable or care != "ventilate"]


class Take(Document):
    """Read a place; by infrared where ``method`` says so, else by what the place is read with."""

    act: Literal["take"]
    station: StationCode
    quantity: QuantityName
    method: Method | None = None

    @model_validator(mode="after")
    def _there_is_such_a_place(self) -> Self:
        try:
            known = station(self.station)
        except KeyError:
            raise field_error("station", f"there is no station {self.station!r}.") from None
        if self.quantity not in known.quantities:
            can = ", ".join(known.quantities)
            raise field_error("quantity", f"{known.title} has no {self.quantity}; it takes {can}.")
        return self


class LookAt(Document):
    """Look, listen or feel."""

    act: Literal["look"]
    look: str


class Switch(Document):
    """Call for another mode, or turn the unit off."""

    act: Literal["switch"]
    mode: Literal["heating", "cooling", "off"]


class Wait(Document):
    act: Literal["wait"]
    minutes: Annotated[FiniteFloat, Field(ge=1, le=60)]


class Careful(Document):
    """Take a caution before what needs it."""

    act: Literal["care"]
    care: Care


class ForceDefrost(Document):
    """Force a defrost and record it, from before it until the unit heats again."""

    act: Literal["defrost"]


class Logger(Document):
    """Read the logger that was left on the unit."""

    act: Literal["logger"]


class Hint(Document):
    """Buy what an expert would do next."""

    act: Literal["hint"]


class RepairIt(Document):
    """RepairIt or replace what one takes to be at fault; the unit then runs on as it is."""

    act: Literal["repair"]
    fault: Fault
    where: FlowMode | None = None


Step = Annotated[
    Take | LookAt | Switch | Wait | Careful | ForceDefrost | Logger | Hint | RepairIt,
    Field(discriminator="act"),
]

INFRARED = 0.3
SWITCHED, HINTED, CARED = 1.0, 5.0, 1.0
"""Minutes: a gun aimed; the thermostat set over; a hint paid for; a caution taken. [our own choice]"""
SETTLES = 10.0
"""What is waited after a change of mode. [common practice]"""
DEFROST = 28.0
"""A defrost forced and watched until the unit has heated again for a while. [our own choice]"""
LOGGED = 4.0
"""A logger read out. [our own choice]"""
HOOK_UP_LOSS = 0.4
"""Percent of the charge that each hook-up of gauges lets go. [our own choice]"""


def minutes_of_reading(case: Case, step: Take, *, gauged: bool) -> float:
    """What a reading takes; the first gauge is the dear one."""
    if step.method == "infrared":
        return INFRARED
    if instrument(step.station, step.quantity) == "gauge" and gauged:
        return ANOTHER_TAP
    return MINUTES[station(step.station).group]


def needs(case: Case, step: Step) -> list[Care]:
    """The cautions that belong before a step."""
    if isinstance(step, Take) and instrument(step.station, step.quantity) == "gauge":
        flammable = SAFETY_GROUPS[case.unit.refrigerant] != "A1"
        return ["gloves", "ventilate"] if flammable else ["gloves"]
    if isinstance(step, Take) and step.quantity == "resistance":
        return ["lock_out"]
    if isinstance(step, LookAt) and step.look in ("filter", "bulb"):
        return ["lock_out"]
    return []
