"""Files of recordings through the web API: shown as they would be understood, given a meaning, entered or refused."""

from uuid import uuid4

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from test_api import NEW_CALL, call_on, seen

from bringing import Coming, by_client
from draws import few
from icepick.web import create_app

START = "2026-01-15T07:00:00-05:00"
COIL = {"station": "outdoor_coil", "quantity": "temperature", "unit": "degC"}
GAUGE = {"station": "common_suction_tap", "quantity": "pressure", "unit": "bar"}


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


@pytest.fixture
def visit(client):
    return call_on(client, **NEW_CALL)["id"]


LOGGED = (
    "Date;Coil °C;LP;Status;mark\r\n"
    "2026-01-15 07:00:00;-3,5;5,25;ok;\r\n"
    "2026-01-15 07:00:10;-3,25;---;ok;defrost_forced\r\n"
    "2026-01-15 07:00:20;1.200;5,5;ok;\r\n"
    "2026-01-15 06:00:30;-3;5,5;ok;\r\n"
    "2026-01-15 07:00:40;-2,5;1200;ok;\r\n"
).encode("cp1252")
"""A logger of its own mind: semicolons, commas in its numbers, Windows letters, a time zone it keeps to itself."""


def test_a_foreign_file_is_explained_given_a_meaning_and_remembered(client, visit):
    coming = Coming(by_client(client), visit, LOGGED)
    found = coming.view["found"]
    assert (found["separator"], found["decimal"], found["rows"], found["marks"]) == ("semicolons", ",", 4, 1)
    assert (found["clock"]["counts"], found["clock"]["has_offset"], found["clock"]["every"]) == (
        False,
        False,
        10,
    )
    assert [(one["lowest"], one["highest"], one["samples"]) for one in found["columns"]] == [
        (-3.5, -2.5, 3),
        (5.25, 1200, 3),
        (None, None, 0),
    ]
    assert [one["examples"] for one in found["columns"][1:]] == [["5,25", "---", "5,5"], ["ok"]]
    assert [one["where"] for one in found["wanting"]] == ["clock", "Coil °C", "LP", "Status"]
    assert {(one["station"], one["quantity"]) for one in found["choices"]} >= {
        ("outdoor_coil", "temperature"),
        ("compressor", "state"),
    }
    columns = [{"column": 0, "place": COIL}, {"column": 1, "place": GAUGE}, {"column": 2, "place": None}]
    status, view = coming.say(columns, offset=-300)
    assert (status, view["found"]["wanting"], view["found"]["clock"]["offset"]) == (200, [], -300)
    assert [(one["row"], one["column"]) for one in view["found"]["refused"]] == [
        (3, "LP"),
        (4, "Coil °C"),
        (5, "Date"),
        (6, "LP"),
    ]
    assert (view["found"]["refused_rows"], view["found"]["refused_cells"]) == (1, 3)
    status, refused = coming.enter()
    assert (status, "row 3, column 'LP'" in refused["detail"]) == (422, True)
    assert seen(client, {"id": visit})["recordings"] == []
    assert coming.enter(leave_out=True)[1]["recording"] == "recording-1"
    whole = client.get(f"/api/visits/{visit}/recordings/recording-1").json
    assert whole["started_at"] == "2026-01-15T07:00:00-05:00"
    left_out = "Left out, for they could not be used: 1 row and 3 cells."
    assert whole["notes"] == f"From the file probes.csv, 4 rows. {left_out}"
    assert [(one["seconds"], one["values"]) for one in whole["series"]] == [
        ([0, 10, 40], [-3.5, -3.25, -2.5]),
        ([0, 20], [5.25, 5.5]),
    ]
    assert whole["marks"] == [{"seconds": 10, "code": "defrost_forced", "value": None}]
    again = Coming(by_client(client), visit, LOGGED).view["found"]
    assert [(one["known"], one["place"]) for one in again["columns"]] == [
        ("remembered", COIL),
        ("remembered", GAUGE),
        ("remembered", None),
    ]


