"""A unit with two circuits: both findings on one screen, the other circuit with a key, a third described and read."""

import re

import pytest
from playwright.sync_api import expect
from test_geometry import misplaced

from conftest import at_work, barriers, open_page, visit_at

pytestmark = pytest.mark.one_in(3)


def circuit(page, name):
    return page.get_by_role("group", name="Circuits").get_by_role("button", name=f"circuit {name}")


def test_one_valve_that_did_not_shift_is_seen_at_a_glance(browser, demo):
    page = open_page(browser, demo)
    at_work(page, visit_at(page, "Auction Hall"))
    first, second = circuit(page, 1), circuit(page, 2)
    expect(second).to_have_attribute("aria-pressed", "true")
    expect(second).to_contain_text("▷ heating ▶ cooling")
    expect(first).to_contain_text("Not checked yet: charge, metering, airflow")
    expect(page.get_by_role("region", name="Findings")).to_contain_text("Verify 24 V at the reversing valve")
    page.locator("#reading").press("Escape")
    page.keyboard.press("2")
    # The two valves stand in two lines of one table.
    expect(page.get_by_role("row", name="circuit 1, heating heating")).to_be_visible()
    expect(page.get_by_role("row", name="circuit 2, heating cooling")).to_be_visible()
    page.keyboard.press("c")
    expect(first).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("region", name="Findings")).to_contain_text("Reversing valve shifted")
    expect(page.get_by_role("button", name="run 1, circuit 1")).to_have_attribute("aria-pressed", "true")
    assert barriers(page) == []
    assert misplaced(page) == []
    page.get_by_role("link", name="Report").click()
    expect(page.get_by_role("heading", name="Run 2 on circuit 2")).to_be_visible()


def test_a_circuit_that_was_not_read_is_begun_from_its_tab(browser, demo):
    page = open_page(browser, demo)
    page.goto("/calls")
    page.get_by_label("Unit", exact=True).select_option(label="Steam Laundry · boiler room, hot water")
    page.get_by_label("Circuit to begin with").select_option("B")
    page.get_by_role("button", name="heating", exact=True).click()
    expect(circuit(page, "B")).to_have_attribute("aria-pressed", "true")
    expect(circuit(page, "A")).to_contain_text("Not read yet")
    page.locator("#reading").fill("150")
    page.keyboard.press("Enter")
    page.locator("#reading").press("Escape")
    page.keyboard.press("c")
    dialog = page.get_by_role("dialog", name="Another circuit, on the same call")
    expect(dialog.get_by_role("button", name="circuit A")).to_have_attribute("aria-pressed", "true")
    assert barriers(page) == []
    # On another circuit the same mode is what is wanted.
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="run 2, circuit A heating")).to_be_visible()
    expect(circuit(page, "A")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="switch mode: cooling").click()
    expect(page.get_by_role("button", name="run 3, circuit A cooling")).to_be_visible()
    # Both were called at once; the switch of mode begins anew.
    begun = [
        run["started_at"]
        for run in page.request.get(f"/api{page.url[len(demo.url) :]}").json()["visit"]["runs"]
    ]
    assert begun[0] == begun[1] < begun[2]


@pytest.mark.one_in(2)
@pytest.mark.parametrize("width", [1280, 390])
def test_a_unit_is_given_circuits_in_the_book(browser, demo, width):
    page = open_page(browser, demo, viewport={"width": width, "height": 844})
    page.goto("/units/new")
    page.get_by_label("Site", exact=True).fill("Boat Lift")
    page.get_by_label("Unit", exact=True).fill(f"winch house {width}")
    page.get_by_label("Layout").select_option("packaged")
    page.get_by_label("Circuits", exact=True).select_option("3")
    page.get_by_label("Circuit 2 is called").fill("middle")
    page.get_by_label("its capacity", exact=True).nth(1).fill("30000")
    page.get_by_label("its capacity", exact=True).nth(1).blur()
    assert barriers(page) == []
    assert misplaced(page) == []
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page).to_have_url(re.compile(r"/units/\d+$"))
    units = page.request.get("/api/units").json()["units"]
    (made,) = (one["unit"] for one in units if one["unit"]["label"] == f"winch house {width}")
    assert [one["id"] for one in made["circuits"]] == ["1", "middle", "3"]
    assert made["circuits"][1]["nominal_capacity"] == {"value": 30000, "unit": "Btu/h"}
