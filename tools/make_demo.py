"""Make the demo visits that are computed: `.venv/bin/python tools/make_demo.py`.

Each case chooses saturation, superheat and subcooling; `tests/plant.py` works out the rest with CoolProp. The
visits written before this tool stay as they are.
"""

from __future__ import annotations

import json
import random
import sys
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "tools")]
import demo_units as units
from demo_circuits import circuits
from demo_heads import heads
from demo_recordings import recorded_defrosts

from builders import reading
from icepick.core.circuit.graph import build_circuit
from icepick.core.document.visit import Unit, parse_visit
from icepick.core.machine.faults import machine_fault
from other_laws import other_laws
from plant import Plant
from played import Weather, played

OUT = ROOT / "src/icepick/demo/visits"
BTU_PER_HOUR = 0.29307107  # W


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


def volts(station: str, value: float) -> dict[str, Any]:
    return reading(station, value, quantity="voltage", unit="V", method="meter")


def ohms(value: float) -> dict[str, Any]:
    return reading("solenoid", value, quantity="resistance", unit="ohm", method="meter")


def amps(value: float) -> dict[str, Any]:
    return reading("compressor", value, quantity="current", unit="A", method="meter")


VALVE_ONLY = (
    "indoor_meter_coil_side",
    "indoor_meter_line_side",
    "outdoor_meter_coil_side",
    "outdoor_meter_line_side",
)


def command_and_valve() -> dict[str, tuple[str, Any]]:
    """One visit for each way in which the valve is told wrong, stuck, or wrongly blamed."""
    net, shop, school = units.NET_HALL, units.CHANDLERY, units.SCHOOL

    def told(
        unit: dict[str, Any], mode: str, runs: str, *more: dict[str, Any], **fields: Any
    ) -> dict[str, Any]:
        """A run commanded in one mode while the circuit runs in another."""
        made = plant(
            unit,
            runs,
            40 if runs == "cooling" else 29,
            108 if runs == "cooling" else 103,
            outdoor=74 if mode == "cooling" else 46,
            indoor=75 if mode == "cooling" else 66,
        )
        made.mode = runs
        run = made.run(
            gauges=False, without=VALVE_ONLY, more=more, run_id=fields.pop("run_id", "run-1"), **fields
        )
        return {**run, "mode": mode}

    dead = [
        reading(code, value)
        for code, value in (
            ("discharge_line", 79.8),
            ("valve_to_indoor", 78.6),
            ("valve_to_outdoor", 79.1),
            ("common_suction", 78.9),
        )
    ]
    gauges = [
        reading(tap, psig, quantity="pressure", unit="psi", method="gauge")
        for tap, psig in (("common_suction_tap", 139.0), ("discharge_tap", 146.0))
    ]
    return {
        "net-hall-no-command": (
            "2026-07-28T14:20:00+00:00",
            visit(
                "Net Hall",
                net,
                "no_cooling",
                told(
                    net,
                    "cooling",
                    "heating",
                    volts("terminal_r", 26.1),
                    volts("terminal_y", 25.3),
                    volts("terminal_o", 0.3),
                    volts("solenoid", 0.2),
                ),
            ),
        ),
        "net-hall-coil": (
            "2026-08-19T09:15:00+00:00",
            visit(
                "Net Hall",
                net,
                "no_cooling",
                told(
                    net,
                    "cooling",
                    "heating",
                    volts("terminal_o", 25.2),
                    volts("solenoid", 24.9),
                    ohms(8_800_000),
                ),
            ),
        ),
        "chandlery-convention": (
            "2026-11-03T08:05:00+00:00",
            visit(
                "Chandlery",
                shop,
                "blows_cold_in_heating",
                told(shop, "heating", "cooling", volts("terminal_y", 25.0), volts("terminal_o", 24.7)),
            ),
        ),
        "chandlery-stuck": (
            "2026-11-18T13:35:00+00:00",
            visit(
                "Chandlery",
                shop,
                "blows_cold_in_heating",
                told(
                    shop,
                    "heating",
                    "cooling",
                    volts("terminal_y", 25.1),
                    volts("terminal_o", 0.1),
                    volts("solenoid", 0.1),
                    ohms(17),
                    observations=[{"code": "magnets_do_not_move"}],
                ),
            ),
        ),
        "school-power": (
            "2026-09-14T07:40:00+00:00",
            visit(
                "School",
                school,
                "no_cooling",
                {
                    "id": "run-1",
                    "mode": "cooling",
                    "minutes_running": 15,
                    "readings": [volts("terminal_r", 0.4), volts("terminal_y", 0.3), amps(0.0)],
                },
            ),
        ),
        "school-call": (
            "2026-09-21T07:55:00+00:00",
            visit(
                "School",
                school,
                "no_cooling",
                {
                    "id": "run-1",
                    "mode": "cooling",
                    "minutes_running": 15,
                    "readings": [volts("terminal_r", 26.3), volts("terminal_y", 0.4)],
                },
            ),
        ),
        "school-capacitor": (
            "2026-09-28T08:10:00+00:00",
            visit(
                "School",
                school,
                "no_cooling",
                {
                    "id": "run-1",
                    "mode": "cooling",
                    "minutes_running": 15,
                    "readings": [volts("terminal_r", 26.0), volts("terminal_y", 25.1), amps(0.0)],
                },
            ),
        ),
        "school-compressor": (
            "2026-09-09T10:50:00+00:00",
            visit(
                "School",
                school,
                "no_cooling",
                {
                    "id": "run-1",
                    "mode": "cooling",
                    "minutes_running": 18,
                    "readings": [
                        *dead,
                        *gauges,
                        amps(4.4),
                        volts("terminal_y", 24.8),
                        volts("terminal_o", 24.6),
                    ],
                },
            ),
        ),
    }


