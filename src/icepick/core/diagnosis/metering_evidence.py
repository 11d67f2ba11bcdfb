"""What metering, checks, drier and charge leave in the readings. [the-trade.md 4 to 6]

Faults that starve the evaporator share one row wherever a reading can't tell them apart, so that they stay tied
until one is read that can.
"""

from __future__ import annotations

from icepick.core.checks.superheat import judges_charge
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import medium_entering
from icepick.core.circuit.readings import first_read
from icepick.core.diagnosis.evidence import (
    Checks,
    Feature,
    Spot,
    by_side,
    by_status,
    in_operation,
    temperatures,
)
from icepick.core.document.roles import Part, Role
from icepick.core.indicators import refrigerant
from icepick.core.indicators.metering import is_orifice

_STARVING = ("active_meter_underfeeding", "bypass_stuck_closed", "liquid_line_restriction", "undercharge")


COLDER_OUTDOORS = (
    "outdoor_airflow_low@heating",
    "outdoor_coil_frosted@heating",
    "source_water_flow_low@heating",
    "source_coil_fouled@heating",
)
"""What draws the evaporator down in heating leaves less heat for the indoor coil, too. [physics]"""


def _starving(*row: float) -> dict[str, tuple[float, ...]]:
    return dict.fromkeys(_STARVING, row)


def _superheat_spots(context: RunContext) -> list[Spot]:
    circuit = context.circuit
    if circuit is None:
        return []
    leaving = first_read(context.readings, circuit.leaving_evaporator) or circuit.return_port
    if refrigerant.low_side(context) is None:
        return temperatures(circuit.evaporator, leaving)
    return [*temperatures(leaving), ("common_suction_tap", "pressure")]


_FEEDING_WORDS = {
    "starved": "superheat is high: a starved evaporator",
    "right": "superheat is on target",
    "flooded": "superheat is low: an overfed evaporator",
}

FEEDING = Feature(
    "feeding",
    ("starved", "right", "flooded"),
    _FEEDING_WORDS,
    "Superheat says whether the evaporator gets too little or too much, not yet why.",
    {
        "none": (0.02, 0.96, 0.02),
        **_starving(0.90, 0.09, 0.01),
        "active_meter_overfeeding": (0.01, 0.14, 0.85),
        "overcharge": (0.01, 0.84, 0.15),
        "noncondensables": (0.01, 0.84, 0.15),
        "indoor_airflow_low@cooling": (0.01, 0.79, 0.20),
        "outdoor_coil_frosted@heating": (0.01, 0.69, 0.30),
        "coil_circuit_starved": (0.10, 0.55, 0.35),
        "valve_bypassing/a little": (0.03, 0.93, 0.04),
        "valve_bypassing": (0.05, 0.85, 0.10),
        "compressor_weak": (0.05, 0.70, 0.25),
        "undercharge/a little": (0.03, 0.94, 0.03),
        "others": (0.05, 0.90, 0.05),
    },
    by_side("metering.superheat_control", "flooded", "right", "starved"),
    _superheat_spots,
    lambda context: in_operation(context) and not is_orifice(context),
)
FEEDING_ORIFICE = Feature(
    "feeding of an orifice, cooling",
    ("starved", "right", "flooded"),
    _FEEDING_WORDS,
    "A fixed orifice passes what the charge and the conditions push through it: hold its superheat to the target.",
    {
        "none": (0.03, 0.94, 0.03),
        **_starving(0.90, 0.09, 0.01),
        "active_meter_overfeeding": (0.01, 0.14, 0.85),
        "overcharge": (0.01, 0.24, 0.75),
        "coil_circuit_starved": (0.10, 0.50, 0.40),
        "compressor_weak": (0.05, 0.55, 0.40),
        "undercharge/a little": (0.45, 0.54, 0.01),
        "others": (0.06, 0.88, 0.06),
    },
    by_side("metering.superheat_control", "flooded", "right", "starved"),
    lambda context: [
        *_superheat_spots(context),
        ("return_air", "wet_bulb"),
        ("outdoor_air_in", "temperature"),
    ],
    lambda context: in_operation(context) and context.running == "cooling" and is_orifice(context),
)
FEEDING_ORIFICE_HEATING = Feature(
    "feeding of an orifice, heating",
    ("starved", "fed"),
    {
        "starved": _FEEDING_WORDS["starved"],
        "fed": "the evaporator is fed: no superheat is normal for an orifice in heating",
    },
    "A fixed orifice in heating runs near zero superheat in the cold; much superheat is not normal.",
    {
        "none": (0.03, 0.97),
        **_starving(0.90, 0.10),
        "undercharge/a little": (0.30, 0.70),
        "others": (0.06, 0.94),
    },
    by_status("metering.superheat_control", **{"pass": "fed", "fail": "starved"}),
    _superheat_spots,
    lambda context: in_operation(context) and context.running == "heating" and is_orifice(context),
)


