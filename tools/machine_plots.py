"""Draw docs/machine.svg: `.venv/bin/python tools/machine_plots.py`. A three-ton R-410A split, with TXVs and with pistons."""

import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "tests" / "core")]
import matplotlib as mpl

mpl.use("svg")
mpl.rcParams.update({"svg.hashsalt": "icepick", "font.size": 9})
from matplotlib import pyplot as plt

from plant import fahrenheit
from solved import at_rest, unit, weather

PISTON = {"kind": "piston", "bypass": "sliding_piston"}
UNITS = {"TXV": unit(), "piston": unit(indoor_meter=PISTON, outdoor_meter=PISTON)}
RANGES = {"heating": range(-10, 63, 4), "cooling": range(65, 119, 4)}
STYLES = {"TXV": "-", "piston": "--"}


def main() -> None:
    figure, axes = plt.subplots(2, 2, figsize=(9, 6), constrained_layout=True)
    for name, made in UNITS.items():
        for mode, temperatures in RANGES.items():
            states = [at_rest(made, mode, weather(made, mode, float(t), humidity=0.7)) for t in temperatures]
            heat = "condenser_heat_refrigerant" if mode == "heating" else "evaporator_heat_refrigerant"
            rows = (
                (axes[0, 0], "capacity [kBtu/h]", [s.figure(heat) / 293.07 for s in states]),
                (
                    axes[0, 1],
                    "saturation [°F]",
                    [fahrenheit(s.figure("evaporating_temperature")) for s in states],
                ),
                (
                    axes[0, 1],
                    "saturation [°F]",
                    [fahrenheit(s.figure("condensing_temperature")) for s in states],
                ),
                (axes[1, 0], "superheat [°F]", [1.8 * s.figure("superheat") for s in states]),
                (axes[1, 1], "subcooling [°F]", [1.8 * s.figure("subcooling") for s in states]),
            )
            for axis, label, values in rows:
                color = "firebrick" if mode == "heating" else "steelblue"
                axis.plot(list(temperatures), values, STYLES[name], color=color)
                axis.set_ylabel(label)
                axis.set_xlabel("outdoor air [°F]")
                axis.grid(alpha=0.3)
    figure.suptitle("heating red, cooling blue; TXV full line, piston broken")
    figure.savefig(ROOT / "docs" / "machine.svg", metadata={"Date": None})


if __name__ == "__main__":
    main()