def metering() -> dict[str, tuple[str, Any]]:
    """Where the pressure goes: a check stuck shut, a drier, a starving valve, a flooding one, a lost charge."""
    loft, toll, mill = units.SAIL_LOFT, units.TOLL_HOUSE, units.MILL

    def heating(unit: dict[str, Any], evaporating: float, condensing: float = 99, **more: Any) -> Plant:
        return plant(unit, "heating", evaporating, condensing, outdoor=40, indoor=69, **more)

    def cooling(unit: dict[str, Any], evaporating: float, condensing: float = 114, **more: Any) -> Plant:
        return plant(unit, "cooling", evaporating, condensing, outdoor=91, indoor=76, **more)

    check_shut = {"indoor_meter_line_side": 150.0}
    circuits = [reading(f"indoor_circuit:{n}", t) for n, t in ((1, 47.8), (2, 48.9), (3, 67.2), (4, 48.1))]
    return {
        "sail-loft-check": (
            "2026-11-06T09:30:00+00:00",
            visit(
                "Sail Loft",
                loft,
                "weak",
                heating(loft, 6, superheat=28, subcooling=15, drops=check_shut).run(run_id="run-1"),
                cooling(loft, 42).run(run_id="run-2"),
            ),
        ),
        "sail-loft-circuit": (
            "2026-06-18T14:00:00+00:00",
            visit(
                "Sail Loft", loft, "weak", cooling(loft, 41).run(run_id="run-1", gauges=False, more=circuits)
            ),
        ),
        "toll-house-drier": (
            "2026-11-09T13:20:00+00:00",
            visit(
                "Toll House",
                toll,
                "weak",
                heating(toll, 8, superheat=26, subcooling=17, drops={"drier_outdoor_side": 35}).run(
                    run_id="run-1"
                ),
            ),
        ),
        "mill-line": (
            "2025-02-12T10:20:00+00:00",
            visit(
                "Mill Museum",
                mill,
                "weak",
                heating(mill, 4, 96, superheat=27, subcooling=14, drops={"drier_outdoor_side": 90}).run(
                    run_id="run-1"
                ),
                cooling(mill, 25, 108, superheat=26, subcooling=15, drops={"drier_indoor_side": 110}).run(
                    run_id="run-2"
                ),
            ),
        ),
        "mill-valve": (
            "2026-08-04T10:10:00+00:00",
            visit(
                "Mill Museum",
                mill,
                "no_cooling",
                cooling(mill, 24, 111, superheat=29, subcooling=16).run(run_id="run-1"),
                heating(mill, 23).run(run_id="run-2", gauges=False),
            ),
        ),
        "mill-charge": (
            "2026-09-22T15:45:00+00:00",
            visit(
                "Mill Museum",
                mill,
                "weak",
                cooling(mill, 28, 107, superheat=26, subcooling=1).run(run_id="run-1"),
                heating(mill, 10, 94, superheat=25, subcooling=2).run(run_id="run-2"),
            ),
        ),
        "toll-house-flooding": (
            "2026-07-02T11:25:00+00:00",
            visit(
                "Toll House",
                toll,
                "weak",
                cooling(toll, 49, 110, quality=0.94, subcooling=2).run(
                    run_id="run-1", observations=[{"code": "bulb_loose"}]
                ),
                heating(toll, 23).run(run_id="run-2", gauges=False),
                cooling(toll, 42, subcooling=9).run(
                    run_id="run-3",
                    after_repair=True,
                    notes="Bulb strapped at four o'clock and insulated; superheat holds.",
                ),
            ),
        ),
    }


