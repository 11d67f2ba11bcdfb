"""Coming back: calls searched, a unit's other visits, a visit that is closed, a unit changed and not saved."""

import re
from contextlib import closing

import pytest
from playwright.sync_api import expect

from conftest import Server, at_work, open_page, to_pipes, visit_at
from icepick.core.document.visit import Site
from icepick.demo import demo_visits
from icepick.store.database import connect, prepare, writing
from icepick.store.units import add_unit

pytestmark = pytest.mark.one_in(3)


def test_calls_are_found_by_words_and_filters_and_the_address_keeps_them(page):
    page.goto("/calls")
    calls = page.get_by_role("region", name="Calls")
    lines = calls.get_by_role("listitem")
    expect(lines).to_have_count(25)
    calls.get_by_role("button", name="older").click()
    expect(page).to_have_url(re.compile("page=2"))
    expect(calls.get_by_text(re.compile("page 2 of"))).to_be_visible()
    calls.get_by_label("Find").fill("bypassing")
    expect(lines).to_have_count(3)
    expect(lines.filter(has_text="Most likely reversing valve bypassing")).to_contain_text(
        "Swimming-Hall Office"
    )
    # What the headline does not show is quoted.
    expect(lines.last).to_contain_text("suction rise; bypassing in the valve")
    expect(page).to_have_url(re.compile(r"words=bypassing$"))
    calls.get_by_label("Mode").select_option("defrost")
    expect(calls.get_by_text("No visits match.")).to_be_visible()
    page.reload()
    expect(calls.get_by_label("Find")).to_have_value("bypassing")
    calls.get_by_role("button", name="show all").click()
    expect(lines).to_have_count(25)
    expect(calls.get_by_label("Find")).to_have_value("")
    calls.get_by_label("On unit").select_option(label="Ice House · Ice house, lake loop")
    expect(lines).to_have_count(4)
    # The form beside the list starts on the same unit.
    expect(page.get_by_label("Unit", exact=True).locator("option:checked")).to_have_text(
        "Ice House · Ice house, lake loop"
    )


def test_last_winters_visit_is_two_keys_away(page):
    page.goto(f"/visits/{visit_at(page, 'Ice House')}")
    expect(page.get_by_role("button", name="add to it …", exact=True)).to_be_focused()
    page.keyboard.press("b")
    page.keyboard.press("1")
    expect(page).to_have_url(re.compile(r"/visits/4$"))
    page.keyboard.press("b")
    dialog = page.get_by_role("dialog", name="Other visits to this unit")
    expect(dialog.get_by_role("listitem")).to_have_count(3)
    expect(dialog.get_by_role("listitem").last).to_contain_text("Nov 21, 2023")
    page.keyboard.press("3")
    expect(page).to_have_url(re.compile(r"/visits/1$"))


@pytest.mark.one_in(1)
def test_what_a_closed_visit_refused_goes_once_it_is_opened_again(browser, server: Server):
    page = open_page(browser, server, "/calls")
    page.locator("#unit-site").fill("Ice House")
    page.locator("#unit-label").fill("Cellar")
    page.get_by_role("button", name="heating", exact=True).click()
    to_pipes(page)
    expect(page.get_by_role("status").first).to_contain_text("Not enough readings yet")
    # Somebody else closes it, and this screen has not heard of that.
    page.route("**/changes*", lambda route: route.abort())
    assert page.request.put("/api/visits/1/closing", data={"closed": True}).status == 200
    page.keyboard.type("162")
    page.keyboard.press("Enter")
    refusal = page.get_by_role("alert").filter(has_text="This visit is closed")
    expect(refusal).to_contain_text("discharge line at the reversing valve")
    page.unroute("**/changes*")
    expect(page.get_by_role("button", name="add to it …", exact=True)).to_be_visible()
    refusal.get_by_role("button", name="Add to it").click()
    dialog = page.get_by_role("dialog", name="This visit is closed")
    expect(dialog.get_by_role("link", name="start a call on this unit")).to_be_focused()
    dialog.get_by_role("button", name="open this visit again").click()
    expect(refusal).to_have_count(0)
    expect(page.locator(".strip [data-station=discharge_line]")).to_contain_text("162.0")
    page.get_by_role("button", name="close this visit").click()
    page.get_by_role("button", name="not now").click()
    expect(page.locator("#reading")).to_have_count(0)
    page.get_by_role("link", name="Report").click()
    expect(page.locator(".report > header")).to_contain_text("opened again")
    readings = page.request.get("/api/visits/1/document").json()["runs"][0]["readings"]
    assert [one["value"] for one in readings] == [162]
    page.context.close()


