"""A call worked in the real interface, by keyboard, and what remains of it."""

import re

import pytest
from playwright.sync_api import Page, expect

from conftest import Server, barriers, open_page, to_pipes, visit_at
from draws import ALL, share

pytestmark = pytest.mark.one_in(3)


def start_call(page: Page, mode: str, unit: str = "Reading room, roof edge") -> None:
    page.get_by_label("Unit", exact=True).select_option(label=f"Tarnwick Library · {unit}")
    page.get_by_label("The unit").select_option(label="has run long enough to settle")
    page.get_by_role("button", name=mode, exact=True).click()
    to_pipes(page)


def type_readings(page: Page, *values: str) -> None:
    for value in values:
        page.keyboard.type(value)
        page.keyboard.press("Enter")


def check_line(page: Page, title: str):
    return page.get_by_label("Findings").locator(".checks summary", has_text=title)


@pytest.mark.one_in(1)
def test_four_readings_by_keyboard_alone_from_missing_to_pass_to_fail(page):
    page.goto("/calls")
    start_call(page, "cooling")
    verdict = page.get_by_role("status")
    expect(verdict).to_contain_text("Not enough readings yet")
    expect(verdict).to_contain_text("Next, read return air, supply air and outdoor air in.")
    type_readings(page, "170", "50")
    expect(verdict).to_contain_text("Next, read outdoor port and common suction.")
    # A unit behind the number, and a comma, are read too: 75.6 °C is 168.1 °F.
    type_readings(page, "75,6C", "52")
    expect(verdict).to_contain_text("Reversing valve shifted. Not checked yet: charge, metering, airflow")
    page.get_by_label("Findings").get_by_text(re.compile("checks? pass(es)?$")).click()
    expect(check_line(page, "suction rise")).to_contain_text("pass")

    page.get_by_role("button", name=re.compile("common suction line at the reversing valve")).first.click()
    type_readings(page, "59")
    expect(verdict).to_contain_text("reversing valve bypassing")
    expect(check_line(page, "suction rise")).to_contain_text("fail")
    expect(check_line(page, "suction rise")).to_contain_text("9.0 | 5 °F")

    page.reload()
    expect(verdict).to_contain_text("reversing valve bypassing")
    tag = page.locator(".picture [data-station=valve_to_outdoor]")
    expect(tag).to_contain_text("168.1")


def test_a_slip_of_the_hand_is_explained_and_kept_in_the_field(page):
    page.goto("/calls")
    start_call(page, "heating")
    field = page.locator("#reading")
    for typed, words in (("17o", "“o” is not a unit that fits here."), ("warm", "“warm” is not a number.")):
        field.fill(typed)
        field.press("Enter")
        expect(page.get_by_role("alert")).to_have_text(words)
        expect(field).to_have_value(typed)
    field.fill("900")
    field.press("Enter")
    refused = page.get_by_role("alert")
    expect(refused).to_contain_text("900 °F is outside what can be entered here")
    page.get_by_role("button", name="Discard").click()
    expect(refused).to_have_count(0)


def test_commanded_and_apparent_direction_are_two_different_things(page):
    page.goto("/calls")
    page.get_by_role("link", name="Bakery Flat").click()
    findings = page.get_by_label("Findings")
    expect(findings).to_contain_text("calling for ▷ heating")
    expect(findings).to_contain_text("running in ▶ cooling")
    expect(page.get_by_role("img", name="Circuit, calling for heating, running in cooling.")).to_be_visible()
    assert page.locator(".arrow.real").count() == page.locator(".arrow.told").count() > 0


