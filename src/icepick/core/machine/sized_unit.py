"""A unit and its machine as predictions are remembered by, and what is moved for their slopes."""

from __future__ import annotations

from dataclasses import dataclass, field

from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.parts import Machine
from icepick.core.machine.sensitivity import Nudge
from icepick.core.machine.sizing import size
from icepick.core.machine.surroundings import Surroundings
from icepick.core.machine.unknowns import Unknown
from icepick.core.machine.variation import AT_REST

_OF_NO_ACCOUNT = frozenset({"label", "defrost", "head", "fed", "calling", "every_head"})
"""What no prediction depends on: of the line along a head, how much of all heads calls is all that its machine knows."""


@dataclass(frozen=True, slots=True)
class SizedUnit:
    """A unit and its machine. It counts by what is written of the unit, which the machine follows from."""

    written: str
    unit: Unit = field(compare=False)
    machine: Machine = field(compare=False)


def sized(unit: Unit) -> SizedUnit:
    """A unit with its machine.

    Parameters
    ----------
    unit : Unit
        The equipment, or the line along one of its heads.

    Returns
    -------
    SizedUnit
        Equal for two units of which the same is predicted.

    Raises
    ------
    UnsizedError
        The unit can't be sized.
    """
    return SizedUnit(unit.model_dump_json(exclude=set(_OF_NO_ACCOUNT)), unit, size(unit))


def of_conditions(around: Surroundings, name: str) -> Nudge:
    """A condition moved by so many of its standard deviations."""
    return lambda by: (around.conditions(**{name: by}), AT_REST)


def of_unknown(here: Conditions, unknown: Unknown) -> Nudge:
    """An unknown of the unit moved by so many of its standard deviations."""
    return lambda by: (here, unknown.at(by))


OF_A_DEVICE = ("opening", "superheat_shift")
"""What is uncertain of a metering device: two devices, two of them."""


def called(machine: Machine, mode: FlowMode, name: str) -> str:
    """An unknown by a name that every run of the unit knows it by."""
    if (
        name not in OF_A_DEVICE
        or machine.circuits["cooling"].active_part == machine.circuits["heating"].active_part
    ):
        return name
    return f"{name} of the {machine.circuits[mode].active_meter} device"
