"""The working pictures of the diagnosis: command, flow line, ranking and rule-outs, on the demo visits."""

import re

import pytest
from playwright.sync_api import expect

from conftest import at_work, visit_at

pytestmark = pytest.mark.one_in(3)


def open_visit(page, site):
    at_work(page, visit_at(page, site))
    expect(page.get_by_label("Findings")).to_be_visible()


def answer_the_looks(page, findings):
    """Nothing that is asked to be looked at is seen."""
    page.keyboard.press("Escape")
    look = findings.get_by_role("group", name="Next look")
    while look.count():
        question = look.locator("strong").inner_text()
        findings.get_by_role("button", name="No", exact=True).click()
        expect(findings.get_by_text(question)).to_have_count(0)


def test_the_command_strip_shows_what_is_right_and_a_press_goes_there(page):
    # The last one but one.
    at_work(page, visit_at(page, "Net Hall", earlier=1))
    page.get_by_role("button", name="6 controls").click()
    strip = page.get_by_role("group", name="Control terminals")
    expect(strip.get_by_role("button", name=re.compile("^R "))).to_contain_text("26.1 V")
    expect(strip.get_by_role("button", name=re.compile("^O "))).to_contain_text("fail")
    expect(page.locator(".note").get_by_text("Switch mode and read the coil again")).to_be_visible()
    strip.get_by_role("button", name="coil, ohms").click()
    expect(page.locator("#reading")).to_be_focused()
    expect(page.locator("label[for=reading]")).to_have_text("reversing valve solenoid, ohms")
    page.keyboard.type("9000k")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Where the command ends").get_by_role("listitem").nth(3)).to_contain_text("fail")


def test_the_flow_line_compares_the_same_device_in_both_modes(page):
    open_visit(page, "Sail Loft")
    page.get_by_role("button", name="3 flow line").click()
    line = page.get_by_label("Flow line, from coil to coil")
    expect(line.get_by_text("stuck closed and liquid is forced through it backwards")).to_be_visible()
    expect(line.locator("section").nth(1)).to_contain_text("check valve open")
    expect(page.get_by_role("status").first).to_contain_text(
        "Most likely indoor TXV's check valve stuck closed"
    )
    findings = page.get_by_label("Findings")
    expect(findings.get_by_text("✓ done").first).to_be_visible()
    # A post of the other run takes the cursor there.
    line.locator("section").first.get_by_role("button", name=re.compile("drier, outdoor side")).click()
    expect(page.get_by_role("group", name="Runs").get_by_role("button", name="run 1")).to_have_attribute(
        "aria-pressed", "true"
    )
    expect(page.locator("label[for=reading]")).to_have_text("filter drier, outdoor side")
    findings.get_by_role("link", name="about this in the Handbook").first.click()
    expect(page.get_by_role("heading", name="check valve stuck closed")).to_be_visible()


def test_a_look_that_was_answered_is_asked_no_more(page):
    open_visit(page, "Smokehouse")
    findings = page.get_by_label("Findings")
    expect(findings.get_by_role("status")).to_contain_text("as far as read in heating")
    answer_the_looks(page, findings)
    expect(
        findings.get_by_role("button", name=re.compile("^(next|switch mode to cooling): "))
    ).to_be_visible()


def test_what_cant_be_reached_is_asked_no_more_until_that_is_taken_back(page):
    open_visit(page, "Smokehouse")
    findings = page.get_by_label("Findings")
    answer_the_looks(page, findings)
    following = findings.get_by_role("button", name=re.compile("^next: "))
    place = following.inner_text()
    findings.get_by_role("button", name="can't reach it").click()
    away = findings.get_by_role("list", name="Out of reach").get_by_role("listitem")
    expect(away).to_have_count(1)
    expect(findings.get_by_role("button", name=place, exact=True)).to_have_count(0)
    # The same by its key, wherever another is asked for.
    page.keyboard.press("Escape")
    if following.count():
        page.keyboard.press("x")
        expect(away).to_have_count(2)
        away.last.get_by_role("button").click()
        expect(away).to_have_count(1)
    away.get_by_role("button").click()
    expect(away).to_have_count(0)
    expect(findings.get_by_role("button", name=place, exact=True)).to_be_visible()


