"""Figures off a plate in other units, against the factors of NIST SP 811 (2008), appendix B.8."""

import json

import pytest

from builders import SPLIT_UNIT
from icepick.core.document.stated import stated_in
from icepick.core.document.visit import parse_unit

BTU_PER_HOUR, TON = 0.29307107, 3516.853
CUBIC_FOOT, HOUR = 0.02831685, 3600
GALLON, PSI, FOOT = 3.785412, 6.894757, 0.3048


def figure(value, unit):
    return {"value": value, "unit": unit}


def test_what_is_printed_on_a_plate_is_told_in_the_units_of_the_screen_too():
    unit = parse_unit(
        json.dumps(
            {
                **SPLIT_UNIT,
                "nominal_capacity": figure(3, "ton"),
                "line_set_length": figure(15, "m"),
                "design": {
                    "cooling": {"subcooling": figure(9, "delta_degF")},
                    "indoor_airflow": figure(1200, "cfm"),
                    "backup_heat_power": figure(30_000, "Btu/h"),
                    "water_flow_table": [
                        {"drop": figure(2, "psi"), "flow": figure(5, "gpm")},
                        {"drop": figure(40, "kPa"), "flow": figure(30, "L/min")},
                    ],
                },
                "defrost": {"method": "time_temperature", "stop_above": figure(70, "degF")},
            }
        )
    )
    metric = {at: (told.value, told.unit) for at, told in stated_in(unit, "metric").items()}
    assert metric == {
        "/nominal_capacity": (pytest.approx(3 * TON / 1000, abs=0.01), "kW"),
        "/design/cooling/subcooling": (5, "delta_degC"),
        "/design/indoor_airflow": (pytest.approx(1200 * CUBIC_FOOT * 60, abs=0.1), "m3/h"),
        "/design/backup_heat_power": (pytest.approx(30 * BTU_PER_HOUR, rel=1e-4), "kW"),
        "/design/water_flow_table/0/drop": (pytest.approx(2 * PSI, abs=0.01), "kPa"),
        "/design/water_flow_table/0/flow": (pytest.approx(5 * GALLON, abs=0.01), "L/min"),
        "/defrost/stop_above": (pytest.approx((70 - 32) / 1.8, abs=0.01), "degC"),
    }
    field = {at: (told.value, told.unit) for at, told in stated_in(unit, "field").items()}
    assert field == {
        "/nominal_capacity": (pytest.approx(36_000, rel=1e-4), "Btu/h"),
        "/line_set_length": (pytest.approx(15 / FOOT, abs=0.01), "ft"),
        "/design/water_flow_table/1/drop": (pytest.approx(40 / PSI, abs=0.01), "psi"),
        "/design/water_flow_table/1/flow": (pytest.approx(30 / GALLON, abs=0.01), "gpm"),
    }
