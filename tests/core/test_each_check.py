"""What each check says in the situations a technician meets, written from the trade and not from the rules.

The trade is the-trade.md 3 to 7. A line is a situation, the status it must have (a dash where the check
has nothing to say), and words its sentence must hold.
Machines are worked out by CoolProp (tests/plant.py); what a case does not name is sound.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Any

import pytest

from builders import amps, ohms, probe, psi, reading, valve_run, volts
from cases import COOLING, HEATING, SPLIT, checks_of, examined, healthy
from icepick.core.checks import CHECKS
from icepick.core.document.examination import Check

Situation = Callable[[], dict[str, Check]]
WATER = "water to air, one two-way thermostatic valve"
PISTONS = "split, two pistons"
DUCTLESS = "ductless, one electric valve outdoors: a cold mixture in the small line in cooling"
RATED = {"compressor": {"kind": "single", "rated_current": {"value": 12, "unit": "A"}}}
INVERTER = {**RATED["compressor"], "kind": "inverter"}
FLOODED = (
    reading("common_suction", 44),
    reading("compressor_inlet", 43.5),
    reading("discharge_line", 118),
    reading("valve_to_outdoor", 117),
)
"""No superheat, and hardly more than condensing, at a suction and a head of 92 °F outdoors."""
IN_HEATING = {"reversing_valve": {"energized_in": "heating"}}


def bare(mode: str, *readings: dict[str, Any], seen: tuple[str, ...] = (), **unit: Any) -> Situation:
    """Only these readings of the split, twenty minutes in."""

    def of() -> dict[str, Check]:
        run = {"id": "run", "mode": mode, "minutes_running": 20, "readings": list(readings)}
        return checks_of(examined(SPLIT, {**run, "observations": [{"code": code} for code in seen]}, **unit))

    return of


def machine(
    mode: str,
    *more: dict[str, Any],
    layout: str = SPLIT,
    without: tuple[str, ...] = (),
    seen: tuple[str, ...] = (),
    unit: dict[str, Any] | None = None,
    gauges: bool = True,
    speed: dict[str, Any] | None = None,
    outdoor: float | None = None,
    **plant: Any,
) -> Situation:
    """A sound machine on an ordinary day, but for what is said; what is read again replaces what stood there."""

    def of() -> dict[str, Check]:
        again = {(r["station"], r["quantity"]) for r in more}
        usual, indoor = HEATING if mode == "heating" else COOLING
        made = healthy(layout, mode, usual if outdoor is None else outdoor, indoor, **plant)
        run = made.run(without=without, gauges=gauges)
        run["readings"] = [r for r in run["readings"] if (r["station"], r["quantity"]) not in again] + [*more]
        run["observations"] = [{"code": code} for code in seen]
        return checks_of(examined(layout, {**run, **(speed or {})}, **(unit or {})))

    return of


def both(here: dict[str, Any], there: dict[str, Any], **unit: Any) -> Situation:
    """The first of two runs, the second in the other mode."""
    return lambda: checks_of(examined(SPLIT, here, there, **unit))


def run(mode: str, *readings: dict[str, Any]) -> dict[str, Any]:
    return {"id": mode, "mode": mode, "minutes_running": 20, "readings": list(readings)}


def pipes(mode: str, *degrees: float | None, **more: Any) -> Situation:
    """Only the four pipes at the reversing valve."""
    return lambda: checks_of(examined(SPLIT, valve_run(mode, *degrees, **more)))


def headed(
    mode: str, calling: list[int] | None, *readings: dict[str, Any], gauge: float | None = None
) -> Situation:
    """Of a ductless unit with two heads, in a reading room and an office, only these readings and the pipes at its valve."""
    two = [{"label": "reading room"}, {"label": "office"}]
    four = (150, 48, 148, 49) if mode == "cooling" else (150, 148, 30, 31)

    def of() -> dict[str, Check]:
        shared = valve_run(mode, *four, minutes=20)["readings"]
        if gauge is not None:
            shared.append(psi("common_suction_tap" if mode == "cooling" else "discharge_tap", gauge))
        run = {"id": "run", "mode": mode, "minutes_running": 20, "readings": [*shared, *readings]}
        return checks_of(examined(DUCTLESS, {**run, "heads_calling": calling}, heads=two))

    return of


def r(value: float) -> dict[str, Any]:
    return volts("terminal_r", value)


def y(value: float) -> dict[str, Any]:
    return volts("terminal_y", value)


def o(value: float) -> dict[str, Any]:
    return volts("terminal_o", value)


def w(value: float) -> dict[str, Any]:
    return volts("terminal_w", value)


def coil(value: float) -> dict[str, Any]:
    return volts("solenoid", value)


def humid(station: str, percent: float) -> dict[str, Any]:
    return reading(station, percent, quantity="relative_humidity", unit="percent", method="probe")


def water(mode: str, change: float, gpm: float, **unit: Any) -> Situation:
    """The water source at its rating point: 50 °F into heating, 85 °F into cooling; 24,000 and 36,000 Btu/h stated."""
    entering = 50 if mode == "heating" else 85
    leaving = entering - change if mode == "heating" else entering + change
    design = {
        "heat_of_extraction": {"value": 24_000, "unit": "Btu/h"},
        "heat_of_rejection": {"value": 36_000, "unit": "Btu/h"},
    }
    return machine(
        mode,
        probe("source_water_in", entering),
        probe("source_water_out", leaving),
        reading("source_water", gpm, quantity="flow", unit="gpm", method="meter"),
        reading("source_water", 500, quantity="fluid_factor", unit="1", method="estimate"),
        layout=WATER,
        outdoor=entering,
        unit={"design": design, **unit},
    )


LIVE, DEAD = 25, 0.2
OUT, COLD, ROOM = (
    probe("outdoor_air_in", 90),
    probe("outdoor_air_in", 32),
    (probe("return_air:1", 75), probe("return_air:2", 75)),
)

SITUATIONS: dict[str, list[tuple[str, Situation, str, str]]] = {
    "run.settled": [
        ("twenty minutes", pipes("cooling", 170, 50, 168, 52), "pass", ""),
        ("two minutes", pipes("cooling", 170, 50, 168, 52, minutes=2), "watch", ""),
        ("nobody noted", pipes("cooling", 170, 50, 168, 52, minutes=None), "watch", ""),
    ],
    "danger.gas": [
        ("a charge that burns is there", machine("cooling", refrigerant="R-454B"), "-", ""),
        ("it is gone", bare("off", psi("discharge_tap", 0), refrigerant="R-454B"), "fail", "No flame"),
        (
            "pumped into a vacuum",
            bare("cooling", psi("common_suction_tap", -4), refrigerant="R-454B"),
            "-",
            "",
        ),
        ("gone, and it does not burn", bare("off", psi("discharge_tap", 0)), "-", ""),
    ],
    "danger.locked_rotor": [
        ("three quarters of rated", machine("cooling", amps(9), unit=RATED), "-", ""),
        ("five times the rated", machine("cooling", amps(60), unit=RATED), "fail", "capacitor"),
        ("of an inverter", bare("cooling", amps(60), compressor=INVERTER), "fail", "it has no capacitor"),
    ],
    "danger.head": [
        ("a usual head", machine("cooling"), "pass", ""),
        ("at the cutout in cooling", machine("cooling", psi("discharge_tap", 640)), "fail", "outdoor fan"),
        ("in heating", machine("heating", psi("vapor_service_tap", 640)), "fail", "filter"),
        (
            "R-22 gets there sooner",
            bare("cooling", psi("discharge_tap", 440), refrigerant="R-22"),
            "fail",
            "",
        ),
        ("R-134a sooner still", bare("cooling", psi("discharge_tap", 280), refrigerant="R-134a"), "fail", ""),
        ("no machine gets there", bare("cooling", psi("discharge_tap", 500), refrigerant="R-134a"), "-", ""),
    ],
    "danger.vacuum": [
        ("a usual suction", machine("cooling"), "pass", ""),
        ("pumped down", machine("cooling", psi("common_suction_tap", -4)), "fail", "service valves"),
        ("standing", bare("off", psi("common_suction_tap", -4)), "-", ""),
    ],
    "danger.discharge_temperature": [
        ("a usual discharge", machine("cooling"), "pass", ""),
        ("oil breaks down", machine("cooling", reading("discharge_line", 250)), "fail", ""),
    ],
    "danger.current": [
        ("three quarters of rated", machine("cooling", amps(9), unit=RATED), "pass", "75 %"),
        ("the rated one is no ceiling", machine("cooling", amps(13), unit=RATED), "pass", "no ceiling"),
        ("three quarters over", machine("cooling", amps(21), unit=RATED), "fail", "175 %"),
    ],
    "danger.flooded": [
        ("a usual discharge", machine("cooling"), "pass", "no liquid"),
        ("cold and wet", machine("cooling", *FLOODED), "fail", "oil"),
        ("hot all the same", machine("cooling", *FLOODED[:2]), "pass", ""),
    ],
    "danger.freezing": [
        ("well above", water("heating", 6, 8), "pass", "44"),
        ("near 40 °F plain water", water("heating", 14, 4), "watch", "antifreeze"),
        (
            "the same in antifreeze",
            machine(
                "heating",
                probe("source_water_in", 36),
                probe("source_water_out", 30),
                reading("source_water", 485, quantity="fluid_factor", unit="1", method="estimate"),
                layout=WATER,
                outdoor=36,
            ),
            "pass",
            "antifreeze mix",
        ),
        (
            "plain water below freezing",
            machine(
                "heating",
                probe("source_water_in", 36),
                probe("source_water_out", 30),
                layout=WATER,
                outdoor=36,
            ),
            "fail",
            "bursts",
        ),
    ],
    "command.call": [
        ("called", bare("cooling", r(26), y(LIVE)), "pass", "25 V"),
        ("no power", bare("cooling", r(DEAD), y(DEAD)), "fail", "transformer"),
        ("no call", bare("heating", r(26), y(DEAD)), "fail", "thermostat"),
        ("a poor connection", bare("cooling", r(26), y(12)), "watch", "neither present nor absent"),
        ("a sagging supply", bare("cooling", r(11), y(10)), "watch", "transformer"),
        ("only R read", bare("cooling", r(26)), "needs_readings", "Y"),
        ("a defrost calls too", bare("defrost", r(26), y(DEAD)), "fail", "no call"),
        ("asked for where it runs backwards", pipes("heating", 170, 50, 168, 52), "needs_readings", ""),
    ],
    "command.valve_terminal": [
        ("O in cooling", bare("cooling", o(LIVE)), "pass", "energized in cooling"),
        ("O dead in cooling", bare("cooling", o(DEAD)), "fail", "should be energized now"),
        ("O dead in heating", bare("heating", o(DEAD)), "pass", ""),
        ("O live in heating", bare("heating", o(LIVE)), "fail", "should not be energized now"),
        ("B in heating", bare("heating", volts("terminal_b", LIVE), **IN_HEATING), "pass", ""),
        (
            "B in a defrost",
            bare("defrost", volts("terminal_b", LIVE), **IN_HEATING),
            "fail",
            "relay is stuck",
        ),
        ("O in a defrost", bare("defrost", o(LIVE)), "pass", ""),
        ("between", bare("cooling", o(9)), "watch", ""),
        (
            "the other letter's wire tells nothing",
            bare("cooling", volts("terminal_b", LIVE)),
            "needs_readings",
            "O",
        ),
    ],
    "command.solenoid_voltage": [
        ("it arrives", bare("cooling", o(LIVE), coil(LIVE)), "pass", ""),
        ("lost on the way", bare("cooling", o(LIVE), coil(DEAD)), "fail", "wire or the board between"),
        ("never sent", bare("cooling", o(DEAD), coil(DEAD)), "fail", "follow it back"),
        ("unwanted", bare("heating", coil(LIVE)), "fail", "energized when it should not be"),
    ],
    "command.solenoid_resistance": [
        ("a sound winding", bare("cooling", ohms(15)), "pass", "sound"),
        (
            "open",
            bare("cooling", ohms(5_000_000)),
            "fail",
            "open winding. Replace the coil alone; the valve stays",
        ),
        ("shorted", bare("cooling", ohms(0.3)), "fail", "shorted"),
    ],
    "command.convention": [
        ("as set", bare("cooling", coil(LIVE)), "pass", ""),
        ("live where it should rest", bare("heating", coil(LIVE)), "fail", "in heating (B)"),
        ("dead where it should be live", bare("cooling", coil(DEAD)), "watch", "Switch mode"),
        (
            "wrong in both",
            both(run("cooling", coil(DEAD)), run("heating", coil(LIVE))),
            "fail",
            "Wrong in both modes",
        ),
        (
            "right in the other",
            both(run("cooling", coil(DEAD)), run("heating", coil(DEAD))),
            "watch",
            "a wire or relay, not the O/B setting",
        ),
        (
            "the terminal where the coil is unread",
            bare("heating", o(LIVE)),
            "fail",
            "O/B setting before anything",
        ),
        (
            "a unit of the other convention",
            bare("cooling", coil(LIVE), **IN_HEATING),
            "fail",
            "in cooling (O)",
        ),
    ],
    "command.backup_heat": [
        ("called in a defrost", bare("defrost", w(LIVE)), "pass", ""),
        ("not called in a defrost", bare("defrost", w(DEAD)), "fail", "50 to 55 °F"),
        ("in heating it may", bare("heating", w(LIVE)), "pass", ""),
        ("in heating it need not", bare("heating", w(DEAD)), "pass", ""),
        ("while it cools", bare("cooling", w(LIVE)), "fail", "while the unit cools"),
    ],
    "defrost.fan": [
        ("it stands", bare("defrost", seen=("outdoor_fan_stopped",)), "pass", ""),
        ("it runs", bare("defrost", seen=("outdoor_fan_running",)), "fail", "fan relay"),
        ("it draws current", bare("defrost", amps(1.1, "outdoor_fan")), "fail", ""),
        ("it draws none", bare("defrost", amps(0.0, "outdoor_fan")), "pass", ""),
    ],
    "defrost.backup_heat": [
        ("on", bare("defrost", seen=("backup_heat_on",)), "pass", ""),
        ("drawing", bare("defrost", amps(20, "backup_heat")), "pass", ""),
        ("called and off", bare("defrost", w(LIVE), seen=("backup_heat_off",)), "fail", "sequencer"),
        ("not called", bare("defrost", w(DEAD), amps(0, "backup_heat")), "fail", "W is dead"),
        ("cold air", bare("defrost", probe("supply_air", 52), seen=("backup_heat_off",)), "fail", "52"),
    ],
    "outdoor.fan": [
        ("it runs", bare("heating", seen=("outdoor_fan_running",)), "pass", ""),
        ("it stands", bare("cooling", seen=("outdoor_fan_stopped",)), "fail", "erify zero voltage"),
        ("by its current", bare("heating", amps(0, "outdoor_fan")), "fail", "capacitor"),
    ],
    # 10 kΩ at 77 °F is what the common curve is named after; at 32 °F it is near 32.7 kΩ. [from memory]
    "defrost.board": [
        (
            "as it should",
            bare("defrost", r(26), y(26), o(LIVE), w(LIVE), seen=("outdoor_fan_stopped",)),
            "pass",
            "feeds",
        ),
        (
            "B in a defrost",
            bare("defrost", r(26), y(26), volts("terminal_b", DEAD), **IN_HEATING),
            "pass",
            "",
        ),
        ("W missing", bare("defrost", r(26), y(26), o(LIVE), w(DEAD)), "fail", "backup heat"),
        ("inputs unread", bare("defrost", o(LIVE), w(DEAD)), "watch", "R and Y"),
        ("no call", bare("defrost", r(26), y(DEAD), o(DEAD), w(DEAD)), "watch", "inputs"),
        (
            "still heating",
            bare("defrost", r(26), y(26), o(DEAD), w(DEAD), seen=("outdoor_fan_running",)),
            "fail",
            "sensor",
        ),
        (
            "the fan alone",
            bare("defrost", r(26), y(26), o(LIVE), w(LIVE), seen=("outdoor_fan_running",)),
            "fail",
            "120 V to ground",
        ),
        ("heating", bare("heating", r(26), y(26), o(DEAD)), "pass", ""),
        ("O live in heating", bare("heating", r(26), y(26), o(LIVE)), "watch", "thermostat"),
        ("nothing of it read", bare("defrost", r(26), seen=("outdoor_fan_stopped",)), "-", ""),
        ("off-cycle", bare("defrost", r(26), y(26), o(DEAD), defrost={"method": "off_cycle"}), "-", ""),
    ],
    "defrost.sensor": [
        (
            "a bimetal thermostat, closed on a cold coil",
            bare(
                "heating",
                ohms(0.4, "coil_sensor"),
                reading("coil_sensor", 20),
                defrost={"method": "time_temperature"},
            ),
            "pass",
            "closed",
        ),
        (
            "agrees at 77 °F",
            bare("heating", ohms(10_000, "coil_sensor"), reading("coil_sensor", 77)),
            "pass",
            "",
        ),
        (
            "agrees at freezing",
            bare("heating", ohms(32_700, "coil_sensor"), reading("coil_sensor", 32)),
            "pass",
            "",
        ),
        (
            "far off",
            bare("heating", ohms(32_700, "coil_sensor"), reading("coil_sensor", 50)),
            "fail",
            "contact",
        ),
        (
            "too cold stops late",
            bare("heating", ohms(32_700, "coil_sensor"), reading("coil_sensor", 50)),
            "fail",
            "stops it only at 68",
        ),
        (
            "too warm starts late",
            bare("heating", ohms(19_900, "coil_sensor"), reading("coil_sensor", 30)),
            "fail",
            "starts once the coil is at 12",
        ),
    ],
    "defrost.ambient_sensor": [
        (
            "beside the outdoor air",
            bare("heating", ohms(10_000, "ambient_sensor"), probe("outdoor_air_in", 77)),
            "pass",
            "",
        ),
        (
            "off",
            bare("heating", ohms(10_000, "ambient_sensor"), probe("outdoor_air_in", 47)),
            "fail",
            "wiring",
        ),
    ],
    "valve.position": [
        ("over in cooling", pipes("cooling", 170, 50, 168, 52), "pass", ""),
        ("over in heating", pipes("heating", 170, 168, 30, 33), "pass", ""),
        ("the other way", pipes("heating", 170, 50, 168, 52), "fail", ""),
        ("midway", pipes("cooling", 150, 105, 112, 104), "fail", ""),
        ("all alike", pipes("cooling", 90, 90, 91, 90), "fail", ""),
        ("a defrost stands as cooling", pipes("defrost", 120, 40, 118, 42), "pass", ""),
        ("one unread", pipes("cooling", 170, None, 168, 52), "needs_readings", "indoor port"),
    ],
    "valve.suction_rise": [
        ("seated", machine("cooling"), "pass", ""),
        ("seated, heating", machine("heating"), "pass", ""),
        ("bypassing", machine("cooling", bypass=0.2), "fail", "bypassing the slide"),
        ("bypassing, heating", machine("heating", bypass=0.2), "fail", ""),
        ("a wet return hides it", machine("heating", layout=PISTONS, quality=0.9), "watch", "wet"),
        ("colder than what feeds it", pipes("cooling", 170, 60, 168, 51), "watch", "check both clamps"),
        ("one clamp missing", pipes("cooling", 170, 50, 168, None), "needs_readings", "ommon suction"),
    ],
    "valve.discharge_drop": [
        ("seated", pipes("cooling", 170, 50, 168, 52), "pass", ""),
        ("heat is lost in the valve", pipes("cooling", 170, 60, 158, 80), "fail", "worn"),
        (
            "hotter than what feeds it",
            pipes("cooling", 163, 50, 170, 52),
            "needs_readings",
            "Physics contradicts",
        ),
    ],
    "valve.bypass": [
        ("none to speak of", machine("cooling"), "pass", ""),
        ("a quarter", machine("cooling", bypass=0.25), "fail", "of the compressor's flow"),
        ("wet", machine("heating", layout=PISTONS, quality=0.85), "watch", "Lean on"),
    ],
    "valve.magnets": [
        ("all the way", bare("cooling", seen=("magnets_full_travel",)), "pass", "worn seal"),
        ("midway", bare("heating", seen=("magnets_stop_midway",)), "fail", ""),
        ("still", bare("defrost", seen=("magnets_do_not_move",)), "fail", ""),
    ],
    "valve.sound": [("heard", bare("cooling", seen=("valve_shift_heard",)), "pass", "no proof")],
    "valve.pressure_difference": [
        ("plenty", machine("cooling"), "pass", "enough"),
        (
            "hardly any",
            bare("cooling", psi("common_suction_tap", 190), psi("discharge_tap", 197)),
            "fail",
            "no fault of the valve",
        ),
        (
            "the wrong way round",
            bare("cooling", psi("common_suction_tap", 350), psi("discharge_tap", 120)),
            "watch",
            "hoses exchanged",
        ),
    ],
    "valve.drift": [
        (
            "holds",
            lambda: checks_of(examined(SPLIT, _twice(52, 52.5))),
            "pass",
            "it holds",
        ),
        ("moves", lambda: checks_of(examined(SPLIT, _twice(58, 52))), "watch", "not settled"),
    ],
    "compressor.running": [
        ("it draws", bare("cooling", amps(9)), "pass", "9"),
        ("called and still", bare("heating", y(LIVE), amps(0)), "fail", "contactor, capacitor"),
        ("still and not called", bare("heating", y(DEAD), amps(0)), "watch", "nothing tells it to run"),
        ("still, the call unread", bare("cooling", amps(0)), "fail", "hould run"),
    ],
    "compressor.pumping": [
        ("a sound one", machine("cooling", amps(9), unit=RATED), "pass", "it pumps"),
        (
            "nothing is pumped",
            bare(
                "cooling",
                *(
                    reading(pipe, 90)
                    for pipe in ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")
                ),
                psi("common_suction_tap", 200),
                psi("discharge_tap", 205),
                amps(3),
                **RATED,
            ),
            "fail",
            "nothing is pumped",
        ),
        (
            "pressures together, lines apart: the valve",
            bare(
                "cooling",
                reading("discharge_line", 160),
                reading("valve_to_outdoor", 150),
                reading("valve_to_indoor", 70),
                reading("common_suction", 110),
                psi("common_suction_tap", 190),
                psi("discharge_tap", 205),
            ),
            "watch",
            "reversing valve",
        ),
        (
            "one sign alone",
            bare("cooling", psi("common_suction_tap", 200), psi("discharge_tap", 206)),
            "watch",
            "to be sure",
        ),
    ],
    "compressor.pressure_ratio": [
        ("as called for", machine("cooling"), "pass", ""),
        ("drawn together", machine("cooling", evaporating=66, condensing=98), "fail", "drawn together"),
        ("too far apart", machine("cooling", evaporating=30, condensing=140), "fail", "lift further"),
        (
            "one gauge",
            machine("cooling", without=("discharge_tap", "liquid_service_tap")),
            "needs_readings",
            "",
        ),
        (
            "a low stage is held to what it should show",
            machine(
                "cooling",
                evaporating=55,
                condensing=106,
                unit={"compressor": {"kind": "two_stage"}},
                speed={"compressor_stage": "low"},
            ),
            "pass",
            "should show 2.",
        ),
    ],
    "compressor.discharge_temperature": [
        ("a sound compression", machine("cooling"), "pass", "fits"),
        ("hotter than it can be", machine("cooling", efficiency=0.3), "fail", "hotter"),
        (
            "colder than it can be",
            machine("cooling", reading("discharge_line", 128), without=("valve_to_outdoor",)),
            "watch",
            "floodback",
        ),
    ],
    "metering.active_drop": [
        ("all of it", machine("cooling"), "pass", ""),
        ("all of it, heating", machine("heating"), "pass", ""),
        (
            "hardly any",
            machine("cooling", reading("indoor_meter_coil_side", 90), reading("indoor_meter_line_side", 92)),
            "fail",
            "hardly any drop",
        ),
        (
            "without the low side",
            machine("cooling", gauges=False, without=("indoor_coil",)),
            "pass",
            "Read the low side",
        ),
        ("one clamp", machine("cooling", without=("indoor_meter_coil_side",)), "needs_readings", ""),
    ],
    "metering.bypass_drop": [
        ("open", machine("cooling"), "pass", "check valve is open"),
        ("stuck closed", machine("heating", drops={"indoor_meter_line_side": 170}), "fail", "stuck closed"),
    ],
    "metering.drier_drop": [
        ("clean", machine("cooling"), "pass", ""),
        ("restricted", machine("cooling", drops={"drier_indoor_side": 150}), "fail", "gone by its outlet"),
        ("it could hide a loss", machine("cooling", subcooling=20), "pass", "still feel the same"),
    ],
    "metering.pressure_split": [
        ("two sides", machine("heating"), "pass", "a high side and a low side"),
        (
            "one side",
            machine("cooling", evaporating=74, condensing=78, without=("indoor_coil", "outdoor_coil")),
            "fail",
            "",
        ),
    ],
    "metering.superheat_control": [
        ("at its setting", machine("cooling", superheat=10), "pass", ""),
        ("starved", machine("cooling", superheat=30), "fail", "starved"),
        ("overfed", machine("cooling", superheat=1), "fail", "overfed"),
        (
            "by the manufacturer's figure",
            machine(
                "cooling",
                superheat=20,
                unit={"design": {"cooling": {"superheat": {"value": 20, "unit": "delta_degF"}}}},
            ),
            "pass",
            "",
        ),
        (
            "an orifice in the cold",
            machine("heating", layout=PISTONS, outdoor=20, superheat=1),
            "pass",
            "should show",
        ),
        (
            "a starved orifice",
            machine("heating", layout=PISTONS, superheat=35),
            "fail",
            "starved",
        ),
        # (3 × 64 − 80 − 85) / 2 = 13.5 [common practice, from memory]
        (
            "an orifice at its target",
            machine(
                "cooling", probe("return_air", 64, "wet_bulb"), layout=PISTONS, outdoor=85, superheat=13.5
            ),
            "pass",
            "",
        ),
        (
            "an orifice off its target",
            machine("cooling", probe("return_air", 64, "wet_bulb"), layout=PISTONS, outdoor=85, superheat=30),
            "fail",
            "starved",
        ),
        ("an orifice without a wet bulb", machine("cooling", layout=PISTONS), "needs_readings", "wet bulb"),
    ],
    "metering.head_to_liquid": [
        ("coil and pipes", machine("cooling"), "pass", "normal"),
        (
            "a stuck check",
            machine("cooling", drops={"outdoor_meter_line_side": 90}, subcooling=40),
            "fail",
            "check valve",
        ),
    ],
    "metering.liquid_at_meter": [
        ("subcooled", machine("cooling"), "pass", ""),
        (
            "flashing",
            machine("cooling", drops={"liquid_line_outdoor": 60}, subcooling=3),
            "fail",
            "flash gas",
        ),
        (
            "an orifice in heating",
            machine("heating", layout=PISTONS, subcooling=3),
            "pass",
            "",
        ),
    ],
    "metering.line_loss": [
        ("insulated", machine("heating"), "pass", "normal"),
        (
            "bare",
            machine("heating", reading("vapor_line_outdoor", 150), reading("vapor_line_indoor", 128)),
            "fail",
            "insulation",
        ),
    ],
    "metering.circuits": [
        (
            "alike",
            machine("cooling", *(reading(f"indoor_circuit:{n}", 48 + n / 2) for n in (1, 2, 3))),
            "pass",
            "",
        ),
        (
            "one starved",
            machine("cooling", *(reading(f"indoor_circuit:{n}", t) for n, t in ((1, 48), (2, 66), (3, 49)))),
            "fail",
            "ircuit 2",
        ),
        (
            "two are not enough",
            machine("cooling", *(reading(f"indoor_circuit:{n}", 48) for n in (1, 2))),
            "needs_readings",
            "",
        ),
        (
            "the condenser's are not asked about",
            machine("heating", *(reading(f"indoor_circuit:{n}", t) for n, t in ((1, 98), (2, 70), (3, 99)))),
            "-",
            "",
        ),
    ],
    "metering.bulb": [
        ("loose", machine("cooling", seen=("bulb_loose",)), "fail", "strap"),
        ("an orifice has none", machine("cooling", layout=PISTONS, seen=("bulb_loose",)), "-", ""),
    ],
    "exchange.total_superheat": [
        ("usual", machine("cooling"), "pass", ""),
        (
            "floodback",
            machine("cooling", reading("compressor_inlet", 45.2), evaporating=45),
            "fail",
            "liquid reaches it",
        ),
        ("hot suction gas", machine("cooling", superheat=55), "fail", "overheats"),
        ("an orifice in heating", machine("heating", layout=PISTONS, superheat=1), "pass", "fixed orifice"),
    ],
    "exchange.subcooling": [
        ("at its target", machine("cooling", subcooling=10), "pass", ""),
        ("backed up", machine("cooling", subcooling=25), "fail", "backs up"),
        ("hardly any liquid", machine("cooling", subcooling=1), "fail", "too little liquid"),
        ("heating judges no charge", machine("heating", subcooling=2), "pass", "does not judge the charge"),
        (
            "nor does an orifice",
            machine("cooling", layout=PISTONS, subcooling=16),
            "pass",
            "charged by superheat",
        ),
        (
            "behind a loss",
            machine("cooling", drops={"outdoor_meter_line_side": 90}, subcooling=40),
            "watch",
            "find that loss first",
        ),
    ],
    "exchange.evaporator_split": [
        ("usual", machine("cooling"), "pass", "should show"),
        ("far below the air", machine("cooling", evaporating=12), "fail", "starved evaporator"),
        ("close to the air", machine("cooling", evaporating=71), "fail", "little is pumped"),
    ],
    "exchange.condenser_split": [
        ("usual", machine("cooling"), "pass", ""),
        ("far above the air", machine("cooling", condensing=150), "fail", "dirt"),
        ("in the cold it is smaller", machine("heating", outdoor=5), "pass", "should show 2"),
        ("of the mild, in the cold", machine("heating", outdoor=5, condensing=115), "fail", "overcharge"),
    ],
    "exchange.air_difference": [
        ("usual, cooling", machine("cooling", probe("return_air", 76), probe("supply_air", 57)), "pass", ""),
        (
            "too little air",
            machine("cooling", probe("return_air", 76), probe("supply_air", 45)),
            "watch",
            "too little air",
        ),
        (
            "little heat",
            machine("cooling", probe("return_air", 76), probe("supply_air", 70)),
            "watch",
            "little heat",
        ),
        (
            "little heat, heating",
            machine("heating", probe("return_air", 70), probe("supply_air", 75)),
            "watch",
            "little heat",
        ),
    ],
    "exchange.airflow": [
        (
            f"{cfm} cfm, three tons",
            machine(
                "cooling",
                reading("indoor_airflow", cfm, quantity="flow", unit="cfm", method="meter"),
                unit={"nominal_capacity": {"value": 36_000, "unit": "Btu/h"}},
            ),
            status,
            words,
        )
        for cfm, status, words in (
            (1200, "pass", "belong"),
            (1050, "pass", "belong"),
            (640, "fail", "filter"),
        )
    ],
    "exchange.capacity": [
        (
            "as stated",
            machine(
                "heating",
                reading("indoor_airflow", 1000, quantity="flow", unit="cfm", method="meter"),
                probe("return_air", 70),
                probe("supply_air", 103),
                outdoor=47,
                unit={"nominal_capacity": {"value": 36_000, "unit": "Btu/h"}},
            ),
            "pass",
            "should move 3",
        ),
        (
            "half",
            machine(
                "heating",
                reading("indoor_airflow", 1000, quantity="flow", unit="cfm", method="meter"),
                probe("return_air", 70),
                probe("supply_air", 87),
                outdoor=47,
                unit={"nominal_capacity": {"value": 36_000, "unit": "Btu/h"}},
            ),
            "fail",
            "falls short",
        ),
        (
            "59,152 Btu/h from a unit of 36,000",
            machine(
                "heating",
                reading("indoor_airflow", 1800, quantity="flow", unit="cfm", method="meter"),
                probe("return_air", 70),
                probe("supply_air", 100.5),
                outdoor=47,
                unit={"nominal_capacity": {"value": 36_000, "unit": "Btu/h"}},
            ),
            "watch",
            "more than it can",
        ),
    ],
    "exchange.frost_margin": [
        ("in the mild", machine("heating", humid("outdoor_air_in", 60), outdoor=60), "pass", "stays clear"),
        (
            "at freezing, damp",
            machine("heating", humid("outdoor_air_in", 90), outdoor=33),
            "pass",
            "normal in this weather",
        ),
        (
            "colder than it should be",
            machine("heating", humid("outdoor_air_in", 90), outdoor=40, evaporating=-5),
            "watch",
            "find out why",
        ),
        (
            "in the dry",
            machine("heating", humid("outdoor_air_in", 15), outdoor=45, evaporating=33),
            "pass",
            "stays clear",
        ),
    ],
    "exchange.noncondensables": [
        ("bend and gauge agree", machine("cooling"), "pass", "agree"),
        ("air in the circuit", machine("cooling", air_over=45), "fail", "Standing pressure"),
    ],
    # 500 × gpm × ΔT at the rating point: 500 × 6 × 8.4 is five percent over it. [common practice]
    "water.extraction": [
        ("as stated", water("heating", 8.4, 6), "pass", "24,000"),
        ("short, the water changes much", water("heating", 14, 2.4), "fail", "look at the flow first"),
        ("short, the water changes little", water("heating", 3, 9), "fail", "coil and refrigerant"),
        ("more than it can", water("heating", 8, 9), "watch", "Doubt the flow"),
        ("exchanged ports", water("heating", -5, 9), "watch", "exchanged"),
    ],
    "water.rejection": [
        ("as stated", water("cooling", 8, 9), "pass", "36,000"),
        ("short", water("cooling", 4, 9), "fail", "falls short"),
        ("more than it can", water("cooling", 13, 9), "watch", "Doubt the flow"),
    ],
    # R-410A stands at about 201 psi while it and all around it are at 70 °F. [handbook value, from memory]
    # R-410A boils at 40 °F at 118.6 psig and condenses at 105 °F at 340.6 psig, give or take 0.5 °F [ASHRAE
    # Fundamentals, from memory].
    "heads.calling": [
        (
            "cold at its port, in its room, and so is its air",
            headed(
                "cooling",
                [1],
                OUT,
                *ROOM,
                reading("liquid_line_outdoor:1", 43),
                reading("indoor_coil:1", 42),
                reading("vapor_line_outdoor:1", 50),
                probe("supply_air:1", 56),
                gauge=118.6,
            ),
            "pass",
            "fed: superheat 9.9 °F, air 19 °F",
        ),
        (
            "both call, and one stays warm",
            headed(
                "cooling",
                [1, 2],
                OUT,
                *ROOM,
                reading("liquid_line_outdoor:1", 43),
                reading("liquid_line_outdoor:2", 89),
            ),
            "fail",
            "Head 2 (office) calls, and its liquid line is at the temperature of the air around it",
        ),
        (
            "its pipes were not read, its air was, and it does not change",
            headed("cooling", [2], OUT, *ROOM, probe("supply_air:2", 74), gauge=118.6),
            "fail",
            "Head 2 (office) calls, and its air is hardly changed",
        ),
        (
            "its pipes are cold and its air is not",
            headed(
                "cooling",
                [1],
                OUT,
                *ROOM,
                reading("indoor_coil:1", 42),
                probe("supply_air:1", 75),
                gauge=118.6,
            ),
            "watch",
            "its fan stands still, or a reading is off",
        ),
        (
            "one leaves with more superheat than the other",
            headed(
                "cooling",
                [1, 2],
                OUT,
                *ROOM,
                reading("vapor_line_outdoor:1", 46),
                reading("vapor_line_outdoor:2", 62),
                gauge=118.6,
            ),
            "watch",
            "Head 2 (office) is fed less than the others: vapor leaves it 16 °F warmer",
        ),
        (
            "warm liquid comes back, and its coil condenses",
            headed(
                "heating",
                [1],
                COLD,
                *ROOM,
                reading("liquid_line_outdoor:1", 88),
                reading("indoor_coil:1", 104),
                gauge=340.6,
            ),
            "pass",
            "fed: subcooling 16.7 °F",
        ),
        (
            "cold liquid line and a coil at room temperature",
            headed(
                "heating",
                [1],
                COLD,
                *ROOM,
                reading("liquid_line_outdoor:1", 33),
                reading("indoor_coil:1", 73),
                gauge=340.6,
            ),
            "fail",
            "nothing runs through it",
        ),
        (
            "one of two was read",
            headed("cooling", [1, 2], OUT, reading("liquid_line_outdoor:1", 43)),
            "watch",
            "Not read yet",
        ),
        (
            "nobody noted which call",
            headed("cooling", None, OUT, reading("liquid_line_outdoor:1", 43)),
            "needs_readings",
            "Note",
        ),
        ("none was read", headed("cooling", [2], OUT), "needs_readings", "head 2 (office)"),
        ("a unit with one head", machine("cooling"), "-", ""),
    ],
    "heads.idle": [
        (
            "at the temperature of the air",
            headed(
                "cooling", [1], OUT, *ROOM, reading("liquid_line_outdoor:2", 91), reading("indoor_coil:2", 75)
            ),
            "pass",
            "as they should be",
        ),
        (
            "cold where nothing should run",
            headed(
                "cooling",
                [1],
                OUT,
                *ROOM,
                reading("liquid_line_outdoor:1", 43),
                reading("liquid_line_outdoor:2", 48),
            ),
            "fail",
            "Head 2 (office) does not call",
        ),
        (
            "somewhat cold",
            headed(
                "cooling",
                [1],
                OUT,
                *ROOM,
                reading("liquid_line_outdoor:1", 43),
                reading("liquid_line_outdoor:2", 74),
            ),
            "watch",
            "may leak",
        ),
        (
            "in heating it bleeds",
            headed(
                "heating",
                [1],
                COLD,
                *ROOM,
                reading("liquid_line_outdoor:2", 58),
                reading("indoor_coil:2", 84),
                gauge=340.6,
            ),
            "pass",
            "head 2 (office) bleeds a little by design",
        ),
        (
            "in heating it is shut",
            headed("heating", [1], COLD, *ROOM, reading("liquid_line_outdoor:2", 35), gauge=340.6),
            "pass",
            "head 2 (office) is shut",
        ),
        (
            "as hot as one that calls",
            headed(
                "heating",
                [1],
                COLD,
                *ROOM,
                reading("liquid_line_outdoor:2", 103),
                reading("indoor_coil:2", 105),
                gauge=340.6,
            ),
            "fail",
            "as warm as that of a head that calls",
        ),
        ("all of them call", headed("cooling", [1, 2], OUT), "-", ""),
        ("it was not read", headed("heating", [1], COLD), "needs_readings", "head 2 (office)"),
    ],
    "heads.crossed": [
        (
            "the right port, the wrong room",
            headed(
                "cooling",
                [1],
                OUT,
                *ROOM,
                reading("liquid_line_outdoor:1", 43),
                reading("indoor_coil:1", 75),
                reading("liquid_line_outdoor:2", 90),
                reading("indoor_coil:2", 42),
            ),
            "fail",
            "their lines are exchanged",
        ),
        (
            "the wrong port and the wrong room",
            headed(
                "cooling",
                [1],
                OUT,
                *ROOM,
                reading("liquid_line_outdoor:1", 90),
                reading("indoor_coil:1", 75),
                reading("liquid_line_outdoor:2", 43),
                reading("indoor_coil:2", 42),
            ),
            "fail",
            "their wires are exchanged",
        ),
        (
            "by the rooms alone",
            headed("cooling", [1], OUT, *ROOM, reading("indoor_coil:1", 75), reading("indoor_coil:2", 42)),
            "fail",
            "their lines or their wires are exchanged",
        ),
        (
            "in heating the room that calls stays cold",
            headed(
                "heating",
                [2],
                COLD,
                *ROOM,
                reading("liquid_line_outdoor:1", 101),
                reading("indoor_coil:1", 105),
                reading("liquid_line_outdoor:2", 45),
                reading("indoor_coil:2", 71),
                gauge=340.6,
            ),
            "fail",
            "their wires are exchanged",
        ),
        (
            "nobody is fed in its place",
            headed("cooling", [1], OUT, *ROOM, reading("indoor_coil:1", 75), reading("indoor_coil:2", 75)),
            "pass",
            "no other head is fed in its place",
        ),
        (
            "the other was not read",
            headed("cooling", [1], OUT, *ROOM, reading("indoor_coil:1", 75)),
            "needs_readings",
            "see whether another head is fed",
        ),
        (
            "what calls is fed",
            headed("cooling", [1], OUT, reading("liquid_line_outdoor:1", 43)),
            "pass",
            "What calls",
        ),
        ("both call", headed("cooling", [1, 2], OUT, reading("liquid_line_outdoor:1", 43)), "-", ""),
    ],
    "charge.liquid_left": [
        (
            "hardly any gas, hardly any difference",
            bare(
                "cooling",
                psi("discharge_tap", 52),
                psi("common_suction_tap", 41),
                probe("outdoor_air_in", 84),
            ),
            "fail",
            "no liquid is left",
        ),
        (
            "nothing pumped, liquid left",
            bare(
                "cooling",
                psi("discharge_tap", 250),
                psi("common_suction_tap", 245),
                probe("outdoor_air_in", 84),
            ),
            "-",
            "",
        ),
        (
            "one gauge alone",
            bare("cooling", psi("discharge_tap", 52), probe("outdoor_air_in", 84)),
            "-",
            "",
        ),
    ],
    "standing.pressure": [
        (
            "liquid is left",
            bare("off", psi("common_suction_tap", 201), probe("outdoor_air_in", 70)),
            "pass",
            "",
        ),
        (
            "no liquid",
            bare("off", psi("common_suction_tap", 140), probe("outdoor_air_in", 70)),
            "fail",
            "too low",
        ),
        (
            "air",
            bare("off", psi("common_suction_tap", 255), probe("outdoor_air_in", 70)),
            "fail",
            "noncondensables",
        ),
        ("empty", bare("off", psi("common_suction_tap", 0), probe("outdoor_air_in", 70)), "fail", "empty"),
        ("no thermometer", bare("off", psi("common_suction_tap", 201)), "needs_readings", "outdoor air"),
        ("nothing stands while it runs", bare("cooling", psi("common_suction_tap", 201)), "-", ""),
    ],
}


def _twice(first: float, then: float) -> dict[str, Any]:
    """Common suction read twice."""
    made = valve_run("cooling", 170, 50, 168, first)
    made["readings"].append(reading("common_suction", then))
    return made


LINES = [(code, *line) for code, lines in SITUATIONS.items() for line in lines]


@cache
def checks_in(situation: Situation) -> dict[str, Check]:
    return situation()


def test_every_check_has_its_situations():
    """All but the heat balance, whose two sides stand in test_cycle.py, and siblings, which stand in test_circuits.py."""
    assert set(SITUATIONS) == {rule.code for rule in CHECKS} - {"exchange.balance", "circuits.alike"}


@pytest.mark.parametrize(
    ("code", "situation", "status", "words"),
    [pytest.param(code, of, status, words, id=f"{code}: {name}") for code, name, of, status, words in LINES],
)
def test_a_check_says_what_the_trade_says(code, situation, status, words):
    check = checks_in(situation).get(code)
    assert (check.status if check else "-") == status, check and check.explain
    assert check is None or words in check.explain, check.explain


@pytest.mark.parametrize("code", SITUATIONS)
def test_a_margin_says_how_far_from_the_limit_and_on_which_side(code):
    """Antifreeze alone lets what is past the limit of plain water pass."""
    for checked, name, situation, status, _ in LINES:
        if checked != code or name == "the same in antifreeze":
            continue
        check = checks_in(situation).get(code)
        if check is None or check.margin is None:
            continue
        if status == "pass":
            assert check.margin > 0, (name, check.margin)
        elif status == "fail":
            assert check.margin < 0, (name, check.margin)
        if check.measured is None or check.limit is None or check.measured.unit != check.limit.unit:
            continue
        value, limit = check.measured.value, check.limit.value
        away = {round(abs(abs(value) - limit), 1), round(abs(abs(value - limit)), 1)}
        assert code in BETWEEN_TWO or round(abs(check.margin), 1) in away, (name, check)


BETWEEN_TWO = {
    "command.solenoid_resistance",
    "compressor.pressure_ratio",
    "compressor.discharge_temperature",
    "metering.superheat_control",
    "exchange.total_superheat",
    "exchange.subcooling",
    "exchange.evaporator_split",
    "exchange.condenser_split",
    "exchange.air_difference",
    "exchange.frost_margin",
}
"""Held between two limits, to a target or to nothing at all (frost): the nearest edge is not the number shown."""
