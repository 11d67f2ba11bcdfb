"""Twenty probes at one second, three browsers, ten minutes (issue 19): the server's share of a processor under 25 %, its
memory not growing, the browsers' frames within 50 ms (p95). `--minutes N` for a shorter look."""

import argparse
import os
import statistics
import sys
import tempfile
import time
from pathlib import Path

_TESTS = Path(__file__).parents[1] / "tests"
sys.path[:0] = [str(_TESTS / "browser"), str(_TESTS)]
from demo_served import demo_server
from playwright.sync_api import sync_playwright
from size import sized

from conftest import BROWSER, CHROMIUM, open_page

BROWSERS = 3
SETTLING_IN_S = sized(60, 0.5)
TICK = os.sysconf("SC_CLK_TCK")
FRAMES = """() => {
  window.frames_ms = []
  let last = performance.now()
  const again = (now) => { window.frames_ms.push(now - last); last = now; requestAnimationFrame(again) }
  requestAnimationFrame(again)
}"""


def processor_s(pid: int) -> float:
    """What a process has used of a processor."""
    fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    return (int(fields[11]) + int(fields[12])) / TICK


def memory_mb(pid: int) -> float:
    """What a process holds of its own: what it shares with files can be taken from it any time."""
    lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
    return sum(int(line.split()[1]) for line in lines if line.startswith("Private_")) / 1024


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--minutes", type=float, default=sized(10, 0.02))
    minutes = parser.parse_args().minutes
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = demo_server(Path(folder))
        server.start()
        pid = server.pid
        begun = []
        for number in range(BROWSERS):
            browser = playwright.chromium.launch(executable_path=BROWSER, args=CHROMIUM)
            page = open_page(browser, server, "/calls")
            page.get_by_role("link", name="Tide House").first.click()
            page.get_by_role("link", name="Recorder").click()
            if number == 0:
                page.get_by_role("button", name="simulated probes").click()
            page.locator(".probes li").first.wait_for()
            begun.append((browser, page))
        begun[0][1].keyboard.press("r")
        begun[1][1].keyboard.press("3")
        begun[2][1].keyboard.press("f")
        probes = begun[0][1].locator(".probes li").count()
        time.sleep(SETTLING_IN_S)
        for _, page in begun:
            page.evaluate(FRAMES)
        used, since, memory = processor_s(pid), time.monotonic(), [memory_mb(pid)]
        while time.monotonic() - since < 60 * minutes:
            time.sleep(sized(30, 0.5))
            memory.append(memory_mb(pid))
        share = (processor_s(pid) - used) / (time.monotonic() - since)
        frames = [page.evaluate("window.frames_ms") for _, page in begun]
        for browser, _ in begun:
            browser.close()
        server.kill()
    half = len(memory) // 2
    print(f"{probes} probes, {BROWSERS} browsers, {minutes:g} min: {100 * share:.1f} % of one processor")
    print(f"memory {memory[0]:.0f} MB, halfway {memory[half]:.0f} MB, at the end {memory[-1]:.0f} MB")
    for place, some in zip(("circuit, recording", "lines", "findings"), frames, strict=True):
        cuts = statistics.quantiles(some, n=100)
        print(
            f"frames of {place}: {len(some):,}, p50 {cuts[49]:.1f} ms, p95 {cuts[94]:.1f} ms, p99 {cuts[98]:.1f} ms"
        )


if __name__ == "__main__":
    main()
