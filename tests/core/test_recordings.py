"""Recordings as documents: what is taken, what is refused and where, and CSV there and back."""

import json
from typing import get_args

import pytest

from builders import valve_run, visit_document
from draws import share
from icepick.core.defrost import cues, recorded
from icepick.core.defrost.course import course_of
from icepick.core.document.base import InvalidDocumentError
from icepick.core.document.codes import SeriesQuantity
from icepick.core.document.recording import MOST_SAMPLES, Recording, allowed
from icepick.core.document.stations import STATIONS
from icepick.core.document.stations import station as station_of
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.properties.quantities import from_si, to_si
from icepick.core.properties.refrigerants import REFRIGERANTS
from icepick.core.recorded_file.csv_text import read_csv, write_csv

START = "2026-01-15T07:00:00-05:00"
COIL = "outdoor_coil temperature [degF]"


def to_unit(value, known, unit):
    return value if unit == known.unit else from_si(to_si(value, known.unit, known.kind), unit, known.kind)


def series(**changed):
    made = {"station": "outdoor_coil", "quantity": "temperature", "unit": "degF"}
    return {**made, "seconds": [0, 10, 20], "values": [21.0, 21.1, 21.2], **changed}


RUN = valve_run("heating", 150, 140, 30, 35)


def visit(*recordings):
    return json.dumps({**visit_document(RUN), "recordings": [*recordings]})


def recording(*tracks, **more):
    return {"id": "rec", "mode": "heating", "started_at": START, "series": [*tracks], **more}


@pytest.mark.parametrize(
    ("wrong", "pointer", "sentence"),
    [
        (series(seconds=[0, 20, 10]), "seconds/2", "backwards"),
        (series(seconds=[0, 10, 10]), "seconds/2", "stands still"),
        (series(seconds=[-5, 10, 20]), "seconds/0", "outside a recording"),
        (series(values=[21.0, 21.1]), "values", "3 seconds and 2 values"),
        (series(values=[21.0, float("nan"), 3]), "values/1", "must be finite"),
        (series(values=[21.0, 21, 351]), "values/2", "-60 to 350"),
        (series(unit="psi"), "unit", "degF, degC"),
        (series(station="condenser"), "station", "no station"),
        (series(quantity="state", unit="1"), "quantity", "has no state"),
        (series(station="compressor", quantity="state", unit="1", values=[0, 0.5, 1]), "values/1", "0 or 1"),
        (
            series(seconds=list(range(MOST_SAMPLES + 1)), values=[20.0] * (MOST_SAMPLES + 1)),
            "seconds",
            "200,000 at most",
        ),
    ],
)
def test_a_wrong_series_is_refused_at_its_place(wrong, pointer, sentence):
    with pytest.raises(InvalidDocumentError) as caught:
        parse_visit(visit(recording(series(station="indoor_coil"), wrong)))
    problem = caught.value.problems[0]
    assert problem.pointer == f"/recordings/0/series/1/{pointer}"
    assert sentence in problem.message


def test_one_place_is_recorded_once_and_ids_differ_from_those_of_runs():
    for twice, where in (
        ([recording(series(), series())], "/recordings/0/series/1"),
        ([recording(), recording()], "/recordings/1/id"),
        ([{**recording(), "id": RUN["id"]}], "/recordings/0/id"),
    ):
        with pytest.raises(InvalidDocumentError) as caught:
            parse_visit(visit(*twice))
        assert caught.value.problems[0].pointer == where
    assert parse_visit(visit(recording(series(seconds=[], values=[])))).recordings[0].series[0].values == []


def test_csv_there_and_back_is_the_same_recording():
    marks = [
        {"seconds": 12, "code": "defrost_forced"},
        {"seconds": 12, "code": "outdoor_fan_stopped", "value": False},
    ]
    state = series(station="compressor", quantity="state", unit="1", seconds=[0, 20], values=[1, 0])
    before = Recording.model_validate_json(json.dumps(recording(series(), state, marks=marks)))
    text = write_csv(before)
    assert text.startswith(f"seconds,{COIL},compressor state [1],mark\r\n")
    after = read_csv("\ufeff" + text, name="rec", mode="heating", started_at=START)
    assert after.model_dump() == before.model_dump()


