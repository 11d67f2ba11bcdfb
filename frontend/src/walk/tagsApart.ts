// Tags that would lie over one another, over a machine or off the sheet move to the nearest free place.

export interface Box {
  x: number
  y: number
  width: number
  height: number
}

const GAP = 4
/** How far a tag mostly has to go, and may, in steps of a quarter of a tag's height. */
const NEAR = 8
const FAR = 44

const over = (a: Box, b: Box) =>
  Math.abs(a.x - b.x) < (a.width + b.width) / 2 + GAP && Math.abs(a.y - b.y) < (a.height + b.height) / 2 + GAP

/** How far a step leads; to go along its line is better for a tag than to go off it. */
const way = (across: number, down: number) => Math.hypot(across, 1.3 * down)

/** Steps on both sides as far as `most`, the nearest first. */
const around = (most: number) =>
  Array.from({ length: 2 * most + 1 }, (_, down) => Array.from({ length: 2 * most + 1 }, (_, across) => [across - most, down - most] as const))
    .flat()
    .sort((a, b) => way(...a) - way(...b))

// Some eight thousand of them take a phone a while to put in order, and are hardly ever needed.
const near = around(NEAR).filter((step) => way(...step) <= NEAR)
let far: typeof near | null = null

function* steps() {
  yield* near
  far ??= around(FAR).filter((step) => way(...step) > NEAR)
  yield* far
}

/**
 * Boxes, each by its middle, in the order in which they have their place; `blocked` stay where they are. One for which there is
 * no room at all stays where it wanted to be.
 */
export function apart(boxes: Box[], blocked: Box[], sheet: { width: number; height: number }): Box[] {
  const taken = [...blocked]
  return boxes.map((box) => {
    const step = box.height / 4
    const inside = (value: number, size: number, all: number) => Math.min(Math.max(value, size / 2 + 1), all - size / 2 - 1)
    for (const [across, down] of steps()) {
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
