"""The lessons: hand-made cases in the order of the trade, each with the reading without which it can't be decided."""

from __future__ import annotations

import tomllib
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from icepick.bench.acts import ForceDefrost, Logger, LookAt, Step, Switch, Take
from icepick.bench.case import Case, instrument
from icepick.bench.stock import stock

ALLOWED = 2.0
"""A lesson is solved in good time within so many of an expert's minutes."""


@dataclass(frozen=True, slots=True)
class Group:
    """Lessons on one subject; ``read`` is the Handbook's moving part to begin with."""

    code: str
    read: str
    title: str
    words: str


@dataclass(frozen=True, slots=True)
class Lesson:
    """A case with what it teaches; ``key`` is the reading that decides it, in the words of the file."""

    case: Case
    group: str
    key: str
    teaches: str

    def is_key(self, step: Step) -> bool:
        """Whether a step is the key one."""
        return is_key(self.key)(step)


@cache
def _read() -> dict[str, Any]:
    return tomllib.loads((files("icepick.bench") / "lessons.toml").read_text(encoding="utf-8"))


@cache
def groups() -> tuple[Group, ...]:
    """The subjects, in the order of the trade."""
    return tuple(Group(**one) for one in _read()["group"])


@cache
def lessons() -> dict[str, Lesson]:
    """Every lesson, by its code, in order."""
    return {one["code"]: _lesson(number, dict(one)) for number, one in enumerate(_read()["lesson"], start=1)}


def _lesson(number: int, read: dict[str, Any]) -> Lesson:
    where, key, teaches = stock()[read.pop("unit")], read.pop("key"), read.pop("teaches")
    for name in ("outdoor", "indoor"):
        read[name] = {"value": float(read[name]), "unit": "degF"}
    rest = {"level": "one_fault", "site": where.site, "unit": where.unit, "individual": number}
    return Lesson(
        Case.model_validate({**rest, **read}, strict=False), read["code"].split("-")[0], key, teaches
    )


def is_key(key: str) -> Callable[[Step], bool]:
    """What a key of the lessons' file means, as a question put to a step: one of several where there is an *or*."""
    asked = [_is(one) for one in key.split(" or ")]
    return lambda step: any(one(step) for one in asked)


def _is(key: str) -> Callable[[Step], bool]:
    what, _, rest = key.partition(" ")
    if what == "gauges":
        return lambda step: isinstance(step, Take) and instrument(step.station, step.quantity) == "gauge"
    if what == "look":
        return lambda step: isinstance(step, LookAt) and step.look == rest
    if what == "switch":
        return lambda step: isinstance(step, Switch) and step.mode == rest
    if what in ("defrost", "logger"):
        return lambda step: isinstance(step, ForceDefrost | Logger) and step.act == what
    place, _, quantity = rest.partition(" ")
    return lambda step: (
        isinstance(step, Take) and step.station.split(":")[0] == place and step.quantity == quantity
    )
