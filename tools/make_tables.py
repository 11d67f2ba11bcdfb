"""Make src/icepick/core/properties/data/refrigerants.npz from CoolProp: `.venv/bin/python tools/make_tables.py [R-32
…]`.

Run after a change of CoolProp or of the grids in `icepick.core.properties.refrigerant_table`; a test holds what is
shipped to CoolProp itself.
"""

from __future__ import annotations

import sys
import time
from pathlib import Path
from typing import Any

import CoolProp
import numpy as np
from CoolProp.CoolProp import PyGuessesStructure

from icepick.core.properties.refrigerant_table import (
    LIQUID_STEPS,
    LOWEST,
    ROW_STEP,
    SATURATION_STEP,
    VAPOR_STEPS,
)

OUT = Path(__file__).parents[1] / "src/icepick/core/properties/data/refrigerants.npz"
# Mass fractions as ASHRAE Standard 34 lists them [from memory].
FLUIDS: dict[str, tuple[str, tuple[float, ...]]] = {
    "R-410A": ("R410A", ()),
    "R-32": ("R32", ()),
    "R-454B": ("R32&R1234YF", (0.689, 0.311)),
    "R-22": ("R22", ()),
    "R-407C": ("R407C", ()),
    "R-134a": ("R134a", ()),
    "R-290": ("Propane", ()),
    "R-513A": ("R1234YF&R134a", (0.56, 0.44)),
}
# The warmest saturation kept [°C]: at least up to 10 K below the critical point, so that a head pressure on the hottest
# roof is still read as such.
HIGHEST = {
    "R-410A": 70,
    "R-32": 70,
    "R-454B": 70,
    "R-22": 86,
    "R-407C": 76,
    "R-134a": 91,
    "R-290": 87,
    "R-513A": 85,
}


class Fluid:
    def __init__(self, name: str, fractions: tuple[float, ...], highest: float) -> None:
        span = highest + 273.15 - LOWEST
        self.temperatures = LOWEST + SATURATION_STEP * np.arange(round(span / SATURATION_STEP) + 1)
        self.rows = LOWEST + ROW_STEP * np.arange(round(span / ROW_STEP) + 1)
        self.state = CoolProp.AbstractState("HEOS", name)
        self.blend = bool(fractions)
        if fractions:
            self.state.set_mass_fractions(list(fractions))

    def saturation(self, quality: float) -> dict[str, Any]:
        """Pressure, enthalpy, entropy and density along one line."""
        rows = []
        for temperature in self.temperatures:
            # Near their critical point blends converge only from the neighbouring state.
            if self.blend and rows:
                self.state.update_with_guesses(CoolProp.QT_INPUTS, quality, temperature, self._guess())
            else:
                self.state.update(CoolProp.QT_INPUTS, quality, temperature)
            rows.append((self.state.p(), self.state.hmass(), self.state.smass(), self.state.rhomass()))
        return dict(zip("phsd", np.array(rows).T, strict=True))

    def _guess(self) -> Any:
        state, guess = self.state, PyGuessesStructure()
        guess.T, guess.p = state.T(), state.p()
        guess.x, guess.y = state.mole_fractions_liquid(), state.mole_fractions_vapor()
        guess.rhomolar_liq = state.saturated_liquid_keyed_output(CoolProp.iDmolar)
        guess.rhomolar_vap = state.saturated_vapor_keyed_output(CoolProp.iDmolar)
        return guess

    def single_phase(self, line: dict[str, Any], steps: Any, phase: int, sign: int) -> Any:
        """Enthalpy and entropy over the line's own, and density over the line's, on the grid."""
        made = np.full((3, len(self.rows), len(steps)), np.nan)
        self.state.specify_phase(phase)
        for row, temperature in enumerate(self.rows):
            at = int(np.argmin(abs(self.temperatures - temperature)))
            p, h, s, d = (float(line[name][at]) for name in "phsd")
            made[:, row, 0] = 0, 0, 1
            for column, step in enumerate(steps[1:], start=1):
                try:
                    self.state.update(CoolProp.PT_INPUTS, p, temperature + sign * step)
                except ValueError:  # Below the equation of state's own range.
                    break
                made[:, row, column] = (
                    self.state.hmass() - h,
                    self.state.smass() - s,
                    self.state.rhomass() / d,
                )
        self.state.unspecify_phase()
        return made


def main(wanted: list[str]) -> None:
    kept = dict(np.load(OUT)) if OUT.exists() else {}
    for refrigerant in wanted or FLUIDS:
        started = time.monotonic()
        fluid = Fluid(*FLUIDS[refrigerant], HIGHEST[refrigerant])
        bubble, dew = fluid.saturation(0), fluid.saturation(1)
        for name, line in (("bubble", bubble), ("dew", dew)):
            kept[f"{refrigerant} {name}"] = np.array([line[key] for key in "phsd"])
        vapor = fluid.single_phase(dew, VAPOR_STEPS, CoolProp.iphase_gas, 1)
        liquid = fluid.single_phase(bubble, LIQUID_STEPS, CoolProp.iphase_liquid, -1)
        kept[f"{refrigerant} vapor"], kept[f"{refrigerant} liquid"] = (
            grid.astype(np.float32) for grid in (vapor, liquid)
        )
        print(f"{refrigerant}: {time.monotonic() - started:.1f} s")
    OUT.parent.mkdir(exist_ok=True)
    np.savez_compressed(OUT, **kept)
    print(f"{OUT.stat().st_size / 1e6:.2f} MB, CoolProp {CoolProp.__version__}")


if __name__ == "__main__":
    main(sys.argv[1:])
