"""What the compressor pumps and draws."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.properties.quantities import Kind

LIMITS: tuple[Limit, ...] = (
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
        COMMON,
        "Share of the rated current below which a compressor runs unloaded, unless these conditions ask no more of it.",
    ),
    Limit(
        "full_speed_band",
        10,
        "percent",
        Kind.SHARE,
        "our own choice",
        "A variable-speed compressor within this of its rated speed runs at full load; otherwise its subcooling judges no "
        "charge.",
    ),
    Limit(
        "current_none",
        0.5,
        "A",
        Kind.CURRENT,
        COMMON,
        "Under this a compressor draws nothing: it does not run.",
    ),
    Limit(
        "lines_apart",
        10,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Hottest over coldest of the four pipes at the valve: this far apart something is pumped, however close the "
        "pressures.",
    ),
    Limit(
        "ratio_shortfall",
        15,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How far the compression ratio may fall short of what this unit should show in the conditions of the run.",
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
        "compressor_power_factor",
        0.95,
        "1",
        Kind.RATIO,
        COMMON,
        "Turns current times voltage into power where no power meter was at hand: a single-phase compressor with a run "
        "capacitor, near full load.",
        most=1,
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
        "ratio_excess",
        30,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How far the compression ratio may exceed what this unit should show in the conditions of the run.",
    ),
)
