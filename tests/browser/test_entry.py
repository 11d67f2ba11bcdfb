"""Entry that can't mislead: what is typed is what stands, and one press is one thing."""

import re
from datetime import datetime
from uuid import uuid4

import pytest
from playwright.sync_api import Page, expect

from builders import SPLIT_UNIT
from conftest import Server, open_page, to_pipes

pytestmark = pytest.mark.one_in(3)


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    """A server for all: each test starts a call of its own."""
    server = Server(tmp_path_factory.mktemp("entry"), "serve")
    server.start()
    yield server
    server.kill()


@pytest.fixture
def walk(browser, shop: Server):
    """An empty visit in heating, the cursor in the field."""
    page = _started(browser, shop)
    yield page
    page.context.close()


def _started(browser, shop: Server, **options) -> Page:
    page = open_page(browser, shop, "/handbook", **options)
    unit = {"site": {"name": "Net Loft"}, "unit": SPLIT_UNIT}
    call = {"entry_key": uuid4().hex, "new_unit": unit, "run": {"mode": "heating"}}
    visit = page.request.post("/api/visits", data=call).json()["id"]
    page.goto(f"/visits/{visit}")
    page.locator("#reading").click()
    to_pipes(page)
    return page


def enter(page: Page, *texts: str) -> None:
    for text in texts:
        page.keyboard.type(text)
        page.keyboard.press("Enter")


def go(page: Page, name: str) -> None:
    page.keyboard.press("/")
    page.keyboard.type(name, delay=15)
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.locator("#reading")).to_be_focused()


def tag(page: Page, station: str, quantity: str = "temperature"):
    return page.locator(f".strip [data-station={station}][data-quantity={quantity}]")


def label(page: Page):
    return page.locator(".entry label")


def of_visit(page: Page, what: str) -> str:
    """Where something of the visit on screen is asked for."""
    return f"/api/visits/{page.url.rsplit('/', 1)[1]}/{what}"


def stored(page: Page) -> list[dict]:
    return page.request.get(of_visit(page, "document")).json()["runs"][0]["readings"]


def test_thousands_are_read_as_the_app_prints_them_and_what_has_two_meanings_is_asked(walk):
    go(walk, "airflow")
    enter(walk, "1,200")
    expect(tag(walk, "indoor_airflow", "flow")).to_contain_text("1,200")
    go(walk, "airflow")
    enter(walk, "1,234 99")
    which = walk.get_by_role("group", name="Which is meant")
    expect(which.get_by_role("button")).to_have_text(["1234 cfm", "1.234 cfm"])
    assert [r["value"] for r in stored(walk)] == [1200]
    which.get_by_role("button", name="1234 cfm").click()
    expect(tag(walk, "indoor_airflow", "flow")).to_contain_text("1,234")
    expect(walk.locator("#reading")).to_be_focused()


def test_what_is_typed_is_looked_at_before_it_is_entered(walk):
    typed = []
    walk.on(
        "request", lambda asked: typed.append(asked.post_data_json) if asked.url.endswith("/typed") else None
    )
    go(walk, "airflow")
    walk.keyboard.type("1,234")  # two numbers it may be: neither is taken for granted
    walk.wait_for_timeout(200)
    assert [one for one in typed if one["reading"]["value"] in (1234, 1.234)] == []
    walk.keyboard.press("Control+a")
    with walk.expect_request("**/typed"):
        walk.keyboard.type("1150")
    walk.wait_for_timeout(100)
    walk.keyboard.press("Enter")
    expect(tag(walk, "indoor_airflow", "flow")).to_contain_text("1,150")
    expect(walk.locator(".pending")).to_have_count(0)
    ahead, entered = typed[-1]["reading"], stored(walk)[-1]
    assert [entered["value"], ahead["value"]] == [1150, 1150]
    assert datetime.fromisoformat(entered["at"]) == datetime.fromisoformat(ahead["at"])


def test_a_refused_number_goes_when_a_right_one_stands_in_its_place(walk):
    enter(walk, "999")
    expect(tag(walk, "discharge_line")).to_contain_text("refused")
    tag(walk, "discharge_line").click()
    enter(walk, "162")
    expect(tag(walk, "discharge_line")).to_contain_text("162.0")
    expect(tag(walk, "discharge_line")).not_to_contain_text("refused")
    expect(walk.get_by_role("alert")).to_have_count(0)
    walk.get_by_role("button", name="undo").click()
    expect(walk.get_by_text("Took back 162.0 °F at discharge line at the reversing valve.")).to_be_visible()
    expect(tag(walk, "discharge_line")).to_have_class(re.compile("empty"))
    walk.get_by_role("button", name="redo").click()
    expect(tag(walk, "discharge_line")).to_contain_text("162.0")
    expect(walk.get_by_text("Entered again: 162.0 °F at discharge line")).to_be_visible()
    expect(walk.get_by_role("alert")).to_have_count(0)
    expect(walk.locator(".pending")).to_have_count(0)
    assert [r["value"] for r in stored(walk)] == [162]


