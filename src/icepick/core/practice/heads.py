"""Several heads on one outdoor unit: which of them refrigerant runs through."""

from icepick.core.practice.definition import Limit
from icepick.core.properties.quantities import Kind

_OURS = "our own choice"

LIMITS: tuple[Limit, ...] = (
    Limit(
        "head_fed",
        50,
        "percent",
        Kind.SHARE,
        f"physics; the threshold is {_OURS}",
        "How far a head's pipes stand from the air around them toward the refrigerant that the others run on. Over this "
        "share of the way refrigerant runs through it.",
    ),
    Limit(
        "head_fed_in_heating",
        35,
        "percent",
        Kind.SHARE,
        f"physics; the threshold is {_OURS}",
        "As head_fed, of a head that calls in heating: its liquid leaves well under its condensing temperature, and a pipe "
        "at less of the way is fed still.",
    ),
    Limit(
        "head_still",
        20,
        "percent",
        Kind.SHARE,
        f"physics; the threshold is {_OURS}",
        "Under this share of the way a head's pipes are at the temperature around them: nothing runs there.",
    ),
    Limit(
        "head_bleeds_most",
        85,
        "percent",
        Kind.SHARE,
        f"common practice that it bleeds; the threshold is {_OURS}",
        "In heating the EEV of an idle head stays open a little, so that the head does not fill with liquid. Its "
        "pipes then stand somewhere between; as warm as those of a head that calls, its valve passes too much.",
    ),
    Limit(
        "heads_superheat_apart",
        12,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _OURS,
        "In cooling each EEV holds the superheat of its own head. One that leaves with so much more than the others is "
        "fed less than its share.",
    ),
    Limit(
        "heads_subcooling_apart",
        12,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        _OURS,
        "In heating each EEV shares out the hot gas by the liquid it lets go. One head whose liquid leaves so much "
        "colder than the others' has less gas running through it.",
    ),
)
