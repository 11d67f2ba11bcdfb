"""Whole visits and practices at the edges of what may be typed: nothing, next to nothing, the least, the most, and a
little beyond. Drawn with Hypothesis, so that what breaks is cut down to the few values that break it."""

from __future__ import annotations

import copy
import json
from importlib.resources import files
from typing import Any, get_args

from hypothesis import strategies as st
from pydantic import BaseModel

from icepick.core.document import visit as v
from icepick.core.document.base import Quantity
from icepick.core.document.stations import MOST_HEADS, NUMBERED, OF_A_HEAD, STATIONS, Allowed
from icepick.core.practice import LIMITS, Practice
from icepick.core.properties.quantities import UNITS, from_si, to_si
from icepick.core.properties.refrigerants import REFRIGERANTS

NEXT_TO_NOTHING = (0.0, -0.0, 5e-324, 1e-300, 1e-9, 0.001)
MOMENTS = ("0001-01-01T00:00:00+14:00", "2026-03-04T09:30:00+01:00", "9999-12-31T23:59:59-14:00")
DEMO = [
    json.loads(entry.read_text("utf-8"))
    for entry in sorted(files("icepick.demo").joinpath("visits").iterdir(), key=lambda entry: entry.name)
    if entry.name.endswith(".json") and entry.name != "opened.json"
]
SPOTS = [
    (entry.code.replace("N", str(number)), quantity, allowed)
    for entry in (*STATIONS, *NUMBERED)
    for number in ((1, 2, 99) if entry.code.endswith("N") else (0,))
    for quantity, allowed in entry.quantities.items()
] + [
    (f"{entry.code}:{number}", quantity, allowed)
    for entry in STATIONS
    if entry.code in OF_A_HEAD
    for number in (1, 2, MOST_HEADS)
    for quantity, allowed in entry.quantities.items()
]


def number(low: float, high: float) -> st.SearchStrategy[float]:
    """Within ``low``…``high``, mostly at an edge or next to nothing."""
    inside = [edge for edge in NEXT_TO_NOTHING if low <= edge <= high]
    return st.sampled_from([low, high, (low + high) / 2, *inside]) | st.floats(low, high)


def in_unit(value: float, unit: str, allowed: Allowed) -> float:
    return (
        value
        if unit == allowed.unit
        else from_si(to_si(value, allowed.unit, allowed.kind), unit, allowed.kind)
    )


@st.composite
def readings(draw: st.DrawFn) -> dict[str, Any]:
    station, quantity, allowed = draw(st.sampled_from(SPOTS))
    unit = draw(st.sampled_from(UNITS[allowed.kind]))
    return {
        "station": station,
        "quantity": quantity,
        "value": in_unit(draw(number(allowed.low, allowed.high)), unit, allowed),
        "unit": unit,
        "method": draw(st.sampled_from([None, *get_args(v.Method)])),
        "at": draw(st.sampled_from([None, None, *MOMENTS])),
    }


@st.composite
def quantities(draw: st.DrawFn, model: type[Quantity]) -> dict[str, Any]:
    assert model.range is not None
    low, high, its = model.range
    unit = draw(st.sampled_from(get_args(model.model_fields["unit"].annotation)))
    value = draw(number(low, high))
    return {"value": from_si(to_si(value, its, model.kind), unit, model.kind), "unit": unit}


def _field(annotation: Any) -> st.SearchStrategy[Any]:
    """Any value of a field, by its declared type."""
    if isinstance(annotation, type) and issubclass(annotation, Quantity):
        return quantities(annotation)
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return st.fixed_dictionaries(
            {name: _field(f.annotation) for name, f in annotation.model_fields.items()}
        )
    if annotation is bool:
        return st.booleans()
    parts = get_args(annotation)
    if type(None) in parts:
        return st.none() | st.one_of(*(_field(part) for part in parts if part is not type(None)))
    if getattr(annotation, "__origin__", None) is list:
        return st.lists(_field(parts[0]), max_size=4)
    if getattr(annotation, "__metadata__", None):
        return _field(annotation.__origin__)
    if parts:
        return st.sampled_from(parts)
    return st.just("unit")


