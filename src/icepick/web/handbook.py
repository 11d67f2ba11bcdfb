"""The Handbook: saturation tables, calculators, practice limits and fault pages."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field, FiniteFloat

from icepick.core.circuit.graph import flow_mode
from icepick.core.document.base import Document, InvalidDocumentError, Problem
from icepick.core.document.examination import Fault
from icepick.core.document.visit import Run, Visit
from icepick.core.handbook.calculators import (
    CALCULATORS,
    Calculator,
    CalculatorError,
    calculator,
    work,
)
from icepick.core.handbook.calculators.question import Input
from icepick.core.handbook.fault_pages import FAULT_PAGES
from icepick.core.practice import Practice, PracticeError, limit
from icepick.core.properties.quantities import (
    ABSOLUTE_PRESSURE,
    DISPLAY_UNITS,
    SYMBOLS,
    UNITS,
    Kind,
    UnitSystem,
    from_si,
    to_si,
)
from icepick.core.properties.refrigerants import (
    LINES,
    LOWEST,
    REFRIGERANTS,
    SAFETY_GROUPS,
    Refrigerant,
    glide,
    highest,
    saturated_enthalpy,
    saturation_pressure,
)
from icepick.core.properties.water import ANTIFREEZES
from icepick.store import visits as store
from icepick.store.database import writing
from icepick.store.practice import change, practice
from icepick.web.connection import connection
from icepick.web.contract import Api
from icepick.web.limits import LimitView, limits, own_value
from icepick.web.problems import problem
from icepick.web.visit_list import LimitEffects, limit_effects

api = Api("handbook")


class SaturationRow(BaseModel):
    """Pressures of both lines at one temperature, in the units asked for."""

    temperature: float
    bubble: float
    dew: float


class SaturationTable(BaseModel):
    """``glide`` is that at 100 °F, a usual condensing temperature."""

    refrigerant: Refrigerant
    safety_group: str
    glide: float
    glide_unit: str
    temperature_unit: str
    pressure_unit: str
    rows: list[SaturationRow]


class DomeRow(BaseModel):
    """Both saturation lines at one temperature: absolute pressures and enthalpies."""

    temperature: float
    bubble_pressure: float
    dew_pressure: float
    liquid_enthalpy: float
    vapor_enthalpy: float


class Dome(BaseModel):
    """The saturation dome of a pressure–enthalpy chart, in the units asked for."""

    refrigerant: Refrigerant
    temperature_unit: str
    pressure_unit: str
    enthalpy_unit: str
    rows: list[DomeRow]


class InputInUnits(BaseModel):
    """What a field starts with, and the ends of its slider, in the unit a screen shows."""

    default: float | str
    unit: str
    low: float
    high: float


class CalculatorInput(BaseModel):
    """One field. ``units`` is empty for a choice, whose ``choices`` are then given; both are empty for text."""

    name: str
    title: str
    shown: dict[UnitSystem, InputInUnits]
    units: list[str]
    choices: list[str]


class CalculatorView(BaseModel):
    code: str
    title: str
    formula: str
    source: str
    inputs: list[CalculatorInput]


class Effect(BaseModel):
    indicator: str
    cooling: str
    heating: str


class FaultView(BaseModel):
    code: Fault
    title: str
    what: str
    effects: list[Effect]
    mimics: list[Fault]
    apart: str
    first: str
    do: str
    caution: str
    synonyms: list[str]


class Handbook(BaseModel):
    """Everything in the Handbook but the saturation tables themselves."""

    refrigerants: list[Refrigerant]
    calculators: list[CalculatorView]
    limits: list[LimitView]
    faults: list[FaultView]


class Filled(Document):
    """A number with its unit, as it was typed into a calculator."""

    value: FiniteFloat
    unit: str


class Question(Document):
    given: Annotated[dict[str, Filled | str], Field(max_length=20)]


class ResultView(BaseModel):
    title: str
    value: str


class AnswerView(BaseModel):
    """Results as sentences, and the formula with the numbers in it."""

    results: list[ResultView]
    formula: str


class CalculatorFilling(BaseModel):
    """What a run's readings give a calculator to start from."""

    given: dict[str, Filled | str]


class LimitChange(Document):
    """A new value, in the units of the screen it was typed on; null restores the default."""

    value: FiniteFloat | None
    units: UnitSystem = "field"


