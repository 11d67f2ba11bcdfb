"""A fleet's worth of visits on one process, on two, and on Dask with two workers, in one run.

    python benchmarks/fleet.py [--visits N] [--archive KEPT.zip]

Makes a book of visits as `shop.py` does, takes it out as an archive, and measures visits per second: `icepick examine
--jobs 1` and `--jobs 2` over the archive's visit documents, each alone; `icepick fleet --workers 2` over its records, each
visit beside those before it on its unit. What is printed was read back from Parquet by pyarrow.
"""

from __future__ import annotations

import argparse
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from pathlib import Path
from zipfile import ZipFile

import pyarrow.compute as pc
import pyarrow.dataset as ds
from shop import make
from size import sized

from icepick.exchange.leaving import Wanted, archive_of
from icepick.fleet.tables import TABLES
from icepick.store.database import connect

WORKERS = sized(2, 1)
ICEPICK = [sys.executable, "-c", "from icepick.cli import main; main()"]


def archive_with(visits: int, folder: Path) -> Path:
    """An archive of so many visits."""
    book, archive = folder / "book.db", folder / "book.zip"
    make(book, visits)
    with closing(connect(book)) as db, archive.open("wb") as out:
        for piece in archive_of(db, Wanted("everything")):
            out.write(piece)
    return archive


def examined(folder: Path, jobs: int) -> tuple[int, float]:
    """How many visits, and how many in a second."""
    began, count = time.perf_counter(), 0
    command = [*ICEPICK, "examine", "--jobs", str(jobs), "--lines", str(folder)]
    with subprocess.Popen(command, stdout=subprocess.PIPE) as work:
        assert work.stdout is not None
        for line in work.stdout:
            count += b'"examination"' in line[:400]
    if work.returncode:
        raise SystemExit(f"examine ended with {work.returncode} after {count:,} visits")
    return count, count / (time.perf_counter() - began)


def on_dask(archive: Path, out: Path, workers: int) -> float:
    """Seconds."""
    began = time.perf_counter()
    subprocess.run(
        [*ICEPICK, "fleet", str(archive), "--out", str(out), "--workers", str(workers)], check=True
    )
    return time.perf_counter() - began


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--visits", type=int, default=10_000)
    asked.add_argument("--archive", type=Path)
    given = asked.parse_args()
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        archive = given.archive or archive_with(given.visits, folder)
        documents = folder / "documents"
        with ZipFile(archive) as packed:
            names = [name for name in packed.namelist() if name.startswith("visits/")]
            packed.extractall(documents, names)
        print(f"{len(names):,} visits, {archive.stat().st_size / 1e6:.1f} MB packed", flush=True)
        for jobs in sized((1, 2), (2,)):
            count, rate = examined(documents / "visits", jobs)
            print(f"examine --jobs {jobs}: {count:,} visits, {rate:.1f} a second", flush=True)
        out = folder / "tables"
        seconds = on_dask(archive, out, WORKERS)
        read = {table.name: ds.dataset(out / table.name, format="parquet") for table in TABLES}
        rows = {name: dataset.count_rows() for name, dataset in read.items()}
        print(
            f"fleet, Dask with {WORKERS} workers: {rows['visits']:,} visits, {rows['visits'] / seconds:.1f} a second"
        )
        size = sum(path.stat().st_size for path in out.rglob("*.parquet"))
        print(
            f"Parquet, {size / 1e6:.1f} MB: {', '.join(f'{name} {count:,}' for name, count in rows.items())}"
        )
        clear = read["drift"].to_table(filter=pc.field("clear") & pc.field("near"))
        print(f"changes that are clear, at conditions near enough: {clear.num_rows:,}")
        for one in pc.value_counts(read["visits"].to_table(columns=["outcome"])["outcome"]):
            print(f"  outcome {one['values']}: {one['counts'].as_py():,}")


if __name__ == "__main__":
    main()
