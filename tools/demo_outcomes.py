"""What the demo's visits came to, made up; beside what Icepick says of each. Writes ``src/icepick/demo/outcomes.json``."""

from __future__ import annotations

import json
from pathlib import Path

from icepick.core.diagnosis.baseline import MOST_EARLIER
from icepick.core.document.outcome import Outcome, Said
from icepick.core.examine import examine
from icepick.demo import demo_names, demo_visits

OUT = Path(__file__).parents[1] / "src/icepick/demo/outcomes.json"
CAME_TO = (
    # visit, fault, certainty, repair, work, the same in plain words
    (
        "mill-line",
        "liquid_line_restriction",
        "seen",
        "cured",
        "Kinked liquid line behind the display wall cut out and replaced; evacuated, charged by weight.",
    ),
    ("ice-house-third", "source_coil_fouled", "guessed", "none", None),
    (
        "sail-loft-circuit",
        "coil_circuit_starved",
        "seen",
        "cured",
        "Distributor tube flattened in transport; replaced.",
    ),
    (
        "toll-house-flooding",
        "active_meter_overfeeding",
        "seen",
        "cured",
        "Sensing bulb hung loose; strapped at four o'clock and insulated.",
        "A sensor had come loose from its pipe; we fastened it and wrapped it up.",
    ),
    (
        "bandstand-airflow",
        "indoor_airflow_low",
        "seen",
        "cured",
        "Filter replaced, return grille cleared of boxes.",
    ),
    ("library-summer", "none", "seen", "none", None),
    (
        "reed-cutter-charge",
        "overcharge",
        "cured",
        "cured",
        "1 lb 4 oz recovered; subcooling back at the nameplate.",
    ),
    (
        "net-hall-no-command",
        "command_missing",
        "seen",
        "cured",
        "Orange wire off the terminal in the air handler.",
    ),
    (
        "mill-valve",
        "active_meter_underfeeding",
        "seen",
        "cured",
        "Inlet screen of the indoor TXV full of copper chips; cleaned, drier replaced.",
    ),
    ("rowing-club-coil", "outdoor_airflow_low", "seen", "cured", "Outdoor coil washed from inside out."),
    ("net-hall-coil", "solenoid_open", "seen", "cured", "Solenoid coil replaced."),
    (
        "boat-museum-air",
        "noncondensables",
        "cured",
        "cured",
        "Charge recovered, evacuated to 350 microns, weighed in new.",
    ),
    (
        "school-compressor",
        "compressor_weak",
        "seen",
        "better",
        "Compressor replaced under warranty, second circuit still to be balanced.",
    ),
    (
        "school-power",
        "control_power_missing",
        "seen",
        "cured",
        "3 A fuse on the board; thermostat wire had rubbed through.",
    ),
    (
        "mill-charge",
        "undercharge",
        "cured",
        "cured",
        "Flare at the vapor service valve leaked; made new, pressure tested, charged by weight.",
    ),
    (
        "school-capacitor",
        "compressor_not_running",
        "seen",
        "cured",
        "Run capacitor at 4 of 45 microfarads; replaced.",
    ),
    ("ferry-waiting-room", "none", "seen", "none", None),
    (
        "chandlery-convention",
        "valve_convention_wrong",
        "seen",
        "cured",
        "Thermostat set to energize in heating; set to cooling.",
    ),
    ("sail-loft-check", "bypass_stuck_closed", "seen", "cured", "Indoor TXV with its check replaced."),
    (
        "toll-bridge",
        "defrost_not_starting",
        "seen",
        "cured",
        "Defrost board replaced after its sensor was proven.",
    ),
    ("lock-cottage-fan", "defrost_fan_running", "seen", "cured", "Welded fan relay; board replaced."),
    (
        "toll-house-drier",
        "liquid_line_restriction",
        "seen",
        "cured",
        "One-way drier stood against the flow in heating; a bi-flow one fitted.",
    ),
    ("quay-office", "defrost_no_backup_heat", "seen", "cured", "W was not wired through to the air handler."),
    (
        "weir-cottage",
        "defrost_sensor_off",
        "seen",
        "cured",
        "Coil sensor replaced; the old one read 14 °F high.",
    ),
    ("signal-box-clamps", "reading_suspect", "seen", "none", None),
    (
        "ferry-workshop",
        "source_coil_fouled",
        "seen",
        "better",
        "Source coil flushed; a second flush in spring.",
    ),
    ("swan-annex", "solenoid_open", "seen", "cured", "Solenoid coil replaced."),
    ("cafe-floor", None, None, "none", None),
    (
        "lock-cottage-ice",
        "outdoor_coil_frosted",
        "seen",
        "better",
        "Ice melted with warm water; a trickle of the roof gutter over the coil led away.",
    ),
    (
        "bakery-flat",
        "command_missing",
        "seen",
        "cured",
        "O terminal's relay on the thermostat did not close; thermostat replaced.",
    ),
    (
        "chandlery-stuck",
        "valve_in_opposite_position",
        "seen",
        "cured",
        "Reversing valve replaced after command, coil and pressure difference were proven.",
    ),
    (
        "swimming-hall-office",
        "valve_bypassing",
        "seen",
        "cured",
        "Reversing valve replaced; wet rag, nitrogen, drier.",
    ),
    ("hatchery-flow", "source_water_flow_low", "seen", "cured", "Strainer before the source coil cleaned."),
)


def main() -> None:
    visits = dict(zip(demo_names(), (visit for _, visit in demo_visits()), strict=True))
    told = {}
    for name, fault, certainty, repair, work, *plainly in CAME_TO:
        visit = visits[name]
        before = [one for one in list(visits.values())[: list(visits).index(name)] if one.unit == visit.unit]
        outcome = Outcome.model_validate(
            {
                "fault": fault,
                "certainty": certainty,
                "repair": repair,
                "work": work,
                "for_customer": plainly[0] if plainly else None,
            }
        )
        said = Said.of(examine(visit, earlier=before[-MOST_EARLIER:]))
        told[name] = {"outcome": outcome.model_dump(), "said": said.model_dump()}
    lines = [f"{json.dumps(name)}: {json.dumps(one, ensure_ascii=False)}" for name, one in told.items()]
    OUT.write_text("{\n" + ",\n".join(lines) + "\n}\n", "utf-8")


if __name__ == "__main__":
    main()