@pytest.mark.parametrize(
    ("text", "row", "column", "sentence"),
    [
        ("", 1, None, "empty"),
        ("a;b\n0;1", 1, "a", "commas"),
        (f"seconds,{COIL},{COIL}\n0,1,2", 1, COIL, "twice"),
        ("seconds,outdoor coil\n0,1", 1, "outdoor coil", "station quantity [unit]"),
        ("seconds,outdoor_coil temperature [psi]\n0,1", 1, None, "does not measure"),
        (f"seconds,{COIL}\n0,20\n10,cold", 3, COIL, "is not a number"),
        (f"seconds,{COIL}\n0,20\n10,nan", 3, COIL, "is not a number"),
        (f"seconds,{COIL}\n0,20\n10,\n20,400", 4, COIL, "-60 to 350"),
        (f"seconds,{COIL}\n0,20\n20,20\n10,20", 4, "seconds", "backwards"),
        (f"seconds,{COIL}\n0,20,3", 2, None, "3 cells"),
        (f"seconds,{COIL},mark\n0,20,asleep", 2, "mark", "no mark"),
        (f'seconds,{COIL}\n0,"20', 2, None, "not CSV"),
        (f"time,{COIL}\n2026-01-15T07:00:00,20", 2, "time", "offset"),
        (f"time,{COIL}\n2026-01-15T07:00:10-05:00,20\n2026-01-15T07:00:00-05:00,20", 3, "time", "before"),
        # A clock set back by an hour without a word of it.
        (
            f"time,{COIL}\n2026-10-31T01:30:00-04:00,20\n2026-11-01T01:59:50-04:00,20\n2026-11-01T01:00:00-04:00,20",
            4,
            "time",
            "set back",
        ),
    ],
)
def test_a_wrong_csv_is_refused_with_row_and_column_and_nothing_is_taken(text, row, column, sentence):
    with pytest.raises(InvalidDocumentError) as caught:
        read_csv(text, name="rec", mode="heating", started_at=None if text.startswith("time") else START)
    problem = caught.value.problems[0]
    assert problem.pointer.startswith(f"row {row}")
    assert column is None or repr(column) in problem.pointer
    assert sentence in problem.message


def test_midnight_and_daylight_saving_make_no_jump():
    text = (
        f"time,{COIL}\n2026-10-31T23:59:50-04:00,20\n2026-11-01T00:00:10-04:00,21\n"
        "2026-11-01T01:59:50-04:00,22\n2026-11-01T01:00:10-05:00,23\n"
    )
    found = read_csv(text, name="rec", mode="heating")
    assert found.series[0].seconds == [0, 20, 7200, 7220]
    assert found.started_at.isoformat() == "2026-10-31T23:59:50-04:00"


@pytest.mark.parametrize(
    ("station", "quantity", "unit", "noisy", "end"),
    [
        ("compressor", "current", "A", -0.1, 0.0),
        ("compressor", "voltage", "V", -0.1, 0.0),
        ("compressor", "power", "kW", -0.003, 0.0),
        ("indoor_airflow", "flow", "cfm", -3.0, 0.0),
        ("source_water", "flow", "gpm", -0.02, 0.0),
        ("outdoor_air_in", "relative_humidity", "percent", 100.4, 100.0),
        ("common_suction_tap", "pressure", "psi", -14.75, -14.7),
        ("common_suction_tap", "pressure", "kPa", -101.7, -101.35),
    ],
)
def test_an_instruments_noise_is_set_to_the_limit_and_said_once(station, quantity, unit, noisy, end):
    of = {"station": station, "quantity": quantity, "unit": unit}
    known = allowed(station, quantity)
    inside = to_unit((known.low + known.high) / 2, known, unit)
    document = parse_visit(visit(recording(series(**of, values=[noisy, inside, noisy]), notes="Loud.")))
    kept = document.recordings[0]
    assert kept.series[0].values == pytest.approx([end, inside, end], rel=1e-4)
    assert kept.notes.startswith("Loud.\nSamples just beyond their range")
    assert f"2 of {station_of(station).title}, {quantity}" in kept.notes
    # Read back it stands at the limit, and nothing is said again.
    again = parse_visit(document.model_dump_json())
    assert again == document
    far = noisy + 30 * (noisy - end)
    with pytest.raises(InvalidDocumentError, match="outside what can be entered"):
        parse_visit(visit(recording(series(**of, values=[far, inside, inside]))))


