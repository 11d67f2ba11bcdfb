"""What metering, checks, drier and charge leave in the readings. [trade.md sections 4 to 6]

Faults that starve the evaporator share one row wherever a reading can't tell them apart, so that they stay tied
until one is read that can.
"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.superheat import superheat_target
from icepick.core.circuit import Circuit, Part
from icepick.core.context import RunContext, remembered
from icepick.core.diagnosis.evidence import Checks, Feature, Spot, by_status, temperatures
from icepick.core.indicators import metering, refrigerant
from icepick.core.indicators.metering import working_meter
from icepick.core.indicators.valve import apparent_mode, running_circuit
from icepick.core.saturation import medium_entering, usual_split

_STARVING = ("active_meter_underfeeding", "bypass_stuck_closed", "liquid_line_restriction", "undercharge")


def _starving(*row: float) -> dict[str, tuple[float, ...]]:
    return dict.fromkeys(_STARVING, row)


def _clearly(value: UFloat, low: float, high: float) -> str | None:
    """``low``, ``usual`` or ``high`` where the band around a value leaves no doubt; None near an edge."""
    number, band = float(value.nominal_value), float(value.std_dev)
    if number + band < low:
        return "low"
    if number - band > high:
        return "high"
    return "usual" if low <= number <= high else None


@remembered
def _judgeable(context: RunContext) -> bool:
    """A settled run that goes the way it was told: only then do its coils and meters have their usual roles."""
    early = any(current.early for current in context.readings.all())
    return (
        context.commanded is not None
        and not early
        and apparent_mode(context) in (context.commanded, "unknown")
    )


def _is_orifice(context: RunContext) -> bool:
    meter = working_meter(context)
    return meter is not None and meter.kind in ("piston", "capillary")


def _feeding(context: RunContext, checks: Checks) -> str | None:
    value, target = refrigerant.superheat(context), superheat_target(context)
    if value is None or target is None or not _judgeable(context):
        return None
    limit = context.practice.si("superheat_tolerance")
    found = _clearly(value - target, -limit, limit)
    return {"low": "flooded", "usual": "right", "high": "starved"}.get(found or "")


def _feeding_in_heating(context: RunContext, checks: Checks) -> str | None:
    value = refrigerant.superheat(context)
    if value is None or not _judgeable(context):
        return None
    most = context.practice.si("superheat_target") + context.practice.si("superheat_tolerance")
    found = _clearly(value, -1e9, most)
    return {"usual": "fed", "high": "starved"}.get(found or "")


def _superheat_spots(context: RunContext) -> list[Spot]:
    circuit = running_circuit(context)
    if circuit is None:
        return []
    leaving = refrigerant.first_read(context, refrigerant.leaving_evaporator(context)) or circuit.return_port
    if refrigerant.low_side(context) is None:
        return temperatures(circuit.evaporator, leaving)
    return [*temperatures(leaving), ("common_suction_tap", "pressure")]


_FEEDING_WORDS = {
    "starved": "superheat is high: the evaporator starves",
    "right": "superheat is where it belongs",
    "flooded": "superheat is low: the evaporator floods",
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
        "others": (0.05, 0.90, 0.05),
    },
    _feeding,
    _superheat_spots,
    lambda context: context.commanded is not None and not _is_orifice(context),
)
FEEDING_ORIFICE = Feature(
    "feeding of an orifice, cooling",
    ("starved", "right", "flooded"),
    _FEEDING_WORDS,
    "An orifice passes what the charge and the conditions push through it: hold its superheat to the target.",
    {
        "none": (0.03, 0.94, 0.03),
        **_starving(0.90, 0.09, 0.01),
        "active_meter_overfeeding": (0.01, 0.14, 0.85),
        "overcharge": (0.01, 0.24, 0.75),
        "coil_circuit_starved": (0.10, 0.50, 0.40),
        "compressor_weak": (0.05, 0.55, 0.40),
        "others": (0.06, 0.88, 0.06),
    },
    _feeding,
    lambda context: [
        *_superheat_spots(context),
        ("return_air", "wet_bulb"),
        ("outdoor_air_in", "temperature"),
    ],
    lambda context: context.commanded == "cooling" and _is_orifice(context),
)
FEEDING_ORIFICE_HEATING = Feature(
    "feeding of an orifice, heating",
    ("starved", "fed"),
    {
        "starved": _FEEDING_WORDS["starved"],
        "fed": "the evaporator is fed; no superheat is no fault in heating",
    },
    "A fixed orifice in cold heating runs near zero superheat, healthy; much superheat is not.",
    {"none": (0.03, 0.97), **_starving(0.90, 0.10), "others": (0.06, 0.94)},
    _feeding_in_heating,
    _superheat_spots,
    lambda context: context.commanded == "heating" and _is_orifice(context),
)


def _split_spots(context: RunContext, circuit: Circuit, coil: str) -> list[Spot]:
    return temperatures(coil, medium_entering(context, coil))


def _suction(context: RunContext, checks: Checks) -> str | None:
    circuit, low = running_circuit(context), refrigerant.low_side(context)
    if circuit is None or low is None or not _judgeable(context) or context.run.mode == "defrost":
        return None
    entering = context.temperature(medium_entering(context, circuit.evaporator))
    if entering is None:
        return None
    usual, far = usual_split(context, circuit, "low"), context.practice.si("split_deviation")
    found = _clearly(entering - low.dew, usual - far, usual + far)
    return {"low": "high", "high": "low"}.get(found or "", found)


SUCTION = Feature(
    "evaporating temperature",
    ("low", "usual", "high"),
    {
        "low": "it evaporates far below what enters the evaporator",
        "usual": "the evaporating temperature is as usual",
        "high": "it evaporates close to what enters the evaporator",
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
        "others": (0.06, 0.88, 0.06),
    },
    _suction,
    lambda context: _split_spots(context, c, c.evaporator) if (c := running_circuit(context)) else [],
)


def _head(context: RunContext, checks: Checks) -> str | None:
    circuit, high = running_circuit(context), refrigerant.high_side(context)
    if circuit is None or high is None or not _judgeable(context) or context.run.mode == "defrost":
        return None
    entering = context.temperature(medium_entering(context, circuit.condenser))
    if entering is None:
        return None
    usual, far = usual_split(context, circuit, "high"), context.practice.si("split_deviation")
    return _clearly(high.bubble - entering, usual - far, usual + far)


HEAD = Feature(
    "condensing temperature",
    ("low", "usual", "high"),
    {
        "low": "it condenses close to what enters the condenser",
        "usual": "the condensing temperature is as usual",
        "high": "it condenses far above what enters the condenser",
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
        "others": (0.06, 0.88, 0.06),
    },
    _head,
    lambda context: _split_spots(context, c, c.condenser) if (c := running_circuit(context)) else [],
)


def _subcooling(context: RunContext, checks: Checks) -> str | None:
    value = refrigerant.subcooling(context)
    circuit = running_circuit(context)
    if value is None or circuit is None or not _judgeable(context):
        return None
    design = context.unit.design
    targets = (design.cooling if circuit.mode == "cooling" else design.heating) if design else None
    target = (
        targets.subcooling.si
        if targets is not None and targets.subcooling is not None
        else context.practice.si("subcooling_target")
    )
    limit = context.practice.si("subcooling_deviation")
    return _clearly(value - target, -limit, limit)


def _subcooling_spots(context: RunContext) -> list[Spot]:
    circuit = running_circuit(context)
    if circuit is None:
        return []
    liquid = refrigerant.liquid_stations(context)
    station = refrigerant.first_read(context, liquid) or (
        "liquid_line_outdoor" if "liquid_line_outdoor" in liquid else liquid[0]
    )
    if refrigerant.high_side(context) is None:
        return temperatures(circuit.condenser, station)
    tap = "liquid_service_tap" if "liquid_line_outdoor" in liquid else "discharge_tap"
    return [*temperatures(station), (tap, "pressure")]


_SUBCOOLING_WORDS = {
    "low": "subcooling is low",
    "usual": "subcooling is where it belongs",
    "high": "subcooling is high: liquid backs up",
}
SUBCOOLING = Feature(
    "subcooling in cooling",
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
    _subcooling,
    _subcooling_spots,
    lambda context: context.commanded == "cooling",
)
SUBCOOLING_HEATING = Feature(
    "subcooling in heating",
    ("low", "usual", "high"),
    _SUBCOOLING_WORDS,
    "How much sits in the accumulator is not known in heating, so subcooling says little of the charge; liquid that backs "
    "up still speaks against too little of it.",
    {
        "none": (0.20, 0.65, 0.15),
        **_starving(0.04, 0.48, 0.48),
        "undercharge": (0.50, 0.42, 0.08),
        "overcharge": (0.08, 0.52, 0.40),
        "noncondensables": (0.08, 0.52, 0.40),
        "active_meter_overfeeding": (0.40, 0.50, 0.10),
        "others": (0.20, 0.65, 0.15),
    },
    _subcooling,
    _subcooling_spots,
    lambda context: context.commanded == "heating",
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
    pair = metering.ends(context, part) if part else None
    return temperatures(*pair) if pair else []


IDLE_DROP = Feature(
    "idle meter's drop",
    ("none", "felt"),
    {"none": "the idle meter lets liquid pass unchanged", "felt": "temperature is lost in the idle meter"},
    "Cold where there should be warm liquid, right behind the condenser: its check is shut.",
    {"bypass_stuck_closed": (0.20, 0.80), "others": (0.985, 0.015)},
    lambda context, checks: _felt("metering.bypass_drop", context, checks),
    lambda context: _part_spots(metering.idle_part(context), context),
)
DRIER_DROP = Feature(
    "drier's drop",
    ("none", "felt"),
    {"none": "the drier lets liquid pass unchanged", "felt": "temperature is lost across the drier"},
    "Liquid that flashes in the drier leaves it cold.",
    {"liquid_line_restriction": (0.20, 0.80), "others": (0.985, 0.015)},
    lambda context, checks: _felt("metering.drier_drop", context, checks),
    lambda context: _part_spots("drier", context),
)


def _tap_covers_drier(context: RunContext) -> bool:
    """Whether the drier lies between the condenser and the liquid service tap in this mode."""
    place = "outdoor_unit" if context.commanded == "cooling" else "line_set"
    return context.unit.drier.kind != "none" and context.unit.drier.place == place


def _has_liquid_tap(context: RunContext) -> bool:
    circuit = context.circuit
    return circuit is not None and any(
        t.tap == "liquid_service_tap" and t.role == "high" for t in circuit.taps
    )


_TAPS: list[Spot] = [("discharge_tap", "pressure"), ("liquid_service_tap", "pressure")]
_HEAD_WORDS = {"small": "head and liquid tap agree", "large": "much pressure is lost before the liquid tap"}
_HEAD_REASON = (
    "A subcooled liquid hides a lost pressure from the clamps; the gauge at the liquid tap does not."
)
_head_to_liquid = by_status("metering.head_to_liquid", **{"pass": "small", "fail": "large"})
HEAD_TO_LIQUID_DRIER = Feature(
    "head to liquid tap, drier between",
    ("small", "large"),
    _HEAD_WORDS,
    _HEAD_REASON,
    {
        "bypass_stuck_closed": (0.08, 0.92),
        "liquid_line_restriction": (0.10, 0.90),
        "others": (0.98, 0.02),
    },
    _head_to_liquid,
    lambda context: _TAPS,
    lambda context: _has_liquid_tap(context) and _tap_covers_drier(context),
)
HEAD_TO_LIQUID = Feature(
    "head to liquid tap",
    ("small", "large"),
    _HEAD_WORDS,
    _HEAD_REASON,
    {"bypass_stuck_closed": (0.08, 0.92), "others": (0.98, 0.02)},
    _head_to_liquid,
    lambda context: _TAPS,
    lambda context: _has_liquid_tap(context) and not _tap_covers_drier(context),
)
ACTIVE_DROP = Feature(
    "working meter's drop",
    ("full", "little"),
    {"full": "the working meter shows its full drop", "little": "the working meter shows little drop"},
    "A meter that is gone round, or stands wide open, meters nothing.",
    {
        "active_meter_overfeeding": (0.40, 0.60),
        "compressor_weak": (0.40, 0.60),
        "valve_bypassing/a little": (0.97, 0.03),
        "valve_bypassing": (0.85, 0.15),
        "others": (0.98, 0.02),
    },
    by_status("metering.active_drop", **{"pass": "full", "fail": "little"}),
    lambda context: _part_spots(metering.active_part(context), context),
)


def _circuit_spots(context: RunContext) -> list[Spot]:
    circuit = running_circuit(context)
    side = circuit.evaporator.removesuffix("_coil") if circuit else ""
    return temperatures(*(f"{side}_circuit:{n}" for n in (1, 2, 3))) if side else []


CIRCUITS = Feature(
    "coil circuits",
    ("alike", "one off"),
    {"alike": "the coil's circuits are alike", "one off": "one circuit of the evaporator stands out warm"},
    "A circuit that gets no refrigerant stands out from its neighbours.",
    {"coil_circuit_starved": (0.04, 0.96), "others": (0.97, 0.03)},
    by_status("metering.circuits", **{"pass": "alike", "fail": "one off"}),
    _circuit_spots,
)
BULB = Feature(
    "bulb",
    ("loose", "in place"),
    {"loose": "the bulb was found loose", "in place": "the bulb sits where it should"},
    "A bulb that does not feel the suction line lets the valve stand open.",
    {"active_meter_overfeeding": (0.55, 0.45), "others": (0.03, 0.97)},
    lambda context, checks: "loose" if "bulb_loose" in context.observed else None,
    lambda context: [],
)

FEATURES: tuple[Feature, ...] = (
    FEEDING,
    FEEDING_ORIFICE,
    FEEDING_ORIFICE_HEATING,
    SUCTION,
    HEAD,
    SUBCOOLING,
    SUBCOOLING_HEATING,
    IDLE_DROP,
    DRIER_DROP,
    HEAD_TO_LIQUID_DRIER,
    HEAD_TO_LIQUID,
    ACTIVE_DROP,
    CIRCUITS,
    BULB,
)
