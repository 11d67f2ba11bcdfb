"""Every bench still runs, next to nothing of it, in seconds. `make bench` measures."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

from forked import script

ROOT = Path(__file__).parents[1]
SMOKE = {
    "convergence": [],
    "diagnosis": ["2"],
    "fleet": ["--visits", "3"],
    "followed": ["1"],
    "foreign": ["2", "1"],
    "healthy": ["2"],
    "killed": ["1"],
    "live_load": [],
    "recorder": [],
    "recordings": ["1"],
    "screen": [],
    "shop": ["--visits", "25", "--times", "1", "--seconds", "0.2"],
    "weight": [],
}
HELD_BY_OTHERS = {"demo_served", "drawn", "foreign_designs", "foreign_machine", "size"}
"""What benches are made of."""


@pytest.mark.parametrize("bench", SMOKE)
def test_it_runs_to_its_end(bench, tmp_path):
    environment = {**os.environ, "ICEPICK_SMOKE": "1", "XDG_DATA_HOME": str(tmp_path)}
    output = tmp_path / "said.txt"
    running = script(ROOT / f"benchmarks/{bench}.py", SMOKE[bench], environment, output)
    running.join(timeout=240)
    running.kill()
    running.join()
    said = output.read_text("utf-8")
    assert running.exitcode == 0, said[-2000:]
    assert any(character.isdigit() for character in said), said


def test_what_pytest_measures_runs_once():
    command = [
        sys.executable,
        "-m",
        "pytest",
        "benchmarks",
        "--benchmark-disable",
        "-q",
        "-p",
        "no:cacheprovider",
    ]
    environment = {name: value for name, value in os.environ.items() if not name.startswith("PYTEST_XDIST")}
    done = subprocess.run(
        command,
        cwd=ROOT,
        env={**environment, "ICEPICK_SMOKE": "1"},
        capture_output=True,
        text=True,
        timeout=240,
        check=False,
    )
    assert done.returncode == 0, done.stdout[-2000:]


def test_none_is_left_out():
    there = {path.stem for path in (ROOT / "benchmarks").glob("*.py") if not path.stem.startswith("test_")}
    assert there == set(SMOKE) | HELD_BY_OTHERS
    makefile = (ROOT / "Makefile").read_text("utf-8")
    assert [bench for bench in SMOKE if f"benchmarks/{bench}.py" not in makefile] == []
