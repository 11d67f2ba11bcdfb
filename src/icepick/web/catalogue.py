"""What the screen must know before it can draw: stations, units, words and practice limits."""

from __future__ import annotations

from typing import get_args

from pydantic import BaseModel

from icepick.core.checks import CHECKS
from icepick.core.circuit.graph import USUAL_BYPASS
from icepick.core.document.codes import Bypass, MeterKind, QuantityName
from icepick.core.document.stations import NUMBERED, STATIONS, Allowed, Group, Place
from icepick.core.document.words import WORDS
from icepick.core.indicators import INDICATORS
from icepick.core.properties.quantities import (
    DISPLAY_UNITS,
    SUFFIXES,
    SYMBOLS,
    UNITS,
    Kind,
    UnitSystem,
    from_si,
    symbol,
    to_si,
)
from icepick.core.properties.refrigerants import Refrigerant
from icepick.store.pictures import LARGEST
from icepick.web.contract import Api
from icepick.web.limits import LimitView, limits

api = Api("catalogue")


class Possible(BaseModel):
    """The range outside which a number is refused as a slip of the hand, in some unit."""

    low: float
    high: float


class StationQuantity(BaseModel):
    quantity: QuantityName
    units: list[str]
    possible: dict[str, Possible]
    display_unit: dict[UnitSystem, str]


class StationEntry(BaseModel):
    code: str
    title: str
    short: str
    group: Group
    place: Place
    quantities: list[StationQuantity]


class Catalogue(BaseModel):
    """``stations`` in walking order, coil circuits last with N for their number; ``suffixes`` maps what may
    be typed behind a number to a unit; ``symbols`` says how a unit is written, ``difference_symbols`` how behind a
    difference of pressures, which the checks and indicators named in ``differences`` are; ``words`` gives the trade's
    word for each code; ``usual_bypass`` the way round each kind of meter most often comes with; a photo as it comes has at
    most ``largest_photo`` bytes; ``check_limits`` names the practice limit that a check holds to."""

    stations: list[StationEntry]
    suffixes: dict[str, str]
    symbols: dict[str, str]
    difference_symbols: dict[str, str]
    differences: list[str]
    display_units: dict[UnitSystem, list[str]]
    words: dict[str, dict[str, str]]
    refrigerants: list[Refrigerant]
    limits: list[LimitView]
    usual_bypass: dict[MeterKind, Bypass]
    check_limits: dict[str, str]
    largest_photo: int


_APART = Kind.PRESSURE_DIFFERENCE


def _possible(allowed: Allowed, unit: str) -> Possible:
    low, high = (
        from_si(to_si(end, allowed.unit, allowed.kind), unit, allowed.kind)
        for end in (allowed.low, allowed.high)
    )
    return Possible(low=round(low, 4), high=round(high, 4))


@api.endpoint("get", "/catalogue", gives=Catalogue)
def get_catalogue() -> Catalogue:
    """Stations, units, words and practice limits."""
    return Catalogue.model_validate(
        {
            "stations": [
                {
                    "code": entry.code,
                    "title": entry.title,
                    "short": entry.short,
                    "group": entry.group,
                    "place": entry.place,
                    "quantities": [
                        {
                            "quantity": name,
                            "units": list(UNITS[allowed.kind]),
                            "possible": {unit: _possible(allowed, unit) for unit in UNITS[allowed.kind]},
                            "display_unit": {
                                system: units[allowed.kind] for system, units in DISPLAY_UNITS.items()
                            },
                        }
                        for name, allowed in entry.quantities.items()
                    ],
                }
                for entry in (*STATIONS, *NUMBERED)
            ],
            "suffixes": SUFFIXES,
            "symbols": SYMBOLS,
            "difference_symbols": {unit: symbol(unit, _APART) for unit in UNITS[_APART]},
            "differences": [
                *(rule.code for rule in CHECKS if rule.kind is _APART),
                *(rule.name for rule in INDICATORS if rule.kind is _APART),
            ],
            "display_units": {
                system: list(dict.fromkeys(units.values())) for system, units in DISPLAY_UNITS.items()
            },
            "words": WORDS | {"indicator": {rule.name: rule.title for rule in INDICATORS}},
            "refrigerants": get_args(Refrigerant),
            "limits": limits(),
            "usual_bypass": USUAL_BYPASS,
            "check_limits": {rule.code: rule.practice for rule in CHECKS if rule.practice},
            "largest_photo": LARGEST,
        }
    )
