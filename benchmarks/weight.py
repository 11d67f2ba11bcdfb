"""What Walk weighs and how long it takes on a slow phone (issue 16): bytes on the wire for a cold Walk (under 250 kB) and for
50 entries (under 300 kB); largest contentful paint with the processor four times slower and 400 kbit/s, cold (under 6 s) and
warm (under 1.5 s); and from Enter to repainted findings at four times slower (98th percentile under 300 ms).
"""

import statistics
import sys
import tempfile
from pathlib import Path

_TESTS = Path(__file__).parents[1] / "tests"
sys.path[:0] = [str(_TESTS / "browser"), str(_TESTS)]
sys.path.insert(0, str(Path(__file__).parent))
from demo_served import demo_server
from playwright.sync_api import BrowserContext, CDPSession, Page, sync_playwright
from screen import MEASURE
from size import sized

from conftest import BROWSER, CHROMIUM, at_work, visit_at

ENTRIES = sized(50, 2)
SLOW_BITS, SLOWER = sized((400_000, 4), (40_000_000, 1))
PAINTED = """() => new Promise((done) => new PerformanceObserver((list) => {
  done(list.getEntries().at(-1).startTime)
}).observe({type: 'largest-contentful-paint', buffered: true}))"""


class Wire:
    """Counts what came over the wire, headers and all."""

    def __init__(self, devtools: CDPSession) -> None:
        self.bytes = 0
        devtools.send("Network.enable")
        devtools.on("Network.loadingFinished", self._count)

    def _count(self, event: dict) -> None:
        self.bytes += event["encodedDataLength"]

    def taken(self) -> float:
        """Kilobytes since asked last."""
        taken, self.bytes = self.bytes, 0
        return taken / 1000


def _opened(context: BrowserContext, path: str, slow: bool) -> tuple[Page, CDPSession, Wire]:
    page = context.new_page()
    devtools = context.new_cdp_session(page)
    wire = Wire(devtools)
    if slow:
        devtools.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
        speed = {
            "downloadThroughput": SLOW_BITS / 8,
            "uploadThroughput": SLOW_BITS / 8,
            "latency": sized(150, 1),
        }
        devtools.send("Network.emulateNetworkConditions", {"offline": False, **speed})
    page.goto(path)
    page.locator(".findings").wait_for(timeout=60_000)
    return page, devtools, wire


def _entries(page: Page, station: str) -> list[float]:
    times = []
    for entry in range(ENTRIES):
        page.locator(f".strip [data-station={station}][data-quantity=temperature]").click()
        page.keyboard.type(f"{55 + entry % 7}.{entry % 10}")
        page.evaluate(f"void (window.measured = ({MEASURE})())")
        page.wait_for_timeout(100)
        page.keyboard.press("Enter")
        times.append(page.evaluate("window.measured"))
    return sorted(times)


def _said(times: list[float]) -> str:
    return f"median {statistics.median(times):.0f} ms, p98 {times[int(0.98 * len(times))]:.0f} ms"


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = demo_server(Path(folder))
        server.start()
        browser = playwright.chromium.launch(executable_path=BROWSER, args=CHROMIUM)
        new = {"base_url": server.url, "viewport": {"width": 1280, "height": 800}}

        # In a browser of its own: what it loads is not there for the measured one.
        before = browser.new_context(**new)
        probe = before.new_page()
        visit = visit_at(probe, "Swimming-Hall Office")
        at_work(probe, visit)
        before.close()
        path = f"/visits/{visit}"
        context = browser.new_context(**new)
        page, devtools, wire = _opened(context, path, slow=False)
        page.wait_for_load_state("networkidle")
        print(f"Walk cold: {wire.taken():.0f} kB on the wire")
        times = _entries(page, "common_suction")
        print(f"{ENTRIES} entries: {wire.taken():.0f} kB on the wire; Enter to findings {_said(times)}")
        devtools.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
        print(f"with the processor four times slower: {_said(_entries(page, 'common_suction'))}")
        context.close()

        context = browser.new_context(**new, service_workers="allow")
        for state in ("cold", "warm"):
            page, _, _ = _opened(context, path, slow=True)
            page.wait_for_timeout(sized(2500, 50))
            print(
                f"largest contentful paint, slow processor and line, {state}: {page.evaluate(PAINTED) / 1000:.2f} s"
            )
            page.close()
        browser.close()
        server.kill()


if __name__ == "__main__":
    main()
