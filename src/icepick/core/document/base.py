"""What both documents share: the strict base model, quantities with units, and readable refusals."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import islice
from typing import Any, ClassVar, Literal, Self, TypeVar

from pydantic import BaseModel, ConfigDict, FiniteFloat, ValidationError, model_validator
from pydantic_core import ErrorDetails, PydanticCustomError, from_json

from icepick.core.properties.quantities import Kind, from_si, symbol, to_si


class Document(BaseModel):
    """Base of every model: unknown fields are refused, numbers are finite, texts are not coerced."""

    model_config = ConfigDict(
        extra="forbid",
        strict=True,
        allow_inf_nan=False,
        frozen=True,
        serialize_by_alias=True,
        json_schema_serialization_defaults_required=True,
        # Built when first used: a quarter of the time it takes to import the core.
        defer_build=True,
    )


def absent(value: object) -> bool:
    """Whether a field is left out of what is written: one that a unit with one circuit has no use for.

    Parameters
    ----------
    value : object
        Of the field.

    Returns
    -------
    bool
        True for nothing, and for an empty list.
    """
    return value is None or value == []


@dataclass(frozen=True, slots=True)
class Problem:
    """One thing wrong with a document: a JSON pointer (RFC 6901) and a sentence."""

    pointer: str
    message: str

    def __str__(self) -> str:
        return f"{self.pointer or '/'}: {self.message}"


class InvalidDocumentError(ValueError):
    """A document was refused; ``problems`` says where and why."""

    def __init__(self, problems: Iterable[Problem]) -> None:
        self.problems = tuple(problems)
        more = f" (and {len(self.problems) - 1} more)" if len(self.problems) > 1 else ""
        super().__init__(f"{self.problems[0]}{more}")


def field_error(field: str, message: str) -> PydanticCustomError:
    """An error that a model raises about one of its own fields, so that the pointer reaches it.

    Parameters
    ----------
    field : str
        Name of the field.
    message : str
        A sentence.

    Returns
    -------
    PydanticCustomError
        To be raised by a validator.
    """
    return PydanticCustomError("field", "{message}", {"field": field, "message": message})


_SENTENCES = {
    "missing": "this field is needed.",
    "extra_forbidden": "there is no field of this name.",
    "json_type": "this is not JSON.",
    "finite_number": "a number must be finite.",
    "float_type": "this must be a number.",
    "int_type": "this must be a whole number.",
    "string_type": "this must be text.",
    "bool_type": "this must be true or false.",
    "list_type": "this must be a list.",
    "model_type": "this must be an object.",
    "dict_type": "this must be an object.",
    "timezone_aware": "a time needs its offset, as in 2026-03-04T09:30:00+01:00.",
}


def _sentence(error: ErrorDetails) -> str:
    kind, context = error["type"], error.get("ctx", {})
    if kind == "field":
        return str(context["message"])
    if kind == "literal_error":
        wrong = repr(error["input"]) if "input" in error else "this"
        return f"{wrong} is not one of {context['expected']}."
    if kind == "too_long":
        return (
            f"this list has {context['actual_length']} entries; it takes {context['max_length']:,} at most."
        )
    if kind == "json_invalid":
        return f"this is not valid JSON: {context['error']}."
    return _SENTENCES.get(kind) or f"{error['msg']}."


def _pointer(error: ErrorDetails) -> str:
    steps = [*error["loc"]]
    if error["type"] == "field":
        steps += str(error["ctx"]["field"]).split("/")
    return "".join(f"/{str(step).replace('~', '~0').replace('/', '~1')}" for step in steps)


LARGE = 1024**2
"""A text from here on is looked at by its outline first, and what is wrong in it not repeated [characters]."""
OUTLINE = 200
"""Entries of a list, and fields of an object, in an outline."""


def explain(error: ValidationError, *, shown: bool = True) -> InvalidDocumentError:
    """Turn a pydantic error into pointers and sentences.

    Parameters
    ----------
    error : ValidationError
        What pydantic found.
    shown : bool
        Whether a sentence may repeat the value that is wrong.

    Returns
    -------
    InvalidDocumentError
        One problem for each field that is wrong.
    """
    found = error.errors(include_url=False, include_input=shown)
    return InvalidDocumentError(Problem(_pointer(one), _sentence(one)) for one in found)


M = TypeVar("M", bound=BaseModel)


def _of_its_kind(model: type[BaseModel], text: str | bytes) -> None:
    """Refuse another kind of document by its outline: each field that is missing would keep a copy of all that is there, many
    times the size of the text."""
    try:
        outline = json.dumps(_outline(from_json(text)))
    except ValueError:
        return  # No JSON: the reader says where.
    try:
        model.model_validate_json(outline)
    except ValidationError as error:
        if any(one["type"] in _KIND for one in error.errors(include_url=False, include_input=False)):
            raise


_KIND = frozenset({"missing", "extra_forbidden", "model_type", "dict_type", "list_type", "string_type"})


def _outline(value: object) -> object:
    if isinstance(value, list):
        return [_outline(one) for one in value[:OUTLINE]]
    if isinstance(value, dict):
        return {key: _outline(one) for key, one in islice(value.items(), OUTLINE)}
    return value


def parse(model: type[M], text: str | bytes) -> M:
    """Read a document from JSON.

    Parameters
    ----------
    model : type[M]
        The model it has to fit.
    text : str or bytes
        JSON.

    Returns
    -------
    M
        The document.

    Raises
    ------
    InvalidDocumentError
        With one :class:`Problem` for each field that is wrong.
    """
    large = len(text) > LARGE
    try:
        if large:
            _of_its_kind(model, text)
        return model.model_validate_json(text)
    except ValidationError as error:
        raise explain(error, shown=not large) from None


class Quantity(Document):
    """A number with its unit. Subclasses fix the kind and the range the world allows.

    ``value`` is finite; ``range`` is (low, high, unit) or None for no limit.
    """

    kind: ClassVar[Kind]
    range: ClassVar[tuple[float, float, str] | None] = None

    value: FiniteFloat
    unit: str

    @property
    def si(self) -> float:
        """The value in SI (K, Pa absolute at sea level, W, m³/s, s, m …)."""
        return to_si(self.value, self.unit, self.kind)

    @model_validator(mode="after")
    def _within_the_world(self) -> Self:
        if self.range is not None:
            check_range(self.value, self.unit, self.kind, *self.range)
        return self


def check_range(
    value: float, unit: str, kind: Kind, low: float, high: float, limit_unit: str, field: str = "value"
) -> None:
    """Refuse a number outside ``low``…``high`` [``limit_unit``] with a sentence in the number's own unit.

    Parameters
    ----------
    value : float
        The number as it was typed.
    unit : str
        Its unit.
    kind : Kind
        What the number measures.
    low : float
        The least it may be [``limit_unit``].
    high : float
        The most it may be [``limit_unit``].
    limit_unit : str
        The unit of both.
    field : str
        The field the refusal points at.

    Raises
    ------
    PydanticCustomError
        The number lies outside.
    """
    least, most = edges(low, high, limit_unit, unit, kind)
    if not least <= value <= most:
        raise outside_error(value, unit, kind, low, high, limit_unit, field)


def edges(low: float, high: float, limit_unit: str, unit: str, kind: Kind) -> tuple[float, float]:
    """The least and the most a number may be, in its own unit; what a conversion rounds away refuses no edge."""
    least, most = (from_si(to_si(edge, limit_unit, kind), unit, kind) for edge in (low, high))
    slack = [1e-9 * max(abs(edge), 1.0) if edge else 0.0 for edge in (least, most)]
    return least - slack[0], most + slack[1]


def outside_error(
    value: float, unit: str, kind: Kind, low: float, high: float, limit_unit: str, field: str
) -> PydanticCustomError:
    """The refusal of a number that lies outside ``low``…``high`` [``limit_unit``], in the number's own unit."""
    least, most = (_plain(from_si(to_si(edge, limit_unit, kind), unit, kind)) for edge in (low, high))
    named = symbol(unit, kind)
    return field_error(
        field, f"{value:g} {named} is outside what can be entered here ({least} to {most} {named})."
    )


