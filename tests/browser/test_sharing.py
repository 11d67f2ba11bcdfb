"""Nothing typed is lost: twenty readings, a server that goes away, and two people on one visit."""

import re

import pytest
from playwright.sync_api import Page, expect
from test_walk import start_call, type_readings

from conftest import Server, open_page, to_pipes, tray

pytestmark = pytest.mark.one_in(3)


def waiting(page: Page) -> int:
    return page.evaluate("Object.keys(localStorage).filter((k) => k.startsWith('icepick.outbox.')).length")


def readings_of(page: Page, visit: int) -> list[tuple[str, float]]:
    document = page.request.get(f"/api/visits/{visit}/document").json()
    return [(r["station"], r["value"]) for run in document["runs"] for r in run["readings"]]


def test_twenty_readings_take_twenty_numbers_and_twenty_enters(page):
    page.goto("/calls")
    start_call(page, "heating")
    visit = int(page.url.rsplit("/", 1)[1])
    numbers = [f"{30 + 3 * n}.5" for n in range(20)]
    type_readings(page, *numbers)
    expect(page.locator("#reading")).to_be_focused()
    expect(page.locator("label[for=reading]")).to_contain_text("supply air after backup heat")
    expect(page.locator(".strip .tag.kept")).to_have_count(4)
    read = readings_of(page, visit)
    assert [value for _, value in read] == [float(number) for number in numbers]
    assert len({station for station, _ in read}) == 20, "each number went to a place of its own"


@pytest.fixture
def visit_page(browser, server: Server):
    page = open_page(browser, server, "/calls")
    page.locator("#unit-site").fill("Ice House")
    page.locator("#unit-label").fill("Cellar")
    page.get_by_role("button", name="cooling", exact=True).click()
    to_pipes(page)
    yield page
    page.context.close()


@pytest.mark.one_in(1)
def test_readings_wait_while_the_server_is_away_and_go_once_in_order(visit_page, server: Server):
    page = visit_page
    type_readings(page, "160")
    expect(page.locator(".picture [data-station=discharge_line]")).to_contain_text("160.0")
    # It is shown before it is acknowledged; the server falls only after that.
    expect(page.locator(".strip .tag.unsent")).to_have_count(0)
    server.kill()
    type_readings(page, "52", "158", "54")
    expect(page.locator(".strip .tag.unsent")).to_have_count(3)
    expect(page.get_by_text("no answer from the server;")).to_be_visible()
    assert waiting(page) == 3
    # It is said on every screen, and counted.
    page.get_by_role("link", name="Calls").click()
    expect(page.get_by_role("link", name="no answer from the server; 3 kept here")).to_be_visible()
    page.go_back()

    # The server is back, but its answers to posts still get lost: what was typed survives a reload.
    page.route("**/readings*", lambda route: route.abort())
    server.start()
    page.reload()
    tray(page, "pipes")
    expect(page.locator(".strip .tag.unsent")).to_have_count(3)
    # And sent from whatever screen is open.
    page.get_by_role("link", name="Calls").click()
    page.unroute("**/readings*")
    expect(page.get_by_role("link", name="kept here")).to_have_count(0)
    assert waiting(page) == 0
    page.go_back()
    expect(page.locator(".strip .tag.kept")).to_have_count(4)
    expected = [
        ("discharge_line", 160),
        ("valve_to_indoor", 52),
        ("valve_to_outdoor", 158),
        ("common_suction", 54),
    ]
    assert readings_of(page, 1) == expected


FILL_THE_DEVICE = """() => {
  for (let size = 1 << 20; size >= 1; size >>= 2) {
    try { for (let n = 0; ; n++) localStorage.setItem(`ballast ${size} ${n}`, 'x'.repeat(size)) } catch { /* full */ }
  }
}"""


def test_a_full_device_sends_from_the_page_and_says_so_while_it_can_not(visit_page):
    page = visit_page
    page.evaluate(FILL_THE_DEVICE)
    type_readings(page, "160")
    expect(page.locator(".strip .tag.unsent")).to_have_count(0)
    assert readings_of(page, 1) == [("discharge_line", 160)]
    page.route("**/readings*", lambda route: route.abort())
    type_readings(page, "55")
    expect(page.get_by_role("alert")).to_contain_text("what is typed waits in this page alone")
    page.unroute("**/readings*")
    expect(page.get_by_text("waits in this page alone")).to_have_count(0)
    assert [value for _, value in readings_of(page, 1)] == [160, 55]


@pytest.mark.one_in(1)
def test_an_answer_that_got_lost_does_not_store_the_reading_twice(visit_page):
    page = visit_page
    swallowed = []

    def swallow_once(route):
        if swallowed:
            return route.continue_()
        swallowed.append(route.fetch())  # The server has it; the browser never hears of it.
        return route.abort()

    page.route("**/readings*", swallow_once)
    type_readings(page, "161")
    expect(page.locator(".strip .tag.unsent")).to_have_count(1)
    expect(page.locator(".strip .tag.unsent")).to_have_count(0)
    assert readings_of(page, 1) == [("discharge_line", 161)]


