"""What the Handbook says of each fault: what it is, what it does, what mimics it, what tells them apart.

Directions follow from physics and common practice; where published single-fault experiments on residential heat
pumps (NIST, in cooling and in heating) cover a fault, their signs agree as far as memory goes. [from memory]
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from icepick.core.document.examination import Fault

UP, DOWN, SAME, MIXED = "higher", "lower", "unchanged", "either way"

_LIVE = "Live terminals: lock out and verify zero voltage before touching wiring; capacitors hold charge."
_HOT = "The discharge line burns skin; in heating the vapor line does too."
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
_STEM = "Never energize a solenoid coil off its stem: without its iron it overheats in minutes."


@dataclass(frozen=True, slots=True)
class FaultPage:
    """``effects`` is (indicator, in cooling, in heating); ``mimics`` names fault codes that look alike; ``first`` is the
    first thing to do about it, short enough for the ticket; ``synonyms`` are other words it is looked up by."""

    code: Fault
    title: str
    what: str
    effects: tuple[tuple[str, str, str], ...]
    mimics: tuple[Fault, ...]
    apart: str
    first: str
    do: str
    caution: str
    synonyms: tuple[str, ...] = ()
    first_on: Mapping[str, str] = field(default_factory=dict)
    """The first thing to do where the part is of this kind, which ``first`` does not have in mind."""


FAULT_PAGES: tuple[FaultPage, ...] = (
    FaultPage(
        "none",
        "nothing wrong",
        "The refrigerant circuit does what these conditions call for.",
        (),
        (),
        "Below the balance point backup heat carries the rest, and a fixed orifice in the cold runs near zero superheat: "
        "both are normal.",
        "Write the readings down.",
        "Write the readings down: they are what the next visit compares with.",
        _FANS,
        ("healthy", "sound", "no fault"),
    ),
    FaultPage(
        "valve_in_opposite_position",
        "reversing valve in the opposite position",
        "The slide is fully over to the other side from the command, though the command is right.",
        (("position index", "near −1", "near +1"), ("valve_suction_rise", SAME, SAME)),
        ("command_missing", "valve_convention_wrong", "solenoid_open"),
        "24 V at the reversing valve as its O/B setting asks, and a sound winding, leave the valve itself.",
        "Verify 24 V at the reversing valve, then cycle it while tapping the body.",
        "Check that the compressor pumps and that pressures differ by enough to move the slide. Cycle the coil on and off "
        "while tapping the body lightly with a screwdriver handle; if it stays, replace the valve. "
        + _REPLACE_VALVE,
        f"{_HOT} {_STEM} {_OPEN}",
        ("stuck reversing valve", "four-way valve", "won't shift"),
    ),
    FaultPage(
        "valve_bypassing",
        "reversing valve bypassing",
        "The slide is midway or its seal is worn: the reversing valve leaks internally, and discharge gas goes straight "
        "back to suction.",
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
        "difference small. Pressures drawn together with line temperatures apart: the valve; everything equal: the "
        "compressor. With a wet return the rise hides: look at the ratio, the current and the other mode.",
        "Cycle the reversing valve under full pressure difference and read its pipes again.",
        "Cycle the valve under full pressure difference; check its travel with magnets. If it still bypasses, replace the "
        "valve. " + _REPLACE_VALVE,
        f"{_HOT} {_STEM} {_OPEN}",
        ("reversing valve leaking internally", "half-shifted", "leaking reversing valve", "four-way valve"),
    ),
    FaultPage(
        "control_power_missing",
        "no 24 V at R",
        "No control power: nothing is called for, and nothing is energized.",
        (("terminal R", "dead", "dead"), ("compressor current", DOWN, DOWN)),
        ("call_missing", "compressor_not_running"),
        "R to common. Dead there: transformer, its fuse, its primary, or a safety switch in its feed.",
        "Check the transformer, its fuse, and the safety switches that feed R.",
        "Check line voltage at the transformer's primary, then its secondary, the fuse on the board, and float and safety "
        "switches. A blown fuse has a reason: find the short before fitting another.",
        _LIVE,
        ("transformer", "blown fuse", "no control voltage"),
    ),
    FaultPage(
        "call_missing",
        "no call at Y",
        "R is live, Y is not: the thermostat does not call for the compressor, or the call is lost on its way.",
        (("terminal Y", "dead", "dead"), ("compressor current", DOWN, DOWN)),
        ("control_power_missing", "compressor_not_running"),
        "Follow Y from the thermostat to the unit: where the 24 V ends, there is the fault.",
        "Follow Y back: thermostat, wire, float and pressure switches.",
        "Thermostat setting and its delay, the wire, then the pressure, float and temperature switches in series with Y. "
        "A switch that opened did so for a reason.",
        _LIVE,
        ("thermostat", "no call for heat", "no call for cooling"),
    ),
    FaultPage(
        "command_missing",
        "no 24 V at the reversing valve",
        "No control voltage where the O/B setting calls for it, or one where it should not be.",
        (("position index", "as de-energized", "as de-energized"), ("solenoid voltage", DOWN, DOWN)),
        ("valve_in_opposite_position", "solenoid_open", "valve_convention_wrong"),
        "Follow the 24 V from thermostat to board to reversing valve: where it ends, there is the fault.",
        "Follow the 24 V: thermostat, wire, board.",
        "Repair the wire, the thermostat's setting or the board. If 24 V reaches the board's input and does not leave its "
        "output, and the wire from there to the valve is whole, it is the board.",
        _LIVE,
        ("O terminal dead", "B terminal dead", "solenoid not energized"),
    ),
    FaultPage(
        "valve_convention_wrong",
        "O/B setting wrong",
        "Thermostat or board energizes the valve in the other mode: a healthy unit runs backwards in both.",
        (
            ("position index", "near −1", "near +1"),
            ("solenoid voltage", "of the other mode", "of the other mode"),
        ),
        ("valve_in_opposite_position", "command_missing"),
        "The readings are right for the other setting, in both modes. Wire colors prove nothing: follow terminals.",
        "Check the thermostat's O/B setting against the unit's diagram.",
        "Set the thermostat to what the unit needs (O: energized in cooling; B: energized in heating).",
        _LIVE,
        ("heats in cooling", "cools in heating", "thermostat setup"),
    ),
    FaultPage(
        "solenoid_open",
        "solenoid winding open",
        "The reversing valve's coil has an open winding: voltage arrives, nothing moves.",
        (("solenoid resistance", "open", "open"), ("position index", "as de-energized", "as de-energized")),
        ("command_missing", "valve_in_opposite_position"),
        "24 V at the coil and infinite resistance with its wires off.",
        "Read the winding's resistance with its wires off.",
        "Replace the coil alone; the valve stays. " + _STEM,
        f"{_LIVE} {_STEM}",
        ("burnt coil", "open winding", "reversing valve coil"),
    ),
    FaultPage(
        "compressor_not_running",
        "compressor not running",
        "It is called for and draws no current: line voltage, contactor, capacitor, or its internal overload; on an inverter "
        "the drive. One that hums at many times its rated current has a locked rotor.",
        (("compressor current", "none", "none"), ("compression_ratio", DOWN, DOWN)),
        ("control_power_missing", "call_missing", "compressor_weak"),
        "24 V at Y and at the contactor's coil, and line voltage on both sides of it, leave capacitor and overload. An "
        "overload that opened on a hot shell closes again in an hour or more.",
        "Check line voltage, contactor, capacitor and overload.",
        "Wait out a short-cycle delay. Then contactor coil and contacts, line voltage at the compressor, capacitor, wiring; "
        "let a hot compressor cool before its windings are judged open. A locked rotor: voltage while it tries to start, "
        "capacitor, pressures not equalized. Three phases: all three legs. An inverter has neither contactor nor capacitor: "
        "the drive's fault code, what feeds it, and all three legs from it.",
        _LIVE,
        (
            "contactor",
            "capacitor",
            "overload",
            "bad compressor",
            "won't start",
            "locked rotor",
            "inverter drive",
        ),
        {
            "inverter": "Read the drive's fault code, and check what feeds it.",
        },
    ),
    FaultPage(
        "compressor_weak",
        "compressor weak or not pumping",
        "It runs, and moves little or nothing: worn, or unloaded.",
        (
            ("compression_ratio", DOWN, DOWN),
            ("suction pressure", UP, UP),
            ("condensing_temperature", DOWN, DOWN),
            ("compressor current", DOWN, DOWN),
            ("valve_suction_rise", SAME, SAME),
        ),
        ("valve_bypassing", "undercharge"),
        "Pressures all but equal, all lines at one temperature, current far below rated. A bypassing valve leaves the lines "
        "spread and common suction hotter than what feeds it.",
        "Rule out the reversing valve, then voltage and capacitor.",
        "Rule the reversing valve out first; check voltage and capacitor, on an inverter its speed; at part load (low stage, "
        "reduced speed) low pressures and amps are normal. A scroll on three phases that runs backward is loud and pumps "
        "nothing: exchange two legs. Only then condemn the compressor.",
        f"{_LIVE} {_OPEN}",
        ("bad compressor", "worn compressor", "broken valves", "wrong rotation"),
        {
            "inverter": "Rule out the reversing valve, then see at what speed it runs.",
        },
    ),
    FaultPage(
        "active_meter_underfeeding",
        "active metering device underfeeding",
        "Screen plugged, bulb charge lost, stuck, or too small: the evaporator is starved in that device's mode alone.",
        (
            ("superheat", UP, UP),
            ("suction pressure", DOWN, DOWN),
            ("subcooling", UP, UP),
            ("active_meter_drop", UP, UP),
            ("evaporator_split", UP, UP),
        ),
        ("undercharge", "liquid_line_restriction", "bypass_stuck_closed"),
        "Subcooling stays normal or rises, which undercharge never shows; and the other mode is sound. In heating alone, "
        "the filter drier looks the same until you switch mode.",
        "Check the inlet screen and the bulb.",
        "Before a TXV is condemned: charge, airflow, bulb contact, insulation and place, equalizer, inlet screen, "
        "subcooled liquid at its inlet.",
        _OPEN,
        ("TXV", "stuck TXV", "plugged screen", "starved evaporator", "expansion valve", "EEV"),
        {
            "eev": "Switch power off and on so that the EEV drives home; then its plug, coil and sensors.",
            "piston": "Check the inlet screen, and the piston's size and seat.",
            "capillary": "Look for a kinked or plugged tube.",
        },
    ),
    FaultPage(
        "active_meter_overfeeding",
        "active metering device overfeeding",
        "Bulb loose, valve stuck open, wrong or missing piston, or its own check valve leaking: the evaporator is overfed.",
        (
            ("superheat", DOWN, DOWN),
            ("suction pressure", UP, UP),
            ("subcooling", DOWN, DOWN),
            ("compression_ratio", DOWN, DOWN),
        ),
        ("overcharge", "indoor_airflow_low", "outdoor_airflow_low"),
        "Only in that device's mode. Low indoor airflow floods in cooling only, low outdoor airflow in heating only, and "
        "both show in their air's own difference; overcharge floods in both modes and raises the head.",
        "Check the bulb: contact, insulation, place.",
        "Bulb first: contact, insulation, place. Then the check valve, then the piston's size, then the TXV.",
        _OPEN,
        ("TXV", "floodback", "flooding", "wrong piston", "leaking check valve", "EEV"),
        {
            "eev": "Check its suction sensor's contact; then switch power off and on so that the EEV drives home.",
            "piston": "Check the piston's size and its seat.",
            "capillary": "Weigh the charge before the tube is doubted.",
        },
    ),
    FaultPage(
        "bypass_stuck_closed",
        "check valve stuck closed",
        "The bypassed metering device's check valve does not open: liquid is forced backwards through the device and drops "
        "there first; only in that mode.",
        (
            ("bypassed_meter_drop", UP, UP),
            ("superheat", UP, UP),
            ("suction pressure", DOWN, DOWN),
            ("subcooling", UP, UP),
        ),
        ("liquid_line_restriction", "active_meter_underfeeding", "undercharge"),
        "Cold where there should be warm liquid, right after the condenser; sound in the other mode. With plenty of "
        "subcooling nothing is felt: compare discharge with the liquid line port.",
        "Read the bypassed device's two sides, then run the other mode.",
        "Free or replace the check valve, or the TXV it is built into; change the filter drier with it.",
        _OPEN,
        ("stuck check valve", "check valve", "internal check"),
    ),
    FaultPage(
        "liquid_line_restriction",
        "liquid line restriction",
        "The common line between the two metering devices loses pressure: filter drier, a kink, a liquid service valve half "
        "open. Mostly whichever way the liquid runs; a check in a drier may restrict one way only.",
        (
            ("drier_drop", UP, UP),
            ("superheat", UP, UP),
            ("suction pressure", DOWN, DOWN),
            ("subcooling", UP, UP),
        ),
        ("active_meter_underfeeding", "undercharge", "bypass_stuck_closed"),
        "In both modes, as a rule. Subcooled liquid shows no temperature drop until its pressure falls to saturation: read "
        "the liquid line port against discharge.",
        "Read discharge against the liquid line port, in both modes.",
        "Open both service valves all the way and look for a kinked line first; then replace the filter drier with a bi-flow "
        "one.",
        _OPEN,
        (
            "plugged filter drier",
            "clogged drier",
            "restricted drier",
            "kinked line",
            "service valve half open",
        ),
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
        "Subcooling goes first; superheat rises only once the TXV is wide open. A restriction keeps its subcooling.",
        "Find the leak before anything is charged.",
        "Find the leak, repair it, evacuate and weigh in. In heating, judge charge only by the manufacturer's heating chart.",
        _OPEN,
        ("low on charge", "undercharged", "low charge", "leak", "low refrigerant"),
    ),
    FaultPage(
        "overcharge",
        "overcharge",
        "Too much refrigerant, in both modes; a fixed orifice with an accumulator hardly shows it in heating.",
        (
            ("subcooling", UP, UP),
            ("condensing_temperature", UP, UP),
            ("superheat", DOWN, SAME),
            ("compressor current", UP, UP),
        ),
        ("noncondensables", "outdoor_airflow_low", "indoor_airflow_low"),
        "The condenser's bend agrees with the saturation the gauge claims; with noncondensables it is several degrees "
        "under it.",
        "Compare gauge and condenser bend before any charge is moved.",
        "What is in the unit is unknown, so it can't be recovered down to the nameplate: recover all of it, evacuate, and "
        "weigh in the nameplate charge, corrected for the line set.",
        _OPEN,
        ("overcharged", "too much refrigerant"),
    ),
    FaultPage(
        "noncondensables",
        "noncondensables",
        "Air or nitrogen gathers in the condenser and adds its pressure.",
        (
            ("condensing_temperature", UP, UP),
            ("subcooling", UP, UP),
            ("compression_ratio", UP, UP),
            ("discharge temperature", UP, UP),
        ),
        ("overcharge", "outdoor_airflow_low", "indoor_airflow_low"),
        "The condenser's bend is several degrees under the saturation by pressure; standing pressure of the unit off, all "
        "at one temperature, settles it.",
        "Read standing pressure with the unit off and all at one temperature.",
        "Recover, evacuate, weigh in fresh refrigerant.",
        _OPEN,
        ("air in the system", "nitrogen"),
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
        "The temperature split grows while the heat shrinks. It floods the evaporator in cooling only; in heating high head "
        "by itself points here first.",
        "Check filter, blower and registers.",
        "Filter, registers, coil, blower speed; measure the airflow with the backup heater.",
        _FANS,
        ("dirty filter", "blower", "ducts", "airflow"),
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
        "Check the outdoor coil and its fan.",
        "Clean the coil, straighten fins, check fan, blade and capacitor.",
        f"{_FANS} Ladders and roofs.",
        ("dirty outdoor coil", "condenser fan", "fan motor", "airflow"),
    ),
    FaultPage(
        "outdoor_coil_frosted",
        "outdoor coil iced",
        "More frost than a defrost left behind or should have let grow: it blocks the air and fills the accumulator.",
        (
            ("evaporator_split", "n/a", UP),
            ("suction pressure", "n/a", DOWN),
            ("superheat", "n/a", DOWN),
            ("frost_margin", "n/a", DOWN),
        ),
        ("outdoor_airflow_low", "undercharge"),
        "Look: patchy frost that starts at the metering device speaks for charge, even frost for air or defrost.",
        "Melt the ice first, never chip it; then find out why it grew.",
        "Melt it first, never chip it; then airflow and coil, charge, sensor, board, valve, fan relay.",
        f"Ice is slippery. {_FANS}",
        ("frosted coil", "ice", "iced up", "frozen coil"),
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
        "Low flow makes the water's own difference grow; a fouled coil lets it fall with capacity and widens the approach.",
        "Check pump, strainer and air in the loop.",
        "Flush air, clean the strainer, check pump and valves, read the pressure drop again. In heating plain water that "
        "leaves near freezing can freeze inside the coil and burst it: stop the unit until the flow is right.",
        _WATER,
        ("pump", "strainer", "loop", "freeze-up"),
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
        "Flow is right and the water's difference small, while refrigerant and water are far apart.",
        "Read the approach between water and refrigerant.",
        "Clean the coil as its manufacturer says.",
        _WATER,
        ("scale", "coaxial coil", "fouling"),
    ),
    FaultPage(
        "coil_circuit_starved",
        "a coil circuit starved",
        "One circuit of a coil gets no refrigerant: a plugged distributor tube or a kink.",
        (("circuit temperatures", "one is off", "one is off"), ("air_capacity", DOWN, DOWN)),
        ("active_meter_underfeeding",),
        "Compare the circuits: in an evaporator the starved one is warm, the others are cold.",
        "Compare the circuits' outlet temperatures.",
        "Clear or replace the distributor.",
        _OPEN,
        ("distributor", "plugged circuit"),
    ),
    FaultPage(
        "defrost_not_starting",
        "defrost does not start",
        "The coil ices over and no defrost begins, though time and temperature call for one.",
        (("outdoor coil", "n/a", "iced"),),
        ("defrost_sensor_off", "valve_in_opposite_position"),
        "Force a defrost at the board: if it runs, the sensor or the timer is at fault. A valve that does not shift leaves "
        "the fan off and the heat on for ten minutes while the circuit goes on heating.",
        "Force a defrost at the board.",
        "Melt the coil first, with warm air or water, never by chipping. To force one: heating for some minutes, the board's "
        "test pins as its label says, tools insulated, clear of the fan. Watch for the rush, the fan, the heat, the steam, "
        "the clear coil, the rush back. Then the sensor against its table, then the board's inputs and outputs.",
        f"{_LIVE} {_FANS} Ice is slippery. Never chip it; don't defeat a safety to force a defrost.",
        ("ice", "no defrost", "defrost board"),
    ),
    FaultPage(
        "defrost_not_stopping",
        "defrost does not stop",
        "Defrost runs to its time limit, or past it, with the coil long warm.",
        (("coil sensor", "n/a", "above its stop setting"),),
        ("defrost_sensor_off",),
        "The sensor against the liquid leaving the coil.",
        "Check the coil sensor's contact and resistance.",
        "Sensor contact and table first, then the board.",
        _LIVE,
        ("long defrost", "defrost board"),
    ),
    FaultPage(
        "defrost_fan_running",
        "outdoor fan runs in defrost",
        "The fan relay stays closed: the coil never warms, the defrost ends on its limit with frost left.",
        (("outdoor fan", "n/a", "running"),),
        ("defrost_not_stopping",),
        "Look. On a 230 V single-phase fan one leg reads 120 V to ground even with the relay open.",
        "Check the fan relay and the board.",
        "Relay or board.",
        f"{_LIVE} {_FANS}",
        ("fan relay", "defrost board"),
    ),
    FaultPage(
        "defrost_no_backup_heat",
        "no backup heat in defrost",
        "Supply air falls to some 50 to 55 °F (10 to 13 °C) while the unit defrosts.",
        (("supply air", "n/a", DOWN),),
        ("command_missing",),
        "W in defrost: 24 V there and no heat points to the heater, none to the board.",
        "Read W in defrost: dead points to the board, live to the heater.",
        "Heater, its sequencer and its wire, or the board.",
        _LIVE,
        ("cold air in defrost", "heat strips", "W terminal"),
    ),
    FaultPage(
        "defrost_sensor_off",
        "coil sensor off",
        "The sensor's resistance does not belong to its temperature, or it is loose.",
        (("sensor against a clamp", "apart", "apart"),),
        ("defrost_not_starting", "defrost_not_stopping"),
        "Resistance against the manufacturer's table at a temperature measured beside it.",
        "Compare the sensor with a clamp beside it.",
        "Repair the contact or replace the sensor.",
        _LIVE,
        ("thermistor", "defrost sensor"),
    ),
    FaultPage(
        "defrost_too_often",
        "defrost too often",
        "Defrost starts sooner than its interval, with the sensor above its start, or on demand from a dry coil: heat is "
        "taken from the house for nothing.",
        (("time between defrosts", "n/a", DOWN),),
        ("defrost_sensor_off", "undercharge"),
        "A board that starts by time and temperature on a dry coil in dry cold does what it is built for. A coil that was "
        "left frosted asks again soon: see first whether the last defrost cleared it.",
        "Compare the board's setting with the time it took.",
        "Set the timer to what the climate needs, then the sensor against its table, then the board.",
        _LIVE,
        ("short cycling defrost", "defrost timer", "defrost board"),
    ),
    FaultPage(
        "head_meter_leaking",
        "EEV of an idle head leaking",
        "One outdoor unit, several heads: the EEV of a head that does not call lets refrigerant through. Its coil runs cold "
        "or hot without a fan, takes capacity from the others, and in cooling sends liquid back.",
        (("pipes of the idle head", "cold", "as hot as those that call"), ("total_superheat", DOWN, SAME)),
        ("heads_crossed", "active_meter_overfeeding"),
        "In cooling an idle head's pipes are at the temperature around them. In heating its EEV bleeds a little by design: "
        "its liquid then leaves well under that of a head that calls. Where a head that calls stays without while it "
        "runs, the two are exchanged.",
        "Let the EEV drive itself shut, power off and on, and read that head again.",
        "Switch the outdoor unit off and on so that every EEV drives home, and read again. Exchange its coil with that of a "
        "sound one: if the leak follows, it is the coil or the board's output, else the valve. " + _OPEN,
        f"{_HOT} {_LIVE} {_OPEN}",
        ("multi-zone", "idle head cold", "head sweats", "room gets warm by itself"),
    ),
    FaultPage(
        "head_meter_closed",
        "EEV of a calling head not opening",
        "One outdoor unit, several heads: the EEV of a head that calls stays shut, and that room gets nothing while the "
        "others do.",
        (("pipes of that head", "at room temperature", "at room temperature"),),
        ("heads_crossed", "undercharge", "active_meter_underfeeding"),
        "Let that head call alone, then another: one head that starves while others are fed is its own EEV; where all of "
        "them starve look at charge and compressor. Where another head runs in its place, the two are exchanged.",
        "Let that head call alone and read its pipes; then check its EEV's coil and plug.",
        "Check the plug on the board, the EEV's coil resistance phase by phase, and that the coil sits on its own valve. "
        "Exchange coils with a sound one: if the fault follows it is the coil, else the board's output or the valve. "
        + _OPEN,
        f"{_HOT} {_LIVE} {_OPEN}",
        ("multi-zone", "one room gets no heat", "one room gets no cooling", "stepper stuck"),
    ),
    FaultPage(
        "heads_crossed",
        "heads crossed, by their lines or wires",
        "One outdoor unit, several heads: the lines or the signal wires of two of them are exchanged. The head that calls "
        "stays without, and one that does not call runs.",
        (("pipes of the head that calls", "at room temperature", "at room temperature"),),
        ("head_meter_closed", "head_meter_leaking"),
        "Let one head call alone. Lines: the right EEV opens, the pipes at its port run, and the wrong room gets it. Wires: "
        "the pipes at the wrong port run. With all heads calling neither shows.",
        "Make sure which head calls; let it call alone, and feel which port and which room run.",
        "Wires are put back at the outdoor terminals, each with its own head's lines. Lines exchanged at the ports are put "
        "right the same way: move the wires to match, where the valves are alike in size, else recover and pipe anew. "
        + _OPEN,
        f"{_LIVE} {_OPEN}",
        ("multi-zone", "crossed lines", "miswired heads", "wrong room"),
    ),
    FaultPage(
        "reading_suspect",
        "a reading is suspect",
        "Physics contradicts a reading: the reading is doubted before the machine is.",
        (),
        (),
        "Each doubt says which readings and what most likely happened.",
        "Read again before anything is concluded.",
        "Read again: by contact, at the right port, in the right unit, after settling.",
        _HOT,
        ("wrong port", "bad clamp", "swapped sensors"),
    ),
)
"""A page for every fault code, in the order of the contract."""

PAGES = {page.code: page for page in FAULT_PAGES}


def title(fault: Fault) -> str:
    """What a technician calls the fault.

    Parameters
    ----------
    fault : Fault
        Code of the fault.

    Returns
    -------
    str
        For a ticket.
    """
    return PAGES[fault].title
