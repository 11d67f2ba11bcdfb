"""What an attempt is worth can't be had by reading everything, by always saying the same, or by condemning early."""

import random
from statistics import mean

import pytest
from test_lessons import plan, said_of

from draws import few
from icepick.bench.acts import LookAt, RepairIt, Take, Wait
from icepick.bench.debrief import debrief
from icepick.bench.drawing import drawn
from icepick.bench.lessons import lessons
from icepick.bench.looks import looks_on
from icepick.bench.playing import do
from icepick.bench.saying import Saying, open_points
from icepick.bench.screen import readable

SOME = ("valve-3", "meter-7", "charge-5", "water-1")
NOTHING = Saying(faults=[], confidence=0.9)


def everything(case):
    """Every place read, everything looked at, nothing careful about it."""
    done = []
    if case.ran < 10:
        done.append(do(case, done, Wait(act="wait", minutes=10)))
    for look in looks_on(case):
        done.append(do(case, done, LookAt(act="look", look=look.code)))
    for station, quantity in readable(case):
        done.append(do(case, done, Take(act="take", station=station, quantity=quantity)))
    return done


def total(case, done, said, best):
    return debrief(case, done, said, "field", best).score.total


@pytest.mark.one_in(4)
@pytest.mark.parametrize("code", SOME)
def test_reading_everything_pays_less_than_reading_what_decides(code):
    case = lessons()[code].case
    best = plan(case)
    settled = not open_points(case, best.steps, said_of(case))
    well = total(case, best.steps, said_of(case, settled=settled), best)
    done = everything(case)
    all_of_it = total(case, done, said_of(case, settled=not open_points(case, done, said_of(case))), best)
    assert all_of_it <= well - 20


@pytest.mark.one_in(4)
@pytest.mark.parametrize("level", "ABCD")
def test_always_saying_nothing_wrong_does_not_pay(level):
    cases = [drawn(f"{level}-{seed}") for seed in range(few(4, 6))]
    best = [plan(case) for case in cases]
    # A look at the fan, and off to the next call.
    lazy = [
        total(case, [do(case, [], LookAt(act="look", look=looks_on(case)[0].code))], NOTHING, one)
        for case, one in zip(cases, best, strict=True)
    ]
    honest = [
        total(case, one.steps, said_of(case, settled=False), one)
        for case, one in zip(cases, best, strict=True)
    ]
    assert mean(lazy) < 40 < mean(honest) - 20


def test_a_part_condemned_with_a_rule_out_open_costs_most():
    case = lessons()["valve-3"].case
    best = plan(case)
    done = best.steps[:7]
    early = debrief(case, done, said_of(case), "field", best).score
    cost = {line.what: line.points for line in early.lines if line.points < 0}
    assert min(cost, key=cost.get) == "condemned too soon"
    # Replaced on the way, it is condemned by what was known then, whatever is said of it afterwards.
    replaced = [*done[:4], do(case, done[:4], RepairIt(act="repair", fault="valve_bypassing"))]
    on_the_way = debrief(case, replaced, said_of(case, settled=False), "field", best).score
    assert "condemned too soon" in {line.what for line in on_the_way.lines}
    only_named = total(case, done, said_of(case, settled=False), best)
    assert only_named > early.total
    # The other part thrown away besides.
    wrong = said_of(case).model_copy(update={"would_do": ["compressor_weak"]})
    assert debrief(case, done, wrong, "field", best).score.parts == ["compressor"]


def test_nobody_gains_by_saying_more_or_less_than_they_think():
    """A proper rule: whoever is right seven times in ten is paid best, on the whole, for saying so."""
    case = lessons()["valve-3"].case
    best = plan(case)

    def paid(said):
        lines = debrief(case, best.steps, said, "field", best).score.lines
        return next(line.points for line in lines if line.what == "how sure")

    def on_the_whole(confidence, chance):
        right = said_of(case, settled=False).model_copy(update={"confidence": confidence})
        wrong = NOTHING.model_copy(update={"confidence": confidence})
        return chance * paid(right) + (1 - chance) * paid(wrong)

    dice = random.Random(1)
    for chance in (0.55, 0.7, 0.9):
        honest = on_the_whole(chance, chance)
        for other in (dice.uniform(0.5, chance - 0.03), dice.uniform(chance + 0.03, 0.99)):
            assert on_the_whole(other, chance) < honest
