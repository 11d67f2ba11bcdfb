"""What a unit in danger says of its faults: a gauge at the cutout or in a vacuum is not doubted because no machine of ours
goes so far. [the-trade.md 13]"""

from __future__ import annotations

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.evidence import Feature, by_status


def _running(context: RunContext) -> bool:
    return context.commanded is not None and not context.defrosting


HEAD = Feature(
    "head at the cutout",
    ("under it", "at it"),
    {"under it": "the head stays under the cutout", "at it": "the head stands at the cutout"},
    "Nothing but too little air or water, too much charge or noncondensables drives the head so high.",
    {
        "outdoor_airflow_low@cooling": (0.90, 0.10),
        "indoor_airflow_low@heating": (0.90, 0.10),
        "source_water_flow_low@cooling": (0.90, 0.10),
        "noncondensables": (0.95, 0.05),
        "overcharge": (0.95, 0.05),
        "others": (0.999, 0.001),
    },
    by_status("danger.head", fail="at it"),
    lambda context: [],
    _running,
)

VACUUM = Feature(
    "suction in a vacuum",
    ("above it", "in it"),
    {"above it": "suction stays above a vacuum", "in it": "suction stands in a vacuum"},
    "Only a circuit that is blocked, shut or all but empty is pumped down so far.",
    {
        "liquid_line_restriction": (0.92, 0.08),
        "undercharge": (0.95, 0.05),
        "active_meter_underfeeding": (0.95, 0.05),
        "bypass_stuck_closed": (0.95, 0.05),
        "others": (0.999, 0.001),
    },
    by_status("danger.vacuum", fail="in it"),
    lambda context: [],
    _running,
)

FEATURES: tuple[Feature, ...] = (HEAD, VACUUM)