def swapped(run: dict[str, Any], one: str, other: str) -> dict[str, Any]:
    """The run with two clamps exchanged."""
    names = {one: other, other: one}
    return {
        **run,
        "readings": [{**r, "station": names.get(r["station"], r["station"])} for r in run["readings"]],
    }


def air(station: str, value: float, quantity: str = "wet_bulb") -> dict[str, Any]:
    unit = "percent" if quantity == "relative_humidity" else "degF"
    return reading(station, value, quantity=quantity, unit=unit, method="probe")


def seen(*codes: str) -> list[dict[str, Any]]:
    return [{"code": code} for code in codes]


def heat_exchange() -> dict[str, tuple[str, Any]]:
    """Too little air or water, ice, air in the circuit, too much charge, and two clamps exchanged."""
    office, club, cottage = units.BANDSTAND, units.ROWING_CLUB, units.LOCK_COTTAGE
    reed, museum, box = units.REED_CUTTER, units.BOAT_MUSEUM, units.SIGNAL_BOX
    standing = {
        "id": "run-2",
        "mode": "off",
        "minutes_running": None,
        "readings": [
            reading("outdoor_air_in", 81.0, method="probe"),
            reading("common_suction_tap", 265.0, quantity="pressure", unit="psi", method="gauge"),
        ],
    }
    return {
        "bandstand-airflow": (
            "2026-07-09T10:30:00+00:00",
            visit(
                "Bandstand",
                office,
                "no_cooling",
                plant(office, "cooling", 26, 101, outdoor=88, indoor=77, superheat=5, supply_change=-31).run(
                    run_id="run-1",
                    observations=seen("filter_dirty"),
                    more=[air("return_air", 64.0), air("supply_air", 45.5)],
                ),
            ),
        ),
        "rowing-club-coil": (
            "2026-08-12T13:15:00+00:00",
            visit(
                "Rowing Club",
                club,
                "high_bills",
                plant(club, "cooling", 44, 131, outdoor=89, indoor=76, subcooling=10, outdoor_change=27).run(
                    run_id="run-1", observations=seen("coil_dirty_outdoor", "outdoor_fan_running")
                ),
            ),
        ),
        "lock-cottage-ice": (
            "2026-11-16T08:20:00+00:00",
            visit(
                "Lock Cottage",
                cottage,
                "iced_outdoor_coil",
                plant(
                    cottage,
                    "heating",
                    4,
                    92,
                    outdoor=33,
                    indoor=66,
                    superheat=5,
                    supply_change=14,
                    outdoor_change=-3,
                ).run(
                    run_id="run-1",
                    observations=seen("outdoor_coil_iced_solid", "outdoor_fan_running"),
                    more=[air("outdoor_air_in", 92, "relative_humidity")],
                ),
            ),
        ),
        "reed-cutter-charge": (
            "2026-07-23T15:00:00+00:00",
            visit(
                "Reed Cutter's House",
                reed,
                "high_bills",
                plant(reed, "cooling", 44, 126, outdoor=90, indoor=76, subcooling=24, superheat=6).run(
                    run_id="run-1", more=[air("return_air", 63.0)]
                ),
                plant(reed, "heating", 44, 121, outdoor=60, indoor=70, subcooling=22).run(run_id="run-2"),
            ),
        ),
        "boat-museum-air": (
            "2026-08-27T09:05:00+00:00",
            visit(
                "Boat Museum",
                museum,
                "high_bills",
                plant(museum, "cooling", 43, 113, outdoor=90, indoor=76, air_over=58).run(run_id="run-1"),
                standing,
            ),
        ),
        "signal-box-clamps": (
            "2026-11-11T10:40:00+00:00",
            visit(
                "Signal Box",
                box,
                "routine",
                swapped(
                    plant(box, "heating", 24, 102, outdoor=42, indoor=68).run(run_id="run-1"),
                    "indoor_meter_line_side",
                    "outdoor_meter_coil_side",
                ),
            ),
        ),
    }


