"""The solver finds roots that are known without it, each system at its own pace."""

import numpy as np
import pytest

from icepick.core.machine.solver import solve

FAR = np.array([2.0])


def steep(unknown, which):
    """arctan: from beyond 1.4 a whole step of Newton lands farther off on the other side, again and again. [known]"""
    return np.arctan(unknown)


@pytest.mark.parametrize("systems", [1, 40, 300])
def test_a_step_that_leads_away_is_shortened_however_many_there_are(systems):
    """Few systems try several lengths at once, many one after the other: they arrive alike."""
    found = solve(steep, np.linspace(2, 3, systems)[None], np.array([50.0]), tolerance=1e-9)
    assert found.converged.all()
    assert np.abs(found.unknown).max() < 1e-8


def test_a_system_that_has_no_root_says_so_and_holds_up_no_other():
    rest = np.array([-4.0, 1.0, -4.0])
    found = solve(lambda unknown, which: unknown**2 + rest[which], np.array([[3.0, 3.0, 5.0]]), FAR)
    assert found.converged.tolist() == [True, False, True]
    assert found.unknown[0, [0, 2]] == pytest.approx([2, 2])


def test_a_system_that_waits_begins_where_another_ended():
    """Cube roots of 1, 8, 27, 64: each begun at the one before, the first two side by side."""
    wanted, began = np.array([1.0, 8.0, 27.0, 64.0]), {}

    def onward(ended, unknown, well):
        assert well.all()
        follow = [one + 2 for one in ended if one + 2 < wanted.size]
        began.update({one + 2: float(x) for one, x in zip(ended, unknown[0], strict=True)})
        return np.array(follow, dtype=np.intp), unknown[:, [one + 2 < wanted.size for one in ended]]

    found = solve(
        lambda unknown, which: unknown**3 - wanted[which],
        np.array([[1.5, 1.5, np.nan, np.nan]]),
        FAR,
        tolerance=1e-9,
        first=np.arange(2),
        onward=onward,
    )
    assert found.unknown[0] == pytest.approx([1, 2, 3, 4])
    assert (began[2], began[3]) == pytest.approx((1, 2))


def test_no_system_goes_on_for_more_steps_than_it_may():
    asked = []

    def function(unknown, which):
        asked.append(which.size)
        return unknown**2 + 1

    assert not solve(function, np.array([[3.0]]), FAR, rounds=7).converged.any()
    assert len(asked) == 7
