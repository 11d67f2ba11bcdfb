"""The visit document, version 1: one unit, and one run for each spell in one commanded mode.

The field names are a contract (see docs/visit-document.md). :func:`parse_visit` reads JSON and says,
with a JSON pointer and a sentence, what is wrong with it.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from itertools import pairwise
from typing import Annotated, Any, Literal, Self

from pydantic import AwareDatetime, Field, FiniteFloat, model_validator

from icepick.core.document.base import (
    AirFlow,
    Capacity,
    Document,
    Elevation,
    FanPower,
    HeaterPower,
    LineSetLength,
    PressureDrop,
    RatedCurrent,
    SensorResistance,
    StartTemperature,
    StopTemperature,
    Target,
    Temperature,
    TemperatureStep,
    Time,
    WaterFlow,
    absent,
    check_range,
    field_error,
    parse,
)
from icepick.core.document.codes import (
    Bypass,
    CircuitId,
    Complaint,
    CompressorSpeed,
    CompressorStage,
    HeadsCalling,
    Layout,
    Medium,
    MeterKind,
    Method,
    Mode,
    Name,
    ObservationCode,
    QuantityName,
    ReadingUnit,
    RunId,
    StationCode,
    Text,
)
from icepick.core.document.recording import Recording
from icepick.core.document.stations import MOST_HEADS, station
from icepick.core.properties.moist_air import SEA_LEVEL_PRESSURE, standard_pressure
from icepick.core.properties.quantities import UNITS, Kind
from icepick.core.properties.refrigerants import Refrigerant

MOST_RUNS = 1000
"""In one visit."""
MOST_ENTRIES = 10_000
"""Readings, and observations, in one run: a probe read every second for almost three hours."""
MOST_RECORDINGS = 50
"""In one visit."""
MOST_CIRCUITS = 8
"""In one unit."""
MOST_ROWS = 100
"""In a manufacturer's table."""


class Site(Document):
    """Where the unit stands."""

    name: Name
    notes: Text | None = None
    elevation: Elevation | None = None

    @property
    def atmosphere(self) -> float:
        """Air pressure [Pa] that a gauge reading here is above."""
        return standard_pressure(self.elevation.si) if self.elevation else SEA_LEVEL_PRESSURE


class Meter(Document):
    """A metering device and the way round it when it idles."""

    kind: MeterKind
    bypass: Bypass
    bulb_at: Literal["common_suction", "coil_outlet"] | None = None

    @model_validator(mode="after")
    def _consistent(self) -> Self:
        if self.kind == "none" and self.bypass != "none":
            raise field_error("bypass", "kind 'none' has nothing to bypass; write 'none'.")
        return self


class Drier(Document):
    """A filter drier and its place; ``unknown`` where nobody has looked."""

    kind: Literal["bi_flow", "one_way", "none", "unknown"]
    place: Literal["outdoor_unit", "line_set"] | None = None

    @model_validator(mode="after")
    def _placed(self) -> Self:
        if self.fitted and self.place is None:
            raise field_error("place", "a drier needs its place: 'outdoor_unit' or 'line_set'.")
        return self

    @property
    def fitted(self) -> bool:
        """Whether there is a drier, as far as is known."""
        return self.kind in ("bi_flow", "one_way")


class Compressor(Document):
    kind: Literal["single", "two_stage", "inverter"]
    rated_current: RatedCurrent | None = None


class ReversingValve(Document):
    energized_in: Literal["cooling", "heating"]


class Defrost(Document):
    method: Literal["time_temperature", "demand", "off_cycle", "none"]
    interval: Time | None = None
    start_below: StartTemperature | None = None
    stop_above: StopTemperature | None = None
    limit: Time | None = None
    demand_difference: TemperatureStep | None = None
    least_interval: Time | None = None

    @model_validator(mode="after")
    def _starts_below_its_stop(self) -> Self:
        if self.start_below and self.stop_above and self.start_below.si >= self.stop_above.si:
            raise field_error("stop_above", "a defrost stops at a warmer coil than it starts at.")
        return self


