"""Part of a recording: as a screen draws it, and its mean as readings of a run."""

from __future__ import annotations

from datetime import timedelta
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field, FiniteFloat

from icepick.core.document.base import Document
from icepick.core.document.codes import RunId
from icepick.core.document.recording import LONGEST, allowed
from icepick.core.document.stations import station
from icepick.core.document.visit import Reading
from icepick.core.properties.quantities import DISPLAY_UNITS, UnitSystem, from_si, to_si
from icepick.store import samples
from icepick.store.database import writing
from icepick.store.recordings import StoredRecording
from icepick.store.samples import Array, SeriesHead, Window, thinned
from icepick.web.changes import look_ahead
from icepick.web.connection import connection
from icepick.web.contract import Api, EntryKey
from icepick.web.live import Taken
from icepick.web.problems import problem
from icepick.web.visit_view import found_visit
from icepick.web.visits import enter_together

api = Api("windows")

Seconds = Annotated[FiniteFloat, Field(ge=0, le=LONGEST)]


class WindowAsked(Document):
    """From second to second, both included, in ``most`` moments at most."""

    begin: Seconds = 0
    end: Seconds = LONGEST
    most: Annotated[int, Field(ge=2, le=20_000)] = 1500


class WindowSeries(BaseModel):
    """A series of a window, a value for each of its moments or null where there is none."""

    station: str
    quantity: str
    unit: str
    values: list[float | None]


class WindowShown(BaseModel):
    """Part of a recording. ``grows`` is whether it is still being recorded; ``every`` how many moments became one."""

    seconds: list[float]
    series: list[WindowSeries]
    grows: bool
    every: int


class Means(Document):
    """Take the means of a window as readings of a run."""

    run: RunId
    entry_key: EntryKey
    begin: Seconds
    end: Seconds


def _stored(visit_id: int, recording: str) -> StoredRecording:
    for one in found_visit(visit_id).recordings:
        if one.recording.id == recording:
            return one
    raise problem(404, f"Visit {visit_id} has no recording {recording!r}.")


def _window(one: StoredRecording, begin: float, end: float) -> Window:
    """All of its samples between two seconds, one clock for all series."""
    recorded = samples.window(connection(), one.row, begin, end)
    if recorded.series:
        return recorded
    series = one.recording.series
    every = [np.array(each.seconds) for each in series]
    seconds = np.unique(np.concatenate(every)) if every else np.zeros(0)
    seconds = seconds[(seconds >= begin) & (seconds <= end)]
    values = np.full((len(series), seconds.size), np.nan)
    for row, (each, moments) in enumerate(zip(series, every, strict=True)):
        inside = (moments >= begin) & (moments <= end)
        values[row, np.searchsorted(seconds, moments[inside])] = np.array(each.values)[inside]
    heads = tuple(SeriesHead(each.station, each.quantity, each.unit, each.method) for each in series)
    return Window(heads, seconds, values)


def _in_display(head: SeriesHead, values: Array, units: UnitSystem) -> tuple[str, Array]:
    kind = allowed(head.station, head.quantity).kind
    unit = DISPLAY_UNITS[units][kind]
    if unit == head.unit:
        return unit, values
    # Units are straight lines of each other.
    nothing, one = (from_si(to_si(at, head.unit, kind), unit, kind) for at in (0.0, 1.0))
    shown: Array = nothing + (one - nothing) * values
    return unit, shown


@api.endpoint(
    "get",
    "/visits/<int:visit_id>/recordings/<recording>/window",
    gives=WindowShown,
    asks=WindowAsked,
    in_units=True,
)
def get_window(visit_id: int, recording: str, asked: WindowAsked, units: UnitSystem) -> WindowShown:
    """Part of a recording, thinned out for a screen."""
    one = _stored(visit_id, recording)
    window = _window(one, asked.begin, asked.end)
    every = -(-window.seconds.size // asked.most) or 1
    seconds, values = window.seconds, window.values
    if every > 1:
        seconds, values = thinned(seconds, values, every)
    shown = []
    for head, row in zip(window.series, values, strict=True):
        unit, numbers = _in_display(head, row, units)
        rounded = np.round(numbers, 2).tolist()
        shown.append(
            WindowSeries(
                station=head.station,
                quantity=head.quantity,
                unit=unit,
                values=[None if value != value else value for value in rounded],
            )
        )
    return WindowShown(seconds=np.round(seconds, 3).tolist(), series=shown, grows=one.grows, every=every)


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/recordings/<recording>/means",
    accepts=Means,
    gives=Taken,
    needs="enter",
    in_units=True,
    status=201,
    then=look_ahead,
)
def take_means(visit_id: int, recording: str, body: Means, units: UnitSystem) -> Taken:
    """Take the means of a window of a recording as readings of a run."""
    one = _stored(visit_id, recording)
    if body.end <= body.begin:
        raise problem(422, "The window ends before it begins.")
    window = _window(one, body.begin, body.end)
    at = one.recording.started_at + timedelta(seconds=(body.begin + body.end) / 2)
    readings, left_out = [], []
    for head, row in zip(window.series, window.values, strict=True):
        if head.quantity not in station(head.station).quantities:
            continue
        there = row[np.isfinite(row)]
        if not there.size:
            left_out.append(head.station)
            continue
        unit, shown = _in_display(head, there.mean(keepdims=True), units)
        readings.append(
            Reading.model_validate(
                {
                    "station": head.station,
                    "quantity": head.quantity,
                    "value": round(float(shown[0]), 2),
                    "unit": unit,
                    "method": head.method,
                    "at": at,
                }
            )
        )
    if not readings:
        raise problem(422, "Nothing was recorded between these seconds.")
    content = f"{visit_id} {recording} {body.run} {body.begin} {body.end}"
    with writing(connection()):
        taken = enter_together(visit_id, body.run, readings, body.entry_key, content)
    return Taken(taken=taken, left_out=left_out)