@api.endpoint("get", "/handbook", gives=Handbook)
def get_handbook() -> Handbook:
    """Calculators, limits and faults."""
    return _handbook()


def _handbook() -> Handbook:
    return Handbook(
        refrigerants=list(REFRIGERANTS),
        calculators=[_calculator(entry) for entry in CALCULATORS],
        limits=limits(),
        faults=[
            FaultView.model_validate(
                asdict(page)
                | {"effects": [dict(zip(Effect.model_fields, row, strict=True)) for row in page.effects]}
            )
            for page in FAULT_PAGES
        ],
    )


def _input_in(wanted: Input, units: UnitSystem) -> InputInUnits:
    """The field units are those the trade quotes an input in."""
    kind, unit = wanted.kind, wanted.unit
    as_asked = InputInUnits(default=wanted.default, unit=unit, low=wanted.low, high=wanted.high)
    if units == "field" or not isinstance(kind, Kind):
        return as_asked
    other = _ABSOLUTE[units] | {DISPLAY_UNITS["field"][kind]: DISPLAY_UNITS[units][kind]}
    if unit not in other:
        return as_asked
    default, low, high = (
        _rounded(from_si(to_si(float(each), unit, kind), other[unit], kind))
        for each in (wanted.default, wanted.low, wanted.high)
    )
    return InputInUnits(default=default, unit=other[unit], low=low, high=high)


_ABSOLUTE: dict[UnitSystem, dict[str, str]] = {
    units: {ABSOLUTE_PRESSURE["field"]: ABSOLUTE_PRESSURE[units]} for units in DISPLAY_UNITS
}


def _rounded(value: float) -> float:
    """A start, not a result."""
    return float(f"{value:.4g}") + 0.0


def _calculator(entry: Calculator) -> CalculatorView:
    inputs = []
    for wanted in entry.inputs:
        is_number = isinstance(wanted.kind, Kind)
        choices = {"refrigerant": list(REFRIGERANTS), "antifreeze": list(ANTIFREEZES)}
        inputs.append(
            CalculatorInput(
                name=wanted.name,
                title=wanted.title,
                shown={units: _input_in(wanted, units) for units in DISPLAY_UNITS},
                units=list(UNITS[wanted.kind]) if isinstance(wanted.kind, Kind) else [],
                choices=[] if is_number else choices.get(str(wanted.kind), []),
            )
        )
    return CalculatorView(
        code=entry.code, title=entry.title, formula=entry.formula, source=entry.source, inputs=inputs
    )


@api.endpoint("put", "/handbook/limits/<name>", accepts=LimitChange, gives=Handbook, needs="limits")
def change_limit(name: str, body: LimitChange) -> Handbook:
    """Change a practice limit, or restore its default."""
    with writing(connection()) as db:
        kept = {other: value for other, value in practice(db).changes.items() if other != name}
        try:
            value = None if body.value is None else own_value(limit(name), body.value, body.units)
            Practice(kept if value is None else {**kept, name: value})
        except KeyError:
            raise problem(404, f"There is no limit {name!r}.") from None
        except PracticeError as error:
            raise problem(422, str(error)) from None
        change(db, name, value)
    return _handbook()


@api.endpoint("get", "/handbook/effects", gives=LimitEffects)
def get_effects() -> LimitEffects:
    """The visits that read otherwise than before the limits were changed last."""
    return limit_effects()


@api.endpoint("get", "/refrigerants/<name>/saturation", gives=SaturationTable, in_units=True)
def saturation(name: str, units: UnitSystem) -> SaturationTable:
    """Both saturation lines at whole degrees, in gauge pressure at sea level."""
    if name not in REFRIGERANTS:
        raise problem(404, f"There is no refrigerant {name!r} here.")
    display = DISPLAY_UNITS[units]
    t_unit, p_unit = display[Kind.TEMPERATURE], display[Kind.PRESSURE]
    low, high = (-40, 150) if units == "field" else (-40, 66)
    whole = [float(t) for t in range(low, high + 1)]
    kelvin = np.array([to_si(t, t_unit, Kind.TEMPERATURE) for t in whole])
    bubble, dew = (
        [round(from_si(float(p), p_unit, Kind.PRESSURE), 1) for p in saturation_pressure(name, kelvin, line)]
        for line in ("bubble", "dew")
    )
    usual = float(saturation_pressure(name, to_si(100, "degF", Kind.TEMPERATURE), "dew"))
    d_unit = display[Kind.TEMPERATURE_DIFFERENCE]
    return SaturationTable(
        refrigerant=name,
        safety_group=SAFETY_GROUPS[name],
        glide=round(from_si(float(glide(name, usual)), d_unit, Kind.TEMPERATURE_DIFFERENCE), 1),
        glide_unit=SYMBOLS[d_unit],
        temperature_unit=t_unit,
        pressure_unit=p_unit,
        rows=[
            SaturationRow(temperature=t, bubble=b, dew=d) for t, b, d in zip(whole, bubble, dew, strict=True)
        ],
    )