def _split_spots(context: RunContext, role: Role) -> list[Spot]:
    if context.circuit is None:
        return []
    tap = "common_suction_tap" if role == "low" else "discharge_tap"
    return [(tap, "pressure"), *temperatures(medium_entering(context, context.circuit.coil(role)))]


SUCTION = Feature(
    "evaporating temperature",
    ("low", "usual", "high"),
    {
        "low": "evaporating is far below what enters the evaporator",
        "usual": "evaporating is where it belongs",
        "high": "evaporating is close to what enters the evaporator",
    },
    "Whatever starves the evaporator, or keeps heat from it, draws its temperature down.",
    {
        "none": (0.04, 0.92, 0.04),
        **_starving(0.80, 0.19, 0.01),
        "active_meter_overfeeding": (0.01, 0.55, 0.44),
        "overcharge": (0.02, 0.83, 0.15),
        "noncondensables": (0.02, 0.83, 0.15),
        "valve_bypassing/a little": (0.03, 0.85, 0.12),
        "valve_bypassing": (0.01, 0.49, 0.50),
        "compressor_weak": (0.01, 0.24, 0.75),
        "indoor_airflow_low@cooling": (0.70, 0.29, 0.01),
        "outdoor_airflow_low@heating": (0.70, 0.29, 0.01),
        "outdoor_coil_frosted@heating": (0.80, 0.19, 0.01),
        "source_water_flow_low@heating": (0.60, 0.39, 0.01),
        "source_coil_fouled@heating": (0.75, 0.24, 0.01),
        "undercharge/a little": (0.12, 0.84, 0.04),
        "others": (0.06, 0.88, 0.06),
    },
    by_side("exchange.evaporator_split", "high", "usual", "low"),
    lambda context: _split_spots(context, "low"),
)


HEAD = Feature(
    "condensing temperature",
    ("low", "usual", "high"),
    {
        "low": "condensing is close to what enters the condenser",
        "usual": "condensing is where it belongs",
        "high": "condensing is far above what enters the condenser",
    },
    "Too much in the condenser lifts its temperature; too little flow lets it fall.",
    {
        "none": (0.04, 0.92, 0.04),
        **_starving(0.35, 0.62, 0.03),
        "overcharge": (0.01, 0.44, 0.55),
        "valve_bypassing/a little": (0.12, 0.84, 0.04),
        "valve_bypassing": (0.50, 0.48, 0.02),
        "compressor_weak": (0.70, 0.29, 0.01),
        "noncondensables": (0.01, 0.44, 0.55),
        "indoor_airflow_low@heating": (0.01, 0.29, 0.70),
        "outdoor_airflow_low@cooling": (0.01, 0.29, 0.70),
        "source_water_flow_low@cooling": (0.01, 0.39, 0.60),
        "source_coil_fouled@cooling": (0.01, 0.24, 0.75),
        **dict.fromkeys(COLDER_OUTDOORS, (0.15, 0.82, 0.03)),
        "undercharge/a little": (0.12, 0.85, 0.03),
        "others": (0.06, 0.88, 0.06),
    },
    by_side("exchange.condenser_split", "low", "usual", "high"),
    lambda context: _split_spots(context, "high"),
)


def _subcooling_spots(context: RunContext) -> list[Spot]:
    circuit = context.circuit
    liquid = refrigerant.liquid_stations(context)
    if circuit is None or not liquid:
        return []
    station = first_read(context.readings, liquid) or liquid[0]
    if refrigerant.high_side(context) is None:
        return temperatures(circuit.condenser, station)
    tap = "liquid_service_tap" if "liquid_line_outdoor" in liquid else "discharge_tap"
    return [*temperatures(station), (tap, "pressure")]


def _has_target(context: RunContext) -> bool:
    return in_operation(context) and judges_charge(context)


def _without_target(context: RunContext, checks: Checks) -> str | None:
    """Little or much of it, where nothing says how much it should be."""
    check = checks.get("exchange.subcooling")
    value = refrigerant.subcooling(context)
    if check is None or value is None:
        return None
    little, much = (context.practice.si(f"subcooling_{edge}") for edge in ("little", "much"))
    number, band = float(value.nominal_value), float(value.std_dev)
    if number + band < little:
        return "low"
    if number - band > much:
        return "high"
    return "usual" if little <= number <= much else None


