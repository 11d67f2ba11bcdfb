"""What visits came to in the end, and how often what was said of them was right."""

from __future__ import annotations

from pydantic import AwareDatetime, BaseModel

from icepick.core.diagnosis.baseline import MOST_EARLIER
from icepick.core.document.examination import Fault
from icepick.core.document.outcome import Outcome, Said
from icepick.core.handbook.fault_pages import title
from icepick.core.scoring import Band, Scored, Share, score
from icepick.store.database import writing
from icepick.store.outcomes import ToldOutcome, all_outcomes, tell
from icepick.store.practice import practice
from icepick.store.summaries import lines_of
from icepick.store.visits import visits_before
from icepick.web.connection import connection, records_tag
from icepick.web.contract import Api
from icepick.web.examined import Followed, examined
from icepick.web.visit_view import found_visit

api = Api("outcomes")


class OutcomeTold(BaseModel):
    """The visit whose outcome was told."""

    visit: int


class FaultScoreView(BaseModel):
    """A fault: how often it was right where it was said first, how often it was found where it was so; how many visits it
    should have been by what was said, and how many it was."""

    fault: Fault
    title: str
    right: Share
    found: Share
    expected: float
    was: int


class ScoredVisit(BaseModel):
    """A visit that counts: what was said first and what it was; ``place`` is where the truth stood in the ranking, null where
    it was not in it."""

    visit: int
    opened_at: AwareDatetime
    site: str
    unit: str
    said: str
    probability: float
    was: str
    place: int | None


class ScoreView(BaseModel):
    """How often verdicts were right. ``scored`` visits are known well enough; of ``unsure`` ones an outcome was told and the
    fault not known, or guessed."""

    scored: int
    unsure: int
    first: Share
    among: Share
    expected: float
    bands: list[Band]
    faults: list[FaultScoreView]
    visits: list[ScoredVisit]


@api.endpoint(
    "put", "/visits/<int:visit_id>/outcome", accepts=Outcome, gives=OutcomeTold, needs="enter", computes=True
)
def tell_outcome(visit_id: int, body: Outcome) -> OutcomeTold:
    """Tell what it was in the end; a closed visit takes that too. Kept beside what had been said before."""
    found = found_visit(visit_id)
    before = visits_before(connection(), found, MOST_EARLIER)
    said = Said.of(examined(Followed(found, before), practice(connection()), "field"))
    with writing(connection()) as db:
        tell(db, visit_id, body, said)
    return OutcomeTold(visit=visit_id)


@api.endpoint("get", "/scores", gives=ScoreView, tag=records_tag)
def get_scores() -> ScoreView:
    """How often what was said was right, by what it was in the end."""
    told = all_outcomes(connection())
    known = [(one, scored) for one in told if (scored := _scored(one)) is not None]
    found = score([scored for _, scored in known])
    return ScoreView(
        scored=len(known),
        unsure=len(told) - len(known),
        first=found.first,
        among=found.among,
        expected=found.expected,
        bands=found.bands,
        faults=[FaultScoreView(title=title(one.fault), **one.model_dump()) for one in found.faults],
        visits=_visits(known),
    )


def _scored(one: ToldOutcome) -> Scored | None:
    truth, ranking = one.outcome.truth, {each.fault: each.probability for each in one.said.ranking}
    return Scored(ranking, truth) if truth is not None and ranking else None


def _visits(known: list[tuple[ToldOutcome, Scored]]) -> list[ScoredVisit]:
    lines = lines_of(connection(), [one.visit_id for one, _ in known])
    return [
        ScoredVisit.model_validate(
            {
                "visit": one.visit_id,
                **lines[one.visit_id],
                "said": title(scored.first),
                "probability": scored.ranking[scored.first],
                "was": title(scored.truth),
                "place": scored.place,
            }
        )
        for one, scored in known
        if one.visit_id in lines
    ]
