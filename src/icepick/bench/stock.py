"""The units that practice is done on: one of each kind, in Tarnwick, all made up."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from icepick.core.document.visit import Unit


@dataclass(frozen=True, slots=True)
class StockUnit:
    """A unit by its short name, and where it stands."""

    name: str
    site: str
    unit: Unit


@cache
def stock() -> dict[str, StockUnit]:
    """Every one of them, by its short name."""
    read = json.loads((files("icepick.bench") / "stock.json").read_text(encoding="utf-8"))
    return {
        name: StockUnit(name, one["site"], Unit.model_validate_json(json.dumps(one["unit"])))
        for name, one in read.items()
    }