_SUBCOOLING_WORDS = {
    "low": "subcooling is low",
    "usual": "subcooling is where it belongs",
    "high": "subcooling is high: liquid backs up",
}
SUBCOOLING = Feature(
    "subcooling",
    ("low", "usual", "high"),
    _SUBCOOLING_WORDS,
    "Too little refrigerant shows in the subcooling first; a restriction or a starving valve keeps it, or raises it.",
    {
        "none": (0.04, 0.92, 0.04),
        **_starving(0.02, 0.48, 0.50),
        "undercharge": (0.90, 0.09, 0.01),
        "overcharge": (0.01, 0.14, 0.85),
        "noncondensables": (0.01, 0.14, 0.85),
        "active_meter_overfeeding": (0.35, 0.60, 0.05),
        "valve_bypassing/a little": (0.10, 0.82, 0.08),
        "valve_bypassing": (0.30, 0.60, 0.10),
        "compressor_weak": (0.40, 0.50, 0.10),
        "others": (0.08, 0.84, 0.08),
    },
    by_side("exchange.subcooling", "low", "usual", "high"),
    _subcooling_spots,
    _has_target,
)
SUBCOOLING_UNTARGETED = Feature(
    "subcooling without a target",
    ("low", "usual", "high"),
    _SUBCOOLING_WORDS,
    "In heating, and with a fixed orifice, subcooling says little of the charge; liquid that backs up still speaks against "
    "too little of it.",
    {
        "none": (0.25, 0.65, 0.10),
        **_starving(0.06, 0.54, 0.40),
        "undercharge": (0.60, 0.36, 0.04),
        "overcharge": (0.08, 0.52, 0.40),
        "noncondensables": (0.08, 0.52, 0.40),
        "active_meter_overfeeding": (0.40, 0.50, 0.10),
        "others": (0.25, 0.65, 0.10),
    },
    _without_target,
    _subcooling_spots,
    lambda context: in_operation(context) and not _has_target(context),
)


def _could_hide(context: RunContext) -> bool:
    """Whether the liquid is subcooled enough, or not known not to be, to lose pressure without feeling colder."""
    value = refrigerant.subcooling(context)
    return value is None or value.nominal_value + value.std_dev > context.practice.si("liquid_at_meter")


def _felt(check: str, context: RunContext, checks: Checks) -> str | None:
    """A drop that is felt says much; none felt says something only where the liquid can't hide one."""
    outcome = by_status(check, **{"pass": "none", "fail": "felt"})(context, checks)
    return None if outcome == "none" and _could_hide(context) else outcome


def _part_spots(part: Part | None, context: RunContext) -> list[Spot]:
    pair = context.circuit.ends(part) if context.circuit and part else None
    return temperatures(*pair) if pair else []


BYPASSED_DROP = Feature(
    "drop across the bypassed device",
    ("none", "felt"),
    {
        "none": "liquid passes the bypassed metering device unchanged",
        "felt": "temperature is lost in the bypassed metering device",
    },
    "Cold where there should be warm liquid, right behind the condenser: its check valve is closed.",
    {"bypass_stuck_closed": (0.20, 0.80), "others": (0.985, 0.015)},
    lambda context, checks: _felt("metering.bypass_drop", context, checks),
    lambda context: _part_spots(context.circuit.bypassed_part if context.circuit else None, context),
)
DRIER_DROP = Feature(
    "drop across the filter drier",
    ("none", "felt"),
    {
        "none": "liquid passes the filter drier unchanged",
        "felt": "temperature is lost across the filter drier",
    },
    "Liquid that flashes in the filter drier leaves it cold.",
    {"liquid_line_restriction": (0.20, 0.80), "others": (0.985, 0.015)},
    lambda context, checks: _felt("metering.drier_drop", context, checks),
    lambda context: _part_spots("drier", context),
)


def _tap_tells(context: RunContext, *, drier: bool) -> bool:
    """Whether the liquid line port carries liquid now, and the filter drier lies between it and the condenser or not."""
    circuit = context.circuit
    if circuit is None or not in_operation(context) or not circuit.is_on("liquid_service_tap", "high"):
        return False
    return ("drier" in circuit.before("liquid_service_tap")) == drier


