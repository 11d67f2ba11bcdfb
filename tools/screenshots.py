"""Make docs/screenshots/ anew from the demo data: `.venv/bin/python tools/screenshots.py`."""

import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT / "tests" / "browser"))
from playwright.sync_api import Page, sync_playwright

from conftest import CHROMIUM, Server, open_page

OUT = ROOT / "docs" / "screenshots"


def press(name: str):
    return lambda page: page.get_by_role("button", name=name).first.click()


def nothing(_: Page) -> None:
    pass


# name, address, theme, width, what to do first
SHOTS = [
    ("calls", "/calls", "sun", 1280, nothing),
    ("walk-circuit", "/visits/3", "shade", 1280, nothing),
    ("walk-valve", "/visits/4", "sun", 1280, press("2 valve")),
    ("walk-phone", "/visits/6", "shade", 390, nothing),
    ("report", "/visits/4/report", "sun", 1280, nothing),
]


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder), "demo")
        server.start()
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        try:
            for name, address, theme, width, before in SHOTS:
                page = open_page(browser, server)
                page.set_viewport_size({"width": width, "height": 800})
                page.evaluate(f"localStorage.setItem('icepick.theme', '{theme}')")
                page.goto(address, wait_until="networkidle")
                before(page)
                page.wait_for_timeout(300)
                page.screenshot(path=OUT / f"{name}.png")
                page.context.close()
        finally:
            browser.close()
            server.kill()


if __name__ == "__main__":
    main()
