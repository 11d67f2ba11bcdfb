"""The Handbook's moving parts, worked by hand: each answer is what the part does then."""

from __future__ import annotations

from typing import cast, get_args

from pydantic import BaseModel

from icepick.bench.lessons import lessons
from icepick.bench.playing import EPOCH
from icepick.bench.screen import RecordedShown, recording_shown
from icepick.bench.watching import recorded
from icepick.core.document.base import Document
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.handbook.fault_pictures import FaultPicture, fault_picture
from icepick.core.handbook.moving.devices import DeviceHandled, DeviceShown, device_shown
from icepick.core.handbook.moving.drier import (
    AccumulatorShown,
    DrierHandled,
    DrierShown,
    Weather,
    accumulator_shown,
    drier_shown,
)
from icepick.core.handbook.moving.valve import ValveHandled, ValveShown, handled
from icepick.core.handbook.moving.walk import CircuitWalk, circuit_walk
from icepick.core.handbook.reference import Ran
from icepick.core.properties.quantities import UnitSystem
from icepick.web.contract import Api
from icepick.web.problems import problem

api = Api("moving")


class ModeAsked(Document):
    mode: FlowMode = "cooling"


class WalkAsked(Document):
    ran: Ran = "heating"


class WeatherAsked(Document):
    weather: Weather = "cooling"


@api.endpoint(
    "get", "/handbook/moving/circuit", gives=CircuitWalk, asks=WalkAsked, in_units=True, computes=True
)
def walk_circuit(asked: WalkAsked, units: UnitSystem) -> CircuitWalk:
    """Once round the circuit, step by step."""
    return circuit_walk(asked.ran, units)


@api.endpoint(
    "get", "/handbook/moving/valve", gives=ValveShown, asks=ValveHandled, in_units=True, computes=True
)
def work_valve(asked: ValveHandled, units: UnitSystem) -> ValveShown:
    """The reversing valve, with something done to it."""
    return handled(asked, units)


@api.endpoint(
    "get", "/handbook/moving/device", gives=DeviceShown, asks=DeviceHandled, in_units=True, computes=True
)
def work_device(asked: DeviceHandled, units: UnitSystem) -> DeviceShown:
    """A metering device, with refrigerant sent through it."""
    return device_shown(asked, units)


@api.endpoint(
    "get", "/handbook/moving/drier", gives=DrierShown, asks=DrierHandled, in_units=True, computes=True
)
def work_drier(asked: DrierHandled, units: UnitSystem) -> DrierShown:
    """A filter drier, with liquid sent through it."""
    return drier_shown(asked, units)


@api.endpoint(
    "get",
    "/handbook/moving/accumulator",
    gives=AccumulatorShown,
    asks=WeatherAsked,
    in_units=True,
    computes=True,
)
def fill_accumulator(asked: WeatherAsked, units: UnitSystem) -> AccumulatorShown:
    """The accumulator, in some weather."""
    return accumulator_shown(asked.weather, units)


@api.endpoint(
    "get", "/handbook/faults/<code>/picture", gives=FaultPicture, asks=ModeAsked, in_units=True, computes=True
)
def picture_fault(code: str, asked: ModeAsked, units: UnitSystem) -> FaultPicture:
    """A fault's staircase beside a sound one's."""
    if code not in get_args(Fault):
        raise problem(404, f"There is no fault {code!r}.")
    return fault_picture(cast(Fault, code), asked.mode, units)


class DefrostPicture(BaseModel):
    """A defrost with a fault, and a sound one, as probes would record them."""

    sound: RecordedShown
    faulty: RecordedShown


@api.endpoint("get", "/handbook/faults/<code>/recording", gives=DefrostPicture, in_units=True, computes=True)
def record_fault(code: str, units: UnitSystem) -> DefrostPicture:
    """A fault of the defrost, recorded on the unit of the lesson that teaches it."""
    taught = next(
        (one for one in lessons().values() if one.group == "defrost" and code in one.case.truth), None
    )
    if taught is None:
        raise problem(404, f"There is no recording of {code!r}.")
    forced = taught.key == "defrost"
    sound, faulty = (
        recording_shown(recorded(taught.case, troubles, "recording-1", EPOCH, forced=forced), units)
        for troubles in ([], taught.case.troubles)
    )
    return DefrostPicture(sound=sound, faulty=faulty)
