"""What is to be said of a run as its probes show it now: the examination there would be, had all of it been taken.

It follows no oftener than once a second, and takes no more than a fifth of a processor: a value that has moved by less than
half of what it may still move when it counts as settled is the value it was.
"""

from __future__ import annotations

from dataclasses import replace
from hashlib import blake2b
from time import monotonic

from pydantic import BaseModel

from icepick.core.diagnosis.baseline import MOST_EARLIER
from icepick.core.document.base import Document
from icepick.core.document.codes import RunId
from icepick.core.document.examination import Lead, NextReading, RankedFault, RunExamination, Status
from icepick.core.document.visit import Reading
from icepick.core.properties.quantities import UnitSystem
from icepick.probes.kits import method_of
from icepick.probes.listening import WIDTHS
from icepick.store.practice import practice
from icepick.store.visits import StoredVisit, visits_before
from icepick.web.connection import connection
from icepick.web.contract import Api
from icepick.web.examined import Followed, examined
from icepick.web.live import kit_of
from icepick.web.live_view import minutes_running, whole_of
from icepick.web.problems import problem
from icepick.web.recorder import Kit, in_unit, recorder, unit_at, within_limits
from icepick.web.visit_view import found_visit

api = Api("live findings")
_SHARE = 5
"""An examination is not followed by another before so many times what it took."""
_LEAST_S = 1.0


class FindingsAsked(Document):
    """Of which run; ``since`` is the revision that is shown already."""

    run: RunId
    since: str | None = None


class Findings(BaseModel):
    """What is said of the run as it is now. Before it has settled nothing is ranked and nothing asked for, and only a danger
    is told: ``lead`` is then ``danger``."""

    headline: str
    verdict: str
    lead: Lead
    outcome: Status
    ranking: list[RankedFault]
    next_readings: list[NextReading]
    run: RunExamination


class LiveFindings(BaseModel):
    """``findings`` are null where those of ``revision`` are shown already; ``still`` says why nothing is judged yet."""

    revision: str
    settled: bool
    still: str
    findings: Findings | None


@api.endpoint(
    "get",
    "/visits/<int:visit_id>/live/findings",
    gives=LiveFindings,
    asks=FindingsAsked,
    in_units=True,
    computes=True,
)
def get_findings(visit_id: int, asked: FindingsAsked, units: UnitSystem) -> LiveFindings:
    """What is to be said of a run as its probes show it now."""
    kit, found = kit_of(visit_id), found_visit(visit_id)
    if all(run.id != asked.run for run in found.document.runs):
        raise problem(404, f"Visit {visit_id} has no run {asked.run!r}.")
    told = whole_of(kit, recorder())
    with kit.examining:
        if monotonic() >= kit.examined_again_at:
            _hold(kit)
            kit.held_settled = told.settled
        settled = kit.held_settled and told.settled
        live = _as_shown(kit, found, asked.run, units)
        revision = blake2b(
            repr((live.document.model_dump_json(), settled, units, asked.run)).encode(), digest_size=12
        ).hexdigest()
        if revision == asked.since:
            return LiveFindings(revision=revision, settled=settled, still=told.words, findings=None)
        began = monotonic()
        findings = _findings(live, asked.run, units, settled, told.words)
        took = monotonic() - began
        kit.examined_again_at = max(kit.examined_again_at, monotonic() + max(_LEAST_S, _SHARE * took) - took)
    return LiveFindings(revision=revision, settled=settled, still=told.words, findings=findings)


def _hold(kit: Kit) -> None:
    """Keep each value until it has moved far enough to be another."""
    limits = recorder().limits()
    kept = {}
    for channel, place in kit.listening.places.items():
        track = kit.listening.track_of(channel)
        if track is None or track.state == "lost" or (level := track.level) is None:
            continue
        level = within_limits(level, place, kit.atmosphere)
        if level is None:
            continue
        before = kit.held.get(place)
        near = before is not None and abs(level - before) < 0.5 * limits.si(WIDTHS[track.measures])
        kept[place] = before if near and before is not None else level
    kit.held = kept


def _as_shown(kit: Kit, found: StoredVisit, run_id: str, units: UnitSystem) -> StoredVisit:
    """The visit as it would be with what the probes show in the place of what was read there."""
    shown = []
    for place, value in kit.held.items():
        unit = unit_at(place, units)
        number = round(in_unit(value, place, unit, kit.atmosphere), 1)
        shown.append(
            Reading.model_validate(
                {
                    "station": place[0],
                    "quantity": place[1],
                    "value": number,
                    "unit": unit,
                    "method": method_of(place),
                }
            )
        )
    minutes = minutes_running(kit, recorder())
    runs = []
    for run in found.document.runs:
        if run.id == run_id:
            typed = [one for one in run.readings if (one.station, one.quantity) not in kit.held]
            clock = {} if minutes is None else {"minutes_running": float(int(minutes)), "started_at": None}
            runs.append(run.model_copy(update={"readings": [*typed, *shown], **clock}))
        else:
            runs.append(run)
    return replace(found, document=found.document.model_copy(update={"runs": runs}))


def _findings(live: StoredVisit, run_id: str, units: UnitSystem, settled: bool, still: str) -> Findings:
    before = visits_before(connection(), live, MOST_EARLIER)
    found = examined(Followed(live, before), practice(connection()), units)
    run = next(one for one in found.runs if one.id == run_id)
    of = next((one for one in found.circuits if one.id == run.circuit), found)
    if not settled:
        # One that an earlier run showed is not this one's.
        here = any(check.code.startswith("danger.") and check.status == "fail" for check in run.checks)
        stop = here and of.lead == "danger"
        return Findings(
            headline=of.headline if stop else still,
            verdict=of.verdict if stop else still,
            lead="danger" if stop else "needed",
            outcome=of.outcome if stop else "needs_readings",
            ranking=[],
            next_readings=[],
            run=run,
        )
    return Findings(
        headline=of.headline,
        verdict=of.verdict,
        lead=of.lead,
        outcome=of.outcome,
        ranking=of.ranking,
        next_readings=of.next_readings,
        run=run,
    )
