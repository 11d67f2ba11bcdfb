"""What may be wrong, and how likely each is before anything is read."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from icepick.core.circuit.graph import has_fixed_liquid_line, meters
from icepick.core.diagnosis.head_faults import OF_HEADS, faults_of, in_question
from icepick.core.document.codes import Complaint
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import MOST_HEADS
from icepick.core.document.visit import Unit


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """A fault; ``mode`` is set where it sits in a part that works in that mode alone, ``variant`` where one fault
    code covers two places that show differently."""

    fault: Fault
    mode: FlowMode | None = None
    variant: str | None = None

    def shows_as(self, mode: FlowMode | None) -> Fault:
        """What the fault looks like in a run of a mode: nothing at all where its part is idle.

        Parameters
        ----------
        mode : FlowMode or None
            The mode of the run; None with the compressor off.

        Returns
        -------
        Fault
            ``none`` where it does not show.
        """
        return "none" if self.mode is not None and mode is not None and mode != self.mode else self.fault


OF_A_METER: frozenset[Fault] = frozenset(
    {"active_meter_underfeeding", "active_meter_overfeeding", "bypass_stuck_closed"}
)
"""Faults of a metering device or its check: they show in one mode only, unless one meter serves both. [physics]"""

VARIANTS: dict[Fault, tuple[str, ...]] = {
    "command_missing": ("before the terminal", "behind the terminal"),
    "reading_suspect": ("against physics", "one off"),
    "defrost_sensor_off": ("too warm", "too cold"),
}
"""Faults whose place decides what is seen: a command lost on its way to the terminal, or on its way to the coil; readings
that physics forbids, or one without which all the others fit a sound machine; a sensor that reads too warm starts a defrost
late and stops it early, one that reads too cold the other way round."""

OF_THE_SOURCE_WATER: frozenset[Fault] = frozenset({"source_water_flow_low", "source_coil_fouled"})
NEEDS_ENERGIZED: frozenset[Fault] = frozenset({"command_missing", "solenoid_open"})

RANKED: tuple[Fault, ...] = (
    "none",
    "valve_in_opposite_position",
    "valve_bypassing",
    "control_power_missing",
    "call_missing",
    "command_missing",
    "valve_convention_wrong",
    "solenoid_open",
    "compressor_not_running",
    "compressor_weak",
    "active_meter_underfeeding",
    "active_meter_overfeeding",
    "bypass_stuck_closed",
    "liquid_line_restriction",
    "undercharge",
    "overcharge",
    "noncondensables",
    "indoor_airflow_low",
    "outdoor_airflow_low",
    "outdoor_coil_frosted",
    "source_water_flow_low",
    "source_coil_fouled",
    "coil_circuit_starved",
    "defrost_not_starting",
    "defrost_not_stopping",
    "defrost_fan_running",
    "defrost_no_backup_heat",
    "defrost_sensor_off",
    "defrost_too_often",
    "head_meter_leaking",
    "head_meter_closed",
    "heads_crossed",
    "reading_suspect",
)
"""The faults that the evidence so far can speak for."""

KEPT_IN_DEFROST = Hypothesis("command_missing", "cooling", "kept in defrost")
"""A board that does not take back, for a defrost, the voltage that holds the valve in heating."""

STILL_IN_DEFROST = Hypothesis("defrost_not_stopping", None, "still in it")
"""A board that keeps a unit in defrost while heat is called for: it cools with its fan off."""

UNIVERSE: tuple[Hypothesis, ...] = (
    *(Hypothesis(fault, mode) for fault in RANKED for mode in (None, "cooling", "heating")),
    *(Hypothesis(fault, None, variant) for fault, variants in VARIANTS.items() for variant in variants),
    KEPT_IN_DEFROST,
    STILL_IN_DEFROST,
    *(Hypothesis(one.fault, None, one.variant) for one in faults_of(MOST_HEADS)),
)
"""Every hypothesis there can be, of any unit; evidence is tabled over it once."""

_WEIGHTS: dict[Fault, float] = {
    "none": 6,
    "reading_suspect": 0.5,
    "control_power_missing": 0.4,
    "call_missing": 0.4,
    "heads_crossed": 0.5,
}
_ROUTINE = 3.0
_SHARES: dict[tuple[Fault, str], float] = {
    ("command_missing", "behind the terminal"): 0.02,
}
"""Of a fault's weight, what each variant has. A command that reaches its terminal is seldom lost behind it; where that is
what the meter says, it says it clearly. Much gas or a little is all the same beforehand. A charge that starves the
evaporator weighs as much as anything else that does, so that they stay tied; one a little short comes besides."""


COMPLAINED_OF: dict[Complaint, FlowMode] = {
    "no_heat": "heating",
    "blows_cold_in_heating": "heating",
    "iced_outdoor_coil": "heating",
    "no_cooling": "cooling",
}
"""The mode a complaint is about."""


IN_DEFROST: frozenset[Fault] = frozenset({"defrost_fan_running", "defrost_no_backup_heat"})
OF_THE_SEQUENCE: frozenset[Fault] = frozenset(
    {"defrost_not_starting", "defrost_not_stopping", "defrost_too_often"}
)
"""Faults that only a sequence watched through time shows."""


def hypotheses(
    unit: Unit,
    modes: list[FlowMode],
    complaint: Complaint | None = None,
    *,
    defrosted: bool = False,
    circuits_seen: bool = False,
    sensors_read: bool = False,
    ice_can_be: bool = True,
    recorded: bool = False,
    looks_defrosting: bool = False,
) -> list[Hypothesis]:
    """Everything that may be wrong with a unit that was run in these modes, or that the customer complains of in another:
    a sound run in one mode says nothing of what sits in the other's parts.

    What goes wrong in a defrost is in question once one was run, a starved coil circuit once circuits were read or seen, a
    sensor once it was read: otherwise they would only collect what fits nothing else.

    Parameters
    ----------
    unit : Unit
        The equipment.
    modes : list of FlowMode
        The modes it was run in.
    complaint : Complaint or None
        What the customer says; None where nobody asked.
    defrosted : bool
        Whether a defrost was run.
    circuits_seen : bool
        Whether coil circuits were read, or frost seen on some.
    sensors_read : bool
        Whether a defrost sensor was held against a thermometer.
    ice_can_be : bool
        Whether the outdoor air, or what was seen, allows ice on the outdoor coil.
    recorded : bool
        Whether heating was recorded through time.
    looks_defrosting : bool
        Whether a run that should heat runs as in a defrost.

    Returns
    -------
    list of Hypothesis
        In the order of ``UNIVERSE``.
    """
    two_meters = has_fixed_liquid_line(unit)
    in_question = dict.fromkeys([*modes, *([COMPLAINED_OF[complaint]] if complaint in COMPLAINED_OF else [])])
    found: list[Hypothesis] = []
    for fault in RANKED:
        if not _can_be(fault, unit, [*in_question]):
            continue
        asked = {
            "coil_circuit_starved": circuits_seen,
            "defrost_sensor_off": sensors_read or recorded,
            "outdoor_coil_frosted": ice_can_be,
            **dict.fromkeys(OF_THE_SEQUENCE, recorded),
        }
        if (fault in IN_DEFROST and not defrosted) or not asked.get(fault, True):
            continue
        if fault == "bypass_stuck_closed":
            found += [Hypothesis(fault, mode) for mode in in_question if meters(unit, mode)[1]]
        # A stuck slide stands right in one of the modes.
        elif fault == "valve_in_opposite_position" or (fault in OF_A_METER and two_meters):
            found += [Hypothesis(fault, mode) for mode in in_question]
        elif fault in VARIANTS:
            found += [Hypothesis(fault, None, variant) for variant in VARIANTS[fault]]
            if fault == "command_missing" and defrosted and unit.reversing_valve.energized_in == "heating":
                found.append(KEPT_IN_DEFROST)
        else:
            found.append(Hypothesis(fault))
    if looks_defrosting:
        found.append(STILL_IN_DEFROST)
    return found


def of_heads(count: int, called: Iterable[Sequence[int]]) -> list[Hypothesis]:
    """What may be wrong with the heads of a unit that has several, as far as its runs can show it.

    Parameters
    ----------
    count : int
        How many heads it has.
    called : iterable of sequence of int
        Of each run, the numbers of the heads that call.

    Returns
    -------
    list of Hypothesis
        One for each head, and for each pair.
    """
    return [Hypothesis(one.fault, None, one.variant) for one in in_question(count, called)]


def _can_be(fault: Fault, unit: Unit, run: list[FlowMode]) -> bool:
    """Whether this unit can have the fault, and the modes that were run can show it."""
    if fault in NEEDS_ENERGIZED:  # A valve at rest needs no command and no coil.
        return unit.reversing_valve.energized_in in run
    if fault in OF_HEADS:  # Which heads it may be follows from the runs.
        return False
    if fault in OF_THE_SOURCE_WATER:
        return unit.source == "water"
    if fault == "defrost_no_backup_heat":
        return unit.load == "air" and unit.backup_heat in (None, "electric")
    if fault == "indoor_airflow_low":
        return unit.load == "air"
    if fault in ("defrost_fan_running", *OF_THE_SEQUENCE):
        return unit.source == "air" and (unit.defrost is None or unit.defrost.method != "none")
    if fault == "outdoor_coil_frosted":
        return unit.source == "air" and "heating" in run
    return fault != "outdoor_airflow_low" or unit.source == "air"


def prior(hypothesis: Hypothesis, complaint: Complaint | None) -> float:
    """Weight before any reading: all faults alike, so that what can't be told apart stays tied. [our own choice]

    Nothing wrong is likelier than any one fault, and likelier still on a routine visit.

    Parameters
    ----------
    hypothesis : Hypothesis
        A fault, in a mode, as a variant.
    complaint : Complaint or None
        What the customer says; None where nobody asked.

    Returns
    -------
    float
        A weight; they are shared out later.
    """
    weight = _WEIGHTS.get(hypothesis.fault, 1.0)
    if hypothesis.variant is not None:
        weight *= _SHARES.get((hypothesis.fault, hypothesis.variant), 1.0)
    if hypothesis.fault == "heads_crossed" and complaint == "start_up":
        weight *= _ROUTINE  # What was piped and wired wrong shows when it first runs.
    if hypothesis.fault == "none" and complaint in ("routine", "start_up"):
        weight *= _ROUTINE
    return weight
