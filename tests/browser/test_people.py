"""Several people at one server: each signs in, does what the role allows, and is named in the record."""

import re
import shutil

import pytest
from playwright.sync_api import Page, expect
from test_geometry import misplaced
from test_walk import start_call, type_readings

from conftest import Server, barriers, open_page, tray
from people import PASSPHRASE, make_people

pytestmark = pytest.mark.one_in(3)


@pytest.fixture
def shop(tmp_path, demo_records):
    records = tmp_path / "icepick.db"
    shutil.copy(demo_records, records)
    make_people(records, "lead", "technician", "apprentice", "office")
    server = Server(tmp_path, "serve", "--db", str(records))
    server.start()
    yield server
    server.kill()


def sign_in(page: Page, name: str, passphrase: str = PASSPHRASE) -> None:
    # A lead's page, until it is gone, has a field of that name too.
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_label("Passphrase", exact=True).fill(passphrase)
    page.get_by_role("button", name="Sign in").click()


def came_in(browser, shop, name, path="/"):
    page = open_page(browser, shop, path)
    sign_in(page, name)
    expect(page.get_by_role("link", name=f"People: {name}")).to_be_visible()
    return page


def test_two_people_of_different_roles_on_one_visit(browser, shop):
    technician = open_page(browser, shop)
    expect(technician.get_by_role("link", name="Calls")).to_have_count(0)
    sign_in(technician, "technician", "not the one at all")
    expect(technician.get_by_role("alert")).to_have_text("Name and passphrase don't belong together.")
    sign_in(technician, "technician")
    start_call(technician, "heating")
    type_readings(technician, "168")
    expect(technician.locator(".strip .tag.kept")).to_have_count(1)
    expect(technician.get_by_role("button", name="close this visit")).to_have_count(0)
    visit = technician.url

    lead = came_in(browser, shop, "lead", visit.removeprefix(shop.url))
    tray(lead, "pipes")
    lead.locator(".strip [data-station=discharge_line]").click()
    lead.get_by_text(re.compile("discharge line at the reversing valve: 1 read")).click()
    expect(lead.get_by_text(re.compile("clamp .*, technician"))).to_be_visible()
    technician.route("**/changes*", lambda route: route.abort())
    lead.get_by_role("button", name="close this visit").click()
    lead.get_by_role("button", name="not now").click()
    expect(lead.get_by_text("This visit has been closed since")).to_be_visible()

    # The technician's screen does not know yet; what is typed is kept until a lead opens the visit again.
    technician.locator("#reading").fill("52")
    technician.keyboard.press("Enter")
    expect(technician.get_by_role("alert").filter(has_text="This visit is closed")).to_be_visible()
    technician.unroute("**/changes*")
    technician.get_by_role("button", name="closed: add to it").click()
    expect(technician.get_by_role("button", name="open this visit again")).to_be_disabled()
    expect(technician.get_by_text("A lead opens it again")).to_be_visible()
    technician.keyboard.press("Escape")
    lead.get_by_role("button", name="closed: add to it").click()
    lead.get_by_role("button", name="open this visit again").click()
    expect(technician.locator(".strip .tag.kept")).to_have_count(2)
    technician.locator("#reading").click()

    # Put out of every device, the technician comes in again with the new passphrase and loses nothing.
    lead.get_by_role("link", name="People: lead").click()
    lead.get_by_role("button", name=re.compile("^new passphrase … *for technician")).click()
    lead.get_by_label("New passphrase of technician", exact=True).fill("oak herring quarry sun")
    lead.get_by_role("button", name="Give it; sign out everywhere").click()
    expect(lead.get_by_label("New passphrase of technician", exact=True)).to_have_count(0)
    expect(technician.get_by_role("heading", name="Sign in")).to_be_visible()
    expect(technician.get_by_label("Passphrase", exact=True)).to_be_focused()
    technician.keyboard.press("Tab")
    technician.keyboard.press("u")  # a key of the screen behind: it takes nothing back
    sign_in(technician, "technician", "oak herring quarry sun")
    expect(technician.locator("#reading")).to_be_focused()
    type_readings(technician, "53")
    expect(technician.locator(".strip .tag.kept")).to_have_count(3)
    assert technician.url == visit

    lead.get_by_role("link", name="the audit").click()
    told = lead.get_by_role("listitem").filter(has_text=re.compile("technician.*valve port.* 52 °F"))
    expect(told.first).to_be_visible()
    expect(lead.get_by_text("passphrase of technician changed")).to_be_visible()


