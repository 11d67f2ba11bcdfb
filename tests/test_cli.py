"""The command line through its public face."""

import json
import os
import socket
import subprocess
import sys

import pytest
from click.testing import CliRunner

from builders import valve_run, visit_document
from icepick import __version__
from icepick.cli import main
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.web import create_app
from people import PASSPHRASE


def free_port():
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


@pytest.fixture
def run():
    return lambda *words, **options: CliRunner().invoke(main, [str(word) for word in words], **options)


@pytest.fixture
def file(tmp_path, healthy_cooling):
    path = tmp_path / "visit.json"
    path.write_text(json.dumps(healthy_cooling))
    return path


def test_it_says_what_the_core_says(run, file, healthy_cooling):
    expected = examine(parse_visit(json.dumps(healthy_cooling))).model_dump(mode="json", by_alias=True)
    from_file, from_input = run("examine", file), run("examine", "-", input=file.read_text())
    assert from_file.exit_code == from_input.exit_code == 0
    assert json.loads(from_file.stdout) == json.loads(from_input.stdout) == expected


def test_earlier_visits_are_considered_in_order_and_a_bad_one_is_refused(
    run, file, healthy_cooling, tmp_path
):
    visit = parse_visit(json.dumps(healthy_cooling))
    empty = visit.model_copy(update={"runs": []})
    before = [tmp_path / "first.json", tmp_path / "second.json"]
    for path, one in zip(before, (empty, visit), strict=True):
        path.write_text(one.model_dump_json())
    expected = examine(visit, earlier=[empty, visit]).model_dump(mode="json", by_alias=True)
    found = run("examine", file, "--earlier", before[0], "--earlier", before[1])
    assert json.loads(found.stdout) == expected
    first, second = (one["why"] for one in expected["baseline"]["visits"])
    assert "Nothing was read" in first
    assert "not sure enough" in second, "four pipes say too little of a unit to be learned from"
    before[1].write_text("{")
    refused = run("examine", file, "--earlier", before[1])
    assert (refused.exit_code, refused.stdout) == (2, "")
    assert str(before[1]) in refused.stderr


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "not valid JSON"),
        ('{"format": "icepick-visit", "version": 7}', "/version: 7 is not one of 1."),
        (None, "No such file or directory"),
    ],
)
def test_bad_input_is_one_clear_line_and_exit_2(run, tmp_path, text, words):
    path = tmp_path / "bad.json"
    if text is not None:
        path.write_text(text)
    result = run("examine", path)
    assert (result.exit_code, result.stdout) == (2, "")
    assert result.stderr.startswith(f"icepick: {path}: ")
    assert result.stderr.count("\n") == 1
    assert words in result.stderr


def test_a_folder_of_examinations(run, file, tmp_path):
    second = tmp_path / "wrong-way.json"
    second.write_text(json.dumps(visit_document(valve_run("heating", 170, 50, 168, 52))))
    bad = tmp_path / "bad.json"
    bad.write_text("[]")
    out = tmp_path / "out" / "deep"
    result = run("examine", file, bad, second, "--out", out)
    assert result.exit_code == 2
    assert result.stderr.count("\n") == 1
    assert sorted(path.name for path in out.iterdir()) == ["visit.json", "wrong-way.json"]
    assert (
        json.loads((out / "wrong-way.json").read_text())["headline"]
        == "Calling for heating, running in cooling"
    )
    assert run("examine", file, second, "--out", out).exit_code == 0


def test_no_examination_overwrites_a_visit_or_another_examination(run, file, tmp_path):
    before = file.read_text()
    result = run("examine", file, "--out", tmp_path)
    assert result.exit_code == 2
    assert "overwrite" in result.stderr
    assert file.read_text() == before
    twin = tmp_path / "twin" / "visit.json"
    twin.parent.mkdir()
    twin.write_text(before)
    result = run("examine", file, twin, "--out", tmp_path / "out")
    assert result.exit_code == 2
    assert str(twin) in result.stderr


def test_several_files_need_a_folder(run, file):
    assert run("examine", file, file).exit_code == 2