def lake_loops() -> dict[str, tuple[str, Any]]:
    """A loop whose flow falls off; and one whose coil fouls over the years, visit by visit."""
    hatchery, ice = units.FISH_HATCHERY, units.ICE_HOUSE

    def loop(evaporating: float, condensing: float, inlet: float, outlet: float) -> dict[str, Any]:
        """The water's heat decides the work and, with the fan's own heat, how warm the air comes out."""
        made = plant(ice, "heating", evaporating, condensing, outdoor=inlet, indoor=68)
        work, rejected = made.duty(4500 * (inlet - outlet) * BTU_PER_HOUR)
        made.supply_change = (rejected + 430) / BTU_PER_HOUR / (1.08 * 1200)
        return made.run(
            run_id="run-1",
            observations=seen("desuperheater_off"),
            more=[
                *water("source", inlet, outlet, 2.9),
                reading("compressor", round(work / 0.96), quantity="power", unit="W", method="meter"),
                reading("indoor_airflow", 1200, quantity="flow", unit="cfm", method="meter"),
            ],
        )

    fouling = (
        ("ice-house-first", "2023-11-21T09:30:00+00:00", "start_up", loop(35, 100, 47.5, 41.3)),
        ("ice-house-second", "2024-11-19T10:10:00+00:00", "routine", loop(34, 99, 47.0, 40.9)),
        ("ice-house-third", "2025-11-25T09:45:00+00:00", "routine", loop(30, 97, 46.8, 41.2)),
        ("ice-house-now", "2026-11-24T09:20:00+00:00", "weak", loop(20, 92, 47.2, 43.5)),
    )
    return {
        "hatchery-flow": (
            "2026-11-19T15:30:00+00:00",
            visit(
                "Hatchery",
                hatchery,
                "weak",
                plant(hatchery, "heating", 18, 94, outdoor=46, indoor=67).run(
                    run_id="run-1",
                    gauges=False,
                    observations=seen("desuperheater_off"),
                    more=[
                        *water("source", 46.0, 29.9),
                        reading("source_water", 2.5, quantity="flow", unit="gpm", method="meter"),
                    ],
                ),
            ),
        ),
        **{
            name: (opened, visit("Ice House", ice, complaint, run))
            for name, opened, complaint, run in fouling
        },
    }


