"""Without a server: what was loaded once opens again, says how old it is, and takes what is typed."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from conftest import Server, open_page, visit_at

KEPT = """caches.open('icepick-answers').then((memory) => memory.keys()).then((kept) =>
  kept.map((one) => new URL(one.url)).flatMap((at) => [at.pathname, at.pathname + at.search]))"""


def remembered(page: Page, *places: str) -> None:
    for _ in range(80):
        if set(places) <= set(page.evaluate(KEPT)):
            return
        page.wait_for_timeout(250)
    raise AssertionError(page.evaluate(KEPT))


def test_the_app_opens_and_works_without_a_server_and_sends_what_was_typed_once_it_is_back(
    browser, tmp_path: Path
):
    server = Server(tmp_path, "demo", "--keep")
    server.start()
    page = open_page(browser, server, service_workers="allow")
    shed = visit_at(page, "Boat Shed")
    page.goto(f"/visits/{shed}")
    expect(page.locator(".strip [data-station=discharge_line]")).to_contain_text("173.7")
    seen = (f"/api/visits/{shed}/changes?units={units}" for units in ("field", "metric"))
    remembered(page, "/api/catalogue", "/api/visits", "/api/handbook", *seen)
    server.kill()

    page.reload()
    tag = page.locator(".strip [data-station=discharge_line]")
    expect(tag).to_contain_text("173.7")
    stale = page.get_by_role("status").filter(has_text="No answer from the server since")
    expect(stale).to_contain_text("kept on this device")
    tag.click()
    page.keyboard.type("174.5")
    page.keyboard.press("Enter")
    expect(tag).to_contain_text("174.5")
    expect(page.get_by_role("button", name=re.compile("^switch mode"))).to_be_disabled()
    page.reload()
    expect(tag).to_contain_text("174.5")
    # In other units from what is known, the entry that waits as it was typed.
    page.get_by_role("button", name="°F psi").click()
    expect(page.locator(".strip [data-station=valve_to_indoor]")).to_contain_text("77.9")
    page.get_by_role("button", name="°C kPa").click()
    expect(page.locator(".strip [data-station=valve_to_indoor]")).to_contain_text("172.3")

    page.get_by_role("link", name="Calls", exact=True).click()
    expect(page.get_by_role("link", name="Bakery Flat")).to_be_visible()
    expect(page.get_by_role("button", name="heating", exact=True)).to_be_disabled()
    page.get_by_role("link", name="Handbook", exact=True).click()
    expect(page.get_by_role("link", name=re.compile("superheat")).first).to_be_visible()

    page.goto(f"/visits/{shed}")
    server.start()
    expect(stale).to_have_count(0, timeout=15_000)
    expect(page.get_by_text("kept here")).to_have_count(0)
    readings = page.request.get(f"/api/visits/{shed}").json()["visit"]["runs"][0]["readings"]
    assert [r["value"] for r in readings if r["station"] == "discharge_line"][-1] == 174.5
    page.context.close()
    server.kill()
