"""Documents as this Icepick understands them: what it would refuse today is set aside, so that a record an older one kept
never closes the book. The file itself is not touched."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from pydantic import BaseModel

from icepick.core.document.base import InvalidDocumentError, Problem, parse

M = TypeVar("M", bound=BaseModel)
_MOST_PASSES = 5


@dataclass(frozen=True, slots=True)
class ReadBack(Generic[M]):
    """A document, and what of its record was set aside."""

    document: M
    set_aside: tuple[Problem, ...] = ()


def read_back(model: type[M], text: str) -> ReadBack[M]:
    """A stored document (JSON) as a model.

    Each value that is refused is left out where it may be missing: a quantity as a whole, an entry of a list as a whole.

    Raises
    ------
    InvalidDocumentError
        What is wrong can't be left out.
    """
    aside: list[Problem] = []
    for _ in range(_MOST_PASSES):
        try:
            return ReadBack(parse(model, text), tuple(aside))
        except InvalidDocumentError as error:
            refused = error
        plain = json.loads(text)
        # From the back, so that the places of earlier list entries stay what the pointers say.
        for problem in sorted(refused.problems, key=lambda one: _steps(one.pointer), reverse=True):
            _leave_out(plain, _steps(problem.pointer))
        aside += refused.problems
        text = json.dumps(plain)
    raise refused


def _steps(pointer: str) -> list[str]:
    steps = [step.replace("~1", "/").replace("~0", "~") for step in pointer.split("/")[1:]]
    return [f"{int(step):09d}" if step.isdecimal() else step for step in steps]


def _leave_out(plain: Any, steps: list[str]) -> None:
    """Remove the list entry that holds the place, else the quantity, else the field itself."""
    holders = [plain]
    for step in steps:
        held = holders[-1]
        if isinstance(held, list) and step.isdecimal() and int(step) < len(held):
            holders.append(held[int(step)])
        elif isinstance(held, dict) and step in held:
            holders.append(held[step])
        else:
            break
    for depth in range(len(holders) - 1, 0, -1):
        held = holders[depth - 1]
        if isinstance(held, list) and steps[depth - 2] in ("readings", "observations"):
            del held[int(steps[depth - 1])]
            return
    for depth in range(len(holders) - 1, 0, -1):
        held, step = holders[depth - 1], steps[depth - 1]
        if isinstance(held, dict) and not (step in ("value", "unit") and {"value", "unit"} <= held.keys()):
            held.pop(step, None)
            return
