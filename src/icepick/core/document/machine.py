"""A sized machine on paper: field by field, with what each number rests on."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from icepick.core.document.base import Document, Temperature
from icepick.core.document.examination import Fault, PlainQuantity
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit


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
    way. ``stated`` gives what was stated of the unit in other units than these, converted, by its JSON pointer."""

    format: Literal["icepick-machine"] = "icepick-machine"
    version: Literal[1] = 1
    label: str
    sized: bool
    field: str = ""
    why: str = ""
    duties: list[Duty] = Field(default=[])
    rows: list[SheetRow] = Field(default=[])
    unknown: list[SpreadRow] = Field(default=[])
    stated: dict[str, PlainQuantity] = Field(default={})


class ChartAsked(Document):
    """What a weather chart is asked of: a unit in a mode, and with what. What is not said is as at its rating point.

    ``speed`` is the compressor's, in percent of its full one.
    """

    unit: Unit
    mode: FlowMode
    indoor: Temperature | None = None
    indoor_humidity: float | None = Field(None, ge=5, le=95)
    speed: float | None = Field(None, ge=10, le=130)
    fault: Fault | None = None
    severity: float | None = Field(None, ge=0, le=1000)


class ChartFault(Document):
    """A fault this unit can have in this mode: its severity's unit, the words that follow it, and how much of it there can
    be."""

    fault: Fault
    unit: str
    words: str
    usual: float
    most: float


class ChartPoint(Document):
    """At one outdoor temperature: what the sound unit shows, the ends of what is still sound, and what it shows with the
    fault. None where the model comes to no rest."""

    outdoor: float
    value: float | None
    low: float | None
    high: float | None
    with_fault: float | None


class ChartPanel(Document):
    """One thing a technician reads, over what enters the outdoor coil."""

    name: str
    title: str
    unit: str
    points: list[ChartPoint]


class WeatherChart(Document):
    """What a unit should do in any weather. ``sized`` is false where it can't be sized; ``field`` and ``why`` then say what
    stands in the way."""

    format: Literal["icepick-chart"] = "icepick-chart"
    version: Literal[1] = 1
    label: str
    mode: FlowMode
    sized: bool
    field: str = ""
    why: str = ""
    over: str = ""
    outdoor_unit: str = ""
    given: str = ""
    panels: list[ChartPanel] = Field(default=[])
    faults: list[ChartFault] = Field(default=[])
    fault: Fault | None = None
    severity: float | None = None
