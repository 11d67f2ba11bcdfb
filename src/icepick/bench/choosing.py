"""A case by its code: a lesson, a drawn one, or one that somebody set by hand."""

from __future__ import annotations

from secrets import choice

from icepick.bench.case import Case
from icepick.bench.drawing import drawn
from icepick.bench.lessons import lessons

_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"


def built_in(code: str) -> Case | None:
    """A lesson or a drawn case; None where the code is neither's."""
    lesson = lessons().get(code)
    return lesson.case if lesson is not None else drawn(code)


def new_code() -> str:
    """A code for a case that is set by hand: it says nothing of it."""
    return "SET-" + "".join(choice(_LETTERS) for _ in range(6))
