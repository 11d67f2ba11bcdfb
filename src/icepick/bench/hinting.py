"""A hint: what an expert would do next, from where the apprentice stands, and why."""

from __future__ import annotations

from collections.abc import Sequence

from icepick.bench.case import Case
from icepick.bench.plan import possible
from icepick.bench.playing import Done, visit_of
from icepick.bench.wording import step_words
from icepick.core.examine import examine

NOTHING_LEFT = (
    "What is left to read here would hardly change the answer: say it, or settle what rules a part out."
)


def hinted(case: Case, done: Sequence[Done]) -> str:
    """The next step an expert would take, in a sentence.

    Parameters
    ----------
    case : Case
        What is practiced on.
    done : sequence of Done
        The steps so far.

    Returns
    -------
    str
        With the planner's own reason.
    """
    found = examine(visit_of(case, done, after_only=True))
    step, why = next(possible(case, done, found), (None, ""))
    if step is None:
        return NOTHING_LEFT
    words = step_words(case, Done(step=step, began=0, ended=0, run=""))
    return f"{words[0].upper()}{words[1:]}. {why}".strip()
