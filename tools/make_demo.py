"""Make the demo visits that are computed: `.venv/bin/python tools/make_demo.py`.

Each case chooses saturation, superheat and subcooling; `tests/plant.py` works out the rest with CoolProp. The
visits written before this tool stay as they are.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "tools")]
import demo_units as units

from builders import reading
from icepick.core.circuit import build_circuit
from icepick.core.visit import Unit, parse_visit
from plant import Plant

OUT = ROOT / "src/icepick/demo/visits"


def path_of(unit: dict[str, Any], mode: str) -> list[str]:
    circuit = build_circuit(Unit.model_validate(unit), "heating" if mode == "heating" else "cooling")
    return [stop.station for stop in circuit.path]


def plant(unit: dict[str, Any], mode: str, evaporating: float, condensing: float, **more: Any) -> Plant:
    media = {"source": unit["source"], "load": unit["load"]}
    return Plant(path_of(unit, mode), mode, unit["refrigerant"], evaporating, condensing, **{**media, **more})


def water(side: str, inlet: float, outlet: float, drop: float | None = None) -> list[dict[str, Any]]:
    """Four water readings: both temperatures and, where a drop is given, both ports' pressures."""
    readings = [
        reading(f"{side}_water_in", inlet, method="probe"),
        reading(f"{side}_water_out", outlet, method="probe"),
    ]
    if drop is not None:
        pressure = {"quantity": "pressure", "unit": "psi", "method": "gauge"}
        readings += [
            reading(f"{side}_water_in", 24.0, **pressure),
            reading(f"{side}_water_out", 24.0 - drop, **pressure),
        ]
    return readings


def visit(site: str, unit: dict[str, Any], complaint: str, *runs: dict[str, Any], **site_more: Any) -> Any:
    return {
        "format": "icepick-visit",
        "version": 1,
        "site": {"name": site, **site_more},
        "complaint": complaint,
        "unit": unit,
        "runs": list(runs),
    }


def layouts() -> dict[str, tuple[str, Any]]:
    """A visit on each layout; the healthy ones."""
    kiosk, roof, loop = units.KIOSK, units.PLANT_ROOF, units.FERRY_WORKSHOP
    return {
        "lighthouse-kiosk": (
            "2026-07-21T13:05:00+00:00",
            visit(
                "Lighthouse Kiosk",
                kiosk,
                "routine",
                plant(kiosk, "cooling", 46, 104, outdoor=86, indoor=76, subcooling=7).run(
                    observations=[{"code": "valve_shift_heard"}]
                ),
            ),
        ),
        "plant-roof": (
            "2026-11-05T09:40:00+00:00",
            visit(
                "Swimming Hall",
                roof,
                "routine",
                plant(roof, "heating", 27, 101, outdoor=41, indoor=69).run(gauges=False),
            ),
        ),
        "smokehouse": (
            "2026-11-10T10:15:00+00:00",
            visit(
                "Smokehouse",
                units.SMOKEHOUSE,
                "routine",
                plant(
                    units.SMOKEHOUSE, "heating", 20, 96, outdoor=36, indoor=67, superheat=2, subcooling=4
                ).run(gauges=False),
                elevation=units.quantity(1450, "ft"),
            ),
        ),
        "ferry-workshop": (
            "2026-11-12T14:30:00+00:00",
            visit(
                "Ferry Workshop",
                loop,
                "weak",
                plant(loop, "heating", 33, 99, outdoor=47, indoor=68).run(
                    gauges=False, more=water("source", 47.0, 40.9, 2.9)
                ),
            ),
        ),
        "cafe-floor": (
            "2026-11-13T08:50:00+00:00",
            visit(
                "Boathouse Café",
                units.CAFE_FLOOR,
                "start_up",
                plant(units.CAFE_FLOOR, "heating", 34, 104, outdoor=49, indoor=86).run(
                    gauges=False,
                    more=[*water("source", 49.0, 42.4, 2.9), *water("load", 86.0, 94.5)],
                ),
            ),
        ),
        "pier-house": (
            "2026-11-14T11:00:00+00:00",
            visit(
                "Pier House",
                units.PIER_HOUSE,
                "routine",
                plant(
                    units.PIER_HOUSE, "heating", 14, 92, outdoor=30, indoor=68, quality=0.97, subcooling=2
                ).run(gauges=False),
            ),
        ),
    }


def main() -> None:
    made = layouts()
    index_file = OUT / "opened.json"
    index = json.loads(index_file.read_text("utf-8"))
    for name, (opened, document) in made.items():
        for run in document["runs"]:
            seen: dict[tuple[str, str], dict[str, Any]] = {}
            for taken in run["readings"]:
                seen[taken["station"], taken["quantity"]] = taken
            run["readings"] = list(seen.values())
        text = json.dumps(document, indent=1, ensure_ascii=False)
        parse_visit(text)
        (OUT / f"{name}.json").write_text(text + "\n", "utf-8")
        index[f"{name}.json"] = opened
    ordered = dict(sorted(index.items(), key=lambda entry: entry[1]))
    index_file.write_text(json.dumps(ordered, indent=1) + "\n", "utf-8")


if __name__ == "__main__":
    main()
