"""Every fault as what it does to a part, by a severity a technician understands.

Severity is an amount that is nothing in a sound machine, in the unit beside it; :data:`FAULTS` has the ones a machine can
have, with three amounts each, slight to grave. Standing: what each acts on is physics; the amounts are our own choice.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.machine.parameters import of
from icepick.core.machine.variation import AT_REST, Variation
from icepick.core.properties.quantities import Kind, to_si

PSI = to_si(1, "psi", Kind.PRESSURE_DIFFERENCE)


@dataclass(frozen=True, slots=True)
class MachineFault:
    """A fault: its severity's unit and words, three amounts of it, and what it does to the machine.

    ``backwards`` faults run the whole machine in the other mode and know no severity.
    """

    fault: Fault
    unit: str
    words: str
    """What is counted, to follow the number and its unit."""
    amounts: tuple[float, ...]
    most: float
    """Beyond it the model means nothing."""
    effect: Callable[[float], Variation]
    backwards: bool = False


def _frosted(blocked: float) -> Variation:
    """Frost narrows the way of the air and lies between it and the metal."""
    return Variation(outdoor_flow=1 - blocked, outdoor_conductance=1 - of("frost_on_metal") * blocked)


def _part(percent: float) -> float:
    return percent / 100


def _same(_: float) -> Variation:
    return AT_REST


FAULTS: tuple[MachineFault, ...] = (
    MachineFault("valve_in_opposite_position", "", "", (1.0,), 1.0, _same, True),
    MachineFault(
        "valve_bypassing",
        "percent",
        "of the hot gas goes straight to suction",
        (5, 15, 35),
        70,
        lambda s: Variation(bypass=_part(s)),
    ),
    MachineFault(
        "compressor_weak",
        "percent",
        "of what it should pump is missing",
        (15, 30, 60),
        85,
        lambda s: Variation(displacement=1 - _part(s), efficiency=1 - of("weak_efficiency") * _part(s)),
    ),
    MachineFault(
        "active_meter_underfeeding",
        "percent",
        "of its widest opening is closed off",
        (50, 70, 88),
        96,
        lambda s: Variation(closed_off=_part(s)),
    ),
    MachineFault(
        "active_meter_overfeeding",
        "percent",
        "of its rated opening stays open, whatever steers it",
        (115, 150, 220),
        500,
        lambda s: Variation(least_opening=_part(s)),
    ),
    MachineFault(
        "bypass_stuck_closed",
        "percent",
        "of its way round is shut",
        (85, 95, 100),
        100,
        lambda s: Variation(check_open=1 - _part(s)),
    ),
    MachineFault(
        "liquid_line_restriction",
        "psi",
        "lost in the liquid line at full flow",
        (30, 80, 150),
        600,
        lambda s: Variation(restriction=s * PSI),
    ),
    MachineFault(
        "undercharge",
        "percent",
        "of the charge is missing",
        (10, 25, 45),
        75,
        lambda s: Variation(charge=1 - _part(s)),
    ),
    MachineFault(
        "overcharge",
        "percent",
        "too much refrigerant",
        (10, 25, 45),
        60,
        lambda s: Variation(charge=1 + _part(s)),
    ),
    MachineFault(
        "noncondensables",
        "psi",
        "of air in the condenser",
        (10, 25, 50),
        100,
        lambda s: Variation(air_pressure=s * PSI),
    ),
    MachineFault(
        "indoor_airflow_low",
        "percent",
        "of the indoor airflow is missing",
        (20, 40, 60),
        80,
        lambda s: Variation(indoor_flow=1 - _part(s)),
    ),
    MachineFault(
        "outdoor_airflow_low",
        "percent",
        "of the outdoor airflow is missing",
        (20, 40, 60),
        96,
        lambda s: Variation(outdoor_flow=1 - _part(s)),
    ),
    MachineFault(
        "outdoor_coil_frosted",
        "percent",
        "of the outdoor coil's air is blocked by frost",
        (30, 55, 80),
        92,
        lambda s: _frosted(_part(s)),
    ),
    MachineFault(
        "source_water_flow_low",
        "percent",
        "of the source water is missing",
        (25, 50, 70),
        85,
        lambda s: Variation(outdoor_flow=1 - _part(s)),
    ),
    MachineFault(
        "source_coil_fouled",
        "percent",
        "of the source coil's conductance is lost",
        (20, 40, 60),
        80,
        lambda s: Variation(outdoor_conductance=1 - _part(s)),
    ),
    MachineFault(
        "coil_circuit_starved",
        "percent",
        "of its flow is missing in one circuit of the evaporator",
        (40, 70, 95),
        98,
        lambda s: Variation(starved=_part(s)),
    ),
)

_BY_CODE = {fault.fault: fault for fault in FAULTS}


def machine_fault(code: Fault) -> MachineFault | None:
    """A fault by its code, or None where it does not show in a machine at rest: command, defrost, a wrong reading."""
    return _BY_CODE.get(code)


def possible(fault: MachineFault, unit: Unit, mode: FlowMode) -> bool:
    """Whether a unit can have a fault in a mode: what it acts on must be there and at work.

    Parameters
    ----------
    fault : MachineFault
        The fault.
    unit : Unit
        The equipment.
    mode : FlowMode
        The way the refrigerant runs.

    Returns
    -------
    bool
        False where nothing of the unit could be at fault so.
    """
    code = fault.fault
    if code == "outdoor_airflow_low":
        return unit.source == "air"
    if code == "outdoor_coil_frosted":
        return unit.source == "air" and mode == "heating"
    if code in ("source_water_flow_low", "source_coil_fouled"):
        return unit.source == "water"
    if code == "indoor_airflow_low":
        return unit.load == "air"
    if code == "bypass_stuck_closed":
        idle = unit.outdoor_meter if mode == "cooling" else unit.indoor_meter
        return idle.kind != "none" and idle.bypass != "none"
    return True
