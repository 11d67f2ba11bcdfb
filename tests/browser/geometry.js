// What is wrong with the page as it stands: too small to read or to press, over something else, or wider than the window.
([least, target]) => {
  const found = new Set()
  const root = document.querySelector('.modal.show') ?? document.body
  const name = (element) => {
    const words = (element.getAttribute('aria-label') || element.textContent || element.tagName).trim().replace(/\s+/g, ' ')
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
    // The box of slanted letters is much larger than they are.
    if (element instanceof SVGElement && Math.abs(element.getScreenCTM().b) > 0.01) continue
    // Words that end in an ellipsis stay inside.
    const button = getComputedStyle(element).overflowX === 'visible' && element.closest('button, .btn')?.getBoundingClientRect()
    for (const box of range.getClientRects()) {
      if (button && (box.left < button.left - 1 || box.right > button.right + 1)) found.add(`words out of their button: ${name(element)}`)
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
    // What is drawn is pressed where it says so, not all over its letters.
    const whole = element.querySelector?.(':scope > .hit') ?? (element.matches('[type=checkbox], [type=radio]') ? element.closest('.form-check, label') ?? element : element)
    const box = whole.getBoundingClientRect()
    if (box.width < target - 0.5 || box.height < target - 0.5) found.add(`a target of ${box.width.toFixed(0)} × ${box.height.toFixed(0)}: ${name(element)}`)
    const seen = visible(whole)
    if (seen) targets.push({ element: whole, ...seen })
  }
  const over = (a, b) => Math.min(a.right, b.right) - Math.max(a.left, b.left) > 2 && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 3
  // What stays in sight while the rest is moved lies over it by intent.
  const stays = (element) => {
    for (let at = element; at; at = at.parentElement) if (['sticky', 'fixed'].includes(getComputedStyle(at).position)) return at
    return null
  }
  const kept = new Map()
  const of = (element) => kept.get(element) ?? kept.set(element, stays(element)).get(element)
  const kin = (a, b) => a === b || a.contains(b) || b.contains(a) || of(a) !== of(b)
  texts.forEach((a, n) => texts.slice(n + 1).forEach((b) => {
    if (over(a, b) && !kin(a.element, b.element)) found.add(`${name(a.element)} lies over ${name(b.element)}`)
  }))
  targets.forEach((a, n) => targets.slice(n + 1).forEach((b) => {
    if (over(a, b) && !kin(a.element, b.element)) found.add(`target ${name(a.element)} lies over ${name(b.element)}`)
  }))
  return [...found]
}
