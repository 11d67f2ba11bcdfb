"""What the Handbook says of each fault: what it is, what it does, what mimics it, what tells them apart.

Directions follow from physics and common practice; where published single-fault experiments on residential heat
pumps (NIST, in cooling and in heating) cover a fault, their signs agree as far as memory goes. [from memory]
"""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.examination import Fault

UP, DOWN, SAME, MIXED = "higher", "lower", "unchanged", "either way"

_LIVE = "Live terminals: lock out and prove dead before touching wiring; capacitors hold charge."
_HOT = "The discharge pipe burns skin; in heating the vapor line does too."
_REPLACE_VALVE = (
    "To replace it: recover, cut it out rather than unsweat it, note each stub's angle first, keep heat off the new body "
    "(wet rag, heat paste), braze under flowing nitrogen, and find what stopped the old one: debris from a compressor "
    "change plugs pilot capillaries again."
)
_OPEN = (
    "Recover, never vent. Refrigerant frostbites and displaces air; A2L and A3 refrigerants ignite. Relieve the "
    "pressure before brazing and let nitrogen flow."
)
_FANS = "Fans start without warning."
_WATER = "Shut the loop off before opening it; antifreeze mixes harm skin and eyes."


@dataclass(frozen=True, slots=True)
class FaultPage:
    """``effects`` is (indicator, in cooling, in heating); ``mimics`` names fault codes that look alike."""

    code: Fault
    title: str
    what: str
    effects: tuple[tuple[str, str, str], ...]
    mimics: tuple[Fault, ...]
    apart: str
    do: str
    caution: str


