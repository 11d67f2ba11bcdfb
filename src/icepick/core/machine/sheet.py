"""A unit's machine written out: what it does at its rating points, every number of its parts, and what is not known."""

from __future__ import annotations

from collections.abc import Iterator
from math import pi

import numpy as np

from icepick.core.document.machine import Duty, MachineSheet, SheetRow, SpreadRow
from icepick.core.document.roles import FlowMode, Side
from icepick.core.document.several import one_circuit
from icepick.core.document.stated import stated_in
from icepick.core.document.visit import Unit
from icepick.core.document.wording import display
from icepick.core.machine.figures import figures
from icepick.core.machine.metering import ORIFICES
from icepick.core.machine.parameters import standing_of
from icepick.core.machine.parts import Coil, Machine, Meter
from icepick.core.machine.sizing import BOTH, UnsizedError, rating, size
from icepick.core.machine.stations import shown
from icepick.core.machine.steady import settle
from icepick.core.machine.unknowns import Unknown, unknowns
from icepick.core.machine.variation import AT_REST, Value
from icepick.core.properties.quantities import Kind, UnitSystem

_POUND, _FOOT, _INCH = 0.45359237, 0.3048, 0.0254
_WATT_PER_KELVIN = 1.895634
"""One watt per kelvin in Btu/h and °F."""


def sheet(unit: Unit, units: UnitSystem = "field") -> MachineSheet:
    """The machine of a unit on paper; of the first circuit where it has several.

    Parameters
    ----------
    unit : Unit
        The equipment.
    units : {"field", "metric"}
        Units of what comes out.

    Returns
    -------
    MachineSheet
        With ``sized`` false, and why, where it can't be sized.
    """
    stated = stated_in(unit, units)
    unit = one_circuit(unit)
    try:
        machine = size(unit)
    except UnsizedError as error:
        return MachineSheet(label=unit.label, sized=False, field=error.field, why=error.why, stated=stated)
    paper = _Paper(unit, machine, units)
    return MachineSheet(
        label=unit.label,
        sized=True,
        duties=[duty for mode in BOTH if (duty := _duty(unit, machine, mode, units))],
        rows=list(paper.rows()),
        unknown=[
            SpreadRow(
                name=one.name,
                title=one.title,
                value=spread_in(one, units)[0],
                unit=spread_in(one, units)[1],
                reason=one.reason,
            )
            for one in unknowns(unit, machine.meters["cooling"].kind in ORIFICES)
        ],
        stated=stated,
    )


def spread_in(one: Unknown, units: UnitSystem) -> tuple[float, str]:
    """A spread and its unit: percent, or degrees."""
    kind = Kind.SHARE if one.unit == "share" else Kind.TEMPERATURE_DIFFERENCE
    spread, unit = display(one.spread, kind, units)
    return round(spread, 1), unit


def _duty(unit: Unit, machine: Machine, mode: FlowMode, units: UnitSystem) -> Duty | None:
    at = rating(unit, mode)
    found = settle(machine, mode, at, AT_REST, 1)
    if not found.sound[0]:
        return None
    seen = shown(machine, mode, found.cycle, at, AT_REST)
    judged = figures(machine, mode, found.cycle, at, seen)
    fan = machine.indoor.fan_power
    heat = found.cycle.evaporated.heat - fan if mode == "cooling" else found.cycle.condensed.heat + fan

    def one(value: Value, kind: Kind) -> tuple[float, str]:
        number, symbol = display(float(np.ravel(value)[0]), kind, units)
        return round(number, 1), symbol

    temperature, power = Kind.TEMPERATURE, Kind.ELECTRICAL_POWER
    outdoor, indoor = one(at.outdoor, temperature), one(at.indoor, temperature)
    capacity, drawn = one(heat, Kind.POWER), one(judged["compressor_power"], power)
    suction, head = (
        one(seen[tap, "pressure"], Kind.PRESSURE) for tap in ("common_suction_tap", "discharge_tap")
    )
    superheat, subcooling = (
        one(judged[name], Kind.TEMPERATURE_DIFFERENCE) for name in ("superheat", "subcooling")
    )
    water = "water" in (unit.source, unit.load)
    return Duty(
        mode=mode,
        standard="ISO 13256" if water else "AHRI 210/240",
        outdoor=outdoor[0],
        indoor=indoor[0],
        temperature_unit=outdoor[1],
        capacity=capacity[0],
        capacity_unit=capacity[1],
        power=drawn[0],
        power_unit=drawn[1],
        suction=suction[0],
        head=head[0],
        pressure_unit=suction[1],
        superheat=superheat[0],
        subcooling=subcooling[0],
        difference_unit=superheat[1],
    )


