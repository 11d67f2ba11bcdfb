import { describe, expect, it } from 'vitest'
import { apart, type Box } from '../src/walk/tagsApart'
import { frameFor, halves, layCircuit, type Fold, type Point } from '../src/walk/circuitLayout'
import { visits } from './fixtures'

const TAG_WIDTH = 90
const runs = visits.flatMap((view) =>
  view.examination.runs.filter((run) => run.path.length).map((run) => ({ label: `${view.visit.unit.label}, ${run.id}`, view, run })),
)
const layouts = [...new Map(runs.map((one) => [one.run.path.map((stop) => stop.station).join(), one])).values()]
const lay = ({ run }: (typeof runs)[number], fold: Fold = 'whole') => layCircuit(run.path, run.taps, frameFor(fold))

describe('the picture of the circuit', () => {
  it('has paths of several layouts to draw, both ways round', () => {
    expect(layouts.length).toBeGreaterThan(4)
  })

  it.each(layouts)('places every station once and joins them in flow order: $label', (one) => {
    const { stations, pipes } = lay(one)
    expect(stations.map((at) => at.stop.station).sort()).toEqual(one.run.path.map((stop) => stop.station).sort())
    const at = new Map(stations.map((place) => [place.stop.station, [place.x, place.y]]))
    expect(pipes.map((pipe) => [pipe.from.station, pipe.to.station])).toEqual(
      one.run.path.slice(1).map((stop, i) => [one.run.path[i]!.station, stop.station]),
    )
    for (const pipe of pipes) {
      expect(pipe.points[0]).toEqual(at.get(pipe.from.station))
      expect(pipe.points.at(-1)).toEqual(at.get(pipe.to.station))
    }
  })

  it.each(layouts)('keeps inside and outside on their sides of the wall: $label', (one) => {
    const { wall } = frameFor('whole')
    for (const { stop, x } of lay(one).stations) {
      if (stop.place === 'indoors') expect(x, stop.station).toBeLessThan(wall)
      if (stop.place === 'outdoors') expect(x, stop.station).toBeGreaterThan(wall)
    }
  })

  it.each(layouts)('lays no tag over another and none off the sheet: $label', (one) => {
    const frame = frameFor('whole')
    const { stations, taps } = lay(one)
    const tags = [...stations.map((at) => ({ name: at.stop.station, ...at })), ...taps.map((at) => ({ name: at.tap, ...at }))]
    for (const [i, a] of tags.entries()) {
      expect(a.tagX).toBeGreaterThanOrEqual(0)
      expect(a.tagX).toBeLessThanOrEqual(frame.width)
      expect(a.tagY).toBeGreaterThanOrEqual(0)
      expect(a.tagY).toBeLessThanOrEqual(frame.height)
      for (const b of tags.slice(i + 1)) {
        const apart = Math.abs(a.tagX - b.tagX) >= TAG_WIDTH || Math.abs(a.tagY - b.tagY) >= frame.tag.height
        expect(apart, `${a.name} lies over ${b.name}`).toBe(true)
      }
    }
  })

  it('draws a unit the same whichever way the refrigerant runs', () => {
    const turned = visits.find((view) => new Set(view.examination.runs.map((run) => run.path[0] && run.running_mode)).size === 2)!
    const [there, back] = ['cooling', 'heating'].map((mode) => turned.examination.runs.find((run) => run.running_mode === mode)!)
    const places = (run: typeof there) =>
      Object.fromEntries(layCircuit(run!.path, run!.taps, frameFor('whole')).stations.map(({ stop, x, y }) => [stop.station, [x, y]]))
    expect(there!.path.map((stop) => stop.station)).not.toEqual(back!.path.map((stop) => stop.station))
    expect(places(there)).toEqual(places(back))
  })

  it.each(['indoors', 'outdoors'] as const)('shows a half on a phone: its own stations on the sheet (%s)', (fold) => {
    const frame = frameFor(fold)
    for (const { stop, x, y } of lay(layouts[0]!, fold).stations) {
      if (stop.place !== fold) continue
      expect(x >= 0 && x <= frame.width && y >= 0 && y <= frame.height, stop.station).toBe(true)
    }
  })
})

describe('a line cut in two', () => {
  it('is cut at the middle of its length, bends and all', () => {
    const points: Point[] = [[0, 0], [10, 0], [10, 4]]
    const { first, second, middle, angle } = halves(points)
    expect(middle).toEqual([7, 0])
    expect(angle).toBe(0)
    expect(first).toEqual([[0, 0], [7, 0]])
    expect(second).toEqual([[7, 0], [10, 0], [10, 4]])
  })

  it('has a middle even where it has no length', () => {
    expect(halves([[3, 3], [3, 3]]).middle).toEqual([3, 3])
  })
})

describe('tags that lie over one another', () => {
  const sheet = { width: 400, height: 600 }
  const overlap = (a: Box, b: Box) =>
    Math.abs(a.x - b.x) < (a.width + b.width) / 2 && Math.abs(a.y - b.y) < (a.height + b.height) / 2

  it.each(['outdoors', 'indoors'] as const)('stand apart and on the sheet on a phone, whatever the unit: %s', (fold) => {
    for (const { view, run } of layouts) {
      const frame = frameFor(fold, 1.4)
      const { stations, taps } = layCircuit(run.path, run.taps, frame)
      const here = (stop: { place: string | null }) => (stop.place === 'indoors') === (fold === 'indoors')
      const boxes = [...stations.filter(({ stop }) => here(stop)), ...taps.filter(({ at }) => here(at.stop))].map((one) => ({
        x: one.tagX, y: one.tagY, width: 420, height: 140,
      }))
      const machine = { x: frame.valve.x, y: frame.rows.compressor, width: 120, height: 200 }
      const placed = apart(boxes, [machine], frame)
      for (const [n, a] of placed.entries()) {
        for (const b of [machine, ...placed.slice(n + 1)]) expect(overlap(a, b), `${view.visit.unit.label}: ${n}`).toBe(false)
        expect(a.x - a.width / 2, view.visit.unit.label).toBeGreaterThanOrEqual(0)
        expect(a.x + a.width / 2).toBeLessThanOrEqual(frame.width)
        expect(a.y + a.height / 2).toBeLessThanOrEqual(frame.height)
      }
    }
  })

  it('stay where they are while nothing is in their way, and where there is no room at all', () => {
    const box = { x: 100, y: 100, width: 80, height: 40 }
    const far = { ...box, y: 400 }
    expect(apart([box, far], [], sheet)).toEqual([box, far])
    const [first, second] = apart([box, box], [], sheet)
    expect(first).toEqual(box)
    expect(Math.hypot(second!.x - box.x, second!.y - box.y)).toBeLessThanOrEqual(60)
    expect(apart([box], [{ x: 200, y: 300, width: 400, height: 600 }], sheet)).toEqual([box])
  })
})