FAULT_PAGES: tuple[FaultPage, ...] = (
    FaultPage(
        "none",
        "nothing wrong",
        "The refrigerant circuit does what these conditions call for.",
        (),
        (),
        "Below the balance point backup heat carries the rest, and a fixed orifice in the cold runs near zero superheat: "
        "neither is a fault.",
        "Write the readings down: they are what the next visit compares with.",
        _FANS,
    ),
    FaultPage(
        "valve_in_opposite_position",
        "valve in the opposite position",
        "The slide stands fully on the other side from the command, though the command is right.",
        (("position index", "near −1", "near +1"), ("valve_suction_rise", SAME, SAME)),
        ("command_missing", "valve_convention_wrong", "solenoid_open"),
        "Voltage at the coil as the convention asks, and a coil of finite resistance, leave the valve itself.",
        "Check that the compressor pumps and pressures differ by enough to move the slide; tap the body lightly while "
        "energizing; then replace the valve. " + _REPLACE_VALVE,
        f"{_HOT} {_OPEN}",
    ),
    FaultPage(
        "valve_bypassing",
        "valve passing gas",
        "The slide stands midway or its seal is worn: discharge gas goes straight back to suction.",
        (
            ("valve_suction_rise", UP, UP),
            ("valve_bypass_fraction", UP, UP),
            ("suction pressure", UP, UP),
            ("condensing_temperature", DOWN, DOWN),
            ("compression_ratio", DOWN, DOWN),
            ("discharge temperature", UP, UP),
            ("air_capacity", DOWN, DOWN),
        ),
        ("compressor_weak", "overcharge"),
        "Common suction clearly hotter than the line that feeds it speaks for the valve; a weak compressor leaves that "
        "difference small. With a wet return the rise hides: look at the ratio, the current and the other mode.",
        "Cycle the valve under full pressure difference; look with magnets. If the gas still passes, replace the valve. "
        + _REPLACE_VALVE,
        f"{_HOT} {_OPEN}",
    ),
    FaultPage(
        "command_missing",
        "command missing",
        "No control voltage where the convention calls for it, or one where it should not be.",
        (("position index", "as de-energized", "as de-energized"), ("solenoid voltage", DOWN, DOWN)),
        ("valve_in_opposite_position", "solenoid_open", "valve_convention_wrong"),
        "Follow the terminals from thermostat to board to coil: where the voltage ends, there is the fault.",
        "Mend the wire, the thermostat's setting or the board. If the board's inputs are right and its output is not, it is "
        "the board.",
        _LIVE,
    ),
    FaultPage(
        "valve_convention_wrong",
        "set for the other convention",
        "Thermostat or board energizes the valve in the other mode: a healthy unit runs backwards in both.",
        (
            ("position index", "near −1", "near +1"),
            ("solenoid voltage", "of the other mode", "of the other mode"),
        ),
        ("valve_in_opposite_position", "command_missing"),
        "The readings are right for the other convention, in both modes. Wire colours prove nothing: follow terminals.",
        "Set the thermostat to the convention of the unit (O: energized in cooling; B: energized in heating).",
        _LIVE,
    ),
    FaultPage(
        "solenoid_open",
        "valve coil open",
        "The pilot's coil is burnt through: voltage arrives, nothing moves.",
        (("solenoid resistance", "open", "open"), ("position index", "as de-energized", "as de-energized")),
        ("command_missing", "valve_in_opposite_position"),
        "Voltage at the coil and infinite resistance with its wires off.",
        "Replace the coil alone; the valve stays.",
        _LIVE,
    ),
    FaultPage(
        "compressor_weak",
        "compressor not pumping",
        "Worn, unloaded or not turning: pressures draw together and little flows.",
        (
            ("compression_ratio", DOWN, DOWN),
            ("suction pressure", UP, UP),
            ("condensing_temperature", DOWN, DOWN),
            ("compressor current", DOWN, DOWN),
            ("valve_suction_rise", SAME, SAME),
        ),
        ("valve_bypassing", "undercharge"),
        "Pressures all but equal, all lines alike, current far below rated. A valve passing gas leaves the lines spread and "
        "common suction hotter than what feeds it.",
        "Rule the reversing valve out first; check voltage and capacitor; then condemn the compressor.",
        f"{_LIVE} {_OPEN}",
    ),
    FaultPage(
        "active_meter_underfeeding",
        "working meter underfeeds",
        "Screen plugged, bulb charge lost, stuck, or too small: the evaporator starves in that meter's mode alone.",
        (
            ("superheat", UP, UP),
            ("suction pressure", DOWN, DOWN),
            ("subcooling", UP, UP),
            ("active_meter_drop", UP, UP),
            ("evaporator_split", UP, UP),
        ),
        ("undercharge", "liquid_line_restriction", "bypass_stuck_closed"),
        "Subcooling stays normal or rises, which undercharge never shows; and the other mode is well. In heating alone, the "
        "drier looks the same until the unit is turned round.",
        "Before a thermostatic valve is condemned: charge, airflow, bulb contact, insulation and place, equalizer, inlet "
        "screen, subcooled liquid at its inlet.",
        _OPEN,
    ),
    FaultPage(
        "active_meter_overfeeding",
        "working meter overfeeds",
        "Bulb loose, valve stuck open, wrong or missing piston, or the working side's own check leaking.",
        (
            ("superheat", DOWN, DOWN),
            ("suction pressure", UP, UP),
            ("subcooling", DOWN, DOWN),
            ("compression_ratio", DOWN, DOWN),
        ),
        ("overcharge", "indoor_airflow_low", "outdoor_airflow_low"),
        "Only in that meter's mode. Overcharge and poor airflow flood in both, or raise the head.",
        "Look at the bulb first: contact, insulation, place. Then the check, then the piston's size, then the valve.",
        _OPEN,
    ),
    FaultPage(
        "bypass_stuck_closed",
        "idle meter's check stuck shut",
        "Liquid is forced backwards through the idle meter and drops there first; only in that mode.",
        (
            ("bypassed_meter_drop", UP, UP),
            ("superheat", UP, UP),
            ("suction pressure", DOWN, DOWN),
            ("subcooling", UP, UP),
        ),
        ("liquid_line_restriction", "active_meter_underfeeding", "undercharge"),
        "Cold where there should be warm liquid, right after the condenser; well in the other mode. With plenty of "
        "subcooling nothing is felt: compare head with the liquid tap.",
        "Free or replace the check, or the valve it sits in; change the drier with it.",
        _OPEN,
    ),
    FaultPage(
        "liquid_line_restriction",
        "liquid line or drier restricted",
        "The common line between the two meters loses pressure, whichever way the liquid runs.",
        (
            ("drier_drop", UP, UP),
            ("superheat", UP, UP),
            ("suction pressure", DOWN, DOWN),
            ("subcooling", UP, UP),
        ),
        ("active_meter_underfeeding", "undercharge", "bypass_stuck_closed"),
        "In both modes. Subcooled liquid shows no temperature drop until its pressure falls to saturation: read the liquid "
        "tap against the head.",
        "Change the drier for a two-way one; look for a kinked line.",
        _OPEN,
    ),
    FaultPage(
        "undercharge",
        "undercharge",
        "Too little refrigerant, in both modes.",
        (
            ("subcooling", DOWN, DOWN),
            ("superheat", UP, UP),
            ("suction pressure", DOWN, DOWN),
            ("condensing_temperature", DOWN, DOWN),
            ("air_capacity", DOWN, DOWN),
        ),
        ("liquid_line_restriction", "active_meter_underfeeding", "outdoor_coil_frosted"),
        "Subcooling goes first; superheat rises only once the valve stands wide open. A restriction keeps its subcooling.",
        "Find the leak, mend it, evacuate and weigh in. In heating, judge charge only by the maker's heating chart.",
        _OPEN,
    ),
    FaultPage(
        "overcharge",
        "overcharge",
        "Too much refrigerant, in both modes; a fixed meter with an accumulator hardly shows it in heating.",
        (
            ("subcooling", UP, UP),
            ("condensing_temperature", UP, UP),
            ("superheat", DOWN, SAME),
            ("compressor current", UP, UP),
        ),
        ("noncondensables", "outdoor_airflow_low", "indoor_airflow_low"),
        "The condenser's bend agrees with the saturation the gauge claims; with air in the circuit it lies several degrees "
        "under it.",
        "Recover down to the weight on the nameplate, corrected for the line set.",
        _OPEN,
    ),
    FaultPage(
        "noncondensables",
        "air in the circuit",
        "Air or nitrogen gathers in the condenser and adds its pressure.",
        (
            ("condensing_temperature", UP, UP),
            ("subcooling", UP, UP),
            ("compression_ratio", UP, UP),
            ("discharge temperature", UP, UP),
        ),
        ("overcharge", "outdoor_airflow_low", "indoor_airflow_low"),
        "The condenser's bend lies several degrees under the saturation by pressure; standing pressure of the unit off, all "
        "at one temperature, settles it.",
        "Recover, evacuate, weigh in fresh refrigerant.",
        _OPEN,
    ),
    FaultPage(
        "indoor_airflow_low",
        "indoor airflow low",
        "Filter, coil, blower or ducts: the indoor coil meets too little air.",
        (
            ("air difference", UP, UP),
            ("suction pressure", DOWN, SAME),
            ("superheat", DOWN, SAME),
            ("condensing_temperature", DOWN, UP),
            ("subcooling", SAME, UP),
        ),
        ("undercharge", "overcharge", "noncondensables"),
        "The air's own difference grows while its heat shrinks. In heating high head by itself points here first.",
        "Filter, registers, coil, blower speed; measure the airflow with the backup heater.",
        _FANS,
    ),
    FaultPage(
        "outdoor_airflow_low",
        "outdoor airflow low",
        "Dirty coil, failed fan or recirculated air outdoors.",
        (
            ("condensing_temperature", UP, SAME),
            ("suction pressure", SAME, DOWN),
            ("condenser_split", UP, SAME),
            ("evaporator_split", SAME, UP),
        ),
        ("overcharge", "noncondensables", "outdoor_coil_frosted"),
        "High head in cooling and low suction in heating, with the charge's signs absent in the other mode.",
        "Clean the coil, straighten fins, check fan, blade and capacitor.",
        f"{_FANS} Ladders and roofs.",
    ),
    FaultPage(
        "outdoor_coil_frosted",
        "outdoor coil frosted",
        "More frost than a defrost left behind or should have let grow: it blocks the air and fills the accumulator.",
        (
            ("evaporator_split", "n/a", UP),
            ("suction pressure", "n/a", DOWN),
            ("superheat", "n/a", DOWN),
            ("frost_margin", "n/a", DOWN),
        ),
        ("outdoor_airflow_low", "undercharge"),
        "Look: patchy frost that starts at the meter speaks for charge, even frost for air or defrost.",
        "Melt it first, never chip it; then airflow and coil, charge, sensor, board, valve, fan relay.",
        f"Ice is slippery. {_FANS}",
    ),
    FaultPage(
        "source_water_flow_low",
        "source water flow low",
        "Pump, air, strainer or valve: too little water through the source coil.",
        (
            ("water difference", UP, UP),
            ("condensing_temperature", UP, SAME),
            ("suction pressure", SAME, DOWN),
        ),
        ("source_coil_fouled", "undercharge"),
        "Low flow makes the water's own difference grow; a fouled coil keeps it and widens the approach.",
        "Flush air, clean the strainer, check pump and valves, read the pressure drop again.",
        _WATER,
    ),
    FaultPage(
        "source_coil_fouled",
        "source coil fouled",
        "Scale or slime between water and refrigerant.",
        (
            ("water difference", DOWN, DOWN),
            ("condensing_temperature", UP, SAME),
            ("suction pressure", SAME, DOWN),
        ),
        ("source_water_flow_low",),
        "Flow is right and the water's difference small, while refrigerant and water stand far apart.",
        "Clean the coil as its maker says.",
        _WATER,
    ),
    FaultPage(
        "coil_circuit_starved",
        "a coil circuit starved",
        "One circuit of a coil gets no refrigerant: a plugged distributor tube or a kink.",
        (("circuit temperatures", "one stands out", "one stands out"), ("air_capacity", DOWN, DOWN)),
        ("active_meter_underfeeding",),
        "Compare the circuits: in an evaporator the starved one is warm, the others are cold.",
        "Clear or replace the distributor.",
        _OPEN,
    ),
    FaultPage(
        "defrost_not_starting",
        "defrost does not start",
        "The coil ices over and no defrost begins, though time and temperature call for one.",
        (("outdoor coil", "n/a", "iced"),),
        ("defrost_sensor_off", "valve_in_opposite_position"),
        "Force a defrost at the board: if it runs, the sensor or the timer is at fault.",
        "Sensor against its table, then the board's inputs and outputs.",
        f"{_LIVE} Don't defeat a safety to force a defrost.",
    ),
    FaultPage(
        "defrost_not_stopping",
        "defrost does not stop",
        "Defrost runs to its time limit, or past it, with the coil long warm.",
        (("coil sensor", "n/a", "above its stop setting"),),
        ("defrost_sensor_off",),
        "The sensor against the liquid leaving the coil.",
        "Sensor contact and table first, then the board.",
        _LIVE,
    ),
    FaultPage(
        "defrost_fan_running",
        "outdoor fan runs in defrost",
        "The fan relay stays closed: the coil never warms, the defrost ends on its limit with frost left.",
        (("outdoor fan", "n/a", "running"),),
        ("defrost_not_stopping",),
        "Look. On a 230 V single-phase fan one leg reads 120 V to ground even with the relay open.",
        "Relay or board.",
        f"{_LIVE} {_FANS}",
    ),
    FaultPage(
        "defrost_no_backup_heat",
        "no backup heat in defrost",
        "Supply air falls to some 50–55 °F while the unit defrosts.",
        (("supply air", "n/a", DOWN),),
        ("command_missing",),
        "The backup-heat terminal in defrost: voltage there and no heat points to the heater, none to the board.",
        "Heater, its sequencer and its wire, or the board.",
        _LIVE,
    ),
    FaultPage(
        "defrost_sensor_off",
        "coil sensor off",
        "The sensor's resistance does not belong to its temperature, or it lies loose.",
        (("sensor against a clamp", "apart", "apart"),),
        ("defrost_not_starting", "defrost_not_stopping"),
        "Resistance against the maker's table at a temperature measured beside it.",
        "Fix the contact or replace the sensor.",
        _LIVE,
    ),
    FaultPage(
        "reading_suspect",
        "a reading is suspect",
        "Physics contradicts a reading: the reading is doubted before the machine is.",
        (),
        (),
        "Each doubt says which readings and what most likely happened.",
        "Read again: by contact, at the right port, in the right unit, after settling.",
        _HOT,
    ),
)
"""A page for every fault code, in the order of the contract."""

PAGES = {page.code: page for page in FAULT_PAGES}


def title(code: Fault) -> str:
    """The fault in the trade's words."""
    return PAGES[code].title