def test_a_clock_that_counts_needs_its_unit_and_its_start(client, visit):
    text = "Elapsed,outdoor_coil temperature [degF]\n0,30\n0.5,31\n1.5,\n"
    coming = Coming(by_client(client), visit, text.encode())
    assert [one["where"] for one in coming.view["found"]["wanting"]] == ["clock", "clock"]
    coming.say(coming.known(), clock_unit="min", started_at=START)
    clock = coming.view["found"]["clock"]
    assert (clock["seconds"], clock["unit"], clock["started_at"]) == (90, "min", START)
    coming.enter()
    (one,) = client.get(f"/api/visits/{visit}/recordings/recording-1").json["series"]
    assert (one["seconds"], one["values"]) == ([0, 30], [30, 31])
    assert Coming(by_client(client), visit, text.encode()).view["found"]["clock"]["unit"] == "min"


def test_what_no_series_holds_is_refused_as_it_is_said(client, visit):
    coming = Coming(by_client(client), visit, b"seconds,a,b\n0,1,2\n")
    psi = COIL | {"unit": "psi"}
    attic = COIL | {"station": "attic"}
    for columns, words in (
        ([{"column": 0, "place": psi}, {"column": 1, "place": None}], "does not measure"),
        ([{"column": 0, "place": COIL}, {"column": 1, "place": COIL}], "twice"),
        ([{"column": 0, "place": None}, {"column": 1, "place": None}], "Nothing"),
        ([{"column": 0, "place": attic}, {"column": 1, "place": None}], "no station"),
    ):
        _, view = coming.say(columns, clock_unit="s", started_at=START)
        assert any(words in one["message"] for one in view["found"]["wanting"]), words
        assert coming.enter()[0] == 422
    assert coming.say([{"column": 7, "place": COIL}])[0] == 422
    assert seen(client, {"id": visit})["recordings"] == []


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"\n\n", "empty"),
        (b"PK\x03\x04" + bytes(40), "save the sheet as CSV"),
        (bytes(range(256)), "not a text file"),
        (b"," + b"x," * 300 + b"\n", "no heading"),
        (b"seconds," + b"x," * 300 + b"y\n", "301 columns"),
        (b'"seconds,a\n0,1', "not CSV"),
        (b"seconds," + b"x" * 300 + b"\n0,1\n", "more than 200 letters"),
    ],
)
def test_what_is_no_file_of_rows_is_refused_whole(client, visit, content, words):
    view = Coming(by_client(client), visit, content).view
    assert view["state"] == "refused"
    assert words in view["trouble"]


def test_a_long_file_is_thinned_and_says_so(client, visit):
    rows = "".join(f"{n},{20 + n % 3},{'' if n % 60 else 1}\n" for n in range(400_001))
    text = f"seconds,outdoor_coil temperature [degF],compressor state [1]\n{rows}"
    coming = Coming(by_client(client), visit, text.encode())
    assert coming.view["found"]["keeps_every"] == 3
    coming.say(coming.known(), clock_unit="s", started_at=START)
    coming.enter()
    coil, state = client.get(f"/api/visits/{visit}/recordings/recording-1").json["series"]
    assert coil["seconds"][:3] == [0, 3, 6]
    assert len(coil["seconds"]) == 133_334
    assert state["seconds"][:3] == [0, 180, 360], "each series is thinned by itself"


def test_a_closed_call_takes_no_file_and_a_retry_enters_nothing_twice(client, visit):
    key = uuid4().hex
    rows = b"seconds,outdoor_coil temperature [degF]\n0,30\n"
    for _ in range(2):
        coming = Coming(by_client(client), visit, rows)
        coming.say(coming.known(), clock_unit="s", started_at=START)
        assert coming.enter(entry_key=key)[1]["recording"] == "recording-1"
    coming = Coming(by_client(client), visit, rows)
    coming.say(coming.known(), clock_unit="s", started_at=START)
    client.put(f"/api/visits/{visit}/closing", json={"closed": True})
    assert coming.enter()[0] == 423
    assert client.post(f"/api/visits/{visit}/files", json={"name": "a", "bytes": 9}).status_code == 423
    assert client.delete(coming.at).status_code == 200
    assert client.get(coming.at).status_code == 404
    assert len(seen(client, {"id": visit})["recordings"]) == 1


