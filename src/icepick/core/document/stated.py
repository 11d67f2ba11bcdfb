"""What is stated of a unit, in the units of a screen that it was not stated in."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel

from icepick.core.document.base import Quantity
from icepick.core.document.examination import PlainQuantity
from icepick.core.document.visit import Unit
from icepick.core.document.wording import display
from icepick.core.properties.quantities import DISPLAY_UNITS, UnitSystem


def stated_in(unit: Unit, units: UnitSystem) -> dict[str, PlainQuantity]:
    """Every figure that was typed in another unit than these, converted. What was typed stays as it was.

    Parameters
    ----------
    unit : Unit
        The equipment.
    units : {"field", "metric"}
        Units of the screen.

    Returns
    -------
    dict of str to PlainQuantity
        By where it stands in the unit (JSON pointer, RFC 6901).
    """
    usual = set(DISPLAY_UNITS[units].values())
    found = {}
    for pointer, stated in _quantities(unit, ""):
        if stated.unit not in usual:
            value, name = display(stated.si, stated.kind, units)
            found[pointer] = PlainQuantity(value=value, unit=name)
    return found


def _quantities(part: object, pointer: str) -> Iterator[tuple[str, Quantity]]:
    if isinstance(part, Quantity):
        yield pointer, part
    elif isinstance(part, BaseModel):
        for name, value in part:
            yield from _quantities(value, f"{pointer}/{name}")
    elif isinstance(part, list | tuple):
        for place, value in enumerate(part):
            yield from _quantities(value, f"{pointer}/{place}")
