"""One run of a visit, examined by itself: doubts, checks, indicators, and all that is shown of it.

Nothing of it depends on what was read in the visit's other runs, but for the valve's voltage; so it is kept, and a reading
that is taken in one run has only that one looked at again.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache

from icepick.core.checks import Judged, judge
from icepick.core.checks.alike import ALIKE, alike
from icepick.core.checks.command import terminals
from icepick.core.checks.metering import devices
from icepick.core.checks.run import WORKED_OUT
from icepick.core.circuit.context import (
    Command,
    RunContext,
    attempt,
    command_of,
    note_mishap,
    resting_on,
    run_context,
    without_doubted,
)
from icepick.core.circuit.graph import Circuit, stations_of_unit
from icepick.core.circuit.learned import Learned
from icepick.core.circuit.line import in_its_line, line_of, seen_along
from icepick.core.circuit.readings import CurrentReading
from icepick.core.diagnosis.evidence import JudgedRun
from icepick.core.document.examination import (
    Check,
    Coils,
    CycleCorner,
    Device,
    Doubt,
    Indicator,
    Measured,
    Meters,
    PathStop,
    PlainQuantity,
    ReadingInForce,
    RunExamination,
    TapPlace,
)
from icepick.core.document.visit import Run, Unit, Visit
from icepick.core.document.wording import display, display_band, display_spread
from icepick.core.doubts import NOT_PHYSICS, find_doubts, unreadable
from icepick.core.examined_heads import with_heads
from icepick.core.indicators import INDICATORS, IndicatorRule
from icepick.core.indicators.cycle import cycle
from icepick.core.indicators.staircase import legs, levels
from icepick.core.machine.told import Told, told
from icepick.core.practice import Practice
from icepick.core.properties.quantities import ABSOLUTE_PRESSURE, Kind, UnitSystem, from_si


@dataclass(frozen=True, slots=True)
class ExaminedRun:
    """A run by itself: ``context`` is the run without the readings that physics contradicts, ``as_shown`` all that is said of
    it but for what goes wrong later on."""

    context: RunContext
    checks: Judged
    as_shown: RunExamination

    def beside(self, siblings: Sequence[ExaminedRun]) -> ExaminedRun:
        """The run held against those on the unit's other circuits; itself where none can be."""
        others = [one.context.trusted for one in siblings]
        outcome = attempt(self.context, ALIKE.title, lambda: alike(self.context.trusted, others), None)
        if outcome is None:
            return self
        check = ALIKE.check(self.context.trusted, outcome)
        return replace(
            self, as_shown=self.as_shown.model_copy(update={"checks": [*self.as_shown.checks, check]})
        )

    def judged(self) -> JudgedRun:
        """The run as the diagnosis takes it; what can't be worked out there is noted with this one alone."""
        context = replace(self.context.trusted, mishaps=dict(self.context.mishaps))
        return JudgedRun(context, self.checks.firm)

    def after(self, judged: JudgedRun) -> RunExamination:
        """What is shown of the run, once the diagnosis is through with it."""
        left_out = WORKED_OUT.firmly(judged.context)
        if left_out is None:
            return self.as_shown
        checks = [*self.as_shown.checks, WORKED_OUT.check(judged.context, left_out)]
        return self.as_shown.model_copy(update={"checks": checks})


def examined_runs(
    visit: Visit, practice: Practice, units: UnitSystem, learned: Learned | None
) -> list[ExaminedRun]:
    """Every run of a visit, examined by itself.

    Parameters
    ----------
    visit : Visit
        The visit document.
    practice : Practice
        The limits in force.
    units : {"field", "metric"}
        Units of every sentence.
    learned : Learned or None
        What earlier visits taught of the unit.

    Returns
    -------
    list of ExaminedRun
        In the order of the runs.
    """
    commands = tuple(dict.fromkeys(command_of(run) for run in visit.runs))
    atmosphere = visit.site.atmosphere
    examined = []
    for run in visit.runs:
        unit, read = line_of(visit.unit, run, practice, units, atmosphere)
        asked = _asked(read, unit, practice, atmosphere, units, learned, commands)
        examined.append(_examined(asked) if unit is visit.unit else _of_heads(asked, visit.unit, run))
    return examined


def _of_heads(asked: _Asked, unit: Unit, run: Run) -> ExaminedRun:
    """A run on a unit with several heads, examined along one of them, and each of the others beside it."""
    found = _examined(asked)

    def along(head: int) -> RunExamination:
        calls = not run.heads_calling or head in run.heads_calling
        line, read = seen_along(unit, run, head, fed=calls)
        rest = asked.practice, asked.atmosphere, asked.units, asked.learned, asked.commands
        return _examined(_asked(read, line, *rest)).as_shown

    return replace(found, as_shown=with_heads(found.context, found.as_shown, along))


def _asked(
    run: Run,
    unit: Unit,
    practice: Practice,
    atmosphere: float,
    units: UnitSystem,
    learned: Learned | None,
    commands: tuple[Command, ...],
) -> _Asked:
    written = run.model_dump_json(), unit.model_dump_json(), tuple(sorted(practice.changes.items()))
    return _Asked(written, atmosphere, units, learned, commands, run, unit, practice)


@dataclass(frozen=True, slots=True)
class _Asked:
    """Everything that an examined run depends on; documents and the practice count by what is written of them."""

    written: tuple[str, str, tuple[tuple[str, float], ...]]
    atmosphere: float
    units: UnitSystem
    learned: Learned | None
    commands: tuple[Command, ...]
    run: Run = field(compare=False)
    unit: Unit = field(compare=False)
    practice: Practice = field(compare=False)


@lru_cache(maxsize=64)
def _examined(asked: _Asked) -> ExaminedRun:
    as_read = run_context(
        asked.run, asked.unit, asked.practice, asked.units, asked.atmosphere, asked.commands, asked.learned
    )
    doubts = find_doubts(in_its_line(as_read))
    stations = frozenset(code for doubt in doubts if doubt.code not in NOT_PHYSICS for code in doubt.stations)
    codes = frozenset(doubt.code for doubt in doubts)
    context = without_doubted(as_read, stations, codes)
    if stations:
        context = replace(context, with_doubted=without_doubted(as_read, unreadable(doubts), codes))
    checks = judge(context)
    return ExaminedRun(context, checks, _shown(context, checks.shown, doubts, as_read.readings.all()))


def _shown(
    context: RunContext, checks: Mapping[str, Check], doubts: list[Doubt], as_read: list[CurrentReading]
) -> RunExamination:
    circuit = context.circuit
    found = attempt(context, "the metering devices", lambda: devices(context, checks), list[Device]())
    sound = attempt(context, "what a sound machine would show", lambda: told(context), Told())
    return RunExamination(
        id=context.run.id,
        circuit=context.run.circuit,
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
        readings=[_in_force(current, context) for current in as_read],
        indicators=_indicators(context),
        expected=sound.stations,
        expected_indicators=sound.figures,
        expected_basis=sound.basis,
        expected_cycle=sound.corners,
        departure=sound.departure,
        cycle=attempt(context, "the measured cycle", lambda: _cycle(context), []),
        terminals=attempt(context, "the terminal strip", lambda: terminals(context), []),
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
    read = current.value / current.share
    number, unit = display(read.nominal_value, kind, context.units, context.atmosphere)
    return ReadingInForce(
        station=reading.station,
        quantity=reading.quantity,
        value=number,
        unit=unit,
        uncertainty=display_band(read, kind, context.units),
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
