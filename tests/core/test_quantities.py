"""Conversions against published definitions."""

import json
import sys
from pathlib import Path

import pytest

from icepick.core.properties.moist_air import standard_pressure
from icepick.core.properties.quantities import UNITS, Kind, from_si, spread_to_si, to_si

sys.path.insert(0, str(Path(__file__).parents[2] / "tools"))
import make_units


@pytest.mark.parametrize(
    ("value", "unit", "kind", "si"),
    [
        # NIST SP 811, appendix B: exact or to the digits given there.
        (32, "degF", Kind.TEMPERATURE, 273.15),
        (1, "delta_degF", Kind.TEMPERATURE_DIFFERENCE, 1 / 1.8),
        (1, "psia", Kind.PRESSURE, 6894.757),
        (1, "Btu/h", Kind.POWER, 0.2930711),
        (1, "gpm", Kind.WATER_FLOW, 6.309020e-5),
        (1, "cfm", Kind.AIR_FLOW, 4.719474e-4),
        (1, "ft", Kind.LENGTH, 0.3048),
        # A gauge reads above the air around it.
        (0, "psi", Kind.PRESSURE, 101_325),
        (100, "kPa", Kind.PRESSURE, 201_325),
        (1, "psi", Kind.PRESSURE_DIFFERENCE, 6894.757),
    ],
)
def test_published_factors(value, unit, kind, si):
    assert to_si(value, unit, kind) == pytest.approx(si, rel=2e-7)


def test_the_lines_that_are_shipped_are_those_of_pint():
    shipped = json.loads(make_units.OUT.read_text("utf-8"))
    found = make_units.lines()
    assert shipped.keys() == found.keys()
    for kind, units in found.items():
        assert shipped[kind].keys() == units.keys()
        for unit, line in units.items():
            assert shipped[kind][unit] == pytest.approx(line, rel=1e-12), (kind, unit)


@pytest.mark.parametrize("kind", list(Kind))
def test_every_unit_comes_back_as_it_went_in(kind):
    for unit in UNITS[kind]:
        assert from_si(to_si(37.3, unit, kind), unit, kind) == pytest.approx(37.3)


def test_a_unit_of_another_kind_is_refused():
    with pytest.raises(ValueError, match="'psi' is not a unit of temperature; use one of degF, degC"):
        to_si(1, "psi", Kind.TEMPERATURE)


def test_a_spread_has_no_offset():
    assert spread_to_si(9, "degF", Kind.TEMPERATURE) == pytest.approx(5)


@pytest.mark.parametrize(
    ("feet", "psia"),
    # ASHRAE Handbook Fundamentals, chapter 1, table 1 (standard atmosphere); from memory.
    [(0, 14.696), (1000, 14.173), (5000, 12.228), (10_000, 10.108)],
)
def test_air_pressure_at_elevation_and_the_gauge_that_reads_above_it(feet, psia):
    atmosphere = standard_pressure(to_si(feet, "ft", Kind.LENGTH))
    assert from_si(atmosphere, "psia", Kind.PRESSURE) == pytest.approx(psia, abs=0.002)
    assert to_si(100, "psi", Kind.PRESSURE, atmosphere) == pytest.approx(
        to_si(100 + psia, "psia", Kind.PRESSURE), rel=1e-4
    )
