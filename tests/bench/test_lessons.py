"""Every lesson is solvable by its key reading: an expert who knows nothing of the truth goes through them all.

The expert is the next-reading planner of the diagnosis; the truth is the case's own.
"""

from functools import cache

import pytest

from icepick.bench import plan as planner
from icepick.bench.debrief import debrief
from icepick.bench.lessons import groups, lessons
from icepick.bench.playing import visit_of
from icepick.bench.saying import SaidFault, Saying, band_of, open_points
from icepick.core.diagnosis.rule_outs import by_hand
from icepick.core.examine import examine


@cache
def _planned(code):
    return planner.plan(lessons()[code].case)


def plan(case, *without):
    """An expert's way; that through a lesson's own case is worked out once for all who ask."""
    code = next((code for code, one in lessons().items() if one.case is case), None)
    return _planned(code) if code and not without else planner.plan(case, *without)


LESSONS = pytest.mark.parametrize("code", list(lessons()))


def solved(case, found):
    return found.decided is not None and set(found.said) == set(case.truth)


def said_of(case, *, settled=True):
    """The truth, said in full by somebody who is sure of it."""
    return Saying(
        faults=[SaidFault(fault=t.fault, where=t.where, band=band_of(t)) for t in case.troubles],
        confidence=0.97,
        ruled_out=sorted({text for t in case.troubles for text in by_hand(t.fault)}),
        would_do=[t.fault for t in case.troubles] if settled else [],
    )


def test_there_are_forty_in_the_order_of_the_trade():
    assert len(lessons()) >= 40
    order = [group.code for group in groups()]
    assert [one.group for one in lessons().values()] == sorted(
        (one.group for one in lessons().values()), key=order.index
    )
    assert set(order) == {one.group for one in lessons().values()}
    for lesson in lessons().values():
        # The title and what the customer says give nothing away.
        words = f"{lesson.case.title} {lesson.case.told}".lower()
        for fault in lesson.case.truth:
            assert fault.replace("_", " ") not in words


def odds(case, steps):
    found = examine(visit_of(case, steps))
    share = sum(one.probability for one in found.ranking if one.fault in case.truth)
    return share / max(1 - share, 1e-6)


def clearer_by_it(case, steps, is_key):
    """By how much the truth's odds grew from before the key reading to after it."""
    at = [n for n, one in enumerate(steps) if is_key(one.step)]
    return odds(case, steps[: at[-1] + 1]) / odds(case, steps[: at[0]])


@pytest.mark.one_in(12)
@LESSONS
def test_an_expert_finds_it_by_its_key_reading(code):
    lesson = lessons()[code]
    case = lesson.case
    best = plan(case)
    assert solved(case, best), (best.said, best.decided)
    assert any(lesson.is_key(one.step) for one in best.steps)
    if case.truth == ["none"] and case.exchanged is None:
        return  # What is sound is so by everything that is read.
    without = plan(case, lesson.is_key)
    assert not any(lesson.is_key(one.step) for one in without.steps)
    assert not solved(case, without) or clearer_by_it(case, best.steps, lesson.is_key) > 2


@pytest.mark.one_in(12)
@LESSONS
def test_who_works_as_an_expert_does_is_well_paid(code):
    case = lessons()[code].case
    best = plan(case)
    settled = not open_points(case, best.steps, said_of(case))
    found = debrief(case, best.steps, said_of(case, settled=settled), "field", best)
    assert found.score.right
    assert found.score.total >= 95, found.score.lines
    assert found.decidable is not None
    assert len(found.own) == len(best.steps)
