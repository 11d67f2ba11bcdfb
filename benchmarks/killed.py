"""Power loss by the hundred: the server is killed (SIGKILL) under load, started again, and every entry counted.

Eight clients enter readings one behind the other, as the outbox does: what was not acknowledged is sent again under its key
until it is. Meanwhile the server is killed 300 times (an argument sets how often), each time at a moment of its own. In the
end every acknowledged reading has to stand in the file once, and nothing else.

SIGKILL takes the process and leaves the operating system: that a commit has reached the disk before it is acknowledged
(``synchronous=FULL``) is what holds beyond that.
"""

from __future__ import annotations

import http.client
import random
import sqlite3
import sys
import tempfile
import time
from contextlib import closing
from pathlib import Path
from threading import Event, Thread
from uuid import uuid4

from shop import OURS, Line, Shop

from icepick.core.document.visit import Site
from icepick.demo import demo_visits
from icepick.store.backup import look_through
from icepick.store.database import connect, prepare, writing
from icepick.store.units import add_unit
from icepick.store.visits import add_run, open_visit

CLIENTS = 8
PORT = 8394


def enter(visit: int, over: Event, acknowledged: list[str], again: list[int]) -> None:
    line = Line(PORT)
    while not over.is_set():
        key = uuid4().hex
        taken = {"station": "discharge_line", "quantity": "temperature", "value": 170, "unit": "degF"}
        while True:
            try:
                body = {"run": "run-1", "entry_key": key, "reading": taken}
                status, answer, _ = line.ask("POST", f"/api/visits/{visit}/readings", body)
            except (OSError, http.client.HTTPException):
                again[0] += 1
                line = Line(PORT)
                time.sleep(0.02)
                continue
            if status == 201:
                acknowledged.append(key)
                break
            raise RuntimeError(f"{status} {answer!r}")


def main(kills: int) -> None:
    drawn = random.Random(17)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "icepick.db"
        prepare(path)
        _, visit = demo_visits()[0]
        acknowledged: list[list[str]] = []
        again, over = [0], Event()
        clients = []
        with closing(connect(path)) as db, writing(db):
            unit = add_unit(db, Site(name="Ferry Workshop"), visit.unit)
            for _ in range(CLIENTS):
                number = open_visit(db, unit, None)
                add_run(db, number, "heating")
                acknowledged.append([])
                clients.append(Thread(target=enter, args=(number, over, acknowledged[-1], again)))
        shop = Shop(OURS, path, PORT)
        for client in clients:
            client.start()
        began = time.perf_counter()
        for done in range(1, kills + 1):
            time.sleep(drawn.uniform(0.02, 0.5))
            shop.kill()
            shop = Shop(OURS, path, PORT)
            if done % 50 == 0:
                print(f"{done} killed, {sum(map(len, acknowledged)):,} acknowledged", flush=True)
        over.set()
        for client in clients:
            client.join()
        shop.stop()
        with closing(sqlite3.connect(path)) as db:
            kept = [row[0] for row in db.execute("SELECT entry_key FROM readings")]
        sent = {key for each in acknowledged for key in each}
        print(
            f"killed {kills} times in {time.perf_counter() - began:.0f} s; "
            f"{len(sent):,} acknowledged, {again[0]:,} sent again: "
            f"{len(sent - set(kept))} lost, {len(kept) - len(set(kept))} doubled, {len(set(kept) - sent)} nobody knows of; "
            f"the file is whole ({look_through(path).readings:,} readings)"
        )
        assert set(kept) == sent
        assert len(kept) == len(sent)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 300)
