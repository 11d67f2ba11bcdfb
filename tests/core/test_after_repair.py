"""What was found, and how the unit was left, are two things."""

import pytest

from icepick.core.examine import examine
from icepick.demo import demo_names, demo_visits

VISITS = dict(zip(demo_names(), (visit for _, visit in demo_visits()), strict=True))
SOUND = {"cooling": VISITS["library-summer"], "heating": VISITS["ferry-waiting-room"]}
MENDED = ("mill-charge", "bandstand-airflow", "sail-loft-check", "chandlery-stuck", "lock-cottage-ice")


def repaired(name, *, said=True):
    """A visit with runs of a sound unit behind what was found."""
    visit = VISITS[name]
    mode = visit.runs[0].mode
    left = [
        run.model_copy(update={"id": f"left-{run.id}", "after_repair": said})
        for run in SOUND[mode].runs
        if run.mode == mode
    ]
    return visit.model_copy(update={"runs": [*visit.runs, *left]})


@pytest.mark.parametrize("name", MENDED)
def test_the_verdict_is_of_what_was_found(name):
    found, mended = examine(VISITS[name]), examine(repaired(name))
    assert (mended.headline, mended.verdict, mended.ranking) == (found.headline, found.verdict, found.ranking)
    assert "sound" in mended.after_repair.headline
    assert found.after_repair is None
    assert [run.id for run in mended.runs] == [run.id for run in repaired(name).runs]
    # Taken together as one machine they say something else.
    assert examine(repaired(name, said=False)).ranking != found.ranking


def test_a_visit_with_nothing_but_runs_after_a_repair_is_about_them():
    left = SOUND["cooling"].model_copy(
        update={
            "runs": [run.model_copy(update={"after_repair": True}) for run in SOUND["cooling"].runs],
        }
    )
    assert examine(left).headline == examine(SOUND["cooling"]).headline
    assert examine(left).after_repair is None


def test_a_repaired_unit_teaches_what_it_is_like_now():
    left = repaired("mill-charge")
    later = VISITS["mill-charge"].model_copy(update={"runs": left.runs[:1]})
    broken, mended = (
        examine(later, earlier=[one]).baseline.visits[0] for one in (VISITS["mill-charge"], left)
    )
    assert not broken.used
    assert mended.used, mended.why


def test_a_recording_is_of_what_was_found():
    defrost = VISITS["toll-bridge"]
    left = [run.model_copy(update={"after_repair": True}) for run in SOUND["heating"].runs]
    found, mended = examine(defrost), examine(defrost.model_copy(update={"runs": [*defrost.runs, *left]}))
    assert (mended.ranking, mended.recordings) == (found.ranking, found.recordings)
    assert "Defrost does not start" in mended.headline
    assert "Defrost" not in mended.after_repair.verdict
