"""Numbers of a part, in the units asked for."""

from __future__ import annotations

from icepick.core.document.base import Document
from icepick.core.document.examination import PlainQuantity
from icepick.core.document.roles import State
from icepick.core.document.wording import display
from icepick.core.machine.along import At
from icepick.core.properties.quantities import Kind, UnitSystem


class Pipe(Document):
    """A pipe: temperature, pressure, and what is in it; ``words`` say the state with its number. ``station`` is the place one
    would measure at."""

    station: str
    temperature: PlainQuantity
    pressure: PlainQuantity
    state: State
    words: str


class Measure(Document):
    """What to measure where, and the check that judges it, by its code; empty where none does."""

    words: str
    check: str


def quantity(value: float, kind: Kind, units: UnitSystem) -> PlainQuantity:
    """A number as a screen shows it."""
    number, unit = display(value, kind, units)
    return PlainQuantity(value=round(number, 1), unit=unit)


def pipe(at: At, units: UnitSystem) -> Pipe:
    """A station of the path, as it is shown."""
    return Pipe(
        station=at.station,
        temperature=quantity(at.temperature, Kind.TEMPERATURE, units),
        pressure=quantity(at.pressure, Kind.PRESSURE, units),
        state=at.state,
        words=state_words(at, units),
    )


def state_words(at: At, units: UnitSystem) -> str:
    """*Vapor, 12 °F superheated*; *mixture, 26 % vapor*; *liquid, 8 °F subcooled*."""
    if at.state == "mixture":
        return f"mixture, {100 * at.amount:.0f} % vapor"
    number, unit = display(at.amount, Kind.TEMPERATURE_DIFFERENCE, units)
    symbol = "°F" if unit == "delta_degF" else "°C"
    kind, over = ("vapor", "superheated") if at.state == "superheated_vapor" else ("liquid", "subcooled")
    return f"{kind}, {number:.0f} {symbol} {over}"
