"""A sized machine on paper: field by field, with what each number rests on."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from icepick.core.document.base import Document


class SheetRow(Document):
    """One number of a part. ``rests_on`` says where it is from."""

    part: str
    title: str
    value: float
    unit: str
    rests_on: str


class Duty(Document):
    """What the machine does at a rating point. Entering temperatures are those of the standard ``standard`` names."""

    mode: Literal["cooling", "heating"]
    standard: str
    outdoor: float
    indoor: float
    temperature_unit: str
    capacity: float
    capacity_unit: str
    power: float
    power_unit: str
    suction: float
    head: float
    pressure_unit: str
    superheat: float
    subcooling: float
    difference_unit: str


class SpreadRow(Document):
    """Something nobody knows of the machine, and how far it may lie off: one standard deviation."""

    name: str
    title: str
    value: float
    unit: str
    reason: str


class MachineSheet(Document):
    """The machine of a unit. ``sized`` is false where it can't be sized; ``field`` and ``why`` then say what stands in the
    way."""

    format: Literal["icepick-machine"] = "icepick-machine"
    version: Literal[1] = 1
    label: str
    sized: bool
    field: str = ""
    why: str = ""
    duties: list[Duty] = Field(default=[])
    rows: list[SheetRow] = Field(default=[])
    unknown: list[SpreadRow] = Field(default=[])
