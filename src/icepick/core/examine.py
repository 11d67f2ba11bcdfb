"""The front door: a visit goes in, an examination comes out."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from icepick.core.checks import Judged as JudgedChecks
from icepick.core.checks import judge
from icepick.core.checks.advice import advise
from icepick.core.checks.command import terminals
from icepick.core.checks.metering import devices
from icepick.core.checks.run import WORKED_OUT
from icepick.core.circuit.context import (
    RunContext,
    attempt,
    note_mishap,
    resting_on,
    run_contexts,
    without_doubted,
)
from icepick.core.circuit.graph import Circuit, stations_of_unit
from icepick.core.circuit.learned import Learned
from icepick.core.circuit.readings import CurrentReading
from icepick.core.diagnosis.baseline import Judged, baseline
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.evidence import JudgedRun
from icepick.core.diagnosis.next_reading import next_readings
from icepick.core.diagnosis.ranking import believe, rank
from icepick.core.diagnosis.verdict import verdict
from icepick.core.document.examination import (
    Baseline,
    Check,
    Coils,
    CycleCorner,
    Device,
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
from icepick.core.document.visit import Unit, Visit, parse_unit, parse_visit
from icepick.core.document.wording import display, display_band, display_spread, name
from icepick.core.doubts import NOT_PHYSICS, find_doubts
from icepick.core.indicators import INDICATORS, IndicatorRule
from icepick.core.indicators.cycle import cycle
from icepick.core.indicators.staircase import legs, levels
from icepick.core.machine.told import Told, told
from icepick.core.practice import DEFAULT_PRACTICE, Practice, limit
from icepick.core.properties.quantities import ABSOLUTE_PRESSURE, Kind, UnitSystem, from_si


def examine(
    visit: Visit,
    practice: Practice = DEFAULT_PRACTICE,
    units: UnitSystem = "field",
    earlier: Sequence[Visit] = (),
) -> Examination:
    """Examine a visit.

    Parameters
    ----------
    visit : Visit
        What was read, of which unit, in which modes.
    practice : Practice
        The limits in force.
    units : {"field", "metric"}
        Units of every number and sentence that comes out; the judgement does not depend on them.
    earlier : sequence of Visit
        Visits to the same unit before this one, oldest first; those at which nothing was wrong teach what it is like.

    Returns
    -------
    Examination
        Pure function of its arguments.
    """
    learned, before = _taught(visit, earlier, practice, units) if earlier else (None, None)
    judged, trusted, belief = _judged(visit, practice, units, learned)
    runs = [_examine_run(one, checks.shown) for one, checks in judged]
    ranking = rank(belief, trusted)
    following = next_readings(belief, trusted)
    said = verdict(visit, runs, ranking, following)
    return Examination(
        headline=said.headline,
        verdict=said.text,
        outcome=said.outcome,
        advice=advise(visit.unit, practice),
        baseline=before,
        station_names=dict(_names(visit.unit)),
        runs=runs,
        ranking=ranking,
        next_readings=following,
        changed_limits={
            name: PlainQuantity(value=value, unit=limit(name).unit)
            for name, value in practice.changes.items()
        },
    )


def _judged(
    visit: Visit, practice: Practice, units: UnitSystem, learned: Learned | None
) -> tuple[list[tuple[_Doubted, JudgedChecks]], list[JudgedRun], Belief | None]:
    doubted = [_doubted(as_read) for as_read in run_contexts(visit, practice, units, learned)]
    judged = [(one, judge(one.context)) for one in doubted]
    trusted = [JudgedRun(one.context.trusted, checks.firm) for one, checks in judged]
    return judged, trusted, believe(trusted, visit.complaint)


def _taught(
    visit: Visit, earlier: Sequence[Visit], practice: Practice, units: UnitSystem
) -> tuple[Learned | None, Baseline]:
    documents = tuple(one.model_dump_json() for one in earlier)
    return _learned(visit.unit.model_dump_json(), documents, tuple(practice.changes.items()), units)


@lru_cache(maxsize=64)
def _learned(
    unit: str, earlier: tuple[str, ...], changes: tuple[tuple[str, float], ...], units: UnitSystem
) -> tuple[Learned | None, Baseline]:
    practice = Practice(dict(changes))
    visits = [parse_visit(text) for text in earlier]
    judged = [Judged(one.unit, *_judged(one, practice, units, None)[1:]) for one in visits]
    return baseline(parse_unit(unit), judged, practice, units)


def _names(unit: Unit) -> Iterator[tuple[str, str]]:
    for code in stations_of_unit(unit):
        yield code, name(unit, code)


@dataclass(frozen=True, slots=True)
class _Doubted:
    """A run without the readings that physics contradicts; ``as_read`` still has them."""

    context: RunContext
    as_read: list[CurrentReading]
    doubts: list[Doubt]


def _doubted(as_read: RunContext) -> _Doubted:
    doubts = find_doubts(as_read)
    stations = frozenset(code for doubt in doubts if doubt.code not in NOT_PHYSICS for code in doubt.stations)
    context = without_doubted(as_read, stations, frozenset(doubt.code for doubt in doubts))
    return _Doubted(context, as_read.readings.all(), doubts)


def _examine_run(one: _Doubted, checks: Mapping[str, Check]) -> RunExamination:
    context, circuit = one.context, one.context.circuit
    found = attempt(context, "the metering devices", lambda: devices(context, checks), list[Device]())
    sound = attempt(context, "what a sound machine would show", lambda: told(context), Told())
    examined = RunExamination(
        id=context.run.id,
        commanded_mode=context.run.mode,
        apparent_mode=context.apparent,
        running_mode=context.running,
        path=list(_path(circuit)) if circuit else [],
        meters=Meters(active=circuit.active_meter, bypassed=circuit.bypassed_meter) if circuit else None,
        coils=Coils(evaporator=circuit.evaporator, condenser=circuit.condenser) if circuit else None,
        taps=list(_taps(circuit)) if circuit else [],
        stations=stations_of_unit(context.unit),
        legs=attempt(context, "the legs of the path", lambda: legs(context, circuit, found), [])
        if circuit
        else [],
        levels=attempt(context, "the saturation levels", lambda: levels(context, circuit), [])
        if circuit
        else [],
        devices=found,
        readings=[_in_force(current, context) for current in one.as_read],
        indicators=_indicators(context),
        expected=sound.stations,
        expected_indicators=sound.figures,
        expected_basis=sound.basis,
        expected_cycle=sound.corners,
        departure=sound.departure,
        cycle=attempt(context, "the measured cycle", lambda: _cycle(context), []),
        terminals=attempt(context, "the terminal strip", lambda: terminals(context), []),
        checks=list(checks.values()),
        doubts=one.doubts,
    )
    left_out = WORKED_OUT.firmly(context)
    if left_out is None:
        return examined
    return examined.model_copy(update={"checks": [*examined.checks, WORKED_OUT.check(context, left_out)]})


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
        spread, stations = resting_on(context, point.enthalpy)
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
        try:
            indicator = _indicator(rule, context)
        except Exception as error:
            note_mishap(context, rule.title, error)
            continue
        if indicator is not None:
            found[rule.name] = indicator
    return found


def _indicator(rule: IndicatorRule, context: RunContext) -> Indicator | None:
    value = rule.compute(context)
    if value is None:
        return None
    number, unit = display(value.nominal_value, rule.kind, context.units)
    spread, stations = resting_on(context, value)
    return Indicator(
        value=number, unit=unit, uncertainty=display_spread(spread, rule.kind, context.units), uses=stations
    )