@pytest.mark.parametrize("name", ["visit", "examination"])
def test_schemas(run, name):
    schema = json.loads(run("schema", name).stdout)
    assert schema["$schema"] == "https://json-schema.org/draft/2020-12/schema"
    assert schema["properties"]["format"]["const"] == f"icepick-{name}"


def test_version(run):
    assert run("--version").stdout.strip() == f"icepick, version {__version__}"


def icepick(*words, shell='exec "$@"', **options):
    """The command as a shell starts it, in a process of its own."""
    command = [
        "sh",
        "-c",
        shell,
        "sh",
        sys.executable,
        "-c",
        "from icepick.cli import main; main()",
        *map(str, words),
    ]
    return subprocess.run(command, capture_output=True, timeout=30, **options)


def test_one_bad_document_does_not_stop_a_batch(run, file, tmp_path):
    bad = {
        "deep.json": b"[" * 100_000,
        "bytes.json": b"\xff\xfe\x00",
        "empty.json": b"",
        "huge.json": b'{"version": 1' + b"0" * 5000 + b"}",
    }
    for name, content in bad.items():
        (tmp_path / name).write_bytes(content)
    (tmp_path / "folder.json").mkdir()
    names = [*(tmp_path / name for name in bad), tmp_path / "folder.json", tmp_path / "none.json", "\0"]
    result = run("examine", *names, file, "--out", tmp_path / "out")
    assert result.exit_code == 2
    assert len(result.stderr.strip().split("\n")) == len(names)
    assert "Traceback" not in result.stderr
    assert [path.name for path in (tmp_path / "out").iterdir()] == ["visit.json"]


@pytest.mark.one_in(3)
@pytest.mark.parametrize(
    ("words", "shell", "status", "said"),
    [
        (["examine", "-"], 'exec "$@" <&-', 2, "standard input: it is closed"),
        (["examine", "--lines", "--jobs", "2", "a.json", "--out", "b"], 'exec "$@"', 2, "leave --out away"),
        (["serve", "--host", "no.such.host.invalid"], 'exec "$@"', 1, "can't listen on no.such.host.invalid"),
        (["serve", "--host", "a..b"], 'exec "$@"', 1, "can't listen on a..b"),
        (["serve", "--host", "192.0.2.1"], 'exec "$@"', 1, "can't listen on 192.0.2.1"),
        (["demo", "--host", ""], 'exec "$@"', 1, "can't"),
        (["serve", "--db", "/dev/null/icepick.db", "--port", "0"], 'exec "$@"', 2, "--port"),
        (["serve", "--db", "/proc/icepick.db"], 'exec "$@"', 1, "/proc/icepick.db can't be"),
        (["examine", "/dev/null", "--out", "/proc/out"], 'exec "$@"', 2, "can't be made a folder"),
    ],
)
def test_what_the_machine_refuses_is_said_in_a_line(words, shell, status, said):
    result = icepick(*words, shell=shell, env={**os.environ, "ICEPICK_PORT": str(free_port())})
    assert (result.returncode, b"Traceback" in result.stderr) == (status, False), result.stderr
    assert said in result.stderr.decode()


def test_a_terminal_without_a_degree_sign_gets_the_document_all_the_same(file):
    plain = {**os.environ, "PYTHONIOENCODING": "ascii", "LC_ALL": "C", "PYTHONUTF8": "0"}
    result = icepick("examine", file, env=plain)
    assert result.returncode == 0
    assert "°F" in result.stdout.decode("utf-8")
    refused = icepick("examine", file.with_name("kälte°.json"), env=plain)
    assert (refused.returncode, b"Traceback" in refused.stderr) == (2, False)


def test_a_second_demo_leaves_the_records_of_the_first_alone(tmp_path):
    port = str(free_port())
    environment = {**os.environ, "XDG_DATA_HOME": str(tmp_path), "ICEPICK_PORT": port}
    command = [sys.executable, "-c", "from icepick.cli import main; main()", "demo"]
    with subprocess.Popen(command, env=environment, stdout=subprocess.PIPE, text=True) as first:
        try:
            assert "Icepick is at" in first.stdout.readline()
            (records,) = (tmp_path / "icepick").glob("demo-*.db")
            before = records.stat().st_ino
            second = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=30)
            assert second.returncode == 1
            assert f"can't listen on 127.0.0.1:{port}" in second.stderr
            assert records.stat().st_ino == before
        finally:
            first.kill()