def test_the_finder_goes_to_the_whole_name_first_and_says_pipe_or_gauge(walk):
    walk.keyboard.press("/")
    walk.keyboard.type("common suction port", delay=15)
    first = walk.get_by_role("dialog").locator("li").first
    expect(first).to_contain_text("common suction port, pressure")
    expect(first).to_contain_text("gauge")
    walk.keyboard.press("Enter")
    expect(label(walk)).to_have_text("common suction port, pressure")
    expect(walk.get_by_role("dialog")).to_have_count(0)
    expect(walk.locator("#reading")).to_be_focused()
    # The library's dialog can't be asked for again in the breath in which it closes.
    walk.wait_for_timeout(500)
    walk.keyboard.press("/")
    expect(walk.get_by_role("dialog").locator("input")).to_be_focused()
    walk.keyboard.type("liquid line", delay=15)
    expect(walk.get_by_role("dialog").locator("li").first).to_contain_text(
        re.compile("liquid line at the service valve *pipe")
    )


def test_one_press_is_one_thing_and_an_empty_run_or_visit_can_be_removed(browser, server: Server):
    page = open_page(browser, server, "/calls")
    page.locator("#unit-site").fill("Net Loft")
    page.locator("#unit-label").fill("Slipway")
    page.get_by_role("button", name="heating", exact=True).dblclick()
    expect(page.locator("#reading")).to_be_focused()
    assert len(page.request.get("/api/visits").json()["visits"]) == 1
    assert len(page.request.get("/api/units").json()["units"]) == 1

    enter(page, "160")
    runs = page.get_by_role("group", name="Runs")
    runs.get_by_role("button", name="switch mode").dblclick()
    expect(runs.get_by_role("button", name=re.compile("^run 2 cooling"))).to_be_visible()
    page.wait_for_timeout(700)
    expect(runs.get_by_role("button", name=re.compile("^run "))).to_have_count(2)
    # Looking through the choices makes no run.
    runs.get_by_role("button", name="another run").click()
    for _ in range(4):
        page.keyboard.press("Tab")
    page.keyboard.press("Escape")
    expect(runs.get_by_role("button", name=re.compile("^run "))).to_have_count(2)

    page.get_by_role("link", name="Report").click()
    expect(page.get_by_role("heading", name=re.compile("^Run 1"))).to_be_visible()
    expect(page.get_by_role("heading", name=re.compile("^Run 2"))).to_have_count(0)
    page.go_back()
    runs.get_by_role("button", name=re.compile("^run 2")).click()
    page.get_by_role("button", name="remove this run").click()
    expect(runs.get_by_role("button", name=re.compile("^run "))).to_have_count(1)
    expect(page.get_by_role("button", name="remove this")).to_have_count(0)
    page.get_by_role("button", name="undo").click()
    page.get_by_role("button", name="remove this visit").click()
    expect(page.get_by_text("No calls yet")).to_be_visible()
    page.context.close()


def test_numbers_by_thumb_on_a_keypad_of_our_own(browser, shop: Server):
    page = _started(browser, shop, viewport={"width": 390, "height": 800}, has_touch=True, is_mobile=True)
    field = page.locator("#reading")
    field.tap()
    pad = page.get_by_role("group", name="Keypad")
    expect(pad).to_be_visible()
    assert field.get_attribute("inputmode") == "none"
    for key in ("minus", "1", "2", "decimal point", "5"):
        pad.get_by_role("button", name=key, exact=True).tap()
    expect(field).to_have_value("−12.5")
    pad.get_by_role("button", name="unit: °F").tap()
    pad.get_by_role("button", name="Enter").tap()
    expect(field).to_be_focused()
    expect(field).to_have_value("")
    expect(tag(page, "discharge_line")).to_contain_text("9.5")
    here = label(page).inner_text()
    pad.get_by_role("button", name="skip").tap()
    expect(label(page)).not_to_have_text(here)
    boxes = [one.bounding_box() for one in pad.get_by_role("button").all()]
    assert min(min(box["width"], box["height"]) for box in boxes) >= 44
    pad.get_by_role("button", name="put the keypad away").tap()
    expect(pad).to_have_count(0)
    page.context.close()


def test_the_draft_of_a_note_keeps_the_text_it_began_from(walk):
    walk.keyboard.press("Escape")
    walk.keyboard.press("9")
    notes = walk.get_by_label("Notes on this run")
    notes.fill("mine")
    body = {"data": {"text": "theirs"}, "headers": {"If-Match": '"0"'}}
    assert walk.request.put(of_visit(walk, "runs/run-1/notes"), **body).status == 200
    # Away and back: the draft is taken up again, with the ground it stood on.
    walk.get_by_role("button", name="1 circuit").click()
    walk.get_by_role("button", name="9 notes").click()
    expect(notes).to_have_value("mine")
    walk.wait_for_timeout(2500)
    walk.get_by_role("button", name="Save").click()
    expect(walk.get_by_text("Somebody else changed these notes meanwhile.")).to_be_visible()
    expect(walk.locator("blockquote")).to_have_text("theirs")
    walk.get_by_role("button", name="keep both").click()
    expect(notes).to_have_value("theirs\nmine")