def test_in_the_cold_the_plan_ends_without_a_change_of_mode(page):
    open_visit(page, "Signal Box")
    findings = page.get_by_label("Findings")
    answer_the_looks(page, findings)
    expect(findings.get_by_role("button", name=re.compile("^next: "))).to_be_visible()
    expect(findings.get_by_role("button", name=re.compile("^switch mode"))).to_have_count(0)


def test_the_plan_goes_to_the_other_mode_where_no_weather_forbids_it(page):
    open_visit(page, "Ferry Workshop")
    findings = page.get_by_label("Findings")
    plan = findings.get_by_role("list", name="Then, as it stands now")
    findings.get_by_text("next readings after that").click()
    expect(plan.get_by_role("listitem").first).to_contain_text("switch mode to cooling")
    # Not pressed: other stories read this visit as it is.
    expect(findings.get_by_role("button", name=re.compile("^switch mode to cooling: "))).to_be_enabled()


def test_a_fault_is_laid_over_the_staircase_and_its_numbers_open(page):
    open_visit(page, "Toll House")
    findings = page.get_by_label("Findings")
    expect(findings).to_contain_text("Enough readings.")
    findings.get_by_role("button", name="lay it over the staircase").first.click()
    stairs = page.get_by_role("group", name="Staircase: temperature along the path, in flow order")
    expect(
        stairs.get_by_role("button", name="Discharge line at the reversing valve").first
    ).to_have_accessible_name(re.compile("with outdoor TXV underfeeding \\d+"))
    expect(
        page.get_by_text("what a unit with this fault would show: outdoor TXV underfeeding.")
    ).to_be_visible()
    number = findings.locator(".compared").first
    number.locator("summary").click()
    for words in ("measured", "sound", "with this fault", "from: "):
        expect(number.get_by_text(words, exact=False).last).to_be_visible()
    findings.get_by_role("button", name="take it off the staircase").click()
    expect(page.get_by_text("what a unit with this fault would show")).to_have_count(0)


def test_what_earlier_visits_taught_is_said(page):
    open_visit(page, "Ice House")
    taught = page.get_by_label("Findings").locator(".baseline")
    taught.locator("summary").click()
    expect(taught).to_contain_text("Learned from 2 earlier visits at which nothing was wrong.")
    expect(taught).to_contain_text(re.compile("water over the outdoor coil .* ± \\d+"))
    expect(taught).to_contain_text("Nov 25, 2025: It was not sure enough that nothing was wrong.")


def test_the_coils_take_four_water_readings_and_say_the_heat(page):
    open_visit(page, "Ferry Workshop")
    page.get_by_role("button", name="4 coils").click()
    coils = page.get_by_role("region", name="Coils")
    expect(coils).to_contain_text("by water, Btu/h27,450 ±")
    expect(coils.locator("summary", has_text="heat of extraction")).to_contain_text("pass")
    coils.get_by_role("button", name=re.compile("^source water out 40.9")).click()
    expect(page.locator("label[for=reading]")).to_have_text("source water leaving")
    page.keyboard.type("44.6")
    page.keyboard.press("Enter")
    expect(coils.locator("summary", has_text="heat of extraction")).to_contain_text("fail")
    expect(coils).not_to_contain_text("27,450 ±")


def test_a_corner_of_the_cycle_shows_its_readings_and_moves_with_them(page):
    open_visit(page, "Ice House")
    page.keyboard.press("Escape")
    page.keyboard.press("0")
    chart = page.get_by_role("img", name="Pressure–enthalpy chart")
    expect(chart.locator(".corner")).to_have_count(6)
    leaves = page.get_by_role("button", name="2 leaves the compressor")
    before = leaves.text_content()
    readings = page.get_by_role("group", name="Its readings")
    # A corner is pressed in the chart, the nearest where they lie close, or by its name beside it.
    chart.locator(".corner circle").nth(1).click()
    expect(leaves).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name=re.compile("^1 ")).last.focus()
    page.keyboard.press("Enter")
    expect(leaves).to_have_attribute("aria-pressed", "false")
    leaves.focus()
    page.keyboard.press("Enter")
    expect(readings.get_by_role("button", name=re.compile("^discharge port"))).to_be_visible()
    readings.get_by_role("button", name=re.compile("^discharge line 155.6")).click()
    expect(page.locator("#reading")).to_be_focused()
    page.keyboard.type("171")
    page.keyboard.press("Enter")
    expect(leaves).not_to_have_text(before)
    expect(readings.get_by_role("button", name=re.compile("^discharge line 171.0"))).to_be_visible()
    # Both coils say their heat by water or air and by the refrigerant, and the work between them.
    page.keyboard.press("Escape")
    page.keyboard.press("4")
    coils = page.get_by_role("region", name="Coils")
    for words in ("by air, Btu/h", "by water, Btu/h", "drawn"):
        expect(coils).to_contain_text(words)
    expect(coils.get_by_text("by refrigerant, Btu/h")).to_have_count(2)
    expect(coils.locator("summary", has_text="heat balance")).to_be_visible()