# Drawn files. What a cell says is known, since it is written here; what comes out is compared with that.

NUMBERS = st.decimals(-40, 200, places=2, allow_nan=False)
SPOILT = st.sampled_from(
    [
        "1_0",
        "١٢",
        "nan",
        "inf",
        "-Infinity",
        "1e999",
        "0x1F",
        "1 2",
        "1,234.5",
        "1.234,5",
        "--",
        "ERR",
        "5 °F",
    ]
)


@st.composite
def files(draw):
    """A file as bytes, and the numbers that are in it by row and column; spoilt cells and empty ones are none."""
    separator = draw(st.sampled_from([",", ";", "\t"]))
    comma = separator != "," and draw(st.booleans())
    width = draw(st.integers(1, 3))
    rows, known = [["seconds", *"abc"[:width]]], {}
    for at in range(draw(st.integers(1, 8))):
        row = [str(at)]
        for column in range(width):
            kind = draw(st.sampled_from(["number"] * 5 + ["spoilt", "empty"]))
            if kind == "number":
                value = draw(NUMBERS)
                written = draw(st.sampled_from([f"{value}", f"{value:+}", f"{value:.3e}", f" {value} "]))
                known[at, column] = float(written)
                row.append(written.replace(".", ",") if comma else written)
            else:
                row.append(draw(SPOILT) if kind == "spoilt" else "")
        rows.append(row)
    end = draw(st.sampled_from(["\n", "\r\n"]))
    quote = draw(st.booleans())
    lines = [
        separator.join(f'"{cell}"' if quote or separator in cell else cell for cell in row) for row in rows
    ]
    encoding = draw(st.sampled_from(["utf-8", "utf-8-sig", "utf-16"]))
    return end.join(lines).encode(encoding), known, width


fuzzing = settings(
    max_examples=few(40, 400), deadline=None, derandomize=True, suppress_health_check=list(HealthCheck)
)


@fuzzing
@given(drawn=files())
def test_no_number_comes_out_that_was_not_written(client, visit, drawn):
    content, known, width = drawn
    coming = Coming(by_client(client), visit, content)
    stations = ("outdoor_coil", "indoor_coil", "discharge_line")
    columns = [
        {"column": at, "place": COIL | {"station": stations[at], "unit": "degF"}} for at in range(width)
    ]
    coming.say(columns, clock_unit="s", started_at=START)
    status, view = coming.enter(leave_out=True)
    if status == 422:
        assert not known
        return
    whole = client.get(f"/api/visits/{visit}/recordings/{view['recording']}").json
    client.post(
        f"/api/visits/{visit}/withdrawals",
        json={"entry_key": seen(client, {"id": visit})["recordings"][0]["entry_key"]},
    )
    came = {
        (int(second), stations.index(one["station"])): value
        for one in whole["series"]
        for second, value in zip(one["seconds"], one["values"], strict=True)
    }
    assert came == known


@fuzzing
@given(
    content=st.binary(min_size=1, max_size=300)
    | st.text('0123456789.,;\t\n"-+eE:TZ ms', min_size=1).map(str.encode)
)
def test_no_bytes_are_answered_by_a_server_error(client, visit, content):
    coming = Coming(by_client(client), visit, content)
    assert "See the log" not in (coming.view["trouble"] or "")
    if coming.view["state"] == "refused":
        return
    count = len(coming.view["found"]["columns"])
    for place in (None, COIL):
        status, _ = coming.say(
            [{"column": at, "place": place if at == 0 else None} for at in range(count)],
            clock_unit="h",
            started_at=START,
            offset=60,
        )
        assert status == 200
        status, view = coming.enter(leave_out=True)
        assert status in (200, 422)
        if status == 200:
            assert view["state"] == "done", view
            return