def test_the_valve_picture_and_switching_mode(page):
    page.goto("/calls")
    page.get_by_role("link", name="Swimming-Hall Office").click()
    # It is of another day: nothing is added before somebody says so.
    expect(page.get_by_role("button", name="add to it …", exact=True)).to_be_focused()
    page.keyboard.press("2")
    expect(page.get_by_role("img", name=re.compile("^Reversing valve: slide at 1.00"))).to_be_visible()
    page.keyboard.press("[")
    expect(page.get_by_role("img", name=re.compile("slide at −1.00"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("switch mode"))).to_have_count(0)
    page.keyboard.press("m")
    page.get_by_role("dialog").get_by_role("button", name="open this visit again").click()
    expect(page.locator("#reading")).to_be_focused()
    page.get_by_role("button", name=re.compile("switch mode: cooling")).click()
    run = page.get_by_role("group", name="Runs").get_by_role("button", name="run 3 cooling")
    expect(run).to_contain_text("to settle")
    expect(page.get_by_role("img", name=re.compile("not known yet"))).to_be_visible()


def test_units_and_theme_are_remembered(page):
    page.goto("/calls")
    page.get_by_role("link", name="Boat Shed").click()
    tag = page.locator(".strip [data-station=discharge_line]")
    expect(tag).to_contain_text("173.7")
    page.get_by_role("button", name=re.compile("^Units")).click()
    expect(tag).to_contain_text("78.7")
    theme = page.evaluate("document.documentElement.dataset.theme")
    page.get_by_role("button", name=re.compile("^Theme")).click()
    page.reload()
    expect(tag).to_contain_text("78.7")
    assert page.evaluate("document.documentElement.dataset.theme") != theme


def test_a_new_unit_from_the_start_form(page):
    page.goto("/calls")
    page.get_by_label("Unit", exact=True).select_option(label="Another unit …")
    heating = page.get_by_role("button", name="heating", exact=True)
    expect(heating).to_be_disabled()
    page.get_by_label("Site").fill("Net Loft")
    page.locator("#unit-label").fill("Over the slipway")
    page.get_by_label("Drier").select_option(label="none")
    heating.click()
    expect(page.get_by_role("heading", name="Walk: Net Loft, Over the slipway")).to_be_attached()
    assert page.locator(".picture [data-station=drier_indoor_side]").count() == 0


@pytest.mark.one_in(4)
@pytest.mark.parametrize("theme", ["shade", "sun"])
@pytest.mark.parametrize(("width", "and_at"), [(1280, 768), (390, 320)])
def test_axe_finds_no_violation(browser, demo, theme, width, and_at):
    page = open_page(browser, demo)
    page.set_viewport_size({"width": width, "height": 800})
    page.evaluate(f"localStorage.setItem('icepick.theme', '{theme}')")
    pictures = (
        {1280: ("6 controls", "0 cycle"), 390: ("4 coils", "7 runs")}[width]
        if theme == "sun"
        else ("3 flow line", "7 runs")
    )
    sites = ("Swimming-Hall Office", "Boat Shed", "Ice House", "Weir Cottage")
    office, shed, ice, weir = (visit_at(page, site) for site in sites)
    every = (
        ("/calls", "Start a call"),
        ("/people", "Make the account"),
        ("/people/audit", "only this visit"),
        ("/units", "Circuit"),
        ("/handbook/saturation/R-454B", "Print the sheet"),
        ("/handbook/weather?mode=heating&fault=undercharge", "of the charge is missing"),
        ("/handbook/calculators/water_flow", "the manufacturer's table gives"),
        ("/handbook/limits/settling_time", "Checks held to it"),
        ("/handbook/faults/undercharge", "told apart"),
        (f"/visits/{office}", "Findings"),
        (f"/visits/{ice}", "Findings"),
        (f"/visits/{shed}", "Findings"),
        (f"/visits/{weir}", "Findings"),
        (f"/visits/{office}/report", "Limits used"),
    )
    for path, ready in share(every, 4):
        page.goto(path)
        # A server just started has every headline still to work out.
        expect(page.get_by_text(ready).or_(page.get_by_label(ready)).first).to_be_visible(timeout=15_000)
        if path.endswith(f"visits/{office}"):
            page.get_by_label("Findings").locator("summary:visible").last.click()
            page.get_by_role("button", name=pictures[0]).click()
        if path.endswith(f"visits/{weir}"):
            page.get_by_role("button", name="d defrost").click()
            expect(page.locator(".uplot canvas")).to_be_visible()
        if path.endswith(f"visits/{shed}"):
            page.get_by_role("button", name="9 notes, photos").click()
            expect(page.get_by_label("It shows")).to_be_visible()
        if path.endswith(f"visits/{ice}"):
            page.get_by_role("button", name=pictures[1]).click()
            if pictures[1] == "7 runs":
                page.get_by_role("button", name="earlier visits").click()
                expect(page.get_by_role("img", name="Trend of")).to_be_visible()
        for now in (width, and_at) if ALL else (width,):
            page.set_viewport_size({"width": now, "height": 800})
            assert barriers(page) == [], (path, now)
        page.set_viewport_size({"width": width, "height": 800})
    page.context.close()


@pytest.mark.one_in(1)
def test_an_acknowledged_reading_survives_a_killed_server(browser, server: Server):
    page = open_page(browser, server, "/calls")
    page.locator("#unit-site").fill("Ice House")
    page.locator("#unit-label").fill("Cellar")
    page.get_by_role("button", name="cooling", exact=True).click()
    to_pipes(page)
    with page.expect_response(re.compile("/readings")) as acknowledged:
        type_readings(page, "163.5")
    assert acknowledged.value.status == 201
    server.kill()
    server.start()
    page.reload()
    expect(page.locator(".picture [data-station=discharge_line]")).to_contain_text("163.5")
    assert page.evaluate("Object.keys(localStorage).filter((k) => k.startsWith('icepick.outbox'))") == []
    page.context.close()


def test_what_this_unit_should_show_stands_beside_what_it_shows(page):
    page.goto(f"/visits/{visit_at(page, 'Toll House')}")
    bend = page.locator(".picture [data-station=outdoor_coil]")
    expect(bend).not_to_contain_text("±")
    page.keyboard.press("Escape")
    page.keyboard.press("e")
    expect(bend).to_contain_text(re.compile(r"\d+±\d+"))
    expect(bend.locator(".departs")).to_have_count(1)
    page.reload()
    expect(bend).to_contain_text("±")
    page.get_by_role("button", name="e expected").click()
    expect(bend).not_to_contain_text("±")
    page.keyboard.press("5")
    picture = page.locator(".picture")
    expect(picture).to_contain_text("Worked out for this unit in the conditions read.")
    expect(picture).to_contain_text("under what this unit should show here, further than any other")
    expect(picture.locator(".sound .furthest")).to_have_count(1)
    expect(
        picture.get_by_role("button", name=re.compile("outdoor coil at a mid return bend,.*expected"))
    ).to_have_count(1)
    page.keyboard.press("0")
    expect(
        page.get_by_label("Pressure–enthalpy chart with the measured cycle").locator("path.sound")
    ).to_have_attribute("d", re.compile("^M.*Z$"))


def test_a_unit_shows_its_machine_and_what_each_number_rests_on(page):
    page.goto("/units")
    page.get_by_role("link", name=re.compile("^Lighthouse Kiosk")).click()
    page.get_by_text("the machine: what this unit is sized for").click()
    machine = page.get_by_role("region", name="The machine of this unit")
    expect(machine).to_contain_text("cooling, AHRI 210/240")
    expect(machine).to_contain_text("12,000 Btu/h")
    expect(machine.get_by_role("row", name=re.compile("^airflow"))).to_have_count(2)
    expect(machine).to_contain_text("400 cfm/ton [common practice]")
    page.get_by_role("button", name="°F psi").click()
    expect(machine).to_contain_text("3.5 kW")


def test_what_is_not_there_says_so_and_leads_back(browser, demo):
    page = open_page(browser, demo)
    for place, words in (
        ("/visits/99999999999999999999", "There is nothing of that number."),
        ("/visits/4711", "There is no visit 4711."),
        ("/visits/4711/report", "There is no visit 4711."),
        ("/units/7/attic", "There is nothing at this address."),
    ):
        page.goto(place)
        expect(page.get_by_text(words)).to_be_visible()
        page.get_by_role("link", name="back to Calls").click()
        expect(page.get_by_role("heading", name="Calls", exact=True)).to_be_visible()
    page.context.close()


def test_the_keyboard_skips_the_bar_and_starts_with_what_is_worked_first(page):
    page.goto("/calls")
    expect(page.get_by_role("link", name="Bakery Flat")).to_be_visible()
    page.keyboard.press("Tab")
    skip = page.get_by_role("link", name="to the content")
    expect(skip).to_be_focused()
    expect(skip).to_be_in_viewport()
    page.keyboard.press("Enter")
    page.keyboard.press("Tab")
    expect(page.get_by_label("Unit", exact=True)).to_be_focused()