@api.endpoint("get", "/refrigerants/<name>/dome", gives=Dome, in_units=True)
def dome(name: str, units: UnitSystem) -> Dome:
    """The saturation dome of a refrigerant."""
    if name not in REFRIGERANTS:
        raise problem(404, f"There is no refrigerant {name!r} here.")
    p_unit = ABSOLUTE_PRESSURE[units]
    t_unit, h_unit = (DISPLAY_UNITS[units][kind] for kind in (Kind.TEMPERATURE, Kind.SPECIFIC_ENTHALPY))
    rows = []
    for kelvin in np.linspace(LOWEST, highest(name), 66).tolist():
        pressures = [float(saturation_pressure(name, kelvin, line)) for line in LINES]
        enthalpies = [
            float(saturated_enthalpy(name, p, line)) for p, line in zip(pressures, LINES, strict=True)
        ]
        bubble, dew = (round(from_si(p, p_unit, Kind.PRESSURE), 3) for p in pressures)
        liquid, vapor = (round(from_si(h, h_unit, Kind.SPECIFIC_ENTHALPY), 3) for h in enthalpies)
        rows.append(
            DomeRow(
                temperature=round(from_si(kelvin, t_unit, Kind.TEMPERATURE), 2),
                bubble_pressure=bubble,
                dew_pressure=dew,
                liquid_enthalpy=liquid,
                vapor_enthalpy=vapor,
            )
        )
    return Dome(
        refrigerant=name, temperature_unit=t_unit, pressure_unit=p_unit, enthalpy_unit=h_unit, rows=rows
    )


@api.endpoint("post", "/calculators/<code>", accepts=Question, gives=AnswerView, needs="read", in_units=True)
def calculate(code: str, body: Question, units: UnitSystem) -> AnswerView:
    """Answer a calculator's question."""
    given = {name: f if isinstance(f, str) else (f.value, f.unit) for name, f in body.given.items()}
    try:
        answer = work(code, given, units)
    except KeyError:
        raise problem(404, f"There is no calculator {code!r}.") from None
    except CalculatorError as error:
        pointer = f"/given/{error.field}" if error.field else ""
        raise InvalidDocumentError([Problem(pointer, f"{error}.")]) from None
    results = [ResultView(title=title, value=value) for title, value in answer.results]
    return AnswerView(results=results, formula=answer.formula)


@api.endpoint("get", "/visits/<int:visit_id>/runs/<run>/calculators/<code>", gives=CalculatorFilling)
def fill(visit_id: int, run: str, code: str) -> CalculatorFilling:
    """What a run of a visit gives a calculator to start from."""
    found = store.find_visit(connection(), visit_id)
    of_run = next((r for r in found.document.runs if r.id == run), None) if found else None
    if found is None or of_run is None:
        raise problem(404, f"There is no run {run!r} of a visit {visit_id}.")
    try:
        entry = calculator(code)
    except KeyError:
        raise problem(404, f"There is no calculator {code!r}.") from None
    return CalculatorFilling(given=_filling(entry, found.document, of_run))


def _filling(entry: Calculator, visit: Visit, run: Run) -> dict[str, Filled | str]:
    read = {(reading.station, reading.quantity): reading for reading in run.readings}
    mode = flow_mode(run.mode)
    given: dict[str, Filled | str] = {}
    for wanted in entry.inputs:
        if wanted.kind == "refrigerant":
            given[wanted.name] = visit.unit.refrigerant
        if wanted.name == "elevation" and visit.site.elevation:
            given[wanted.name] = Filled(value=visit.site.elevation.value, unit=visit.site.elevation.unit)
        reading = next((read[key] for key in wanted.filled_by(mode) if key in read), None)
        if reading is not None:
            given[wanted.name] = Filled(value=reading.value, unit=reading.unit)
    return given
