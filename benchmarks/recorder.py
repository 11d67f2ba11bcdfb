"""What the recorder costs: eight hours of twenty probes a second on disk, windows of it read back, a second's judging, and a
logger's file of 20 MB.

python benchmarks/recorder.py
"""

from __future__ import annotations

import sqlite3
import sys
import tempfile
import time
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

import numpy as np

sys.path[:0] = [str(Path(__file__).parents[1] / "tests"), str(Path(__file__).parents[1] / "tests/web")]

from size import sized
from test_api import NEW_CALL

from bringing import Coming, by_client
from builders import as_visit, valve_run
from icepick.core.document.recording import Recording
from icepick.core.settling.approach import approach
from icepick.store import recordings, samples
from icepick.store.database import connect, prepare, writing
from icepick.store.visits import add_document, find_visit
from icepick.web import create_app

HOURS, PROBES = sized(8, 0.1), 20
CODES = (
    *("discharge_line", "common_suction", "valve_to_indoor", "valve_to_outdoor", "vapor_line_outdoor"),
    *("vapor_line_indoor", "liquid_line_outdoor", "indoor_meter_line_side", "outdoor_meter_line_side"),
    *("outdoor_coil", "indoor_coil", "coil_sensor", "outdoor_air_in", "outdoor_air_out", "return_air"),
    *("supply_air", "supply_air_after_heat", "ambient_sensor", "compressor_inlet", "drier_indoor_side"),
)


def played(seconds: int) -> np.ndarray:
    """Probes that drift and waver as real ones do, to the hundredth."""
    dice = np.random.default_rng(1)
    slow = np.cumsum(dice.normal(0, 0.02, (PROBES, seconds)), axis=1)
    return np.round(90 + slow + dice.normal(0, 0.08, (PROBES, seconds)), 2)


def begun(db: sqlite3.Connection) -> int:
    with writing(db):
        add_document(db, as_visit(valve_run("heating", 170, 50, 168, 52)))
        made = Recording(id="recording-1", mode="heating", started_at=datetime(2026, 1, 15, 7, tzinfo=UTC))
        recordings.add_recording(db, 1, made, "recording-1")
        for code in CODES:
            samples.add_series(db, 1, samples.SeriesHead(code, "temperature", "degF", "clamp"))
    return 1


def large_file() -> None:
    """A file of 20 MB through the web API: arriving and read, then entered (issue 19: a few seconds)."""
    rows, size = ["seconds," + ",".join(f"{code} temperature [degF]" for code in CODES)], 0
    values = played(sized(200_000, 2_000))
    while size < sized(20e6, 1e5):
        at = len(rows) - 1
        rows.append(f"{at}," + ",".join(f"{value:.2f}" for value in values[:, at]))
        size += len(rows[-1]) + 1
    content = "\n".join(rows).encode()
    with tempfile.TemporaryDirectory() as folder:
        client = create_app(Path(folder) / "icepick.db").test_client()
        made = client.post("/api/visits", json={"entry_key": "a large file", **NEW_CALL}).json
        start = time.perf_counter()
        coming = Coming(by_client(client), made["id"], content)
        print(
            f"{size / 1e6:.0f} MB of {PROBES} columns, {len(rows):,} rows, sent and read: {time.perf_counter() - start:.1f} s"
        )
        coming.say(coming.known(), clock_unit="s", started_at="2026-01-15T07:00:00Z")
        start = time.perf_counter()
        coming.enter()
        print(f"entered: {time.perf_counter() - start:.1f} s")


def main() -> None:
    large_file()
    seconds = int(HOURS * 3600)
    values = played(seconds)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "icepick.db"
        prepare(path)
        with closing(connect(path)) as db:
            row = begun(db)
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            before = path.stat().st_size
            took = []
            for at in range(seconds):
                start = time.perf_counter()
                with writing(db):
                    samples.append(db, row, [float(at)], values[:, at : at + 1])
                took.append(time.perf_counter() - start)
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            size = (path.stat().st_size - before) / 1e6
            print(f"{HOURS} h of {PROBES} probes, one a second: {size:.2f} MB on disk")
            print(
                f"a second written: mean {1e3 * np.mean(took):.2f} ms, 99 % {1e3 * np.quantile(took, 0.99):.1f} ms"
            )
            for name, (begin, end) in {
                "a minute": (sized(14_000, 100), sized(14_059, 159)),
                "an hour": (sized(10_000, 0), sized(13_599, seconds)),
                "all of it, in 1,500 moments": (0, seconds),
            }.items():
                times = []
                for _ in range(10):
                    start = time.perf_counter()
                    samples.window(db, row, begin, end, 1500)
                    times.append(time.perf_counter() - start)
                print(f"{name} read back: {1e3 * np.median(times):.1f} ms")
            with writing(db):
                samples.end(db, row, "stopped")
            start = time.perf_counter()
            found = find_visit(db, 1)
            assert found is not None
            count = sum(len(one.values) for one in found.document.recordings[0].series)
            print(f"the visit read with all its {count:,} samples: {time.perf_counter() - start:.2f} s")
    moments = np.arange(260.0)
    start = time.perf_counter()
    for at in range(PROBES * 10):
        approach(moments, values[at % PROBES, :260], 1.0)
    print(f"{PROBES} probes judged for a second: {(time.perf_counter() - start) * 100:.1f} ms")


if __name__ == "__main__":
    main()