@st.composite
def drawn_units(draw: st.DrawFn) -> dict[str, Any]:
    """One in three has several circuits or heads; heads only where there can be some."""
    unit = draw(_field(v.Unit))
    several = draw(st.sampled_from([None, None, None, "circuits", "heads"]))
    for what in {"circuits", "heads"} - {several}:
        unit[what] = None
    if several is not None:
        drawn = draw(
            st.lists(_field({"circuits": v.UnitCircuit, "heads": v.Head}[several]), min_size=2, max_size=4)
        )
        key = {"circuits": "id", "heads": "label"}[several]
        unit[several] = [{**one, key: str(n)} for n, one in enumerate(drawn)]
    if several == "heads":
        eev, none = {"kind": "eev", "bypass": "none"}, {"kind": "none", "bypass": "none"}
        unit |= {"layout": "ductless", "load": "air", "indoor_meter": none, "outdoor_meter": eev}
    return unit


units = drawn_units()
RUN_IDS = ("a", "b", "c")


@st.composite
def runs(draw: st.DrawFn, name: str) -> dict[str, Any]:
    return {
        "id": name,
        "mode": draw(st.sampled_from(get_args(v.Mode))),
        "minutes_running": draw(st.none() | number(0, 1e6)),
        "started_at": draw(st.sampled_from([None, None, *MOMENTS])),
        "compressor_stage": draw(st.sampled_from([None, *get_args(v.CompressorStage)])),
        "compressor_speed": draw(st.none() | number(0, 200)),
        "readings": draw(st.lists(readings(), max_size=40)),
        "observations": draw(
            st.lists(
                st.fixed_dictionaries(
                    {
                        "code": st.sampled_from(get_args(v.ObservationCode)),
                        "value": st.sampled_from([None, True, False, 0, 1e308, "", "x"]),
                    }
                ),
                max_size=5,
            )
        ),
    }


@st.composite
def drawn_visits(draw: st.DrawFn) -> dict[str, Any]:
    """Everything drawn: most contradict themselves many times over."""
    unit = draw(units)
    every = [draw(runs(name)) for name in RUN_IDS[: draw(st.integers(0, len(RUN_IDS)))]]
    for run in every:
        if unit["circuits"]:
            run["circuit"] = draw(st.sampled_from([one["id"] for one in unit["circuits"]]))
        if unit["heads"]:
            numbers = st.integers(1, len(unit["heads"]))
            run["heads_calling"] = draw(st.none() | st.lists(numbers, unique=True))
    return {
        "format": "icepick-visit",
        "version": 1,
        "site": {"name": "Edge", "elevation": draw(_field(v.Site.model_fields["elevation"].annotation))},
        "complaint": draw(st.sampled_from([None, *get_args(v.Complaint)])),
        "unit": unit,
        "runs": every,
    }


@st.composite
def bent_visits(draw: st.DrawFn) -> dict[str, Any]:
    """A visit that makes sense, but for a few values: it gets as far into the rules as any."""
    visit = copy.deepcopy(draw(st.sampled_from(DEMO)))
    for _ in range(draw(st.integers(1, 6))):
        run = draw(st.sampled_from(visit["runs"]))
        what = draw(st.sampled_from(["reading", "reading", "reading", "more", "site", "run", "unit"]))
        if what == "reading" and run["readings"]:
            taken = draw(st.sampled_from(run["readings"]))
            code = taken["station"].split(":")[0]
            allowed = next(a for s, q, a in SPOTS if s.split(":")[0] == code and q == taken["quantity"])
            taken["value"] = in_unit(draw(number(allowed.low, allowed.high)), taken["unit"], allowed)
        elif what == "more":
            run["readings"].append(draw(readings()))
        elif what == "site":
            visit["site"]["elevation"] = draw(_field(v.Site.model_fields["elevation"].annotation))
        elif what == "run":
            run["mode"] = draw(st.sampled_from(get_args(v.Mode)))
        elif what == "unit":
            name = draw(st.sampled_from([*(set(v.Unit.model_fields) - {"circuits", "heads"}), "refrigerant"]))
            visit["unit"][name] = draw(_field(v.Unit.model_fields[name].annotation))
    return visit


visits = bent_visits() | drawn_visits()
assert set(get_args(v.Unit.model_fields["refrigerant"].annotation)) == set(REFRIGERANTS)


@st.composite
def practices(draw: st.DrawFn) -> Practice:
    """A shop that moved a few limits as far as it may."""
    moved = draw(st.lists(st.sampled_from(LIMITS), max_size=8, unique=True))
    return Practice.of_what_stands({entry.name: draw(number(*entry.bounds)) for entry in moved})
