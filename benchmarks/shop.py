"""A shop's server at size: years of visits in the book, several people at work.

Makes a file of visits (10,000 unless told otherwise), serves it in a process of its own and measures, over HTTP on this
machine: how long it takes to start, the first page of Calls, a page far back, filters, searches, readings from 16 clients at
once, and screens that ask what changed, all by somebody who has signed in. CPU is the server's own (utime + stime): what asks
does not count.

    python benchmarks/shop.py [--visits N] [--file KEPT.db] [--source SRC]

``--file`` keeps the file made for another time; ``--source`` is the ``src`` of another version to be measured beside this
one, on a file of its own schema.
"""

from __future__ import annotations

import argparse
import http.client
import json
import os
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median
from threading import Thread
from typing import Any
from uuid import uuid4

UNITS_PER_VISIT = 1 / 7
OURS = Path(__file__).parents[1] / "src"
sys.path[:0] = [
    str(OURS.parent / "tests" / "browser"),
    str(OURS.parent / "tests"),
    str(Path(__file__).parent),
]
from size import sized

OF_THE_DEMO = sized(None, 3)
"""So many of the demo's visits are what others are made from."""
ENTERING, FOLLOWING = sized((16, 200), (2, 2))
ALONE, ASKED = sized((300, 500), (2, 2))
ASKED_AGAIN_S = sized(2.0, 0.2)
"""A screen that shows a visit asks so often what changed."""


def make(path: Path, visits: int) -> None:
    """Fill a fresh file: each visit is one of the demo's with other numbers, at one of many units."""
    from icepick.core.document.visit import Site
    from icepick.demo import demo_visits
    from icepick.store.database import connect, prepare, writing
    from icepick.store.entries import add_observation, add_reading, set_notes
    from icepick.store.units import add_unit
    from icepick.store.visits import add_run, open_visit

    drawn = random.Random(17)
    demo = [visit for _, visit in demo_visits() if not visit.recordings][:OF_THE_DEMO]
    prepare(path)
    with closing(connect(path)) as db:
        db.execute("PRAGMA synchronous = OFF")
        with writing(db):
            units = []
            for number in range(max(int(visits * UNITS_PER_VISIT), 1)):
                visit = demo[number % len(demo)]
                site = Site(name=f"{visit.site.name} {number // len(demo) + 1}")
                units.append((add_unit(db, site, visit.unit), visit))
            opened = datetime.now(UTC) - timedelta(days=visits * 0.2)
            for _ in range(visits):
                opened += timedelta(days=0.2 * drawn.uniform(0.5, 1.45))
                unit, visit = drawn.choice(units)
                number = open_visit(db, unit, visit.complaint, opened.isoformat(timespec="milliseconds"))
                for run in visit.runs:
                    row = add_run(
                        db,
                        number,
                        run.mode,
                        key=run.id,
                        minutes_running=run.minutes_running,
                        started_at=run.started_at,
                    ).row
                    if run.notes is not None:
                        set_notes(db, row, run.notes, 0)
                    for reading in run.readings:
                        other = round(reading.value + drawn.gauss(0, 0.5), 1)
                        add_reading(db, row, reading.model_copy(update={"value": other}))
                    for observation in run.observations:
                        add_observation(db, row, observation)


def read_before(path: Path) -> None:
    """Bring a file up to date and write each line as if its visit had been examined: with what is said of the demo's visit it
    was made from. To examine ten thousand takes a quarter of an hour, which the server spends beside its work."""
    from icepick.core.examine import examine
    from icepick.demo import demo_visits
    from icepick.store import summaries
    from icepick.store.database import connect, prepare, writing
    from icepick.store.practice import practice
    from icepick.web.summarizing import basis

    began = time.perf_counter()
    prepare(path)
    print(f"{'brought up to date':35}{(time.perf_counter() - began) * 1000:8.0f} ms")
    said = {}
    made_from = [visit for _, visit in demo_visits() if not visit.recordings][:OF_THE_DEMO]
    for visit in made_from:
        found = examine(visit)
        leading = found.ranking[0].fault if found.ranking else None
        said[visit.unit.label] = summaries.Said(found.outcome, found.headline, leading, said=found.verdict)
    with closing(connect(path, worked_out=True)) as db, writing(db):
        by = basis(practice(db))
        for row in db.execute(
            "SELECT id, unit, visits.revision FROM visits JOIN summaries ON visit_id = id"
        ).fetchall():
            summaries.write(db, row["id"], row["revision"], row["revision"], by, said[row["unit"]])


