"""A whole call by keyboard, every key counted: 342 before, 200 at most."""

import re

from playwright.sync_api import Page, expect

from conftest import Server, open_page, to_pipes

MOST_KEYS = 200
COUNT = """() => {
  window.keys = Number(sessionStorage.getItem('keys') ?? 0)
  addEventListener('keydown', (event) => {
    if (['Shift', 'Control', 'Alt', 'Meta'].includes(event.key)) return
    sessionStorage.setItem('keys', String(++window.keys))
  }, { capture: true })
}"""


class Hand:
    """Presses keys, and nothing else."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def types(self, text: str) -> None:
        self.page.keyboard.type(text, delay=15)

    def presses(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def count(self) -> int:
        return int(self.page.evaluate("sessionStorage.getItem('keys')"))


def tag(page: Page, station: str, quantity: str = "temperature"):
    return page.locator(f".strip [data-station={station}][data-quantity={quantity}]")


def in_the_dialogs_field(page):
    """What is typed goes where it is meant to."""
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("textbox").or_(dialog.get_by_role("combobox")).first).to_be_focused()


def test_a_whole_call_by_keyboard_in_two_hundred_keys_at_most(browser, server: Server):
    page = open_page(browser, server, "/calls")
    page.wait_for_selector("#unit-site")
    page.evaluate(f"({COUNT})()")
    hand = Hand(page)

    # A new customer and a new unit, all else as it comes most often.
    hand.presses("n")
    hand.types("Mill")
    hand.presses("Tab")
    hand.types("Loft")
    hand.presses("Enter")
    expect(page.get_by_role("heading", name="Walk: Mill, Loft")).to_be_attached()
    expect(page.locator("#reading")).to_be_focused()

    # Fifteen pipes in walking order, as they come off the clamps; the air, which is asked for first, comes after them here.
    to_pipes(page)
    hand.types("148 147 34 33 35 34 33 90 90 89 90 34 140 90 88")
    hand.presses("Enter")
    expect(tag(page, "discharge_line")).to_contain_text("148.0")
    expect(page.locator(".strip .tag.empty")).to_have_count(1)
    # Four airs; the last pipe is passed by, with nothing typed.
    hand.presses("Enter")
    hand.types("70 98 45 36")
    hand.presses("Enter")
    # Amps and four volts, by name.
    hand.presses("PageDown")
    hand.types("24 24 0 24")
    hand.presses("Enter")
    hand.presses("/")
    in_the_dialogs_field(page)
    hand.types("amps")
    hand.presses("Enter")
    expect(page.locator(".entry label")).to_contain_text("amps")
    hand.types("9")
    hand.presses("Enter")
    # Three pressures.
    hand.presses("PageDown")
    hand.types("118 320 318")
    hand.presses("Enter")
    expect(page.get_by_label("Findings")).to_contain_text("liquid line port")

    # A correction, and an undo of it.
    hand.presses("/")
    in_the_dialogs_field(page)
    hand.types("liquid line")
    hand.presses("Enter")
    expect(page.locator(".entry label")).to_have_text("liquid line at the service valve")
    hand.types("91")
    hand.presses("Enter")
    hand.presses("u")
    expect(page.get_by_text("Took back 91.0 °F at liquid line at the service valve.")).to_be_visible()

    # The other mode, eight readings more.
    hand.presses("m", "Enter")
    expect(
        page.get_by_role("group", name="Runs").get_by_role("button", name=re.compile("run 2"))
    ).to_be_visible()
    expect(page.locator("#reading")).to_be_focused()
    hand.types("160 55 158 54 54 92 91 90")
    hand.presses("Enter")

    # A note, and the report.
    hand.presses("Escape", "9")
    expect(page.get_by_label("Notes on this run")).to_be_focused()
    hand.types("new filter")
    hand.presses("Control+Enter")
    expect(page.get_by_role("button", name="Save")).to_be_disabled()
    hand.presses("Escape", "g", "r")
    expect(page.get_by_role("link", name="Report as PDF")).to_be_visible()
    page.evaluate("window.open = (address) => void (document.title = address)")
    hand.presses("p")
    # Made first, and opened once it is there.
    expect(page).to_have_title(re.compile("^/api/visits/1/report.units=field&language=en&zone="))
    document = page.request.get("/api/visits/1/document").json()
    assert [len(run["readings"]) for run in document["runs"]] == [27, 8]
    assert document["runs"][1]["notes"] == "new filter"
    print("keys:", hand.count())
    assert hand.count() <= MOST_KEYS
    page.context.close()