class _Paper:
    """The rows of one machine, in the units asked for."""

    def __init__(self, unit: Unit, machine: Machine, units: UnitSystem) -> None:
        self.unit, self.machine, self.units = unit, machine, units
        stated = unit.nominal_capacity is not None
        self.sized = (
            "sized so that it cools its nominal capacity at the rating point"
            if stated
            else "three tons taken, since no nominal capacity is stated; temperatures do not depend on it"
        )

    def rows(self) -> Iterator[SheetRow]:
        """Every number, part by part."""
        machine, lines = self.machine, self.machine.lines
        yield self.shown(
            "rating", "cooling capacity", machine.rated.capacity, Kind.POWER, self.stated("nominal_capacity")
        )
        part = machine.compressor
        yield self.row(
            "compressor", "displacement at full speed", self.volume_flow(part.displacement), self.sized
        )
        for name, title in (
            ("filling", "volumetric efficiency with nothing to lift"),
            ("clearance", "clearance"),
            ("efficiency", "best efficiency, motor included"),
            ("best_ratio", "pressure ratio of that"),
        ):
            yield self.row("compressor", title, (getattr(part, name), "1"), standing_of(name))
        amps = machine.rated.power * part.current_per_watt
        rests = "nameplate" if self.unit.compressor.rated_current else standing_of("power_factor")
        yield self.row("compressor", "current in cooling at rating", (amps, "A"), rests)
        for side, coil in (("indoor", machine.indoor), ("outdoor", machine.outdoor)):
            yield from self.coil(side, coil)  # type: ignore[arg-type]
        for mode in BOTH:
            yield from self.meter(mode, machine.meters[mode])
        length = standing_of("line_length") if not self.unit.line_set_length else "stated"
        yield self.row("lines", "liquid line inside", self.volume(lines.liquid_volume), length)
        yield self.row("lines", "vapor line inside", self.volume(lines.vapor_volume), length)
        yield self.shown(
            "lines", "lost in the liquid line", lines.liquid_loss, Kind.PRESSURE_DIFFERENCE, length
        )
        yield self.shown(
            "lines", "lost in the vapor line", lines.vapor_loss, Kind.PRESSURE_DIFFERENCE, length
        )
        if lines.accumulator_volume:
            rests = standing_of("accumulator_volume")
            if self.unit.accumulator is None:
                rests = f"taken to be fitted, as on most heat pumps; {rests}"
            yield self.row("accumulator", "liquid it holds", self.volume(lines.accumulator_volume), rests)
        rests = standing_of("valve_conduction")
        yield self.row(
            "reversing valve", "heat through its body", self.conductance(machine.valve_conduction), rests
        )
        yield self.row(
            "charge",
            "refrigerant in the circuit",
            self.mass(machine.charge),
            "what all parts hold at the rating point, subcooling and superheat on target",
        )

    def coil(self, side: Side, coil: Coil) -> Iterator[SheetRow]:
        """A coil's rows."""
        name = f"{side} coil"
        if coil.medium == "air":
            airflow = side == "indoor" and self.unit.design and self.unit.design.indoor_airflow
            rests = "manufacturer's data" if airflow else standing_of(f"{side}_airflow")
            yield self.shown(name, "airflow", coil.flow, Kind.AIR_FLOW, rests)
        else:
            yield self.shown(name, "water flow", coil.flow, Kind.WATER_FLOW, standing_of("water_flow"))
        through = 1 / (1 / coil.outside + 1 / coil.inside)
        yield self.row(
            name, "heat transfer to boiling or condensing refrigerant", self.conductance(through), self.sized
        )
        volume = "water_volume" if coil.medium == "water" else f"{side}_volume"
        yield self.row(name, "refrigerant side", self.volume(coil.volume), standing_of(volume))

    def meter(self, mode: FlowMode, meter: Meter) -> Iterator[SheetRow]:
        """Rows of the device at work in a mode."""
        name = f"metering device in {mode}"
        across = (4 * meter.area / pi) ** 0.5
        number = (across / _INCH, "in") if self.units == "field" else (across * 1000, "mm")
        rests = "sized at the rating point; its flow coefficient is in it"
        yield self.row(name, "opening at rating, as a round hole", number, rests)
        if meter.kind in ("txv", "eev"):
            kind, stated = Kind.TEMPERATURE_DIFFERENCE, self.target(mode)
            yield self.shown(name, "superheat it holds", meter.superheat, kind, stated)
            yield self.row(
                name,
                "widest opening over that at rating",
                (meter.widest, "1"),
                standing_of("electric_widest" if meter.kind == "eev" else "thermostatic_widest"),
            )

    def target(self, mode: FlowMode) -> str:
        """Where its superheat is from."""
        design = self.unit.design
        target = getattr(design, mode) if design else None
        return "manufacturer's data" if target and target.superheat else standing_of("superheat")

    def stated(self, field: str) -> str:
        """Where a field of the description is from."""
        return "nameplate" if getattr(self.unit, field) is not None else self.sized

    def shown(self, part: str, title: str, value: float, kind: Kind, rests_on: str) -> SheetRow:
        """A row of a kind the documents know."""
        return self.row(part, title, display(value, kind, self.units), rests_on)

    def row(self, part: str, title: str, number: tuple[float, str], rests_on: str) -> SheetRow:
        """A row, to four figures."""
        value = float(f"{number[0]:.4g}")
        return SheetRow(part=part, title=title, value=value, unit=number[1], rests_on=rests_on)

    def mass(self, kilograms: float) -> tuple[float, str]:
        """[lb] or [kg]."""
        return (kilograms / _POUND, "lb") if self.units == "field" else (kilograms, "kg")

    def volume(self, cubic_metres: float) -> tuple[float, str]:
        """[cu in] or [L]."""
        return (cubic_metres / _INCH**3, "in³") if self.units == "field" else (cubic_metres * 1000, "L")

    def volume_flow(self, value: float) -> tuple[float, str]:
        """[cfm] or [m³/h]."""
        return (value * 60 / _FOOT**3, "cfm") if self.units == "field" else (value * 3600, "m3/h")

    def conductance(self, value: float) -> tuple[float, str]:
        """[Btu/(h °F)] or [W/K]."""
        return (value * _WATT_PER_KELVIN, "Btu/h per °F") if self.units == "field" else (value, "W/K")