SIGNED_IN: dict[str, str] = {}
"""What goes along with every request of somebody who has signed in."""
_WHO = {"name": "Wren Alder", "passphrase": "herring lamp quarry oak"}


def take_on(path: Path) -> None:
    """Make an account, so that everybody signs in."""
    from icepick.store.accounts import digest, make_account
    from icepick.store.database import connect, writing

    kept = digest(_WHO["passphrase"], _WHO["name"])
    with closing(connect(path)) as db, writing(db):
        make_account(db, _WHO["name"], "lead", kept)


def sign_in(shop: Shop) -> str:
    """Ask for everything as somebody who has signed in from here on; how long that took."""
    began = time.perf_counter()
    status, body, headers = Line(shop.port).ask("POST", "/api/session", _WHO)
    assert status == 201, body
    took = time.perf_counter() - began
    SIGNED_IN["Cookie"] = headers["Set-Cookie"].partition(";")[0]
    SIGNED_IN["X-CSRF-Token"] = json.loads(body)["csrf"]
    return f"{took * 1000:8.0f} ms"


class Shop:
    """The server, and what it used of the processor."""

    def __init__(self, source: Path, database: Path, port: int) -> None:
        self.port = port
        paths = [str(source), os.environ.get("PYTHONPATH", "")]
        environment = {**os.environ, "PYTHONPATH": os.pathsep.join(filter(None, paths))}
        command = [sys.executable, "-c", "from icepick.cli import main; main()", "serve"]
        began = time.perf_counter()
        self._process = subprocess.Popen(
            [*command, "--db", str(database), "--port", str(port)],
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        while True:
            try:
                self.get("/api/units/1000000000")
                break
            except OSError:
                time.sleep(0.01)
        self.started_s = time.perf_counter() - began

    def get(self, path: str) -> Any:
        with closing(http.client.HTTPConnection("127.0.0.1", self.port, timeout=900)) as line:
            line.request("GET", path, headers=SIGNED_IN)
            return json.loads(line.getresponse().read())

    def cpu(self) -> float:
        """Seconds of processor time the server has used."""
        fields = Path(f"/proc/{self._process.pid}/stat").read_text().rsplit(")", 1)[1].split()
        return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")

    def memory_mb(self) -> float:
        status = Path(f"/proc/{self._process.pid}/status").read_text()
        return int(status.split("VmHWM:")[1].split()[0]) / 1024

    def kill(self) -> None:
        """SIGKILL: no handler runs, nothing is flushed."""
        self._process.kill()
        self._process.wait()

    def stop(self) -> None:
        self._process.terminate()
        self._process.wait()


class Line:
    """One connection that is kept, as a browser keeps it."""

    def __init__(self, port: int) -> None:
        self._line = http.client.HTTPConnection("127.0.0.1", port, timeout=900)

    def ask(
        self, verb: str, path: str, body: Any = None, **headers: str
    ) -> tuple[int, bytes, http.client.HTTPMessage]:
        text = None if body is None else json.dumps(body)
        self._line.request(verb, path, text, {"Content-Type": "application/json", **SIGNED_IN, **headers})
        answer = self._line.getresponse()
        return answer.status, answer.read(), answer.headers


def timed(ask: Callable[[], Any], times: int) -> list[float]:
    """Milliseconds each time took."""
    took = []
    for _ in range(times):
        began = time.perf_counter()
        ask()
        took.append((time.perf_counter() - began) * 1000)
    return took


def lists(shop: Shop, times: int) -> Iterator[tuple[str, str]]:
    line = Line(shop.port)
    first = shop.get("/api/visits")
    last = first["pages"]
    for what, query in (
        ("first page of Calls", ""),
        ("a page in the middle", f"?page={last // 2}"),
        ("the last page", f"?page={last}"),
        ("one outcome", "?outcome=fail"),
        ("one mode", "?mode=heating"),
        ("one unit", f"?unit={first['visits'][0]['unit_id']}"),
        ("search, a site", "?words=ferry+12"),
        ("search, a verdict", "?words=undercharge"),
        ("search, what is nowhere", "?words=zeppelin"),
    ):
        took = timed(lambda query=query: line.ask("GET", f"/api/visits{query}"), times)
        yield what, f"{median(took):8.1f} ms, worst {max(took):.1f}"


def at_once(jobs: list[Callable[[], None]]) -> float:
    """Seconds that jobs take side by side."""
    threads = [Thread(target=job) for job in jobs]
    began = time.perf_counter()
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return time.perf_counter() - began


def begun(shop: Shop) -> int:
    """A call that is open."""
    line = Line(shop.port)
    call = {"entry_key": uuid4().hex, "unit_id": 1, "complaint": "weak", "run": {"mode": "cooling"}}
    _, answer, _ = line.ask("POST", "/api/visits", call)
    return int(json.loads(answer)["id"])


def enter_one(line: Line, visit: int) -> int:
    """Send a reading; the status it was answered with."""
    value = round(random.uniform(150, 200), 1)
    taken = {"station": "discharge_line", "quantity": "temperature", "value": value, "unit": "degF"}
    body = {"run": "run-1", "entry_key": uuid4().hex, "reading": {**taken, "method": "clamp"}}
    return line.ask("POST", f"/api/visits/{visit}/readings", body)[0]


def entering(shop: Shop, seconds: float) -> Iterator[tuple[str, str]]:
    """Readings, one behind the other and from many clients at once."""
    line, visit = Line(shop.port), begun(shop)
    before = shop.cpu()
    statuses = set[int]()
    took = timed(lambda: statuses.add(enter_one(line, visit)), ALONE)
    cost = (shop.cpu() - before) / ALONE * 1000
    yield "a reading, alone", f"{median(took):8.1f} ms, worst {max(took):.1f}; {cost:.2f} ms CPU; {statuses}"
    calls = [begun(shop) for _ in range(ENTERING)]
    until = time.perf_counter() + seconds
    kept, refused = [], []

    def enter(visit: int) -> None:
        mine = Line(shop.port)
        while time.perf_counter() < until:
            began = time.perf_counter()
            status = enter_one(mine, visit)
            (kept if status == 201 else refused).append((time.perf_counter() - began) * 1000)

    before = shop.cpu()
    took_s = at_once([lambda visit=visit: enter(visit) for visit in calls])
    cost = (shop.cpu() - before) / max(len(kept), 1) * 1000
    yield (
        f"readings, {ENTERING} clients at once",
        f"{len(kept) / took_s:8.0f} a second, median {median(kept):.1f} ms, worst {max(kept):.0f} ms, "
        f"{cost:.2f} ms CPU each, {len(refused)} refused",
    )


def following(shop: Shop, seconds: float) -> Iterator[tuple[str, str]]:
    """Screens that show a visit and ask what changed."""
    newest = [one["id"] for one in shop.get("/api/visits")["visits"]][:20]
    line = Line(shop.port)
    known = {}
    for visit in newest:
        path = f"/api/visits/{visit}/changes"
        _, body, _ = line.ask("GET", path)
        known[visit] = f"{path}?since={json.loads(body)['revision']}"
    _, _, headers = line.ask("GET", known[newest[0]])
    tag = {"If-None-Match": headers["ETag"]} if "ETag" in headers else {}
    before = shop.cpu()
    statuses = set[int]()
    took = timed(lambda: statuses.add(line.ask("GET", known[newest[0]], **tag)[0]), ASKED)
    cost = (shop.cpu() - before) / ASKED * 1000
    yield (
        "what changed: nothing",
        f"{median(took):8.2f} ms, worst {max(took):.1f}; {cost:.2f} ms CPU; {statuses}",
    )
    visit = begun(shop)
    until = time.perf_counter() + seconds
    took = []

    def follow(number: int) -> None:
        mine, path = Line(shop.port), known[newest[number % len(newest)]]
        time.sleep(random.uniform(0, ASKED_AGAIN_S))
        while time.perf_counter() < until:
            began = time.perf_counter()
            mine.ask("GET", path)
            took.append((time.perf_counter() - began) * 1000)
            time.sleep(ASKED_AGAIN_S)

    def enter() -> None:
        """Somebody writes meanwhile: what the records' last change says is old each time."""
        mine = Line(shop.port)
        while time.perf_counter() < until:
            enter_one(mine, visit)
            time.sleep(0.5)

    before, began = shop.cpu(), time.perf_counter()
    at_once([*(lambda number=number: follow(number) for number in range(FOLLOWING)), enter])
    share = (shop.cpu() - before) / (time.perf_counter() - began)
    yield (
        f"{FOLLOWING} screens, a reading each 0.5 s",
        f"{share * 100:8.0f} % of a core, median {median(took):.1f} ms, worst {max(took):.0f} ms",
    )


def on_screen(shop: Shop, times: int) -> Iterator[tuple[str, str]]:
    """From the address to a page of calls that can be read, in a browser that has never been here."""
    from playwright.sync_api import sync_playwright

    from conftest import BROWSER, CHROMIUM

    took = []
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=BROWSER, args=CHROMIUM)
        for _ in range(times):
            page = browser.new_page()
            if SIGNED_IN:
                name, _, value = SIGNED_IN["Cookie"].partition("=")
                page.context.add_cookies(
                    [{"name": name, "value": value, "url": f"http://127.0.0.1:{shop.port}"}]
                )
            began = time.perf_counter()
            page.goto(f"http://127.0.0.1:{shop.port}/calls")
            page.get_by_role("region", name="Calls").get_by_role("listitem").nth(24).wait_for()
            took.append((time.perf_counter() - began) * 1000)
            page.close()
        browser.close()
    yield "first page of Calls, on screen", f"{median(took):8.0f} ms, worst {max(took):.0f}"