def test_strips_that_blow_hot_are_no_slip():
    hot = series(station="supply_air_after_heat", values=[205.0, 230.0, 205.0])
    assert parse_visit(visit(recording(hot))).recordings[0].notes is None


MINUTES = list(range(0, 1200, 30))
WARM = {"outdoor_coil": 22.0, "outdoor_air_in": 33.0, "supply_air": 95.0, "discharge_line": 160.0}


def at_an_edge(refrigerant, station, quantity, unit, value, minutes=MINUTES):
    """A recording of an ordinary unit but for one place, which stands at its edge from the middle on."""
    half = len(minutes) // 2
    usual = [
        series(station=code, seconds=minutes, values=[value] * len(minutes))
        for code, value in WARM.items()
        if (code, "temperature") != (station, quantity)
    ]
    middle = value / 2 if unit != "1" else value
    edge = series(
        station=station,
        quantity=quantity,
        unit=unit,
        seconds=minutes,
        values=[middle] * half + [value] * (len(minutes) - half),
    )
    document = json.loads(visit(recording(*usual, edge)))
    document["unit"]["refrigerant"] = refrigerant
    return parse_visit(json.dumps(document))


TAPS = [entry.code for entry in STATIONS if "pressure" in entry.quantities and entry.code.endswith("_tap")]
EDGES = [
    (entry.code, quantity, known.unit, edge)
    for entry in STATIONS
    for quantity, known in entry.quantities.items()
    if quantity in get_args(SeriesQuantity)
    for edge in (known.low, known.high)
]


@pytest.mark.parametrize("refrigerant", sorted({"R-513A", *share(REFRIGERANTS, 1)}))
@pytest.mark.parametrize("tap", share(TAPS, 3))
def test_no_pressure_at_any_port_makes_a_recording_unreadable(refrigerant, tap):
    # 430 psig at the vapor port of R-513A, beyond its table, made every endpoint of the visit answer 500.
    for pressure in (-14.6, 430.0, 900.0):
        found = examine(at_an_edge(refrigerant, tap, "pressure", "psi", pressure))
        assert found.recordings[0].spells


@pytest.mark.parametrize(("station", "quantity", "unit", "edge"), share(EDGES, 10))
def test_no_value_that_may_be_recorded_makes_it_unreadable(station, quantity, unit, edge):
    assert examine(at_an_edge("R-134a", station, quantity, unit, edge)).recordings[0].id == "rec"


def test_what_of_a_recording_gives_up_costs_itself_and_is_named(mishaps_pass, monkeypatch):
    def breaks(seen):
        raise ZeroDivisionError("nobody thought of it")

    whole = examine(parse_visit(visit(recording(series()))))
    examined = whole.recordings[0]
    assert "run.worked_out" not in {check.code for check in examined.checks}
    monkeypatch.setitem(cues._CUES, "the supply air", breaks)
    monkeypatch.setattr(recorded, "frost_of", lambda *_: breaks(None))
    document = parse_visit(visit(recording(series(values=[21.0, 21.1, 21.3]))))
    found = examine(document).recordings[0]
    told = next(check for check in found.checks if check.code == "run.worked_out")
    assert told.status == "watch"
    assert "which way it runs by the supply air (ZeroDivisionError: nobody thought of it)" in told.explain
    assert "frost on its coil" in told.explain
    assert found.spells == examined.spells
    # What breaks wherever one looks leaves the recording there, and its visit readable.
    monkeypatch.setattr(
        recorded,
        "course_of",
        lambda seen, settings: course_of(seen, settings) if not seen.tracks.by_spot else breaks(None),
    )
    found = examine(parse_visit(visit(recording(series(values=[21.0, 21.1, 21.4]))))).recordings[0]
    assert "this recording" in next(c.explain for c in found.checks if c.code == "run.worked_out")
