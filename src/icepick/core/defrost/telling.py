"""One defrost in a line of words, the same on the walk and in the report."""

from __future__ import annotations

from icepick.core.document.examination import Measured, PlainQuantity, SeenDefrost
from icepick.core.document.words import ENDED_BY
from icepick.core.properties.quantities import SYMBOLS


def told(one: SeenDefrost) -> str:
    """A defrost in words; what is not known is left out.

    Parameters
    ----------
    one : SeenDefrost
        A defrost of a recording.

    Returns
    -------
    str
        Without a full stop.
    """
    begun = "begun before the recording" if one.started is None else f"begun at {clock(one.started)}"
    ended = "not seen to end"
    if one.ended is not None:
        ended = f"ended at {clock(one.ended)} by {ENDED_BY[one.ended_by]}"
    parts = [
        begun,
        f"after {_plain(one.run_before)} min in heating" if one.run_before is not None else "",
        f"frost had made the coil {_about(one.frost_before)} colder" if _proved(one.frost_before) else "",
        f"taking {_about(one.air_lost)} of its air" if _proved(one.air_lost) else "",
        "" if one.shifted else "the valve did not shift",
        ended,
        f"coil up to {_said(one.coil_highest)}" if one.coil_highest else "",
        f"supply air down to {_said(one.supply_air_lowest)}" if one.supply_air_lowest else "",
        {True: "came clear", False: "frost left", None: ""}[one.cleared],
    ]
    return f"Defrost {', '.join(part for part in parts if part)}"


def _proved(found: Measured | None) -> bool:
    """Whether it is more than its own doubt."""
    return found is not None and found.value > found.uncertainty


def _about(found: Measured | None) -> str:
    assert found is not None
    places = 1 if found.value < 10 else 0
    return f"{found.value:.{places}f} ± {found.uncertainty:.{places}f} {SYMBOLS[found.unit]}".rstrip()


def _said(found: PlainQuantity) -> str:
    return f"{_plain(found.value)} {SYMBOLS[found.unit]}"


def _plain(value: float) -> str:
    return f"{value:.1f}".rstrip("0").rstrip(".").replace("-", "−")


def clock(seconds: float) -> str:
    """A moment of a recording as a clock shows it: 1:02:05, or 4:07."""
    minutes, rest = divmod(round(seconds), 60)
    hours, minutes = divmod(minutes, 60)
    return f"{hours}:{minutes:02}:{rest:02}" if hours else f"{minutes}:{rest:02}"