_TAPS: list[Spot] = [("discharge_tap", "pressure"), ("liquid_service_tap", "pressure")]
_HEAD_WORDS = {
    "small": "discharge and liquid line port agree",
    "large": "much pressure is lost before the liquid line port",
}
_HEAD_REASON = (
    "Subcooled liquid hides a lost pressure from the clamps; a gauge at the liquid line port does not."
)
_head_to_liquid = by_status("metering.head_to_liquid", **{"pass": "small", "fail": "large"})
HEAD_TO_LIQUID_DRIER = Feature(
    "discharge to liquid line port, drier between",
    ("small", "large"),
    _HEAD_WORDS,
    _HEAD_REASON,
    {
        "bypass_stuck_closed": (0.08, 0.92),
        "liquid_line_restriction": (0.08, 0.92),
        "others": (0.98, 0.02),
    },
    _head_to_liquid,
    lambda context: _TAPS,
    lambda context: _tap_tells(context, drier=True),
)
HEAD_TO_LIQUID = Feature(
    "discharge to liquid line port",
    ("small", "large"),
    _HEAD_WORDS,
    _HEAD_REASON,
    {"bypass_stuck_closed": (0.08, 0.92), "others": (0.98, 0.02)},
    _head_to_liquid,
    lambda context: _TAPS,
    lambda context: _tap_tells(context, drier=False),
)
ACTIVE_DROP = Feature(
    "drop across the active device",
    ("full", "little"),
    {
        "full": "the active metering device shows its full drop",
        "little": "the active metering device shows little drop",
    },
    "A metering device that is wide open, or whose check valve leaks, meters nothing.",
    {
        "active_meter_overfeeding": (0.40, 0.60),
        "compressor_weak": (0.40, 0.60),
        "valve_bypassing/a little": (0.97, 0.03),
        "valve_bypassing": (0.85, 0.15),
        "others": (0.98, 0.02),
    },
    by_status("metering.active_drop", **{"pass": "full", "fail": "little"}),
    lambda context: _part_spots(context.circuit.active_part if context.circuit else None, context),
)


def _circuit_spots(context: RunContext) -> list[Spot]:
    circuit = context.circuit
    side = circuit.evaporator.removesuffix("_coil") if circuit else ""
    # A coaxial water coil has no circuits to clamp.
    if not side or "water" in medium_entering(context, f"{side}_coil"):
        return []
    return temperatures(*(f"{side}_circuit:{n}" for n in (1, 2, 3)))


CIRCUITS = Feature(
    "coil circuits",
    ("alike", "one off"),
    {"alike": "the coil's circuits are alike", "one off": "one circuit of the evaporator stands out warm"},
    "A circuit that gets no refrigerant stands out from its neighbors.",
    {"coil_circuit_starved": (0.04, 0.96), "others": (0.97, 0.03)},
    by_status("metering.circuits", **{"pass": "alike", "fail": "one off"}),
    _circuit_spots,
)
BULB = Feature(
    "bulb",
    ("loose", "in place"),
    {"loose": "the TXV bulb was found loose", "in place": "the TXV bulb is strapped and insulated"},
    "A bulb that does not feel the suction line lets the TXV open wide.",
    {"active_meter_overfeeding": (0.55, 0.45), "others": (0.03, 0.97)},
    lambda context, checks: (
        "loose"
        if "bulb_loose" in context.observed
        else "in place"
        if "bulb_loose" in context.looked_for
        else None
    ),
    lambda context: [],
    lambda context: in_operation(context) and not is_orifice(context),
    "bulb_loose",
)
HISSING = Feature(
    "hissing",
    ("heard", "not heard"),
    {
        "heard": "a metering device hisses: gas comes with the liquid",
        "not heard": "no metering device hisses",
    },
    "A metering device fed with liquid is quiet; flash gas hisses.",
    {
        **_starving(0.25, 0.75),
        "undercharge": (0.60, 0.40),
        "liquid_line_restriction": (0.50, 0.50),
        "active_meter_overfeeding": (0.30, 0.70),
        "undercharge/a little": (0.15, 0.85),
        "others": (0.08, 0.92),
    },
    lambda context, checks: "heard" if "hissing_at_meter" in context.observed else None,
    lambda context: [],
)

FEATURES: tuple[Feature, ...] = (
    FEEDING,
    FEEDING_ORIFICE,
    FEEDING_ORIFICE_HEATING,
    SUCTION,
    HEAD,
    SUBCOOLING,
    SUBCOOLING_UNTARGETED,
    BYPASSED_DROP,
    DRIER_DROP,
    HEAD_TO_LIQUID_DRIER,
    HEAD_TO_LIQUID,
    ACTIVE_DROP,
    CIRCUITS,
    BULB,
    HISSING,
)
