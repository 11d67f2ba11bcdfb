"""A call is closed, what it was is told, and the page of how often we were right counts it."""

from playwright.sync_api import expect
from test_geometry import misplaced

from conftest import at_work, barriers, open_page, visit_at


def test_a_call_is_repaired_closed_and_scored(browser, demo):
    page = open_page(browser, demo)
    at_work(page, visit_at(page, "Signal Box"))
    before = page.request.get("/api/scores").json()["scored"]
    page.get_by_role("button", name="another run").click()
    page.get_by_label("after the repair").check()
    page.get_by_role("dialog").get_by_role("button", name="switch mode").click()
    expect(page.get_by_role("button", name="run 2, repaired")).to_be_visible()
    page.locator("#reading").fill("168")
    page.keyboard.press("Enter")
    expect(page.get_by_text("After the repair:")).to_be_visible()

    page.get_by_role("button", name="close this visit").click()
    dialog = page.get_by_role("dialog", name="What it was in the end")
    dialog.get_by_label("It was", exact=True).select_option("undercharge")
    # A repair that changed nothing shows nothing.
    expect(dialog.get_by_label("How that is known").locator("option")).to_have_count(2)
    dialog.get_by_label("The repair").select_option("cured")
    dialog.get_by_label("How that is known").select_option("cured")
    dialog.get_by_label("Work done").fill("Flare made new, charged by weight.")
    assert barriers(page) == []
    # Put away and taken up again, also by another window, it is as it was typed.
    dialog.get_by_role("button", name="not now").click()
    page.reload()
    page.get_by_role("button", name="what it was").click()
    expect(dialog.get_by_label("Work done")).to_have_value("Flare made new, charged by weight.")
    dialog.get_by_role("button", name="Tell it").click()
    expect(page.get_by_role("button", name="it was: undercharge")).to_be_visible()
    page.get_by_role("link", name="Report").click()
    expect(page.get_by_text("Flare made new, charged by weight.")).to_be_visible()

    page.goto("/calls")
    page.get_by_role("link", name="how often we were right").click()
    expect(page.get_by_text(f"Of {before + 1} visits it is known what it was.")).to_be_visible()
    expect(page.get_by_role("link", name="Toll House, Toll house, office")).to_be_visible()
    page.get_by_text(f"the {before + 1} visits that count").click()
    expect(page.get_by_role("link", name="Signal Box, Signal box")).to_have_count(2)
    assert barriers(page) == []
    assert misplaced(page) == []