def _plain(edge: float) -> str:
    """A limit as it is written: *1,000,000*, not *1e+06*."""
    return f"{edge:,.0f}" if abs(edge) >= 1000 else f"{edge:.4g}"


class Temperature(Quantity):
    kind = Kind.TEMPERATURE
    range = (-60, 350, "degF")
    unit: Literal["degF", "degC"]


class Target(Quantity):
    """A superheat or subcooling to aim at; what is more than any manufacturer states is a slip."""

    kind = Kind.TEMPERATURE_DIFFERENCE
    range = (0, 60, "delta_degF")
    unit: Literal["delta_degF", "delta_degC"]


class Pressure(Quantity):
    kind = Kind.PRESSURE
    range = (-14.7, 900, "psi")
    unit: Literal["psi", "kPa", "bar", "psia", "kPa_abs", "bar_abs"]


class RatedCurrent(Quantity):
    """A compressor's rated load current, from its nameplate."""

    kind = Kind.CURRENT
    range = (0.5, 300, "A")
    unit: Literal["A"]


class SensorResistance(Quantity):
    """A row of a sensor's table: neither shorted nor open."""

    kind = Kind.RESISTANCE
    range = (0.001, 10_000, "kohm")
    unit: Literal["ohm", "kohm"]


class WaterFlow(Quantity):
    kind = Kind.WATER_FLOW
    range = (0, 500, "gpm")
    unit: Literal["gpm", "L/min", "L/s"]