def test_a_unit_that_was_changed_and_not_saved_is_asked_about(page):
    page.goto("/units/1")
    builder = page.get_by_label("Builder")
    book = page.get_by_role("complementary", name="Units")
    expect(builder.get_by_label("Site", exact=True)).not_to_have_value("")
    expect(builder.get_by_role("button", name="Save")).to_be_disabled()
    label = builder.get_by_label("Unit", exact=True).input_value()
    builder.get_by_label("Drier").select_option(label="not known")
    builder.get_by_label("Accumulator").select_option(label="not known")
    expect(builder.get_by_text("Not saved yet.")).to_be_visible()
    expect(page.get_by_label("Advice")).to_contain_text("whether an accumulator is fitted")
    # The lid closed and opened again.
    page.reload()
    expect(builder.get_by_label("Drier").locator("option:checked")).to_have_text("not known")
    book.get_by_role("link", name=re.compile("^Lighthouse Kiosk")).click()
    dialog = page.get_by_role("dialog", name="Not saved yet")
    expect(dialog).to_contain_text(label)
    dialog.get_by_role("button", name="stay here").click()
    expect(page).to_have_url(re.compile("/units/1$"))
    expect(builder.get_by_label("Drier").locator("option:checked")).to_have_text("not known")
    book.get_by_role("link", name=re.compile("^Lighthouse Kiosk")).click()
    dialog.get_by_role("button", name="save it, then go on").click()
    expect(builder.get_by_label("Site", exact=True)).to_have_value("Lighthouse Kiosk")
    page.go_back()
    expect(builder.get_by_label("Drier").locator("option:checked")).to_have_text("not known")
    builder.get_by_text("manufacturer's data and nameplate").click()
    builder.get_by_label("Serial number").fill("T-0042")
    builder.get_by_label("Nominal capacity", exact=True).fill("2.5 tons")
    builder.get_by_label("Nominal capacity", exact=True).press("Tab")
    builder.get_by_role("button", name="Save").click()
    expect(builder.get_by_text("Saved.")).to_be_visible()
    (unit,) = (one["unit"] for one in page.request.get("/api/units").json()["units"] if one["id"] == 1)
    assert (unit["drier"]["kind"], unit["accumulator"], unit["serial"]) == ("unknown", None, "T-0042")
    assert unit["nominal_capacity"] == {"value": 2.5, "unit": "ton"}
    page.goto("/units/4711")
    expect(page.get_by_role("alert")).to_contain_text("There is no unit 4711.")


def test_what_is_printed_on_a_plate_stands_beside_the_units_of_the_screen(page):
    page.evaluate("localStorage.setItem('icepick.units', 'metric')")
    units = page.request.get("/api/units").json()["units"]
    workshop = next(one["id"] for one in units if one["site"]["name"] == "Ferry Workshop")
    page.goto(f"/units/{workshop}")
    page.get_by_text("manufacturer's data and nameplate").click()
    builder = page.get_by_role("region", name="Builder")
    expect(builder.get_by_label("Nominal capacity", exact=True)).to_have_value("36000")
    expect(builder.get_by_text("= 10.6 kW")).to_be_visible()  # 0.29307 W to the Btu/h
    builder.get_by_label("Nominal capacity", exact=True).fill("24000")
    page.keyboard.press("Tab")
    expect(builder.get_by_text("= 7.0 kW")).to_be_visible()
    expect(builder.get_by_text("= 10.6 kW")).to_have_count(0)


def test_the_cursor_stays_in_the_page(page):
    at_work(page, visit_at(page, "Boat Shed"))
    where = "document.activeElement === document.body ? 'lost' : document.activeElement.tagName"
    expect(page.locator("#reading")).to_be_focused()
    page.keyboard.press("Escape")
    expect(page.locator("#main")).to_be_focused()
    page.keyboard.press("9")
    expect(page.get_by_label("Notes on this run")).to_be_focused()
    page.keyboard.press("Escape")
    expect(page.locator("#main")).to_be_focused()
    page.locator(".strip [data-station=discharge_line]").click()
    findings = page.get_by_label("Findings")
    findings.locator("summary", has_text=re.compile("1 read$")).click()
    findings.get_by_role("button", name="take back").focus()
    page.keyboard.press("Enter")
    expect(findings.get_by_text("taken back")).to_be_visible()
    assert page.evaluate(where) == "LI"
    page.keyboard.press("g")
    page.keyboard.press("h")
    expect(page.get_by_role("heading", name="Handbook", level=1)).to_be_attached()
    expect(page.locator("#main")).to_be_focused()
    page.keyboard.press("Tab")
    expect(page.locator("#handbook-search")).to_be_focused()


def test_of_many_units_the_one_is_found_and_its_call_is_examined_behind_the_list(browser, tmp_path):
    _, visit = demo_visits()[0]
    prepare(tmp_path / "icepick.db")
    with closing(connect(tmp_path / "icepick.db")) as db, writing(db):
        for number in range(60):
            add_unit(db, Site(name=f"Quay {number:02}"), visit.unit)
    server = Server(tmp_path, "serve", "--db", tmp_path / "icepick.db")
    server.start()
    try:
        page = open_page(browser, server, "/calls")
        choice = page.get_by_label("Unit", exact=True)
        expect(choice.locator("option", has_text="and 10 more")).to_be_disabled()
        # Among sixty nobody looks for one in a list; the calls of one are found by its words.
        expect(page.get_by_label("On unit")).to_have_count(0)
        page.get_by_label("Unit: find").fill("quay 57")
        expect(choice.locator("option:checked")).to_contain_text("Quay 57")
        page.get_by_role("button", name="heating", exact=True).click()
        expect(page.locator("#reading")).to_be_focused()
        page.get_by_role("link", name="Calls").click()
        line = page.get_by_role("region", name="Calls").get_by_role("listitem")
        expect(line).to_contain_text("Quay 57")
        # The list asks again by itself until it is examined.
        expect(line).to_contain_text("Not enough readings yet", timeout=15_000)
        expect(line).not_to_contain_text("being examined")
        page.context.close()
    finally:
        server.kill()
