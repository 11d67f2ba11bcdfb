"""A phone that waits while the records are put back: what it typed is written nowhere else, shown, and can be taken along."""

import json
import re

import pytest
from playwright.sync_api import expect
from test_geometry import misplaced

from conftest import Server, barriers, open_page, to_pipes
from icepick.store.backup import back_up, restore

CALL = {
    "entry_key": "somebody elses call",
    "new_unit": {"site": {"name": "Net Loft"}, "unit": None},
    "run": {"mode": "cooling"},
}


@pytest.mark.one_in(2)
@pytest.mark.parametrize("width", [1280, 390])
def test_what_was_typed_for_a_call_that_is_gone_stays_on_the_device(browser, tmp_path, width):
    records = tmp_path / "icepick.db"
    server = Server(tmp_path, "serve", "--db", records)
    server.start()
    page = open_page(
        browser, server, "/calls", viewport={"width": width, "height": 800}, accept_downloads=True
    )
    back_up(records, tmp_path / "copy.db")
    page.locator("#unit-site").fill("Ice House")
    page.locator("#unit-label").fill("Cellar")
    page.get_by_role("button", name="heating", exact=True).click()
    to_pipes(page)
    unit = page.request.get("/api/visits/1/document").json()["unit"]
    # Out of reach, a number is typed; meanwhile the records are put back, and somebody else's call gets this one's number.
    page.route("**/api/visits/1/**", lambda route: route.abort())
    page.keyboard.type("177.7")
    page.keyboard.press("Enter")
    expect(page.locator(".strip .tag.unsent, .strip .unsent").first).to_be_visible()
    restore(tmp_path / "copy.db", records)
    other = page.request.post("/api/visits", data={**CALL, "new_unit": {**CALL["new_unit"], "unit": unit}})
    assert other.json()["id"] == 1
    page.unroute("**/api/visits/1/**")
    kept = page.get_by_role("button", name="1 kept here: the visit is gone")
    expect(kept).to_be_visible()
    assert page.request.get("/api/visits/1/document").json()["runs"][0]["readings"] == []
    expect(page.get_by_text("is another call now: Net Loft")).to_be_visible()
    page.reload()
    kept.click()
    dialog = page.get_by_role("dialog", name="Kept on this device")
    expect(dialog).to_contain_text(re.compile("discharge line.*177.7 °F", re.IGNORECASE))
    assert barriers(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    assert misplaced(page) == []
    with page.expect_download() as saved:
        dialog.get_by_role("button", name="Save as a file").click()
    entry = json.loads(saved.value.path().read_text())["entries"][0]
    assert (entry["visit"], entry["body"]["reading"]["value"]) == (1, 177.7)
    dialog.get_by_role("button", name=re.compile("^Discard")).click()
    expect(kept).to_have_count(0)
    page.reload()
    expect(kept).to_have_count(0)
    page.context.close()
    server.kill()
