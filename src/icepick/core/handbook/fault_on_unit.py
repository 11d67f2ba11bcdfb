"""What the Handbook says of a fault, said of one unit: by the parts it has, on the side where the fault shows."""

from __future__ import annotations

from icepick.core.circuit.graph import meters
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.document.wording import device
from icepick.core.handbook.fault_pages import PAGES, title


def title_on(unit: Unit, fault: Fault, mode: FlowMode | None) -> str:
    """What a technician calls the fault on this unit: a metering device by its kind and side, where the mode tells which
    one it is.

    Parameters
    ----------
    unit : Unit
        The equipment.
    fault : Fault
        Code of the fault.
    mode : FlowMode or None
        The mode in which it shows; None where that is not known.

    Returns
    -------
    str
        For a ticket.
    """
    if mode is None:
        return title(fault)
    active, bypassed = meters(unit, mode)
    if fault in ("active_meter_underfeeding", "active_meter_overfeeding"):
        return f"{device(unit, active)} {fault.removeprefix('active_meter_')}"
    if fault == "bypass_stuck_closed" and bypassed is not None:
        return f"{device(unit, bypassed)}'s check valve stuck closed"
    return title(fault)


def first_step(unit: Unit, fault: Fault, mode: FlowMode | None) -> str:
    """What to do first about a fault on this unit: of its own parts.

    Parameters
    ----------
    unit : Unit
        The equipment.
    fault : Fault
        Code of the fault.
    mode : FlowMode or None
        The mode in which it shows; None where that is not known.

    Returns
    -------
    str
        A sentence.
    """
    fitted = {"indoor": unit.indoor_meter, "outdoor": unit.outdoor_meter}
    kinds = [fitted[meters(unit, mode)[0]].kind] if mode is not None else []
    page = PAGES[fault]
    found = (page.first_on.get(kind) for kind in (*kinds, unit.compressor.kind))
    return next((words for words in found if words is not None), page.first)
