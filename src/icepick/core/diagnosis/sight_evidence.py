"""What is seen and heard of fans, coils, frost, bulbs and circuits. [the-trade.md 4 and 5]"""

from __future__ import annotations

from collections.abc import Callable

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import medium_entering
from icepick.core.diagnosis.evidence import Checks, Feature, Spot, by_status, in_operation, temperatures
from icepick.core.document.codes import SightCode
from icepick.core.indicators.metering import is_orifice

_ONE_OF = frozenset(
    {
        "outdoor_coil_clear",
        "outdoor_coil_frosted_even",
        "outdoor_coil_frosted_patchy",
        "outdoor_coil_iced_solid",
    }
)
"""A coil is one of these: where another was seen it is not asked for."""


def _seen(*codes: str) -> Callable[[RunContext, Checks], str | None]:
    def observe(context: RunContext, checks: Checks) -> str | None:
        if set(codes) & context.observed:
            return "seen"
        if codes[0] in _ONE_OF and _ONE_OF & context.observed:
            return "not seen"
        return "not seen" if codes[0] in context.looked_for else None

    return observe


def _sight(
    name: str,
    words: str,
    reason: str,
    rows: dict[str, float],
    others: float,
    *codes: SightCode,
    mode: str | None = None,
    look: bool = True,
) -> Feature:
    """Something seen: ``rows`` gives how likely it is to be seen under a fault, ``mode`` in which mode alone it can be;
    ``look`` whether it is worth asking for."""
    return Feature(
        name,
        ("seen", "not seen"),
        {"seen": words, "not seen": f"not: {words}"},
        reason,
        {**{fault: (p, 1 - p) for fault, p in rows.items()}, "others": (others, 1 - others)},
        _seen(*codes),
        lambda context: [],
        lambda context: in_operation(context) and mode in (None, context.running),
        codes[0] if look else None,
    )


OUTDOOR_FAN = Feature(
    "outdoor fan",
    ("runs", "stands still"),
    {
        "runs": "the outdoor fan runs",
        "stands still": "the outdoor fan does not run while the compressor does",
    },
    "A coil without its fan exchanges next to nothing: look before gauges.",
    {
        "outdoor_airflow_low": (0.35, 0.65),
        "outdoor_coil_frosted": (0.99, 0.01),
        "others": (0.997, 0.003),
    },
    by_status("outdoor.fan", **{"pass": "runs", "fail": "stands still"}),
    lambda context: [],
    lambda context: in_operation(context) and context.unit.source == "air",
    "outdoor_fan_stopped",
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
        "active_meter_underfeeding": (0.25, 0.75),
        "bypass_stuck_closed": (0.25, 0.75),
        "undercharge": (0.50, 0.50),
        "liquid_line_restriction": (0.50, 0.50),
        "active_meter_overfeeding": (0.30, 0.70),
        "others": (0.08, 0.92),
    },
    lambda context, checks: "heard" if "hissing_at_meter" in context.observed else None,
    lambda context: [],
)

FEATURES: tuple[Feature, ...] = (
    OUTDOOR_FAN,
    CIRCUITS,
    BULB,
    HISSING,
    _sight(
        "dirt indoors",
        "filter or indoor coil found dirty",
        "Look before gauges: dirt is the most common cause of too little air.",
        {"indoor_airflow_low": 0.60},
        0.06,
        "filter_dirty",
        "coil_dirty_indoor",
    ),
    _sight(
        "dirt outdoors",
        "outdoor coil found dirty",
        "Look before gauges: dirt on the outdoor coil keeps the air from it.",
        {"outdoor_airflow_low": 0.60},
        0.06,
        "coil_dirty_outdoor",
    ),
    _sight(
        "oil stain",
        "an oil stain at a joint or coil",
        "Oil leaves with the refrigerant: a stain marks a leak.",
        {"undercharge": 0.22},
        0.05,
        "oil_stain",
    ),
    _sight(
        "ice",
        "the outdoor coil is one block of ice",
        "Ice blocks the air and fills the accumulator; melt it before anything is measured.",
        {"outdoor_coil_frosted": 0.80, "undercharge": 0.05, "outdoor_airflow_low": 0.08},
        0.01,
        "outdoor_coil_iced_solid",
        mode="heating",
    ),
    _sight(
        "patchy frost",
        "frost on the outdoor coil is patchy",
        "Patchy frost that starts at the metering device speaks for charge or a starved circuit.",
        {"outdoor_coil_frosted": 0.30, "undercharge": 0.40, "coil_circuit_starved": 0.40},
        0.05,
        "outdoor_coil_frosted_patchy",
        mode="heating",
    ),
    _sight(
        "even frost",
        "frost on the outdoor coil is even",
        "Even frost says that every circuit is fed: look at air and defrost rather than at the charge.",
        {
            "outdoor_coil_frosted": 0.60,
            "outdoor_airflow_low": 0.40,
            "undercharge": 0.08,
            "coil_circuit_starved": 0.03,
            "active_meter_underfeeding": 0.08,
            "liquid_line_restriction": 0.08,
            "bypass_stuck_closed": 0.08,
        },
        0.30,
        "outdoor_coil_frosted_even",
        mode="heating",
        look=False,
    ),
)
