"""A bimetal defrost thermostat, closed in the cold and open in the warm, is not a sensor of 0 kΩ. [common practice]"""

import json

import pytest

from builders import visit_document
from cases import checks_of
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine

CLOSED, OPEN = 0.4, 5_000_000


def held(ohms, degrees, mode="heating", **unit):
    readings = [
        {"station": "coil_sensor", "quantity": "resistance", "value": ohms, "unit": "ohm", "method": "meter"},
        {
            "station": "coil_sensor",
            "quantity": "temperature",
            "value": degrees,
            "unit": "degF",
            "method": "clamp",
        },
    ]
    document = visit_document({"id": "a", "mode": mode, "minutes_running": 20, "readings": readings})
    document["unit"] = {**document["unit"], "defrost": {"method": "time_temperature"}, **unit}
    document["unit"] = {name: value for name, value in document["unit"].items() if value is not None}
    return examine(parse_visit(json.dumps(document)))


@pytest.mark.parametrize(
    ("ohms", "degrees", "mode", "status"),
    [
        (CLOSED, 20, "heating", "pass"),
        (OPEN, 60, "heating", "pass"),
        (CLOSED, 60, "heating", "fail"),
        (OPEN, 15, "heating", "fail"),
        # Between its two points it depends on where it came from: a coil that melts is still closed.
        (CLOSED, 60, "defrost", "watch"),
        (CLOSED, 95, "defrost", "fail"),
        (OPEN, 35, "heating", "watch"),
    ],
)
def test_it_is_held_to_its_two_points(ohms, degrees, mode, status):
    found = held(ohms, degrees, mode)
    assert checks_of(found)["defrost.sensor"].status == status
    leads = bool(found.ranking) and found.ranking[0].fault == "defrost_sensor_off"
    assert leads is (status == "fail")


def test_a_unit_known_to_have_a_sensor_is_held_to_its_curve():
    """A demand board reads a sensor: next to no ohms is a short, whatever the coil."""
    assert checks_of(held(CLOSED, 20, defrost={"method": "demand"}))["defrost.sensor"].status == "fail"
    assert checks_of(held(6_900, 92))["defrost.sensor"].status == "pass"


@pytest.mark.parametrize(("ohms", "degrees"), [(OPEN, 60), (CLOSED, 20)])
def test_what_may_be_a_broken_sensor_is_not_cleared(ohms, degrees):
    """Where nobody noted how it defrosts, it may be a sensor that is open or shorted."""
    assert checks_of(held(ohms, degrees, defrost=None))["defrost.sensor"].status != "pass"