def test_who_reads_is_shown_why_nothing_can_be_entered(browser, shop):
    office = came_in(browser, shop, "office")
    expect(
        office.get_by_text("Signed in as office, you read here; a technician starts calls.")
    ).to_be_visible()
    office.get_by_role("link", name="Boat Shed").first.click()
    expect(
        office.get_by_text("Signed in as office, you read here; a technician enters readings.")
    ).to_be_visible()
    for key in ("u", "m", "=", "Enter"):
        office.keyboard.press(key)
    expect(office.get_by_role("dialog")).to_have_count(0)
    expect(office.locator("#reading")).to_have_count(0)
    office.get_by_role("link", name="Report").click()
    expect(office.get_by_role("heading", name="Boat Shed")).to_be_visible()
    office.goto("/units")
    expect(office.get_by_label("Refrigerant").first).to_be_disabled()
    expect(office.get_by_role("button", name="Save")).to_have_count(0)
    office.goto("/handbook/limits/settling_time")
    expect(office.get_by_text("a lead changes limits")).to_be_visible()
    expect(office.get_by_role("button", name="Change")).to_have_count(0)
    office.goto("/people")
    expect(office.get_by_text("reads everything, reports included")).to_be_visible()
    expect(office.get_by_role("heading", name="Accounts")).to_have_count(0)


@pytest.mark.one_in(1)
def test_what_one_person_typed_waits_while_another_uses_the_device(browser, shop):
    page = came_in(browser, shop, "technician")
    start_call(page, "heating")
    visit = page.url
    page.route("**/readings", lambda route: route.abort())
    type_readings(page, "168")
    expect(page.get_by_role("link", name=re.compile("1 kept here"))).to_be_visible()
    page.get_by_role("link", name="People: technician").click()
    expect(page.get_by_text("1 of your entries is kept on this device")).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_text("1 entry is kept on this device")).to_be_visible()
    page.unroute("**/readings")
    sign_in(page, "lead")
    expect(page.get_by_role("link", name="1 kept here until technician signs in")).to_be_visible()
    entries = page.request.get(f"/api{visit.removeprefix(shop.url)}").json()["entries"]
    assert entries == []
    page.get_by_role("link", name="People: lead").click()
    page.get_by_role("button", name="Sign out").click()
    sign_in(page, "technician")
    expect(page.get_by_role("link", name=re.compile("kept here"))).to_have_count(0)
    page.goto(visit)
    tray(page, "pipes")
    expect(page.locator(".strip .tag.kept")).to_have_count(1)
    entries = page.request.get(f"/api{visit.removeprefix(shop.url)}").json()["entries"]
    assert [entry["by"] for entry in entries] == ["technician"]


def test_the_first_account_and_those_it_makes(browser, tmp_path):
    server = Server(tmp_path, "serve", "--allow-host", "icepick.test")
    server.start()
    code = re.search("for 60 minutes: (\\S+)", server.said()).group(1)
    page = open_page(browser, server)
    expect(page.get_by_role("heading", name="The first account")).to_be_visible()
    assert barriers(page) == []
    page.get_by_label("Code from the terminal").fill(code)
    page.get_by_label("Name", exact=True).fill("Wren Alder")
    page.get_by_label("Passphrase", exact=True).fill("password password")
    page.get_by_role("button", name="Make the account").click()
    expect(page.get_by_role("alert")).to_contain_text("guessed first")
    page.get_by_label("Passphrase", exact=True).fill(PASSPHRASE)
    page.get_by_role("button", name="Make the account").click()
    page.get_by_role("link", name="People: Wren Alder").click()
    page.locator("#account-name").fill("Hollis Tarn")
    page.get_by_label("Role", exact=True).select_option("office")
    page.get_by_label("Passphrase for the first time", exact=True).fill(PASSPHRASE)
    page.get_by_role("button", name="Make the account").click()
    expect(page.get_by_label("Role of Hollis Tarn")).to_have_value("office")
    # Alone, a lead can't step down.
    page.get_by_label("Role of Wren Alder").select_option("office")
    expect(page.get_by_role("alert")).to_contain_text("Somebody has to be lead")
    assert barriers(page) == []
    wrong = []
    for path in ("/people", "/people/audit", "/calls"):
        page.goto(path)
        expect(page.locator("main:visible h1").first).to_be_visible()
        wrong += misplaced(page, path)
    assert wrong == []
    page.goto("/people")
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    assert barriers(page) == []
    sign_in(page, "hollis tarn")
    expect(page.get_by_role("link", name="People: Hollis Tarn")).to_be_visible()
    server.kill()