@contextmanager
def made(kept: Path | None, visits: int) -> Iterator[Path]:
    """The file to measure: a copy, so that the one kept stays as it was made."""
    with tempfile.TemporaryDirectory() as folder:
        original = kept or Path(folder) / "made.db"
        if not original.exists():
            began = time.perf_counter()
            make(original, visits)
            print(f"{visits:,} visits made in {time.perf_counter() - began:.0f} s")
        with closing(sqlite3.connect(original)) as db:
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        yield Path(shutil.copy(original, Path(folder) / "shop.db"))


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--visits", type=int, default=10_000)
    asked.add_argument("--file", type=Path)
    asked.add_argument("--source", type=Path, default=OURS)
    asked.add_argument("--times", type=int, default=20, help="How often each list is asked for.")
    asked.add_argument("--seconds", type=float, default=10)
    said = asked.parse_args()
    with made(said.file, said.visits) as path:
        if said.source == OURS:
            read_before(path)
            take_on(path)
        print(f"{path.stat().st_size / 1e6:.0f} MB")
        shop = Shop(said.source, path, 8396)
        try:
            print(f"{'start':35}{shop.started_s * 1000:8.0f} ms")
            if said.source == OURS:
                print(f"{'signing in':35}{sign_in(shop)}")
            for part in (
                lists(shop, said.times),
                on_screen(shop, sized(5, 1)),
                entering(shop, said.seconds),
                following(shop, said.seconds),
            ):
                for what, how in part:
                    print(f"{what:35}{how}", flush=True)
            print(f"{'most memory':35}{shop.memory_mb():8.0f} MB")
        finally:
            shop.stop()


if __name__ == "__main__":
    main()
