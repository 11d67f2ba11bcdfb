"""A unit with several heads: which call and are fed at a glance, the next head with a key, and a head called alone."""

import re

import pytest
from playwright.sync_api import expect
from test_geometry import misplaced

from conftest import at_work, barriers, open_page, to_pipes, visit_at

pytestmark = pytest.mark.one_in(3)


def head(page, name):
    return page.get_by_role("group", name="Heads", exact=True).get_by_role(
        "button", name=re.compile(rf"^{name}")
    )


def read(page, *values):
    for value in values:
        page.locator("#reading").fill(str(value))
        page.keyboard.press("Enter")


@pytest.mark.one_in(2)
@pytest.mark.parametrize("width", [1280, 390])
def test_a_head_that_is_fed_and_does_not_call_is_seen_at_a_glance(browser, demo, width):
    page = open_page(browser, demo, viewport={"width": width, "height": 844})
    at_work(page, visit_at(page, "Heron Guest House"))
    expect(page.get_by_role("region", name="Findings")).to_contain_text("EEV of head 5 leaking")
    expect(head(page, "1 parlor")).to_have_attribute("aria-pressed", "true")
    expect(head(page, "1 parlor")).to_contain_text("calls, fed")
    expect(head(page, "3 lake room")).to_contain_text("idle, bleeding")
    expect(head(page, "5 attic")).to_contain_text("✗ idle, fed")
    head(page, "a all heads").click()
    rooms = page.get_by_role("region", name="Heads, from their rooms to their ports")
    expect(rooms.get_by_role("button", name=re.compile("^liquid line"))).to_have_count(5)
    assert barriers(page) == []
    assert misplaced(page) == []
    rooms.get_by_role("button", name="5 attic").click()
    expect(head(page, "5 attic")).to_have_attribute("aria-pressed", "true")


def test_the_next_head_is_a_key_away_and_the_picture_goes_along(browser, demo):
    page = open_page(browser, demo)
    page.goto("/calls")
    page.get_by_label("Unit", exact=True).select_option(label="Lock House · lock keeper's rooms")
    page.get_by_role("group", name="heads that call").get_by_role("button", name="2 kitchen").click()
    page.get_by_label("The unit").select_option("long")
    page.get_by_role("button", name="cooling", exact=True).click()
    expect(page.get_by_role("button", name="run 1, head 2 cooling")).to_be_visible()
    expect(head(page, "2 kitchen")).to_have_attribute("aria-pressed", "true")
    to_pipes(page)
    read(page, 146, 50, 144, 52)
    page.keyboard.press("Escape")
    page.keyboard.press("h")
    expect(head(page, "1 office")).to_have_attribute("aria-pressed", "true")
    expect(page.locator("label[for=reading]")).to_contain_text("head 1")
    page.keyboard.press("h")
    expect(page.locator("label[for=reading]")).to_contain_text("head 2")
    expect(page.locator(".picture")).to_contain_text("liquid line, head 2")
    # Its pipes are at the temperature of the air, and those of the head that does not call are cold.
    for name, value in (
        ("outdoor air entering", 90),
        ("liquid line at the service valve, head 2", 89),
        ("liquid line at the service valve, head 1", 44),
        ("indoor coil at a mid return bend, head 2", 75),
    ):
        page.keyboard.press("Escape")
        page.keyboard.press("/")
        page.keyboard.type(name)
        page.keyboard.press("Enter")
        expect(page.locator("label[for=reading]")).to_contain_text(name[1:])
        read(page, value)
    expect(head(page, "2 kitchen")).to_contain_text("✗ calls, not fed")
    expect(head(page, "1 office")).to_contain_text("✗ idle, fed")
    expect(page.get_by_role("region", name="Findings")).to_contain_text("crossed heads")
    assert barriers(page) == []
    assert misplaced(page) == []
    # Which call may be said later, and another run is begun with others.
    page.get_by_role("group", name="heads that call").get_by_role("button", name="1 office").click()
    expect(page.get_by_role("button", name="run 1, heads 1, 2 cooling")).to_be_visible()
    page.locator("#reading").press("Escape")
    page.keyboard.press("m")
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="2 kitchen").click()
    dialog.get_by_role("button", name="other heads, same mode: cooling").click()
    expect(page.get_by_role("button", name="run 2, head 1 cooling")).to_be_visible()


@pytest.mark.one_in(2)
@pytest.mark.parametrize("width", [1280, 390])
def test_a_unit_is_given_heads_in_the_book(browser, demo, width):
    page = open_page(browser, demo, viewport={"width": width, "height": 844})
    page.goto("/units/new")
    page.get_by_label("Site", exact=True).fill("Toll House")
    page.get_by_label("Unit", exact=True).fill(f"upper floor {width}")
    page.get_by_label("Layout").select_option("ductless")
    page.get_by_label("Indoor metering device").select_option("none")
    page.get_by_label("Outdoor metering device").select_option("eev")
    page.get_by_label("Heads", exact=True).select_option("3")
    page.get_by_label("Head 2, its room").fill("study")
    page.get_by_label("its capacity", exact=True).nth(1).fill("9000")
    page.get_by_label("its capacity", exact=True).nth(1).blur()
    page.get_by_role("group", name="Heads", exact=True).get_by_role("button", name="2 study").click()
    expect(page.locator(".preview")).to_contain_text("liquid line, head 2")
    assert barriers(page) == []
    assert misplaced(page) == []
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page).to_have_url(re.compile(r"/units/\d+$"))
    units = page.request.get("/api/units").json()["units"]
    (made,) = (one["unit"] for one in units if one["unit"]["label"] == f"upper floor {width}")
    assert [one["label"] for one in made["heads"]] == ["room 1", "study", "room 3"]
    assert made["heads"][1]["nominal_capacity"] == {"value": 9000, "unit": "Btu/h"}