def defrosts() -> dict[str, tuple[str, Any]]:
    """Runs in defrost: a fan that goes on turning, and no backup heat; and a sensor that lies."""
    cottage = units.LOCK_COTTAGE

    def defrosting(*codes: str, heat: float) -> dict[str, Any]:
        made = plant(cottage, "cooling", 22, 62, outdoor=31, indoor=69, supply_change=-16)
        run = made.run(gauges=False, without=VALVE_ONLY)
        run["readings"] += [volts("terminal_o", 24.9), volts("solenoid", 24.8), volts("terminal_w", heat)]
        return {**run, "mode": "defrost", "minutes_running": 4, "observations": seen(*codes)}

    heating = plant(cottage, "heating", 18, 98, outdoor=33, indoor=69).run(gauges=False, without=VALVE_ONLY)
    heating["readings"] += [
        reading("coil_sensor", 9.6, quantity="resistance", unit="kohm", method="meter"),
        reading("coil_sensor", 21.5),
    ]
    return {
        "lock-cottage-fan": (
            "2026-11-09T07:30:00+00:00",
            visit("Lock Cottage", cottage, "iced_outdoor_coil", defrosting("outdoor_fan_running", heat=24.7)),
        ),
        "lock-cottage-heat": (
            "2026-11-12T07:50:00+00:00",
            visit("Lock Cottage", cottage, "iced_outdoor_coil", defrosting("outdoor_fan_stopped", heat=0.3)),
        ),
        "lock-cottage-sensor": (
            "2026-11-17T09:40:00+00:00",
            visit("Lock Cottage", cottage, "iced_outdoor_coil", heating),
        ),
    }


BY_CLAMPS = {
    "discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction", "compressor_inlet", "outdoor_air_in",
    "return_air", "supply_air", "liquid_line_outdoor", "indoor_coil", "outdoor_coil", "outdoor_meter_coil_side",
    "outdoor_meter_line_side", "indoor_meter_line_side", "indoor_meter_coil_side", "vapor_line_indoor",
    "vapor_line_outdoor", "outdoor_air_out", "drier_outdoor_side", "drier_indoor_side",
}  # fmt: skip


def under_way() -> dict[str, tuple[str, Any]]:
    """A call that is not at its end: some of the charge is gone, clamps alone leave it open, and there is a plan."""
    unit, lost = Unit.model_validate(units.SIGNAL_BOX), machine_fault("undercharge")
    assert lost is not None
    with other_laws():
        (run,) = played(unit, "heating", [Weather(38, 69)], [lost.effect(25)], random.Random(5))
    assert run is not None
    run["readings"] = [
        one for one in run["readings"] if one["station"] in BY_CLAMPS and one["quantity"] == "temperature"
    ]
    return {
        "signal-box-open": (
            "today",
            visit("Signal Box", units.SIGNAL_BOX, "weak", {**run, "id": "run-1"}),
        ),
        "tide-house": ("today", for_probes()),
    }


def for_probes() -> Any:
    """A call at which nothing is read yet: the probes of the demo sit on its unit."""
    run = {"id": "run-1", "mode": "heating", "minutes_running": 20, "readings": [], "observations": []}
    return visit("Tide House", {**units.SIGNAL_BOX, "label": "Tide house"}, "routine", run)


def main() -> None:
    made = {
        **layouts(),
        **command_and_valve(),
        **metering(),
        **heat_exchange(),
        **lake_loops(),
        **defrosts(),
        **under_way(),
        **circuits(visit),
        **heads(visit),
        **recorded_defrosts(),
    }
    index_file = OUT / "opened.json"
    index = json.loads(index_file.read_text("utf-8"))
    for name, (opened, document) in made.items():
        for run in document["runs"]:
            seen: dict[tuple[str, str], dict[str, Any]] = {}
            for taken in run["readings"]:
                seen[taken["station"], taken["quantity"]] = taken
            run["readings"] = list(seen.values())
        # Samples by the thousand stand in one line.
        indent = None if document.get("recordings") else 1
        text = json.dumps(document, indent=indent, ensure_ascii=False)
        parse_visit(text)
        (OUT / f"{name}.json").write_text(text + "\n", "utf-8")
        index[f"{name}.json"] = opened
    ordered = dict(sorted(index.items(), key=lambda entry: entry[1]))
    index_file.write_text(json.dumps(ordered, indent=1) + "\n", "utf-8")


if __name__ == "__main__":
    main()
