"""A unit and its machine as predictions are remembered by, and what is moved for their slopes."""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.parts import Machine
from icepick.core.machine.sensitivity import Nudge
from icepick.core.machine.surroundings import Surroundings
from icepick.core.machine.unknowns import Unknown
from icepick.core.machine.variation import AT_REST


@dataclass(frozen=True, slots=True, eq=False)
class Asked:
    """A unit and its machine, remembered by the machine: two descriptions of one size ask the same."""

    unit: Unit
    machine: Machine

    def __hash__(self) -> int:
        return id(self.machine)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Asked) and self.machine is other.machine


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
