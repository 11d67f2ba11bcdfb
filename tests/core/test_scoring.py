"""How often verdicts were right."""

import json

import pytest

from icepick.core.document.base import InvalidDocumentError, parse
from icepick.core.document.outcome import Outcome
from icepick.core.scoring import Scored, score, share
from lazily import Lazily

stats = Lazily("scipy.stats")


# Newcombe, Statistics in Medicine 17 (1998) 857, table I, method 3 (Wilson's score); the table from memory.
@pytest.mark.parametrize(
    ("count", "of", "low", "high"),
    [
        (81, 263, 0.2553, 0.3662),
        (15, 148, 0.0624, 0.1605),
        (0, 20, 0.0000, 0.1611),
        (1, 29, 0.0061, 0.1718),
    ],
)
def test_a_share_has_the_ends_that_are_published(count, of, low, high):
    found = share(count, of)
    assert (found.low, found.high) == (pytest.approx(low, abs=5e-5), pytest.approx(high, abs=5e-5))


@pytest.mark.parametrize(("count", "of"), [(1, 1), (3, 3), (7, 9), (40, 41), (0, 5)])
def test_and_those_that_another_library_finds(count, of):
    theirs = stats.binomtest(count, of).proportion_ci(0.95, method="wilson")
    ours = share(count, of)
    assert (ours.low, ours.high) == (
        pytest.approx(theirs.low, abs=1e-6),
        pytest.approx(theirs.high, abs=1e-6),
    )


def test_nothing_is_known_of_nothing():
    assert share(0, 0).model_dump() == {"count": 0, "of": 0, "low": 0.0, "high": 1.0}
    found = score([])
    assert (found.first.of, found.bands, found.faults) == (0, [], [])


def test_what_was_said_is_held_to_what_it_was():
    visits = [
        Scored({"undercharge": 0.9, "none": 0.1}, "undercharge"),
        Scored({"undercharge": 0.6, "overcharge": 0.3, "none": 0.1}, "overcharge"),
        Scored(
            {"undercharge": 0.55, "none": 0.25, "overcharge": 0.15, "noncondensables": 0.05},
            "noncondensables",
        ),
        Scored({"none": 1.0}, "none"),
        Scored({"none": 0.96, "undercharge": 0.04}, "valve_bypassing"),
    ]
    found = score(visits)
    assert (found.first.count, found.among.count, found.first.of) == (2, 3, 5)
    assert found.expected == pytest.approx(0.9 + 0.6 + 0.55 + 1.0 + 0.96)
    assert [(band.low, band.came.count, band.came.of) for band in found.bands] == [
        (0.5, 0, 2),
        (0.85, 1, 1),
        (0.95, 1, 2),
    ]
    assert found.bands[0].said == pytest.approx(0.575)
    of = {one.fault: one for one in found.faults}
    assert of["undercharge"].was == 1
    assert of["undercharge"].expected == pytest.approx(0.9 + 0.6 + 0.55 + 0.04)
    assert (of["undercharge"].right.count, of["undercharge"].right.of) == (1, 3)
    assert (of["undercharge"].found.count, of["undercharge"].found.of) == (1, 1)
    assert (of["overcharge"].found.count, of["overcharge"].right.of) == (0, 0)
    assert (of["valve_bypassing"].was, of["valve_bypassing"].expected) == (1, 0)


@pytest.mark.parametrize(
    ("told", "sentence"),
    [
        ({"fault": "undercharge", "certainty": None, "repair": "cured"}, "say how it is known"),
        ({"fault": None, "certainty": "seen", "repair": "cured"}, "say how it is known"),
        (
            {"fault": "undercharge", "certainty": "cured", "repair": "unchanged"},
            "changed nothing did not show",
        ),
        ({"fault": "gremlins", "certainty": "seen", "repair": "none"}, "is not one of"),
    ],
)
def test_an_outcome_that_contradicts_itself_is_refused(told, sentence):
    with pytest.raises(InvalidDocumentError, match=sentence):
        parse(Outcome, json.dumps(told))


def test_a_guess_is_no_truth():
    def told(certainty):
        return Outcome(fault="undercharge", certainty=certainty, repair="cured").truth

    assert (told("seen"), told("cured"), told("guessed")) == ("undercharge", "undercharge", None)
    assert Outcome(fault=None, certainty=None, repair="none").truth is None
