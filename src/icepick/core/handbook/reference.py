"""The unit that the Handbook's pictures are worked out on, and the weather it stands in. All of it is made up."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any, Literal

import numpy as np

from icepick.core.circuit.graph import Circuit, build_circuit
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.cycle import Cycle
from icepick.core.machine.parameters import of
from icepick.core.machine.parts import Machine
from icepick.core.machine.sizing import size
from icepick.core.machine.steady import settle
from icepick.core.machine.variation import AT_REST, Variation, batch
from icepick.core.properties.moist_air import SEA_LEVEL_PRESSURE, humidity_ratio
from icepick.core.properties.quantities import Kind, to_si

Ran = Literal["heating", "cooling", "defrost"]

_AIR: dict[Ran, tuple[float, float, float, float]] = {
    "heating": (40, 70, 0.7, 0.4),
    "cooling": (90, 76, 0.5, 0.5),
    "defrost": (33, 70, 0.7, 0.4),
}
"""Outdoors and indoors [°F] and their humidities; in a defrost outdoors is the melting ice on the coil. [our own choice]"""


@dataclass(frozen=True, slots=True, eq=False)
class Played:
    """A machine at rest, and the way its refrigerant runs."""

    unit: Unit
    machine: Machine
    circuit: Circuit
    conditions: Conditions
    changed: Variation
    cycle: Cycle


@cache
def reference_unit(source: str = "air") -> Unit:
    """A three-ton split-type unit, or one on a water loop.

    Parameters
    ----------
    source : {"air", "water"}
        What the outdoor coil exchanges heat with.

    Returns
    -------
    Unit
        Two TXVs with checks, a bi-flow drier, an accumulator.
    """
    meter = {"kind": "txv", "bypass": "internal_check", "bulb_at": "common_suction"}
    described: dict[str, Any] = {
        "label": "the Handbook's unit",
        "layout": "split",
        "source": source,
        "load": "air",
        "refrigerant": "R-410A",
        "nominal_capacity": {"value": 36000.0, "unit": "Btu/h"},
        "indoor_meter": meter,
        "outdoor_meter": meter,
        "drier": {"kind": "bi_flow", "place": "outdoor_unit"},
        "accumulator": True,
        "compressor": {"kind": "single", "rated_current": {"value": 16.0, "unit": "A"}},
        "reversing_valve": {"energized_in": "cooling"},
    }
    return Unit.model_validate(described)


def played(unit: Unit, ran: Ran, fault: Variation = AT_REST, outdoors: float | None = None) -> Played | None:
    """A unit at rest in the Handbook's weather.

    Parameters
    ----------
    unit : Unit
        The equipment.
    ran : str
        What it does.
    fault : Variation
        How it differs from a sound one.
    outdoors : float or None
        Outdoor air, where it is not the usual one [°F].

    Returns
    -------
    Played or None
        None where it does not come to rest so.
    """
    mode: FlowMode = "heating" if ran == "heating" else "cooling"
    outdoor, indoor, damp, humid = _AIR[ran]
    outdoor = outdoor if outdoors is None else outdoors
    outside = to_si(
        outdoor if unit.source == "air" else {"heating": 50, "cooling": 75}.get(ran, 50),
        "degF",
        Kind.TEMPERATURE,
    )
    inside = to_si(indoor, "degF", Kind.TEMPERATURE)
    conditions = Conditions(
        np.array([outside]),
        np.array([inside]),
        np.array(
            [
                humidity_ratio(outside, SEA_LEVEL_PRESSURE, relative_humidity=damp)
                if unit.source == "air"
                else 0.0
            ]
        ),
        np.array([humidity_ratio(inside, SEA_LEVEL_PRESSURE, relative_humidity=humid)]),
        np.ones(1),
    )
    changed = fault
    if ran == "defrost":
        changed = changed.and_also(Variation(outdoor_conductance=of("melting_inside")))
    machine, knobs = size(unit), batch([changed])
    found = settle(machine, mode, conditions, knobs, 1)
    if not found.sound[0]:
        return None
    return Played(unit, machine, build_circuit(unit, mode), conditions, knobs, found.cycle)
