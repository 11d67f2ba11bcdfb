"""The practice profile: every limit of the trade in one place, with unit, standing and reason.

A shop may change a limit; nothing in the rest of the core holds one of its own.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from icepick.core.quantities import Kind, to_si


@dataclass(frozen=True, slots=True)
class Limit:
    """One limit: its name, default, unit, the standing of that default and why it is there."""

    name: str
    default: float
    unit: str
    kind: Kind
    standing: str
    reason: str

    def allows(self, value: float) -> bool:
        """Whether a shop may set it to this: above zero, and not ten times the default or more."""
        return 0 < value < 10 * self.default


_COMMON = "common practice"

LIMITS: tuple[Limit, ...] = (
    Limit(
        "settling_time",
        10,
        "min",
        Kind.TIME,
        _COMMON,
        "Pressures and line temperatures drift for about ten minutes after a start or a change of mode; "
        "a drifting reading proves nothing.",
    ),
    Limit(
        "valve_suction_rise",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Common suction over the port that brings suction gas back. A seated slide shows 1–3 °F from "
        "metal shared by hot and cold gas; 5 °F or more means gas is going round.",
    ),
    Limit(
        "valve_discharge_drop",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Discharge line over the port that carries hot gas away. A seated slide loses a degree or two.",
    ),
    Limit(
        "valve_position",
        0.5,
        "1",
        Kind.RATIO,
        "physics; the threshold is our own choice",
        "The position index runs from −1 (full heating) to +1 (full cooling); within half of either "
        "side of the middle the slide stands on neither side.",
    ),
    Limit(
        "equalized_spread",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Four pipes at the valve this close together carry the same gas: the slide stands midway or "
        "nothing is being pumped.",
    ),
    Limit(
        "doubt_margin",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Readings are doubted only when they contradict physics by more than this beyond their own "
        "uncertainty: pipes, coils and air are never quite at one temperature.",
    ),
    Limit(
        "lowest_condensing",
        60,
        "degF",
        Kind.TEMPERATURE,
        "physics; the figure is our own choice",
        "A coil that heats a room condenses above that room's temperature; used to tell a suction from "
        "a head pressure in heating where nothing better was read.",
    ),
    Limit(
        "unit_doubt_far",
        40,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "A pressure whose saturation lies this far from what the pipes say may have been typed in "
        "another unit.",
    ),
    Limit(
        "unit_doubt_near",
        20,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "It was, if in that other unit it comes this close.",
    ),
    Limit(
        "standing_difference",
        4,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Standing pressure turned into a saturation temperature, against the air around a unit that is "
        "off: above it, another gas shares the circuit; below it, no liquid is left.",
    ),
    Limit(
        "line_change",
        6,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "A pipe, an idle meter with its way round, or a drier changes the temperature of what runs "
        "through it by a few degrees at most.",
    ),
    Limit(
        "valve_body_rise",
        2,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; figure from memory",
        "Hot and cold gas share one metal body: this much of the suction rise is honest and is taken off before the "
        "bypass fraction is worked out.",
    ),
    Limit(
        "valve_body_band",
        1,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How far the honest rise may differ from valve to valve.",
    ),
    Limit(
        "valve_bypass",
        5,
        "percent",
        Kind.SHARE,
        "our own choice",
        "Share of the compressor's flow that goes round inside the valve. A seated slide passes next to none; at this "
        "share the loss of capacity is felt.",
    ),
    Limit(
        "valve_drift",
        2,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Between two readings of the same pair a difference that moves more than this had not settled.",
    ),
    Limit(
        "dry_return",
        4,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; the figure is our own choice",
        "A small suction rise clears the valve only where the gas coming back is superheated by more than this: wet gas "
        "soaks up the hot gas unseen.",
    ),
    Limit(
        "wet_return_share",
        10,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How much liquid a wet return is taken to carry at most when the bypass fraction is worked out.",
    ),
    Limit(
        "shift_pressure",
        15,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        "common practice; figure from memory",
        "The pilot moves the slide by the difference of discharge and suction pressure; with less than this it can't.",
    ),
    Limit(
        "vapor_line_hot",
        20,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "A vapor line this much over room temperature carries hot gas: the unit is heating.",
    ),
    Limit(
        "vapor_line_cold",
        8,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "A vapor line this much under room temperature carries suction gas: the unit is cooling.",
    ),
    Limit(
        "room_temperature",
        70,
        "degF",
        Kind.TEMPERATURE,
        _COMMON,
        "Taken where the return air was not read.",
    ),
    Limit(
        "control_present",
        18,
        "V",
        Kind.VOLTAGE,
        _COMMON,
        "24 V nominal: at this and above a control voltage is there.",
    ),
    Limit(
        "control_absent",
        5,
        "V",
        Kind.VOLTAGE,
        _COMMON,
        "Under this a control voltage is absent; what a long wire picks up does not count.",
    ),
    Limit(
        "solenoid_open",
        500,
        "ohm",
        Kind.RESISTANCE,
        _COMMON,
        "A 24 V valve coil has some tens of ohms; above this it is open.",
    ),
    Limit(
        "solenoid_short",
        3,
        "ohm",
        Kind.RESISTANCE,
        _COMMON,
        "Below this the coil's windings are shorted.",
    ),
    Limit(
        "pumping_ratio",
        1.25,
        "1",
        Kind.RATIO,
        "our own choice",
        "Absolute high over absolute low pressure: below this they are all but equal and nothing is pumped.",
    ),
    Limit(
        "pumping_current",
        50,
        "percent",
        Kind.SHARE,
        _COMMON,
        "Share of the rated current below which a compressor runs unloaded.",
    ),
    Limit(
        "ratio_shortfall",
        25,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How far the compression ratio may fall short of what the air and water temperatures call for.",
    ),
    Limit(
        "isentropic_low",
        40,
        "percent",
        Kind.SHARE,
        "physics; the figure is our own choice",
        "Ideal over real work of compression, as the discharge temperature has it: under this the gas leaves hotter than "
        "a sound compressor makes it.",
    ),
    Limit(
        "isentropic_high",
        105,
        "percent",
        Kind.SHARE,
        "physics",
        "Over this the discharge is colder than the compression allows: wet suction or a clamp in poor contact.",
    ),
    Limit(
        "evaporator_split_cooling",
        34,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Return air over evaporating temperature, where the maker says nothing.",
    ),
    Limit(
        "evaporator_split_heating",
        17,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Outdoor air over evaporating temperature, where the maker says nothing.",
    ),
    Limit(
        "condenser_split_cooling",
        22,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Condensing temperature over outdoor air, where the maker says nothing.",
    ),
    Limit(
        "condenser_split_heating",
        30,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Condensing temperature over return air, where the maker says nothing.",
    ),
    Limit(
        "water_split",
        12,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Between entering water and saturation in a water coil, where the maker says nothing.",
    ),
    Limit(
        "usual_condensing",
        105,
        "degF",
        Kind.TEMPERATURE,
        _COMMON,
        "Taken for the high side where neither gauge, bend nor entering air was read.",
    ),
    Limit(
        "bend_uncertainty",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "How well a bend halfway through a coil stands for saturation, beyond the clamp's own band.",
    ),
    Limit(
        "guess_uncertainty",
        12,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How well a usual split stands for saturation where neither gauge nor bend was read.",
    ),
    Limit(
        "bypass_drop",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "An idle meter with its way round must show next to no drop of temperature.",
    ),
    Limit(
        "drier_drop",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Temperature drop across a drier. A subcooled liquid shows none until its pressure falls to saturation.",
    ),
    Limit(
        "active_drop_share",
        60,
        "percent",
        Kind.SHARE,
        "physics; the figure is our own choice",
        "The working meter takes liquid down to the evaporating temperature: this share of the way must show across it.",
    ),
    Limit(
        "pressure_split",
        25,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; the figure is our own choice",
        "Condensing over evaporating temperature: less than this is no high side and low side.",
    ),
    Limit(
        "superheat_target",
        10,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Superheat held by a thermostatic or electric valve, where the maker says nothing.",
    ),
    Limit(
        "superheat_tolerance",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "published: ANSI/ACCA 5 QI; from memory",
        "Superheat of a thermostatic or electric valve lies within this of its target; so does that of an orifice.",
    ),
    Limit(
        "subcooling_target",
        10,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Subcooling in cooling, where the maker says nothing.",
    ),
    Limit(
        "subcooling_tolerance",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "published: ANSI/ACCA 5 QI; from memory",
        "Subcooling lies within this of its target.",
    ),
    Limit(
        "liquid_at_meter",
        2,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; the figure is our own choice",
        "Liquid must arrive at the meter at least this much subcooled, or flash gas starves it.",
    ),
    Limit(
        "circuit_spread",
        8,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "A coil circuit that stands out from its neighbours by more than this gets too little refrigerant.",
    ),
    Limit(
        "head_to_liquid",
        20,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        _COMMON,
        "Head over the liquid tap: coil and pipes lose this much at most. More is lost in a check, a drier or a kink.",
    ),
    Limit(
        "split_deviation",
        10,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How far a coil's split may lie from the usual one before it speaks for a fault.",
    ),
    Limit(
        "superheat_wander",
        6,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Superheat that moves more than this between two readings of a settled run: a loose bulb, or a valve that hunts.",
    ),
    Limit(
        "compressor_power_factor",
        0.95,
        "1",
        Kind.RATIO,
        _COMMON,
        "Turns current times voltage into power where no power meter was at hand: a single-phase compressor with a run "
        "capacitor, near full load.",
    ),
    Limit(
        "compressor_power_band",
        0.05,
        "1",
        Kind.RATIO,
        "our own choice",
        "How far the real power factor may lie from that.",
    ),
    Limit(
        "compressor_shell_loss",
        4,
        "percent",
        Kind.RATIO,
        "our own choice",
        "Share of the compressor's power that its shell gives to the air around it, give or take as much.",
    ),
    Limit(
        "fan_power_per_1000_cfm",
        365,
        "W",
        Kind.ELECTRICAL_POWER,
        "published: AHRI 210/240 (default for a coil without its fan), from memory",
        "Power of a supply fan for each 1000 cfm where it is neither read nor stated; it warms the air it moves.",
    ),
    Limit(
        "fan_power_band",
        30,
        "percent",
        Kind.RATIO,
        "our own choice",
        "How far the supply fan's power may lie from what is stated or usual.",
    ),
    Limit(
        "balance_tolerance",
        15,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How much of the heat rejected may be missing from, or too much for, heat taken up plus work, before a flow or a "
        "thermometer is doubted.",
    ),
    Limit(
        "ratio_excess",
        45,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How far the compression ratio may exceed what the air and water temperatures call for.",
    ),
    Limit(
        "history_near",
        10,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How far the entering temperatures of an earlier visit may lie from today's for its figures to be compared without "
        "a word on the weather.",
    ),
    Limit(
        "water_flow_per_ton",
        3,
        "gpm",
        Kind.WATER_FLOW,
        _COMMON,
        "Usual flow of source water for each ton of nominal capacity.",
    ),
    Limit(
        "water_flow_low",
        65,
        "percent",
        Kind.SHARE,
        "our own choice",
        "Share of the usual flow of source water under which low flow is the first thing to look at.",
    ),
    Limit(
        "airflow_per_ton",
        400,
        "cfm",
        Kind.AIR_FLOW,
        _COMMON,
        "Assumed for each ton of nominal capacity where the indoor airflow is neither read nor given, and said so.",
    ),
    Limit(
        "airflow_uncertainty",
        20,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How far an assumed or stated airflow may be from the real one.",
    ),
    Limit(
        "water_gauge_step",
        0.1,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        "our own choice",
        "How well one gauge, moved from port to port, reads a difference.",
    ),
    Limit(
        "water_probe_step",
        0.3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How well one probe, moved from port to port, reads a difference. Dial pocket thermometers won't do.",
    ),
    Limit(
        "fluid_factor_uncertainty",
        3,
        "percent",
        Kind.SHARE,
        _COMMON,
        "How far the fluid factor may be from 500 where the mix was not entered: an antifreeze carries some 485.",
    ),
    Limit(
        "water_shortfall",
        10,
        "percent",
        Kind.SHARE,
        _COMMON,
        "Heat of extraction or rejection short of the maker's figure by more than this: not working properly.",
    ),
    Limit(
        "water_excess",
        17,
        "percent",
        Kind.SHARE,
        _COMMON,
        "More than the maker's figure by this: doubt the flow or the thermometer before praising the machine.",
    ),
    Limit(
        "water_difference",
        12,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Source water that changes by more than this runs too slowly.",
    ),
    Limit(
        "total_superheat_most",
        45,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Superheat at the compressor above this overheats it.",
    ),
    Limit(
        "air_difference_cooling",
        19,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Return over supply air in cooling, where nothing better is known.",
    ),
    Limit(
        "air_difference_heating",
        25,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "Supply over return air in heating, where nothing better is known.",
    ),
    Limit(
        "air_difference_band",
        11,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How far the air's difference may lie from the usual: it moves with humidity and outdoor temperature.",
    ),
    Limit(
        "capacity_shortfall",
        30,
        "percent",
        Kind.SHARE,
        "our own choice",
        "Capacity by air short of what the unit should move at these conditions by more than this.",
    ),
    Limit(
        "heating_rating_warm",
        47,
        "degF",
        Kind.TEMPERATURE,
        "published: AHRI 210/240; from memory",
        "Outdoor temperature of the warm heating rating.",
    ),
    Limit(
        "heating_rating_cold",
        17,
        "degF",
        Kind.TEMPERATURE,
        "published: AHRI 210/240; from memory",
        "Outdoor temperature of the cold heating rating.",
    ),
    Limit(
        "capacity_when_cold",
        60,
        "percent",
        Kind.SHARE,
        _COMMON,
        "Heating capacity at the cold rating as a share of that at the warm one, where the maker says nothing.",
    ),
    Limit(
        "bend_offset",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; the figure is our own choice",
        "Saturation by gauge over the condenser's own bend: more than this and another gas shares the condenser.",
    ),
    Limit(
        "subcooling_deviation",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How far subcooling may lie from its target before it speaks for a fault; wider than what a charge is set to.",
    ),
    Limit(
        "water_difference_small",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Source water that changes by less than this gives or takes hardly any heat.",
    ),
    Limit(
        "unfelt_loss",
        10,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        "our own choice",
        "A pressure that liquid could lose unfelt is worth saying above this.",
    ),
    Limit(
        "capacity_least",
        30,
        "percent",
        Kind.SHARE,
        "our own choice",
        "Share of the warm rating below which no heating capacity is expected, however cold it is.",
    ),
    Limit(
        "uncertainty_clamp",
        1,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "A pipe clamp in good contact. Also taken where no method is given.",
    ),
    Limit(
        "uncertainty_probe",
        0.5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "A probe in moving air or water.",
    ),
    Limit(
        "uncertainty_infrared",
        8,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _COMMON,
        "An infrared gun on bare pipe: shiny copper reads what it reflects.",
    ),
    Limit(
        "uncertainty_estimate",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "A temperature felt by hand or guessed.",
    ),
    Limit(
        "uncertainty_gauge",
        1,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        _COMMON,
        "A gauge near zero; higher up, the share below is the larger.",
    ),
    Limit(
        "uncertainty_gauge_share",
        1,
        "percent",
        Kind.RATIO,
        _COMMON,
        "A gauge, as a share of what it reads.",
    ),
    Limit(
        "uncertainty_meter_share",
        1,
        "percent",
        Kind.RATIO,
        _COMMON,
        "An electrical, flow or power meter, as a share of what it reads.",
    ),
    Limit(
        "uncertainty_estimate_share",
        10,
        "percent",
        Kind.RATIO,
        "our own choice",
        "Anything but a temperature that was guessed, as a share of the guess.",
    ),
)

_BY_NAME = {limit.name: limit for limit in LIMITS}
KNOWN = frozenset(_BY_NAME)


@dataclass(frozen=True, slots=True)
class Practice:
    """The limits in force: the defaults, with what the shop has changed.

    ``changes`` maps a limit's name to a value in that limit's own unit.
    """

    changes: Mapping[str, float] = field(default_factory=dict)
    _in_si: dict[str, float] = field(default_factory=dict, init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        for name in self.changes:
            limit(name)

    def value(self, name: str) -> float:
        """The limit in its own unit."""
        return self.changes.get(name, limit(name).default)

    def si(self, name: str) -> float:
        """The limit in SI."""
        if name not in self._in_si:
            entry = limit(name)
            self._in_si[name] = to_si(self.value(name), entry.unit, entry.kind)
        return self._in_si[name]


def limit(name: str) -> Limit:
    """Look up a limit.

    Raises
    ------
    KeyError
        There is no limit of this name.
    """
    try:
        return _BY_NAME[name]
    except KeyError:
        raise KeyError(f"there is no practice limit {name!r}") from None


DEFAULT_PRACTICE = Practice()
