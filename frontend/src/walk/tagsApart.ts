// Tags that would lie over one another, over a machine or off the sheet move to the nearest free place.

export interface Box {
  x: number
  y: number
  width: number
  height: number
}

const GAP = 4
/** How far a tag may go, in steps of a quarter of a tag's height. */
const RINGS = 44

const over = (a: Box, b: Box) =>
  Math.abs(a.x - b.x) < (a.width + b.width) / 2 + GAP && Math.abs(a.y - b.y) < (a.height + b.height) / 2 + GAP

/** Where to try, the nearest first; to go along its line is better than to go off it. */
const STEPS = Array.from({ length: 2 * RINGS + 1 }, (_, down) =>
  Array.from({ length: 2 * RINGS + 1 }, (_, across) => [across - RINGS, down - RINGS] as const),
)
  .flat()
  .sort((a, b) => Math.hypot(a[0], 1.3 * a[1]) - Math.hypot(b[0], 1.3 * b[1]))

/**
 * Boxes, each by its middle, in the order in which they have their place; `blocked` stay where they are. One for which there is
 * no room at all stays where it wanted to be.
 */
export function apart(boxes: Box[], blocked: Box[], sheet: { width: number; height: number }): Box[] {
  const taken = [...blocked]
  return boxes.map((box) => {
    const step = box.height / 4
    const inside = (value: number, size: number, all: number) => Math.min(Math.max(value, size / 2 + 1), all - size / 2 - 1)
    for (const [across, down] of STEPS) {
      const x = inside(box.x + across * step, box.width, sheet.width)
      const y = inside(box.y + down * step, box.height, sheet.height)
      const tried = { ...box, x, y }
      if (taken.some((other) => over(tried, other))) continue
      taken.push(tried)
      return tried
    }
    taken.push(box)
    return box
  })
}