def test_earlier_visits_show_the_change_and_the_trend_of_the_figure_pressed(page):
    open_visit(page, "Ice House")
    page.get_by_role("button", name="7 runs").click()
    page.get_by_role("button", name="earlier visits").click()
    region = page.get_by_role("region", name="Runs side by side")
    first = region.locator("tbody tr").first
    expect(first).to_contain_text("yes")
    region.get_by_role("button", name="evaporating", exact=True).click()
    trend = region.get_by_role("img", name="Trend of evaporating")
    expect(trend.locator("circle")).to_have_count(4)
    expect(trend).to_contain_text("Nov 21, 2023")
    row = region.locator("tr", has=page.get_by_role("button", name="evaporating", exact=True))
    expect(row).to_contain_text("−14.0")
    page.get_by_role("button", name="°F psi").click()
    expect(row).to_contain_text("−7.8")
    page.get_by_role("button", name="°C kPa").click()
    # A new reading is compared at once.
    page.get_by_role("button", name="gauges", exact=True).click()
    page.locator(".chips [data-station=common_suction_tap]").click()
    page.keyboard.type("101")
    page.keyboard.press("Enter")
    expect(row).not_to_contain_text("−14.0")
    page.get_by_role("button", name="undo").click()
    expect(row).to_contain_text("−14.0")
    region.get_by_role("link", name="Nov 19, 2024").click()
    expect(page).to_have_url(re.compile(r"/visits/2$"))


def test_the_book_lists_the_visits_to_a_unit(page):
    page.goto("/units")
    book = page.get_by_role("complementary", name="Units")
    book.get_by_label("Find a unit").fill("ice r-410a")
    book.get_by_role("link", name=re.compile("^Ice House")).click()
    # What is still missing of the unit is listed there too, and may come later.
    items = page.get_by_label("Circuit").get_by_role("listitem")
    visits = items.filter(has=page.get_by_role("link"))
    expect(visits).to_have_count(4)
    expect(visits.first.locator("strong")).to_have_text("Ice House")
    # Whatever was read there before in this session, its newest visit is in trouble.
    expect(visits.first).to_contain_text("fail")
    book.get_by_label("Find a unit").fill("bandst")
    book.get_by_role("link", name=re.compile("^Bandstand")).click()
    expect(visits).to_have_count(1)
    visits.first.get_by_role("link").click()
    expect(page.get_by_label("Findings")).to_contain_text("indoor airflow low")


def test_a_name_typed_ahead_of_the_finder_reaches_it_and_takes_nothing_back(page):
    """Every letter is a key of the screen too: u would take a reading back, a number choose a picture."""
    open_visit(page, "Ice House")
    before = page.request.get(page.url.replace("/visits", "/api/visits")).json()["entries"]
    page.keyboard.press("Escape")
    # To the page itself, as before the dialog has the cursor.
    page.evaluate(
        """async (keys) => {
          for (const key of keys) {
            document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))
            await new Promise((done) => setTimeout(done))
          }
        }""",
        [*"/source water out", "Enter"],
    )
    expect(page.locator("label[for=reading]")).to_have_text(re.compile("^source water leaving"))
    expect(page.locator("#reading")).to_be_focused()
    expect(page.locator("#reading")).to_have_value("")
    assert page.request.get(page.url.replace("/visits", "/api/visits")).json()["entries"] == before
    # The keys of the screen are back afterwards.
    page.keyboard.press("Escape")
    page.keyboard.press("0")
    expect(page.get_by_role("img", name="Pressure–enthalpy chart")).to_be_visible()


def test_a_figure_opens_to_what_made_it(page):
    open_visit(page, "Ferry Workshop")
    page.keyboard.press("Escape")
    page.keyboard.press("4")
    line = page.get_by_role("region", name="Coils").locator("details", has_text="evaporating")
    line.locator("summary").focus()
    page.keyboard.press("Enter")
    expect(line.get_by_text("from outdoor coil bend")).to_be_visible()
