"""Control voltages, the solenoid, fan and heat."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.properties.quantities import Kind

LIMITS: tuple[Limit, ...] = (
    Limit(
        "control_present",
        18,
        "V",
        Kind.VOLTAGE,
        COMMON,
        "24 V nominal: at this and above a control voltage is there.",
    ),
    Limit(
        "control_absent",
        5,
        "V",
        Kind.VOLTAGE,
        COMMON,
        "Under this a control voltage is absent; what a long wire picks up does not count.",
    ),
    Limit(
        "solenoid_open",
        500,
        "ohm",
        Kind.WINDING,
        COMMON,
        "A 24 V valve coil has some tens of ohms; above this it is open.",
    ),
    Limit(
        "solenoid_short",
        3,
        "ohm",
        Kind.WINDING,
        COMMON,
        "Below this the coil's windings are shorted.",
    ),
    Limit(
        "fan_current_none",
        0.1,
        "A",
        Kind.CURRENT,
        COMMON,
        "Under this an outdoor fan's motor draws nothing: it stands still.",
    ),
)
