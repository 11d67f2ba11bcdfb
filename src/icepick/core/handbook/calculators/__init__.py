"""The Handbook's calculators: what each asks for, and its formula with the numbers in it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from icepick.core.document.wording import say
from icepick.core.handbook.calculators import air, fluids, refrigerant, unit
from icepick.core.handbook.calculators.question import Calculator, CalculatorError, Input
from icepick.core.properties import moist_air, refrigerants, water
from icepick.core.properties.quantities import UNITS, Kind, UnitSystem, to_si

__all__ = ["CALCULATORS", "Answer", "Calculator", "CalculatorError", "Given", "calculator", "work"]

CALCULATORS: tuple[Calculator, ...] = (
    *refrigerant.CALCULATORS,
    *air.CALCULATORS,
    *fluids.CALCULATORS,
    *unit.CALCULATORS,
)
"""Every calculator, in the Handbook's order."""

_BY_CODE = {calculator.code: calculator for calculator in CALCULATORS}

Given = Mapping[str, tuple[float, str] | str]
"""What was filled in: (number, unit) for a quantity, text for a choice."""


@dataclass(frozen=True, slots=True)
class Answer:
    """Results as sentences in the units asked for, and the formula with the numbers in it."""

    results: list[tuple[str, str]]
    formula: str


def calculator(code: str) -> Calculator:
    """Look a calculator up.

    Parameters
    ----------
    code : str
        Code of the calculator.

    Returns
    -------
    Calculator
        Its inputs, formula and source.

    Raises
    ------
    KeyError
        There is none of this code.
    """
    return _BY_CODE[code]


def work(code: str, given: Given, units: UnitSystem) -> Answer:
    """Answer a question.

    Parameters
    ----------
    code : str
        Code of the calculator.
    given : Given
        What was typed, by the name of the input.
    units : UnitSystem
        Units of what comes out.

    Returns
    -------
    Answer
        Results as sentences, and the formula with the numbers in it.

    Raises
    ------
    CalculatorError
        Something is missing, outside its range, or impossible.
    """
    entry = calculator(code)
    values: dict[str, Any] = {"elevation": 0.0}
    for wanted in sorted(entry.inputs, key=lambda i: i.name != "elevation"):
        if wanted.name not in given:
            raise CalculatorError(f"{wanted.title} is missing", wanted.name)
        atmosphere = moist_air.standard_pressure(values["elevation"])
        values[wanted.name] = _value(wanted, given[wanted.name], atmosphere)
    try:
        worked = entry.work(values)
    except refrigerants.OutsideRangeError as error:
        raise CalculatorError(str(error)) from None
    atmosphere = moist_air.standard_pressure(values["elevation"])

    def said(result: tuple[float, Kind] | str) -> str:
        return result if isinstance(result, str) else say(*result, units, atmosphere)

    return Answer(
        [(title, said(result)) for title, result in worked.results.items()],
        worked.formula.format_map({name: said(shown) for name, shown in worked.shown.items()}),
    )


def _value(wanted: Input, given: tuple[float, str] | str, atmosphere: float) -> Any:
    if not isinstance(wanted.kind, Kind):
        if not isinstance(given, str):
            raise CalculatorError(f"{wanted.title} takes a word", wanted.name)
        return _rows(given, wanted.name) if wanted.kind == "rows" else _choice(wanted, given)
    if isinstance(given, str) or given[1] not in UNITS[wanted.kind]:
        raise CalculatorError(
            f"{wanted.title} takes a number in {', '.join(UNITS[wanted.kind])}", wanted.name
        )
    value = to_si(*given, wanted.kind, atmosphere)
    low, high = (to_si(edge, wanted.unit, wanted.kind, atmosphere) for edge in (wanted.low, wanted.high))
    slack = 1e-6 * (high - low)
    if not low - slack <= value <= high + slack:
        raise CalculatorError(f"{wanted.title} lies outside what can be answered", wanted.name)
    return value


def _choice(wanted: Input, given: str) -> str:
    known: tuple[str, ...] = refrigerants.REFRIGERANTS if wanted.kind == "refrigerant" else water.ANTIFREEZES
    if given not in known:
        raise CalculatorError(f"{given!r} is not one of {', '.join(known)}", wanted.name)
    return given


def _rows(text: str, field: str) -> list[tuple[float, float]]:
    """Lines of two numbers, psi and gpm, as SI."""
    rows = []
    for line in filter(str.strip, text.splitlines()):
        try:
            drop, flow = (float(part.replace(",", ".")) for part in line.split())
        except ValueError:
            raise CalculatorError(f"“{line.strip()}” is not a drop and a flow", field) from None
        rows.append((to_si(drop, "psi", Kind.PRESSURE_DIFFERENCE), to_si(flow, "gpm", Kind.WATER_FLOW)))
    return rows