def test_a_database_that_cannot_be_used_is_a_clear_error(run, tmp_path):
    letter = tmp_path / "letter.db"
    letter.write_text("a letter" * 200)
    result = run("serve", "--db", letter, "--port", free_port())
    assert result.exit_code == 1
    assert "can't be used as Icepick's database" in result.stderr


def test_the_machine_of_a_unit_by_itself_or_out_of_a_visit(run, tmp_path, file, healthy_cooling):
    unit = {**healthy_cooling["unit"], "nominal_capacity": {"value": 24_000, "unit": "Btu/h"}}
    alone, visit = tmp_path / "unit.json", tmp_path / "of.json"
    alone.write_text(json.dumps(unit))
    visit.write_text(json.dumps({**healthy_cooling, "unit": unit}))
    found = [json.loads(run("machine", path).stdout) for path in (alone, visit)]
    assert found[0] == found[1]
    cooling, heating = found[0]["duties"]
    assert cooling["capacity"] == pytest.approx(24_000, rel=0.005)
    assert (cooling["outdoor"], cooling["indoor"], heating["outdoor"]) == (95, 80, 47)
    rests_on = {(row["part"], row["title"]): row["rests_on"] for row in found[0]["rows"]}
    assert rests_on["rating", "cooling capacity"] == "nameplate"
    assert "400 cfm/ton [common practice]" in rests_on["indoor coil", "airflow"]
    assert all(rests_on.values())
    superheat = next(row for row in found[0]["unknown"] if row["name"] == "superheat_shift")
    assert (superheat["value"], superheat["unit"]) == (2.5, "delta_degF")
    metric = json.loads(run("machine", alone, "--units", "metric").stdout)
    assert metric["duties"][0]["capacity"] == pytest.approx(24_000 * 0.29307 / 1000, rel=0.01)


@pytest.mark.parametrize("text", ["{", '{"label": "x"}', "[]"])
def test_what_is_no_unit_has_no_machine(run, tmp_path, text):
    path = tmp_path / "bad.json"
    path.write_text(text)
    result = run("machine", path)
    assert (result.exit_code, result.stdout) == (2, "")
    assert result.stderr.startswith(f"icepick: {path}: ")


def test_a_recording_goes_in_as_csv_and_comes_out_as_it_was(run, file, tmp_path):
    rows = tmp_path / "rows.csv"
    rows.write_text(
        "seconds,outdoor_coil temperature [degF],mark\r\n0,20.5,\r\n10,20.4,defrost_forced\r\n", newline=""
    )
    started = ("--mode", "heating", "--started-at", "2026-01-15T07:00:00-05:00")
    added = run("recording", file, "--add", rows, *started, "--minutes-running", 12)
    assert added.exit_code == 0, added.stderr
    with_it = tmp_path / "with.json"
    with_it.write_text(added.stdout)
    (one,) = parse_visit(added.stdout).recordings
    assert (one.id, one.mode, one.minutes_running) == ("recording-1", "heating", 12)
    assert run("recording", with_it, "recording-1").stdout_bytes == rows.read_bytes()
    assert json.loads(run("examine", with_it).stdout)["recordings"][0]["id"] == "recording-1"
    for wrong, words in (
        (("recording", with_it, "recording-9"), "it holds recording-1"),
        (("recording", file, "--add", rows, "--mode", "heating"), "started_at"),
        (("recording", file, "--add", with_it, *started), "row 1"),
    ):
        refused = run(*wrong)
        assert (refused.exit_code, refused.stdout) == (2, "")
        assert words in refused.stderr
    assert run("recording", file).exit_code == 2


