"""Refrigerant tables against CoolProp's own calls, single and vectorized; and what importing the core costs (issue 4)."""

import subprocess
import sys

import numpy as np
from CoolProp.CoolProp import PropsSI

from icepick.core.properties.refrigerants import saturation_temperature, vapor_enthalpy

PRESSURES = np.linspace(4e5, 4e6, 10_000)


def test_ten_thousand_dew_temperatures_vectorized(benchmark):
    benchmark(saturation_temperature, "R-410A", PRESSURES, "dew")


def test_ten_thousand_dew_temperatures_by_coolprop(benchmark):
    few = PRESSURES[::20]  # 500 calls; multiply by 20
    benchmark.pedantic(
        lambda: [PropsSI("T", "P", p, "Q", 1, "R410A") for p in few], rounds=3, warmup_rounds=1
    )


def test_one_dew_temperature(benchmark):
    benchmark(saturation_temperature, "R-410A", 1e6, "dew")


def test_one_vapor_enthalpy(benchmark):
    benchmark(vapor_enthalpy, "R-410A", 300.0, 1e6)


def test_import_of_the_core(benchmark):
    """The interpreter's own start is in it; `python -c pass` takes some 20 ms of that here."""
    command = [sys.executable, "-c", "import icepick.core.examine"]
    benchmark.pedantic(lambda: subprocess.run(command, check=True), rounds=8, warmup_rounds=2)
