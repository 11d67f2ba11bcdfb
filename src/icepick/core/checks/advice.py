"""What the description of a unit gives away before anything is measured. [the-trade.md 2 to 5]"""

from __future__ import annotations

from collections.abc import Iterator

from icepick.core.circuit.graph import has_fixed_liquid_line
from icepick.core.document.examination import Advice
from icepick.core.document.visit import Unit
from icepick.core.practice import Practice


def advise(unit: Unit, practice: Practice) -> list[Advice]:
    """Advice on a unit, faults first, each with its reason.

    Parameters
    ----------
    unit : Unit
        The equipment.
    practice : Practice
        The limits in force.

    Returns
    -------
    list of Advice
        Empty where there is nothing to remark.
    """
    severity = {"fault": 0, "caution": 1, "missing": 2}
    return sorted(_advice(unit, practice), key=lambda advice: severity[advice.severity])


def _advice(unit: Unit, practice: Practice) -> Iterator[Advice]:
    if unit.drier.kind == "one_way" and has_fixed_liquid_line(unit):
        yield Advice(
            code="one_way_drier",
            severity="fault",
            text="One-way filter drier in a liquid line that reverses.",
            reason="When the flow reverses it lets go of what it caught. Install a bi-flow filter drier.",
        )
    if unit.drier.fitted and not has_fixed_liquid_line(unit):
        yield Advice(
            code="drier_without_liquid_line",
            severity="fault" if unit.drier.kind == "one_way" else "caution",
            text="A filter drier on a unit with no fixed liquid line.",
            reason="One metering device serves both ways, so every pipe carries vapor or mixture in one of the modes; "
            "a liquid-line drier does not belong there.",
        )
    kinds = {unit.indoor_meter.kind, unit.outdoor_meter.kind}
    if kinds & {"piston", "capillary"} and unit.accumulator is False:
        yield Advice(
            code="orifice_without_accumulator",
            severity="caution",
            text="A fixed orifice without an accumulator.",
            reason="In cold weather a fixed orifice lets liquid through; nothing here keeps it from the "
            "compressor.",
        )
    usual = "heating" if unit.layout == "ductless" else "cooling"
    if unit.reversing_valve.energized_in != usual:
        yield Advice(
            code="convention_unusual",
            severity="caution",
            text=f"The reversing valve is energized in {unit.reversing_valve.energized_in}; most units of this layout "
            f"energize it in {usual}.",
            reason="A wrong O/B setting makes a healthy unit run backwards. Check the unit's diagram.",
        )
    if unit.source == "water" and unit.defrost is not None and unit.defrost.method != "none":
        yield Advice(
            code="defrost_on_water",
            severity="caution",
            text="A defrost on a water-source unit.",
            reason="A water coil takes no frost from the air; set the defrost to none.",
        )
    long = practice.si("line_set_long")
    if unit.line_set_length is not None and unit.line_set_length.si > long:
        yield Advice(
            code="long_line_set",
            severity="caution",
            text="A long line set.",
            reason="The charge as shipped mostly covers a short line set alone: weigh in what the manufacturer states for "
            "the rest, and expect a few degrees more along the lines.",
        )
    yield from _missing(unit)


def _missing(unit: Unit) -> Iterator[Advice]:
    def missing(code: str, what: str, reason: str) -> Advice:
        return Advice(code=f"missing_{code}", severity="missing", text=f"Not given: {what}.", reason=reason)

    design = unit.design
    if unit.nominal_capacity is None:
        yield missing("capacity", "nominal capacity", "Heat moved is judged against it.")
    if unit.compressor.rated_current is None:
        yield missing("rated_current", "the compressor's rated load current", "Current is judged against it.")
    if unit.drier.kind == "unknown" and has_fixed_liquid_line(unit):
        yield missing(
            "drier",
            "whether a filter drier is fitted",
            "A drier that is not known of can't be checked for a temperature drop. Look along the liquid line.",
        )
    if unit.accumulator is None:
        yield missing(
            "accumulator", "whether an accumulator is fitted", "It keeps liquid from the compressor."
        )
    if design is None or design.cooling is None or design.cooling.subcooling is None:
        yield missing(
            "subcooling",
            "target subcooling in cooling",
            "Charge is judged against the manufacturer's figure.",
        )
    if unit.source == "air" and unit.defrost is None:
        yield missing("defrost", "how it defrosts", "A defrost is judged against its own settings.")
    if unit.source == "water" and (design is None or design.water_flow_table is None):
        yield missing(
            "water_flow_table",
            "the manufacturer's water flow table",
            "Water flow follows from its pressure drop.",
        )
    if unit.source == "water" and (design is None or design.heat_of_extraction is None):
        yield missing(
            "heat_of_extraction",
            "the manufacturer's heat of extraction",
            "The water side is held against it.",
        )
