"""The front door: a visit goes in, an examination comes out."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import lru_cache

from icepick.core.checks import judge
from icepick.core.checks.advice import advise
from icepick.core.checks.command import terminals
from icepick.core.checks.metering import devices
from icepick.core.circuit.context import RunContext, run_contexts, without_doubted
from icepick.core.circuit.graph import Circuit, stations_of_unit
from icepick.core.circuit.readings import CurrentReading, rests_on
from icepick.core.diagnosis.next_reading import next_readings
from icepick.core.diagnosis.ranking import JudgedRun, believe, rank
from icepick.core.diagnosis.verdict import verdict
from icepick.core.document.examination import (
    Check,
    Coils,
    CycleCorner,
    Doubt,
    Examination,
    Indicator,
    Measured,
    Meters,
    PathStop,
    PlainQuantity,
    ReadingInForce,
    RunExamination,
    TapPlace,
)
from icepick.core.document.visit import Unit, Visit
from icepick.core.document.wording import display, display_band, display_spread, name
from icepick.core.doubts import NOT_PHYSICS, find_doubts
from icepick.core.indicators import INDICATORS
from icepick.core.indicators.cycle import cycle
from icepick.core.indicators.staircase import legs, levels
from icepick.core.practice import DEFAULT_PRACTICE, Practice, limit
from icepick.core.properties.quantities import ABSOLUTE_PRESSURE, Kind, UnitSystem, from_si


def examine(visit: Visit, practice: Practice = DEFAULT_PRACTICE, units: UnitSystem = "field") -> Examination:
    """Examine a visit.

    Parameters
    ----------
    visit : Visit
        What was read, of which unit, in which modes.
    practice : Practice
        The limits in force.
    units : {"field", "metric"}
        Units of every number and sentence that comes out; the judgement does not depend on them.

    Returns
    -------
    Examination
        Pure function of its arguments.
    """
    runs, trusted = [], []
    for as_read in run_contexts(visit, practice, units):
        doubts = find_doubts(as_read)
        context = _without_doubted(as_read, doubts)
        checks = judge(context)
        runs.append(_examine_run(context, as_read.readings.all(), doubts, checks.shown))
        trusted.append(JudgedRun(context.trusted, checks.firm))
    belief = believe(trusted, visit.complaint)
    ranking = rank(belief, trusted)
    following = next_readings(belief, trusted)
    said = verdict(visit, runs, ranking, following)
    return Examination(
        headline=said.headline,
        verdict=said.text,
        outcome=said.outcome,
        advice=advise(visit.unit, practice),
        station_names=dict(_names(visit.unit)),
        runs=runs,
        ranking=ranking,
        next_readings=following,
        changed_limits={
            name: PlainQuantity(value=value, unit=limit(name).unit)
            for name, value in practice.changes.items()
        },
    )


def _names(unit: Unit) -> Iterator[tuple[str, str]]:
    for code in stations_of_unit(unit):
        yield code, name(unit, code)


def _without_doubted(context: RunContext, doubts: list[Doubt]) -> RunContext:
    doubted = frozenset(code for doubt in doubts if doubt.code not in NOT_PHYSICS for code in doubt.stations)
    return without_doubted(context, doubted, frozenset(doubt.code for doubt in doubts))


def _examine_run(
    context: RunContext, as_read: list[CurrentReading], doubts: list[Doubt], checks: Mapping[str, Check]
) -> RunExamination:
    circuit = context.circuit
    found = devices(context, checks)
    return RunExamination(
        id=context.run.id,
        commanded_mode=context.run.mode,
        apparent_mode=context.apparent,
        running_mode=context.running,
        path=list(_path(circuit)) if circuit else [],
        meters=Meters(active=circuit.active_meter, bypassed=circuit.bypassed_meter) if circuit else None,
        coils=Coils(evaporator=circuit.evaporator, condenser=circuit.condenser) if circuit else None,
        taps=list(_taps(circuit)) if circuit else [],
        stations=stations_of_unit(context.unit),
        legs=legs(context, circuit, found) if circuit else [],
        levels=levels(context, circuit) if circuit else [],
        devices=found,
        readings=[_in_force(current, context) for current in as_read],
        indicators=_indicators(context),
        cycle=_cycle(context),
        terminals=terminals(context),
        checks=list(checks.values()),
        doubts=doubts,
    )


@lru_cache(maxsize=256)
def _path(circuit: Circuit) -> tuple[PathStop, ...]:
    return tuple(
        PathStop(
            station=stop.station, role=stop.role, state=stop.state, place=stop.place, through=stop.through
        )
        for stop in circuit.path
    )


@lru_cache(maxsize=256)
def _taps(circuit: Circuit) -> tuple[TapPlace, ...]:
    return tuple(TapPlace(tap=tap.tap, at=tap.at, role=tap.role) for tap in circuit.taps)


def _in_force(current: CurrentReading, context: RunContext) -> ReadingInForce:
    reading, kind = current.reading, current.reading.kind
    number, unit = display(current.value.nominal_value, kind, context.units, context.atmosphere)
    return ReadingInForce(
        station=reading.station,
        quantity=reading.quantity,
        value=number,
        unit=unit,
        uncertainty=display_band(current.value, kind, context.units),
        method=reading.method,
        at=reading.at,
        minutes=round(current.minutes, 1) if current.minutes is not None else None,
        early=current.early,
        earlier=current.earlier,
    )


def _cycle(context: RunContext) -> list[CycleCorner]:
    found = []
    for point in cycle(context).values():
        pressure = float(point.side.pressure.nominal_value)
        unit = ABSOLUTE_PRESSURE[context.units]
        temperature, degrees = display(point.temperature.nominal_value, Kind.TEMPERATURE, context.units)
        enthalpy, per_mass = display(point.enthalpy.nominal_value, Kind.SPECIFIC_ENTHALPY, context.units)
        spread, stations = rests_on(point.enthalpy)
        found.append(
            CycleCorner(
                corner=point.corner,
                station=point.station,
                pressure=PlainQuantity(value=round(from_si(pressure, unit, Kind.PRESSURE), 2), unit=unit),
                temperature=PlainQuantity(value=temperature, unit=degrees),
                enthalpy=Measured(
                    value=enthalpy,
                    unit=per_mass,
                    uncertainty=display_spread(spread, Kind.SPECIFIC_ENTHALPY, context.units),
                ),
                source=point.side.source,
                told=point.told,
                uses=stations,
            )
        )
    return found


def _indicators(context: RunContext) -> dict[str, Indicator]:
    found: dict[str, Indicator] = {}
    for rule in INDICATORS:
        value = rule.compute(context)
        if value is None:
            continue
        number, unit = display(value.nominal_value, rule.kind, context.units)
        spread, stations = rests_on(value)
        found[rule.name] = Indicator(
            value=number,
            unit=unit,
            uncertainty=display_spread(spread, rule.kind, context.units),
            uses=stations,
        )
    return found
