"""The practice limits as the screens show them."""

from __future__ import annotations

from pydantic import BaseModel

from icepick.core.checks import CHECKS
from icepick.core.practice import LIMITS
from icepick.core.properties.quantities import SYMBOLS
from icepick.store.practice import practice
from icepick.web.connection import connection


class LimitView(BaseModel):
    """A practice limit; ``value`` is the one in force, ``checks`` the titles of the checks held to it."""

    name: str
    title: str
    value: float
    default: float
    unit: str
    standing: str
    reason: str
    checks: list[str]


def limits() -> list[LimitView]:
    """Every limit, with the value in force."""
    in_force = practice(connection())
    return [
        LimitView(
            name=entry.name,
            title=entry.title,
            value=in_force.value(entry.name),
            default=entry.default,
            unit=SYMBOLS[entry.unit],
            standing=entry.standing,
            reason=entry.reason,
            checks=[check.title for check in CHECKS if check.practice == entry.name],
        )
        for entry in LIMITS
    ]