def test_two_people_see_each_others_readings_and_neither_loses_a_note(browser, server, visit_page):
    mine, theirs = visit_page, open_page(browser, server, "/visits/1")
    type_readings(mine, "163")
    expect(theirs.locator(".picture [data-station=discharge_line]")).to_contain_text("163.0", timeout=3000)

    for page, text in ((mine, "Filter changed."), (theirs, "Fan belt squeals.")):
        page.get_by_role("button", name="9 notes").click()
        page.get_by_label("Notes on this run").fill(text)
    theirs.get_by_role("button", name="Save").click()
    expect(theirs.get_by_role("button", name="Save")).to_be_disabled()
    mine.get_by_role("button", name="Save").click()
    alert = mine.get_by_role("alert")
    expect(alert).to_contain_text("Fan belt squeals.")
    alert.get_by_role("button", name="keep both").click()
    expect(mine.get_by_label("Notes on this run")).to_have_value("Fan belt squeals.\nFilter changed.")
    expect(theirs.get_by_label("Notes on this run")).to_have_value(
        "Fan belt squeals.\nFilter changed.", timeout=4000
    )
    theirs.context.close()


def test_a_unit_described_by_two_people_asks_which_stands(browser, server, visit_page):
    mine, theirs = (open_page(browser, server, "/units") for _ in range(2))
    for page in (mine, theirs):
        page.get_by_role("complementary").get_by_role("link", name="Ice House Cellar").click()
    theirs.get_by_label("Refrigerant").select_option("R-32")
    theirs.get_by_role("button", name="Save").click()
    expect(theirs.get_by_text("Saved.")).to_be_visible()
    mine.get_by_label("Compressor").select_option("inverter")
    mine.get_by_role("button", name="Save").click()
    expect(mine.get_by_role("alert")).to_contain_text("Somebody else changed this unit")
    mine.get_by_role("button", name="keep mine").click()
    expect(mine.get_by_text("Saved.")).to_be_visible()
    (unit,) = mine.request.get("/api/units").json()["units"]
    assert (unit["unit"]["refrigerant"], unit["unit"]["compressor"]["kind"]) == ("R-410A", "inverter")
    for page in (mine, theirs):
        page.context.close()


def test_undo_marks_history_and_the_keys(visit_page):
    page = visit_page
    type_readings(page, "160", "52")
    page.keyboard.press("Escape")
    page.keyboard.press("u")
    tag = page.locator(".strip [data-station=valve_to_indoor]")
    expect(tag).not_to_contain_text("52")
    expect(page.get_by_label("Findings").locator(".history")).to_contain_text(
        "reversing valve port to the indoor coil: 1 read"
    )
    page.keyboard.press("8")
    mark = page.get_by_role("button", name="shift heard")
    mark.click()
    expect(mark).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("/")
    page.get_by_label("Station", exact=True).fill("solenoid volts")
    page.keyboard.press("Enter")
    expect(page.locator("#reading")).to_be_focused()
    type_readings(page, "24.3")
    expect(page.locator(".strip [data-station=solenoid][data-quantity=voltage]")).to_contain_text("24.3")
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("jump to a station by name")
    # No wait for the dialog to be gone: fingers don't wait either, and a lost g would make u an undo.
    page.get_by_role("dialog").press("Escape")
    # On a loaded machine there may be more between two presses than the time in which they belong together.
    page.evaluate(
        """() => {
          for (const key of 'gu')
            document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
        }"""
    )
    expect(page).to_have_url(re.compile("/units(/new)?$"))


def test_an_off_run_tells_air_from_refrigerant(visit_page):
    page = visit_page
    page.get_by_role("button", name="another run").click()
    page.get_by_role("dialog").get_by_role("button", name="off", exact=True).click()
    expect(page.get_by_text("The unit is off and nothing flows.")).to_be_visible()
    for name, station, quantity, number in (
        ("gauges", "common_suction_tap", "pressure", "245"),
        ("air", "outdoor_air_in", "temperature", "70"),
    ):
        tray(page, name)
        page.locator(f".strip [data-station={station}][data-quantity={quantity}]").click()
        type_readings(page, number)
    expect(page.get_by_label("Findings")).to_contain_text("noncondensables, or not yet equalized")


def test_the_staircase_has_gaps_to_press_and_flags_a_leg(visit_page):
    page = visit_page
    type_readings(page, "160", "52", "158", "75")
    page.get_by_role("button", name="5 staircase").click()
    expect(page.locator(".picture .notes")).to_contain_text("Through the reversing valve it should hold")
    page.get_by_role("button", name="filter drier, indoor side, not read yet, press to fill").locator(
        ".hit"
    ).click()
    expect(page.locator("label[for=reading]")).to_have_text("filter drier, indoor side")
    expect(page.locator("#reading")).to_be_focused()
