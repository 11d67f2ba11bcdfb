"""The command line through its public face."""

import json

import pytest
from click.testing import CliRunner

from builders import valve_run, visit_document
from icepick import __version__
from icepick.cli import main
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine


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


def test_a_database_that_cannot_be_used_is_a_clear_error(run, tmp_path):
    letter = tmp_path / "letter.db"
    letter.write_text("a letter" * 200)
    result = run("serve", "--db", letter)
    assert result.exit_code == 1
    assert "can't be used as Icepick's database" in result.stderr
