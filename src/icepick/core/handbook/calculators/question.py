"""What a calculator asks for and what it answers; the inputs that many of them share."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from icepick.core.document.roles import FlowMode
from icepick.core.properties.quantities import Kind

Choice = Literal["refrigerant", "antifreeze", "rows"]
Values = Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Input:
    """One thing asked for. Numbers are in ``unit`` and within ``low`` and ``high``; ``stations`` says which
    readings of a run in cooling can fill it, the first that was read winning, and ``heating`` which ones of a run in
    heating, where those differ."""

    name: str
    title: str
    kind: Kind | Choice
    default: float | str
    unit: str = ""
    low: float = 0
    high: float = 0
    stations: tuple[tuple[str, str], ...] = ()
    heating: tuple[tuple[str, str], ...] | None = None

    def filled_by(self, mode: FlowMode | None) -> tuple[tuple[str, str], ...]:
        """The readings that can fill it in a run of a mode.

        Parameters
        ----------
        mode : FlowMode or None
            The mode of the run; None with the compressor off.

        Returns
        -------
        tuple[(str, str), ...]
            Station and quantity, in the order of preference.
        """
        return self.stations if mode != "heating" or self.heating is None else self.heating


@dataclass(frozen=True, slots=True)
class Worked:
    """Results by title, as (value in SI, kind) or words, and the formula with {names} of ``shown`` in it."""

    results: dict[str, tuple[float, Kind] | str]
    formula: str
    shown: dict[str, tuple[float, Kind] | str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Calculator:
    """A small question of the working day."""

    code: str
    title: str
    inputs: tuple[Input, ...]
    formula: str
    source: str
    work: Callable[[Values], Worked]


class CalculatorError(ValueError):
    """The question can't be answered; the message says why and ``field`` which input is to blame, if one
    is."""

    def __init__(self, message: str, field: str | None = None) -> None:
        super().__init__(message)
        self.field = field


REFRIGERANT = Input("refrigerant", "refrigerant", "refrigerant", "R-410A")
ELEVATION = Input("elevation", "elevation", Kind.LENGTH, 0, "ft", -1500, 18_000)
PHYSICS = "physics; CoolProp's equations of state"


def temperature_input(
    name: str, title: str, default: float, *stations: str, heating: tuple[str, ...] | None = None
) -> Input:
    """A temperature [°F], filled in by the first of the stations that was read, or of ``heating`` in that mode.

    Parameters
    ----------
    name : str
        Its name.
    title : str
        What the screen calls it.
    default : float
        What it starts from, in its own unit.
    *stations : str
        Stations in the order of preference.
    heating : tuple of str or None
        Stations in heating, where others than in cooling.

    Returns
    -------
    Input
        An input of a calculator.
    """

    def spots(codes: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
        return tuple((code, "temperature") for code in codes)

    return Input(
        name,
        title,
        Kind.TEMPERATURE,
        default,
        "degF",
        -40,
        250,
        spots(stations),
        None if heating is None else spots(heating),
    )


def pressure_input(
    name: str, title: str, default: float, *stations: str, heating: tuple[str, ...] | None = None
) -> Input:
    """A gauge pressure [psi], filled in by the first of the stations that was read, or of ``heating`` in that mode.

    Parameters
    ----------
    name : str
        Its name.
    title : str
        What the screen calls it.
    default : float
        What it starts from, in its own unit.
    *stations : str
        Taps in the order of preference.
    heating : tuple of str or None
        Stations in heating, where others than in cooling.

    Returns
    -------
    Input
        An input of a calculator.
    """

    def spots(codes: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
        return tuple((code, "pressure") for code in codes)

    return Input(
        name,
        title,
        Kind.PRESSURE,
        default,
        "psi",
        -10,
        600,
        spots(stations),
        None if heating is None else spots(heating),
    )


def difference(warm: float, cold: float, field: str, words: str) -> float:
    """The first less the second; a ``CalculatorError`` with these words about this field where that is not above zero.

    Parameters
    ----------
    warm : float
        The larger.
    cold : float
        The smaller.
    field : str
        The field to point at.
    words : str
        What to say.

    Returns
    -------
    float
        Above zero.

    Raises
    ------
    CalculatorError
        The difference is not above zero.
    """
    if warm <= cold:
        raise CalculatorError(words, field)
    return warm - cold