class AirFlow(Quantity):
    kind = Kind.AIR_FLOW
    range = (20, 20_000, "cfm")
    unit: Literal["cfm", "m3/h", "L/s"]


class Capacity(Quantity):
    """Heat a machine moves: from the smallest room unit to a large rooftop."""

    kind = Kind.POWER
    range = (1000, 1_000_000, "Btu/h")
    unit: Literal["W", "kW", "Btu/h", "ton"]


class FanPower(Quantity):
    kind = Kind.POWER
    range = (1, 50_000, "W")
    unit: Literal["W", "kW", "Btu/h"]


class HeaterPower(Quantity):
    kind = Kind.POWER
    range = (100, 300_000, "W")
    unit: Literal["W", "kW", "Btu/h"]


class Time(Quantity):
    kind = Kind.TIME
    range = (1, 1440, "min")
    unit: Literal["s", "min"]


class StartTemperature(Quantity):
    """Of an outdoor coil on which frost may lie."""

    kind = Kind.TEMPERATURE
    range = (-40, 60, "degF")
    unit: Literal["degF", "degC"]


class StopTemperature(Quantity):
    """Of an outdoor coil that is clear of frost."""

    kind = Kind.TEMPERATURE
    range = (32, 150, "degF")
    unit: Literal["degF", "degC"]


class TemperatureStep(Quantity):
    """How far two temperatures lie apart."""

    kind = Kind.TEMPERATURE_DIFFERENCE
    range = (0, 60, "delta_degF")
    unit: Literal["delta_degF", "delta_degC"]


class Length(Quantity):
    kind = Kind.LENGTH
    range = (0, 1000, "ft")
    unit: Literal["ft", "m"]


class LineSetLength(Length):
    """From the outdoor to the indoor unit; manufacturers' guides for long lines end at some 240 ft. [common practice, from
    memory]"""

    range = (0, 300, "ft")


class Elevation(Quantity):
    """Height above sea level; the lowest dry land and the highest towns bound it."""

    kind = Kind.LENGTH
    range = (-1500, 18_000, "ft")
    unit: Literal["ft", "m"]


class PressureDrop(Quantity):
    """A difference between two gauge readings, as a manufacturer's water table gives it."""

    kind = Kind.PRESSURE_DIFFERENCE
    range = (0, 100, "psi")
    unit: Literal["psi", "kPa", "bar"]


def to_plain(model: BaseModel) -> dict[str, Any]:
    """The document as plain JSON data; fields that are absent by nature (None) stay as null.

    Parameters
    ----------
    model : BaseModel
        Any document.

    Returns
    -------
    dict of str to Any
        Ready for ``json.dumps``.
    """
    return model.model_dump(mode="json")