def test_accounts_from_the_terminal(run, tmp_path):
    """A passphrase is asked for twice and never shown; what can't be is one clear line."""
    db = tmp_path / "icepick.db"
    typed = f"{PASSPHRASE}\n{PASSPHRASE}\n"

    def account(*words, typed=None):
        found = run("account", *words, "--db", db, input=typed)
        assert PASSPHRASE not in found.output
        return found.exit_code, found.output.splitlines()[-1]

    assert account("add", "Hollis Tarn", "technician", typed=typed) == (
        1,
        "Error: The first account is a lead's: somebody has to make the others.",
    )
    assert account("add", "Wren Alder", "lead", typed=typed) == (0, "Wren Alder can sign in.")
    assert account("add", "Hollis Tarn", "technician", typed=typed)[0] == 0
    assert account("add", "hollis  tarn", "office", typed=typed)[1].endswith("or was; take another name.")
    assert account("add", "Piet\x1b[31m", "office", typed=typed)[0] == 1
    assert account("passphrase", "Hollis Tarn", typed="password\npassword\n")[0] == 1
    assert account("passphrase", "Nobody", typed=typed) == (1, "Error: There is no account 'Nobody'.")
    assert account("role", "Wren Alder", "office") == (
        1,
        "Error: Somebody has to be lead: make another account lead first.",
    )
    assert account("role", "Hollis Tarn", "lead") == (0, "Hollis Tarn is lead.")
    assert account("end", "Wren Alder")[0] == 0
    listed = run("account", "list", "--db", db).output.splitlines()
    assert listed[0] == "Hollis Tarn: lead"
    assert listed[1].startswith("Wren Alder: lead, ended 20")
    client = create_app(db).test_client()
    who = {"name": "Wren Alder", "passphrase": PASSPHRASE}
    assert client.post("/api/session", json=who).status_code == 401
    assert account("passphrase", "wren alder", typed=typed)[0] == 0
    assert client.post("/api/session", json=who).status_code == 201


def lines_of(found):
    return [json.loads(line) for line in found.stdout.splitlines()]


@pytest.mark.parametrize("jobs", [1, 2])
def test_folders_and_lines_are_examined_in_their_order(run, tmp_path, healthy_cooling, jobs):
    folder = tmp_path / "visits" / "deeper"
    folder.mkdir(parents=True)
    complaints = ["weak", "noise", None, "routine"]
    texts = [json.dumps({**healthy_cooling, "complaint": complaint}) for complaint in complaints]
    (folder.parent / "a.json").write_text(texts[0])
    (folder / "b.json").write_text("{}")
    (folder.parent / "notes.txt").write_text("no visit")
    lines = tmp_path / "more.jsonl"
    lines.write_text("\n".join([texts[1], "", "not json", *[texts[2]] * 30, texts[3]]) + "\n")
    found = run("examine", "--jobs", jobs, folder.parent, lines, tmp_path / "gone.json")
    assert found.exit_code == 2
    said = lines_of(found)
    b, gone = folder / "b.json", tmp_path / "gone.json"
    places = [folder.parent / "a.json", b, f"{lines}:1", f"{lines}:3"]
    places += [f"{lines}:{number}" for number in range(4, 35)]
    assert [one["from"] for one in said] == [str(place) for place in [*places, gone]]
    wrong = {one["from"]: one["error"] for one in said if "error" in one}
    assert set(wrong) == {str(b), f"{lines}:3", str(gone)}
    assert wrong[str(gone)] == "No such file or directory"
    assert "/format" in wrong[str(b)]
    expected = examine(parse_visit(texts[0])).model_dump(mode="json", by_alias=True)
    assert said[0]["examination"] == expected
    assert said[-2]["examination"] == examine(parse_visit(texts[3])).model_dump(mode="json", by_alias=True)


def test_lines_come_from_standard_input_too(run, healthy_cooling):
    text = json.dumps(healthy_cooling)
    found = run("examine", "--lines", "-", input=f"{text}\n{text}\n")
    assert found.exit_code == 0
    assert [one["from"] for one in lines_of(found)] == ["-:1", "-:2"]


def test_what_can_not_be_read_is_a_line_too():
    found = icepick("examine", "--lines", "-", "no\nsuch", shell='exec "$@" <&-')
    assert found.returncode == 2
    assert [json.loads(line)["error"] for line in found.stdout.splitlines()] == [
        "it is closed",
        "No such file or directory",
    ]
