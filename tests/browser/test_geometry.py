"""Every view at every width: nothing too small to read or to press with a glove, nothing over anything else, nothing cut."""

import pytest
from playwright.sync_api import expect

from conftest import at_work, open_page, visit_at

WIDTHS = {320: 700, 390: 844, 768: 1024, 1280: 800}
MEASURE = """([least, target]) => {
  const found = new Set()
  const root = document.querySelector('.modal.show') ?? document.body
  const name = (element) => {
    const words = (element.getAttribute('aria-label') || element.textContent || element.tagName).trim().replace(/\\s+/g, ' ')
    return `${element.tagName.toLowerCase()} "${words.slice(0, 50)}"`
  }
  // What of an element can be seen: clipped by everything it scrolls in.
  const visible = (element) => {
    if (!element.checkVisibility()) return null
    const style = getComputedStyle(element)
    if (style.visibility === 'hidden' || style.opacity === '0' || element.closest('.visually-hidden, .skip, [aria-hidden=true] svg')) return null
    let { left, top, right, bottom } = element.getBoundingClientRect()
    for (let at = element.parentElement; at && at !== document.documentElement; at = at.parentElement) {
      const how = getComputedStyle(at)
      if (how.overflowX === 'visible' && how.overflowY === 'visible') continue
      if (at.tagName.toLowerCase() === 'svg' && how.overflowX === 'visible') continue
      const box = at.getBoundingClientRect()
      left = Math.max(left, box.left); right = Math.min(right, box.right)
      top = Math.max(top, box.top); bottom = Math.min(bottom, box.bottom)
    }
    return right - left > 1 && bottom - top > 1 ? { left, top, right, bottom } : null
  }
  if (document.documentElement.scrollWidth > innerWidth + 1) found.add(`the page is ${document.documentElement.scrollWidth} wide`)

  const texts = []
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT)
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const element = node.parentElement
    if (!node.data.trim() || !element || element.closest('script, style, option, .visually-hidden, .skip')) continue
    const clip = visible(element)
    if (!clip) continue
    const scale = element instanceof SVGElement && element.getScreenCTM ? Math.hypot(element.getScreenCTM().a, element.getScreenCTM().b) : 1
    const size = parseFloat(getComputedStyle(element).fontSize) * scale
    if (size < least - 0.05) found.add(`text of ${size.toFixed(1)} px: ${name(element)}`)
    const range = document.createRange()
    range.selectNodeContents(node)
    for (const box of range.getClientRects()) {
      const part = { left: Math.max(box.left, clip.left), right: Math.min(box.right, clip.right), top: Math.max(box.top, clip.top), bottom: Math.min(box.bottom, clip.bottom) }
      if (part.right - part.left > 2 && part.bottom - part.top > 4) texts.push({ element, ...part })
    }
  }
  const pressed = 'a[href], button, input, select, textarea, summary, [role=button]'
  const targets = []
  for (const element of root.querySelectorAll(pressed)) {
    if (element.matches('[type=hidden], [tabindex="-1"]')) continue
    if (!visible(element)) continue
    // A label that carries its box is pressed as a whole.
    const whole = element.matches('[type=checkbox], [type=radio]') ? element.closest('.form-check, label') ?? element : element
    const box = whole.getBoundingClientRect()
    if (box.width < target - 0.5 || box.height < target - 0.5) found.add(`a target of ${box.width.toFixed(0)} × ${box.height.toFixed(0)}: ${name(element)}`)
    const seen = visible(whole)
    if (seen) targets.push({ element: whole, ...seen })
  }
  const over = (a, b) => Math.min(a.right, b.right) - Math.max(a.left, b.left) > 2 && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 3
  const kin = (a, b) => a === b || a.contains(b) || b.contains(a)
  const floats = (element) => element.closest('.over-all')
  texts.forEach((a, n) => texts.slice(n + 1).forEach((b) => {
    if (!kin(a.element, b.element) && over(a, b)) found.add(`${name(a.element)} lies over ${name(b.element)}`)
  }))
  targets.forEach((a, n) => targets.slice(n + 1).forEach((b) => {
    if (!kin(a.element, b.element) && over(a, b)) found.add(`target ${name(a.element)} lies over ${name(b.element)}`)
  }))
  return [...found]
}"""

PICTURES = ("1", "2", "3", "4", "5", "6", "7", "8", "9", "0", "d")


def places(page):
    """Where to look: an address, and what to press there."""
    library, shed, ice, weir, office = (
        visit_at(page, site)
        for site in ("Tarnwick Library", "Boat Shed", "Ice House", "Weir Cottage", "Swimming-Hall Office")
    )
    yield "/calls", ()
    yield "/units/new", ()
    yield "/units/1", ()
    for picture in PICTURES:
        yield f"/visits/{library}", (picture,)
    yield f"/visits/{shed}", ("1",)
    yield f"/visits/{shed}", ("?",)
    yield f"/visits/{office}", ("5",)
    yield f"/visits/{office}", ("e",)
    yield f"/visits/{ice}", ("4",)
    yield f"/visits/{weir}", ("d",)
    yield f"/visits/{library}/report", ()
    for page_of in (
        "",
        "/saturation/R-410A",
        "/calculators/subcooling",
        "/limits",
        "/faults/undercharge",
        "/weather/1",
    ):
        yield f"/handbook{page_of}", ()
    yield "/nowhere", ()


@pytest.mark.parametrize("width", WIDTHS)
def test_nothing_is_too_small_cut_or_over_something_else(browser, demo, width):
    page = open_page(
        browser, demo, viewport={"width": width, "height": WIDTHS[width]}, has_touch=width < 1000
    )
    for site in ("Boat Shed", "Swimming-Hall Office"):
        at_work(page, visit_at(page, site))
    wrong = {}
    for address, keys in places(page):
        page.goto(address)
        expect(page.locator("main h1, main h2, main [role=alert]").first).to_be_attached()
        page.wait_for_timeout(250)
        for key in keys:
            page.keyboard.press("Escape")
            page.keyboard.press(key)
            page.wait_for_timeout(250)
        if found := page.evaluate(MEASURE, [11, 44]):
            wrong[f"{address} {''.join(keys)}"] = found
    page.context.close()
    assert not wrong, "\n".join(f"{place}: {one}" for place, found in wrong.items() for one in found)
