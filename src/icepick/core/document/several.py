"""A unit with several refrigerant circuits, taken apart: each circuit as a unit of its own, with the runs made on it.

What such a unit has once (its blower, its heater, the air its coils share) is each circuit's by its share of the capacity.
"""

from __future__ import annotations

from typing import Any

from icepick.core.document.visit import Design, Unit, Visit

SHARED_OUT = (
    "indoor_airflow",
    "supply_fan_power",
    "backup_heat_power",
    "heat_of_extraction",
    "heat_of_rejection",
)
"""What the manufacturer states of the unit as a whole, and each circuit has its share of."""


def share(unit: Unit, circuit: str | None) -> float:
    """How much of the unit one circuit is.

    Parameters
    ----------
    unit : Unit
        The equipment.
    circuit : str or None
        Id of one of its circuits.

    Returns
    -------
    float
        By nominal capacities where every circuit states its own, else alike; 1 where the unit has one circuit.
    """
    if unit.circuits is None or circuit is None:
        return 1.0
    stated = {one.id: one.nominal_capacity.si for one in unit.circuits if one.nominal_capacity}
    whole = sum(stated.values())
    if len(stated) < len(unit.circuits) or whole <= 0:
        return 1 / len(unit.circuits)
    return float(stated[circuit] / whole)


def one_circuit(unit: Unit) -> Unit:
    """A unit of which one circuit is meant: its first, where it has several.

    Parameters
    ----------
    unit : Unit
        As somebody described it.

    Returns
    -------
    Unit
        Itself where it has one.
    """
    return unit_of(unit, unit.circuits[0].id) if unit.circuits else unit


def unit_of(unit: Unit, circuit: str) -> Unit:
    """One circuit of a unit, as a unit.

    Parameters
    ----------
    unit : Unit
        The whole of it, as somebody described it.
    circuit : str
        Id of one of its circuits.

    Returns
    -------
    Unit
        It still lists the circuits it is one of.
    """
    own = next(one for one in unit.circuits or () if one.id == circuit)
    part = share(unit, circuit)
    capacity = own.nominal_capacity
    if capacity is None and unit.nominal_capacity is not None:
        capacity = _scaled(unit.nominal_capacity, part)
    changes = {
        "nominal_capacity": capacity,
        "compressor": own.compressor or unit.compressor,
        "design": _design_of(unit.design, part),
    }
    return unit.model_copy(update=changes)


def _design_of(design: Design | None, part: float) -> Design | None:
    if design is None:
        return None
    stated = {name: value for name in SHARED_OUT if (value := getattr(design, name)) is not None}
    return design.model_copy(update={name: _scaled(value, part) for name, value in stated.items()})


def _scaled(quantity: Any, part: float) -> Any:
    return quantity.model_copy(update={"value": quantity.value * part})


def visit_of(visit: Visit, circuit: str) -> Visit:
    """What of a visit is about one circuit.

    Parameters
    ----------
    visit : Visit
        To a unit with several circuits.
    circuit : str
        Id of one of them.

    Returns
    -------
    Visit
        That circuit as its unit, with the runs and recordings made on it.
    """
    return visit.model_copy(
        update={
            "unit": unit_of(visit.unit, circuit),
            "runs": [run for run in visit.runs if run.circuit == circuit],
            "recordings": [one for one in visit.recordings if one.circuit == circuit],
        }
    )
