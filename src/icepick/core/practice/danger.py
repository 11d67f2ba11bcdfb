"""What stops a unit at once, settled or not. [the-trade.md 13]"""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.properties.quantities import Kind

_CUTOUT = "the lowest setting usual for its cutout"
_MEMORY = "common practice; figure from memory"

LIMITS: tuple[Limit, ...] = (
    Limit(
        "head_most_410A",
        600,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        _MEMORY,
        f"Gauge pressure of R-410A, R-32 or R-454B at {_CUTOUT}: it should have stopped by itself.",
    ),
    Limit(
        "head_most_22",
        400,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        _MEMORY,
        f"Gauge pressure of R-22, R-407C or R-290 at {_CUTOUT}: it should have stopped by itself.",
    ),
    Limit(
        "head_most_134a",
        250,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        _MEMORY,
        f"Gauge pressure of R-134a or R-513A at {_CUTOUT}: it should have stopped by itself.",
    ),
    Limit(
        "head_beyond_belief",
        40,
        "percent",
        Kind.SHARE,
        "our own choice",
        "A gauge so far over the cutout is misread before the unit is in danger: no machine gets there.",
    ),
    Limit(
        "discharge_most",
        225,
        "degF",
        Kind.TEMPERATURE,
        _MEMORY,
        "Discharge line at the compressor: hotter than this, oil breaks down. A clamp a hand's width away reads lower, by up "
        "to 50 °F (28 °C) against the gas inside.",
    ),
    Limit(
        "discharge_most_32",
        240,
        "degF",
        Kind.TEMPERATURE,
        _MEMORY,
        "The same of R-32, which leaves every compressor hotter; oils and compressors made for it bear more.",
    ),
    Limit(
        "discharge_beyond",
        25,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "A unit may run over its discharge limit where, sound, it would in such weather; so far over it nothing excuses it.",
    ),
    Limit(
        "current_over",
        40,
        "percent",
        Kind.SHARE,
        _MEMORY,
        "Compressor current over the rated load current by so much is past its maximum continuous current (1.4 to 1.56 times "
        "the rated one). The rated current itself is no ceiling.",
    ),
    Limit(
        "current_locked",
        150,
        "percent",
        Kind.SHARE,
        _MEMORY,
        "Compressor current over the rated load current by more than this: the rotor is locked (and draws 4 to 8 times it).",
    ),
    Limit(
        "discharge_superheat_least",
        15,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _MEMORY,
        "Discharge line over condensing: below this, with no superheat, the compressor is cold and swallows "
        "liquid. Sound ones run 40 to 80 °F (22 to 44 °C) over it.",
    ),
    Limit(
        "flooded_start",
        3,
        "min",
        Kind.TIME,
        COMMON,
        "Liquid that comes back for so long after a start is usual: it goes by itself.",
    ),
)