class ModeTarget(Document):
    """The manufacturer's targets for one mode."""

    subcooling: Target | None = None
    superheat: Target | None = None


class WaterFlowRow(Document):
    drop: PressureDrop
    flow: WaterFlow


class SensorRow(Document):
    temperature: Temperature
    resistance: SensorResistance


def _one_way(rows: Sequence[tuple[float, float]], *, rising: bool) -> bool:
    """Whether the second column moves one way only as the first rises, with no value twice."""
    ordered = sorted(rows)
    steps = [(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(ordered)]
    return all(first > 0 and (second > 0) is rising and second != 0 for first, second in steps)


class Design(Document):
    """What the manufacturer's data state; every field is optional."""

    cooling: ModeTarget | None = None
    heating: ModeTarget | None = None
    indoor_airflow: AirFlow | None = None
    supply_fan_power: FanPower | None = None
    backup_heat_power: HeaterPower | None = None
    water_flow_table: Annotated[list[WaterFlowRow], Field(max_length=MOST_ROWS)] | None = None
    heat_of_extraction: Capacity | None = None
    heat_of_rejection: Capacity | None = None
    sensor_table: Annotated[list[SensorRow], Field(max_length=MOST_ROWS)] | None = None

    @model_validator(mode="after")
    def _tables_run_one_way(self) -> Self:
        flows = [(row.drop.si, row.flow.si) for row in self.water_flow_table or ()]
        if not _one_way(flows, rising=True):
            raise field_error("water_flow_table", "the flow must rise with the pressure drop, row for row.")
        if not _one_way(self.sensor_rows, rising=False):
            raise field_error("sensor_table", "the resistance must fall as the sensor warms, row for row.")
        return self

    @property
    def sensor_rows(self) -> list[tuple[float, float]]:
        """The sensor table as (temperature [K], resistance [ohm])."""
        return [(row.temperature.si, row.resistance.si) for row in self.sensor_table or ()]


class UnitCircuit(Document):
    """One of several refrigerant circuits of a unit: what it has of its own. Its nominal capacity is an equal share of the
    unit's where none is given, its compressor one like the unit's."""

    id: CircuitId
    nominal_capacity: Capacity | None = None
    compressor: Compressor | None = None


class Head(Document):
    """One of several indoor units on one outdoor unit."""

    label: Name
    nominal_capacity: Capacity | None = None


class Unit(Document):
    """The equipment, described by its parts; ``accumulator`` is null where nobody knows, ``model`` and ``serial`` are as the
    nameplate writes them. ``circuits`` and ``heads`` are there where it has several."""

    label: Name
    model: Name | None = None
    serial: Name | None = None
    layout: Layout
    source: Medium
    load: Medium
    refrigerant: Refrigerant
    nominal_capacity: Capacity | None = None
    indoor_meter: Meter
    outdoor_meter: Meter
    drier: Drier
    accumulator: bool | None
    compressor: Compressor
    reversing_valve: ReversingValve
    defrost: Defrost | None = None
    backup_heat: Literal["electric", "other", "none"] | None = None
    line_set_length: LineSetLength | None = None
    design: Design | None = None
    circuits: Annotated[list[UnitCircuit], Field(min_length=2, max_length=MOST_CIRCUITS)] | None = Field(
        default=None, exclude_if=absent
    )
    heads: Annotated[list[Head], Field(min_length=2, max_length=MOST_HEADS)] | None = Field(
        default=None, exclude_if=absent
    )

    @model_validator(mode="after")
    def _one_meter_at_least(self) -> Self:
        if self.indoor_meter.kind == self.outdoor_meter.kind == "none":
            raise field_error("outdoor_meter/kind", "a unit needs at least one metering device.")
        return self

    def refusal_of_circuit(self, circuit: str | None) -> str:
        """Why nothing can have been read on a circuit of this id, in a sentence; empty where it can.

        Parameters
        ----------
        circuit : str or None
            None where none was named.

        Returns
        -------
        str
            A sentence.
        """
        ids = [one.id for one in self.circuits or ()]
        if circuit is None and ids:
            return f"this unit has several circuits: name one of {', '.join(map(repr, ids))}."
        return "" if circuit is None or circuit in ids else f"this unit has no circuit {circuit!r}."

    def refusal_of_heads(self, calling: Sequence[int] | None) -> str:
        """Why these heads can't be those that call, in a sentence; empty where they can.

        Parameters
        ----------
        calling : sequence of int or None
            Their numbers, from 1; None where nobody noted them.

        Returns
        -------
        str
            A sentence.
        """
        count = len(self.heads or ())
        if calling is None:
            return ""
        if not count:
            return "this unit has no heads to call."
        known = len(set(calling)) == len(calling) and set(calling) <= set(range(1, count + 1))
        return "" if known else f"give each head that calls once, by its number from 1 to {count}."

    @model_validator(mode="after")
    def _circuits_differ(self) -> Self:
        ids = [one.id for one in self.circuits or ()]
        for place, own in enumerate(ids):
            if own in ids[:place]:
                raise field_error(f"circuits/{place}/id", f"two circuits share the id {own!r}.")
        return self

    @model_validator(mode="after")
    def _heads_have_their_valves_outdoors(self) -> Self:
        if self.heads is None:
            return self
        if self.circuits is not None:
            raise field_error("heads", "a unit has several heads or several circuits, not both.")
        if self.layout != "ductless":
            raise field_error("heads", "only a ductless unit has several heads.")
        if self.load != "air":
            raise field_error("heads", "heads heat and cool air; the load must be 'air'.")
        if self.indoor_meter.kind != "none" or self.outdoor_meter.kind != "eev":
            raise field_error(
                "heads",
                "several heads have one EEV each, in the outdoor unit: outdoor_meter 'eev'.",
            )
        return self


class Reading(Document):
    """One reading: where, what, how much, by what instrument and when."""

    station: StationCode
    quantity: QuantityName
    value: FiniteFloat
    unit: ReadingUnit
    method: Method | None = None
    at: AwareDatetime | None = None

    @model_validator(mode="after")
    def _fits_its_station(self) -> Self:
        try:
            place = station(self.station)
        except KeyError:
            raise field_error("station", f"there is no station {self.station!r}.") from None
        allowed = place.quantities.get(self.quantity)
        if allowed is None:
            can = ", ".join(place.quantities)
            raise field_error("quantity", f"{place.title} has no {self.quantity}; it takes {can}.")
        if self.unit not in UNITS[allowed.kind]:
            units = ", ".join(UNITS[allowed.kind])
            raise field_error("unit", f"{self.unit!r} does not measure {self.quantity}; use {units}.")
        check_range(self.value, self.unit, allowed.kind, allowed.low, allowed.high, allowed.unit)
        return self

    @property
    def kind(self) -> Kind:
        """What the number measures."""
        return station(self.station).quantities[self.quantity].kind


def _is_place(value: object) -> bool:
    code, _, quantity = value.partition("/") if isinstance(value, str) else ("", "", "")
    try:
        known = station(code).quantities
        return not quantity or quantity in known
    except KeyError:
        return False


class Observation(Document):
    """What was seen, heard or found out of reach; ``value`` is false for what was looked for and not seen, and of what is
    out of reach the station, alone or with the one quantity: ``return_air/wet_bulb``."""

    code: ObservationCode
    value: bool | FiniteFloat | Text | None = None

    @model_validator(mode="after")
    def _place_there_is(self) -> Self:
        if self.code == "out_of_reach" and not _is_place(self.value):
            raise field_error(
                "value", "what is out of reach must be a station, or one and a quantity read there."
            )
        return self


class Run(Document):
    """One spell in one commanded mode, with its readings in the order they were taken.

    ``circuit`` is the one it was read on, where the unit has several; ``heads_calling`` the numbers, from 1, of the heads
    that call, null where nobody noted them. ``compressor_speed`` is in percent of the rated speed. ``after_repair``: made
    after what was found had been mended; it says how the unit was left, not what was wrong with it.
    """

    id: RunId
    mode: Mode
    minutes_running: Annotated[FiniteFloat, Field(ge=0, le=1_000_000)] | None = None
    started_at: AwareDatetime | None = None
    circuit: CircuitId | None = Field(default=None, exclude_if=absent)
    heads_calling: HeadsCalling | None = Field(default=None, exclude_if=absent)
    compressor_stage: CompressorStage | None = None
    compressor_speed: CompressorSpeed | None = None
    after_repair: bool = False
    readings: list[Reading] = Field(default=[], max_length=MOST_ENTRIES)
    observations: list[Observation] = Field(default=[], max_length=MOST_ENTRIES)
    notes: Text | None = None


class Visit(Document):
    """One visit: the site, the complaint, the unit and its runs. ``bench`` names the case of the practice bench it is of;
    null for a visit to a customer."""

    format: Literal["icepick-visit"]
    version: Literal[1]
    bench: Name | None = None
    site: Site
    complaint: Complaint | None = None
    unit: Unit
    runs: list[Run] = Field(max_length=MOST_RUNS)
    recordings: list[Recording] = Field(default=[], max_length=MOST_RECORDINGS)

    @model_validator(mode="after")
    def _of_one_circuit(self) -> Self:
        named = [(f"runs/{i}", run.circuit) for i, run in enumerate(self.runs)]
        named += [(f"recordings/{i}", one.circuit) for i, one in enumerate(self.recordings) if one.circuit]
        for where, own in named:
            if wrong := self.unit.refusal_of_circuit(own):
                raise field_error(f"{where}/circuit", wrong)
        return self

    @model_validator(mode="after")
    def _heads_there_are(self) -> Self:
        for i, run in enumerate(self.runs):
            if wrong := self.unit.refusal_of_heads(run.heads_calling):
                raise field_error(f"runs/{i}/heads_calling", wrong)
        return self

    @model_validator(mode="after")
    def _ids_differ(self) -> Self:
        seen: dict[str, str] = {}
        named = [("run", i, run.id) for i, run in enumerate(self.runs)]
        named += [("recording", i, one.id) for i, one in enumerate(self.recordings)]
        for what, index, own in named:
            if own in seen:
                both = f"two {what}s" if seen[own] == what else f"a {seen[own]} and a {what}"
                raise field_error(f"{what}s/{index}/id", f"{both} share the id {own!r}.")
            seen[own] = what
        return self


def parse_visit(text: str | bytes) -> Visit:
    """Read a visit document from JSON.

    Parameters
    ----------
    text : str or bytes
        JSON.

    Returns
    -------
    Visit
        The visit.

    Raises
    ------
    InvalidDocumentError
        The text is not JSON, or a field is unknown, missing, of the wrong type or unit, or outside
        what the world allows; each problem has a JSON pointer and a sentence.
    """
    return parse(Visit, text)


def parse_unit(text: str | bytes) -> Unit:
    """Read a unit from JSON: by itself, or out of a visit document.

    Parameters
    ----------
    text : str or bytes
        JSON.

    Returns
    -------
    Unit
        The equipment.

    Raises
    ------
    InvalidDocumentError
        As :func:`parse_visit`.
    """
    try:
        read = json.loads(text)
    except ValueError:
        return parse(Unit, text)  # Which says what is wrong with it.
    in_visit = isinstance(read, dict) and "unit" in read and "format" in read
    return parse(Visit, text).unit if in_visit else parse(Unit, text)


def visit_schema() -> dict[str, Any]:
    """The JSON Schema (draft 2020-12) of the visit document.

    Returns
    -------
    dict of str to Any
        Ready for ``json.dumps``.
    """
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": "urn:icepick:visit:1",
        **Visit.model_json_schema(),
    }
