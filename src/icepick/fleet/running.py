"""An archive's visits examined on Dask: on this machine, or on the cluster whose scheduler's address is given."""

from __future__ import annotations

import os
from collections import defaultdict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from itertools import islice
from pathlib import Path

from distributed import Client, LocalCluster, as_completed

from icepick import __version__
from icepick.core.document.record import LimitsRecord, UnitRecord, VisitRecord
from icepick.core.properties.quantities import UnitSystem
from icepick.exchange.archive import LIMITS, UNITS, VISITS, Archive, opened
from icepick.fleet.examining import Examined, UnitsVisits, examine_units
from icepick.fleet.parquet import Tables

BATCH = 40
"""Visits that are sent together, or those of one unit where it has more."""
AHEAD = 4
"""So many batches for each worker are on their way: a fleet need not fit into memory."""
_PATIENCE_S = 10


class ClusterError(RuntimeError):
    """The cluster can't be used; the message says why."""


@dataclass(slots=True)
class Done:
    """What was written: visits, rows by table, and of what nothing could be said."""

    visits: int = 0
    rows: dict[str, int] = field(default_factory=dict)
    left_out: list[str] = field(default_factory=list)


def examine_archive(
    archive: Path,
    out: Path,
    *,
    units: UnitSystem = "field",
    workers: int = 1,
    scheduler: str | None = None,
    step: Callable[[int, int], None] = lambda _done, _of: None,
) -> Done:
    """Examine every visit of an archive and write the tables.

    Parameters
    ----------
    archive : Path
        What ``icepick export`` wrote.
    out : Path
        A folder that is not there yet, or empty.
    units : {"field", "metric"}
        Of the numbers in the tables.
    workers : int
        Processes on this machine; with a ``scheduler``, its workers are used instead.
    scheduler : str, optional
        A Dask scheduler's address, *tcp://host:8786*.
    step : callable
        Told how many visits are done, and of how many.

    Raises
    ------
    ArchiveError, FolderTakenError, ClusterError
        Nothing was written.
    """
    done = Done()
    with opened(archive) as held, Tables(out) as tables, _engine(workers, scheduler) as client:
        of = held.manifest.visits
        changes = _limits(held)
        batches = _batches(held)

        def send(count: int) -> list[object]:
            return [
                client.submit(examine_units, batch, changes, units, pure=False)
                for batch in islice(batches, count)
            ]

        ahead = AHEAD * max(1, len(client.scheduler_info()["workers"]))
        coming = as_completed(send(ahead))
        for future in coming:
            found: Examined = future.result()
            tables.add(found.rows)
            done.visits += found.visits
            done.left_out += found.left_out
            for name, rows in found.rows.items():
                done.rows[name] = done.rows.get(name, 0) + len(rows)
            step(done.visits + len(done.left_out), of)
            future.release()
            coming.update(send(1))
    return done


@contextmanager
def _engine(workers: int, scheduler: str | None) -> Iterator[Client]:
    if scheduler is not None:
        try:
            client = Client(scheduler, timeout=_PATIENCE_S)
        except (OSError, ValueError) as error:
            raise ClusterError(f"No Dask scheduler answers at {scheduler}: {error}") from None
        with client:
            _refuse_strangers(client)
            yield client
        return
    # What a process reckons with is small: threads under it would only be in each other's way.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    with (
        LocalCluster(
            n_workers=workers, threads_per_worker=1, processes=True, host="127.0.0.1", dashboard_address=None
        ) as cluster,
        Client(cluster) as client,
    ):
        yield client


def _refuse_strangers(client: Client) -> None:
    """Every worker must reckon as this Icepick does."""
    try:
        found = client.run(_version)
    except Exception as error:
        raise ClusterError(f"Its workers have no Icepick {__version__}: {error}") from None
    if not found:
        raise ClusterError("It has no workers.")
    other = {version for version in found.values() if version != __version__}
    if other:
        raise ClusterError(
            f"Its workers have Icepick {', '.join(sorted(other))}; this is {__version__}. Bring them to the same."
        )


def _version() -> str:
    return __version__


def _limits(archive: Archive) -> dict[str, float]:
    """The limits in force where the archive was made."""
    if not archive.has(LIMITS):
        return {}
    in_force = {one.name: one.value for one in archive.read(LimitsRecord, LIMITS).changes}
    return {name: value for name, value in in_force.items() if value is not None}


def _batches(archive: Archive) -> Iterator[list[UnitsVisits]]:
    """Units with all their visits, some at a time."""
    of_unit = defaultdict[str, list[str]](list)
    for path in archive.paths(VISITS):
        of_unit[archive.read(VisitRecord, path).unit].append(path)
    batch, count = list[UnitsVisits](), 0
    for path in archive.paths(UNITS):
        visits = of_unit.get(archive.read(UnitRecord, path).id, [])
        if not visits:
            continue
        texts = tuple(archive.content(one) for one in visits)
        batch.append(UnitsVisits(archive.content(path), texts))
        count += len(visits)
        if count >= BATCH:
            yield batch
            batch, count = [], 0
    if batch:
        yield batch
