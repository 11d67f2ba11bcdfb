"""A real server in a process of its own, and headless Chromium from Debian's packages."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from multiprocessing.process import BaseProcess
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from demo_book import copy_book
from forked import icepick

# Two browsers and their servers share the machine's processors.
PATIENCE_MS = 20_000
expect.set_options(timeout=PATIENCE_MS)
BROWSER = "/usr/bin/chromium-headless-shell"
"""Debian's Chromium without the windows, tabs and menus around a page, which cost as much again as the page does."""
CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


class Server:
    """`icepick demo` or `icepick serve`, started, killed and started again on the same file; ``cold`` as at a terminal."""

    def __init__(self, folder: Path, *command: str | Path, cold: bool = False) -> None:
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self._command = [str(word) for word in command]
        self._cold = cold
        self._environment = {
            **os.environ,
            "XDG_DATA_HOME": str(folder),
            "PYTHONUNBUFFERED": "1",
            "ICEPICK_PORT": str(self.port),
        }
        self._output = folder / "said.txt"
        self._process: subprocess.Popen[bytes] | BaseProcess | None = None

    def start(self) -> None:
        if self._cold:
            at_terminal = [sys.executable, "-c", "from icepick.cli import main; main()", *self._command]
            with self._output.open("wb") as output:
                self._process = subprocess.Popen(at_terminal, env=self._environment, stdout=output)
        else:
            self._process = icepick(self._command, self._environment, self._output)
        deadline = time.monotonic() + 40
        while time.monotonic() < deadline:
            try:
                urllib.request.urlopen(f"{self.url}/healthz", timeout=1).close()
                return
            except OSError:
                time.sleep(0.05)
        raise RuntimeError("the server did not start")

    def said(self) -> str:
        """What it printed at the terminal since it was started."""
        return self._output.read_text("utf-8")

    @property
    def pid(self) -> int:
        """Of its process."""
        assert self._process is not None
        return self._process.pid

    def kill(self) -> None:
        """SIGKILL: no handler runs, nothing is flushed."""
        assert self._process is not None
        self._process.kill()
        if isinstance(self._process, BaseProcess):
            self._process.join()
        else:
            self._process.wait()


def visit_at(page: Page, site: str, earlier: int = 0) -> int:
    """The number of the newest visit to the unit at a site, or of one that many visits earlier."""
    units = page.request.get("/api/units").json()["units"]
    unit = next(unit["id"] for unit in units if unit["site"]["name"] == site)
    return page.request.get("/api/visits", params={"unit": unit}).json()["visits"][earlier]["id"]


def at_work(page: Page, visit: int) -> None:
    """Go on with a visit, whatever day it is of."""
    page.request.put(f"/api/visits/{visit}/closing", data={"closed": False})
    page.goto(f"/visits/{visit}")


AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"
_RULES = "['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']"


def to_pipes(page: Page) -> None:
    """From what is asked for first, which is the air, to the pipes in walking order."""
    expect(page.locator("#reading")).to_be_focused()
    page.keyboard.press("PageUp")
    expect(page.locator("label[for=reading]")).to_contain_text("discharge line", ignore_case=True)


def tray(page: Page, name: str) -> None:
    """Show another tray of places to read."""
    page.get_by_role("group", name="Trays").get_by_role("button", name=name).click()


def barriers(page: Page) -> list[tuple[str, list[str]]]:
    """What axe finds on a page, and where."""
    # Injected by the test's own channel, which the page's security policy does not govern.
    page.evaluate(AXE.read_text("utf-8"))
    found = page.evaluate(f"axe.run({{runOnly: {_RULES}, resultTypes: ['violations']}})")
    return [(one["id"], [node["html"][:120] for node in one["nodes"]]) for one in found["violations"]]


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=BROWSER, args=CHROMIUM)
        yield browser
        browser.close()


@pytest.fixture(scope="session")
def demo_records(tmp_path_factory) -> Path:
    """The demo's records in a file."""
    return copy_book(tmp_path_factory.mktemp("records") / "demo.db")


@pytest.fixture(scope="module")
def demo(tmp_path_factory, demo_records):
    """A server with records of its own."""
    folder = tmp_path_factory.mktemp("demo")
    server = Server(folder, "serve", "--db", shutil.copy(demo_records, folder / "icepick.db"))
    server.start()
    yield server
    server.kill()


@pytest.fixture
def server(tmp_path):
    server = Server(tmp_path, "serve")
    server.start()
    yield server
    server.kill()


@pytest.fixture(autouse=True)
def nothing_left_open(browser):
    """A page that is left open asks its server every second or two, and is drawn, for as long as the browser lives."""
    yield
    for context in browser.contexts:
        context.close()


def open_page(browser: Browser, server: Server, path: str = "/", **options) -> Page:
    """A page with a profile of its own that fails the test when the browser complains."""
    # What the service worker answers can't be held up or cut by a test; the offline tests allow it.
    asked = {"viewport": {"width": 1280, "height": 800}, "service_workers": "block"} | options
    context = browser.new_context(base_url=server.url, **asked)
    page = context.new_page()
    page.set_default_timeout(PATIENCE_MS)
    page.goto(path)
    return page


@pytest.fixture
def page(browser, demo):
    page = open_page(browser, demo)
    complaints: list[str] = []
    page.on("pageerror", lambda error: complaints.append(str(error)))
    # A refused reading answers 422, which the browser logs of its own accord.
    page.on(
        "console",
        lambda message: (
            complaints.append(message.text)
            if message.type == "error" and "status of 422" not in message.text
            else None
        ),
    )
    foreign: list[str] = []
    page.on(
        "request",
        lambda request: foreign.append(request.url) if not request.url.startswith(demo.url) else None,
    )
    yield page
    page.context.close()
    assert complaints == []
    assert foreign == [], "the app makes no request to any other host"
