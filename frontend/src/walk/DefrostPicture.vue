<script setup lang="ts">
// A defrost as it happened: temperatures through time, and under them a lane for each thing that switches.
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { RecordingExamination } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { aligned, clock, type Line } from './defrostLines'
import { figure } from './figures'

const props = defineProps<{
  lines: Line[]
  unit: string
  examined: RecordingExamination
  span: [number, number]
  /** Lines of another defrost, shifted so that both begin together. */
  over: (Line & { shift: number })[]
  theme: string
}>()
const catalogue = useCatalogue()
const chart = useTemplateRef<HTMLElement>('chart')
const pressed = ref(new Map<string, boolean>())
const shown = (line: Line) => pressed.value.get(line.station) ?? line.first
const press = (line: Line) => (pressed.value = new Map(pressed.value).set(line.station, !shown(line)))
const visible = computed(() => props.lines.filter(shown))
const overlaid = computed(() => props.over.filter((line) => visible.value.some((one) => one.station === line.station)))

const setting = (name: string) => props.examined.settings.find((one) => one.name === name)
const levels = computed(() =>
  ['start_below', 'stop_above'].flatMap((name) => {
    const found = setting(name)
    return found ? [{ name, value: found.setting.value, words: `${catalogue.word('defrost_setting', name)}${found.assumed ? ', usual' : ''}` }] : []
  }),
)

/** Where the plot lies within the picture [px]: the lanes line up with it. */
const box = ref({ left: 60, width: 600 })
const at = (seconds: number) => {
  const [from, to] = props.span
  return box.value.left + (Math.min(Math.max((seconds - from) / (to - from), 0), 1)) * box.value.width
}

const plot = shallowRef<uPlot | null>(null)
const css = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()

function marks(u: uPlot) {
  const { ctx } = u
  const x = (seconds: number) => u.valToPos(seconds, 'x', true)
  const { left, top, width, height } = u.bbox
  ctx.save()
  ctx.beginPath()
  ctx.rect(left, top, width, height)
  ctx.clip()
  for (const spell of props.examined.spells) {
    if (spell.mode !== 'defrost') continue
    ctx.fillStyle = css('--raised')
    ctx.fillRect(x(spell.from), top, x(spell.to) - x(spell.from), height)
  }
  ctx.font = `${14 * devicePixelRatio}px ${css('--bs-font-sans-serif')}`
  for (const level of levels.value) {
    const y = u.valToPos(level.value, 'y', true)
    ctx.strokeStyle = css('--edge')
    ctx.lineWidth = devicePixelRatio
    ctx.setLineDash([3 * devicePixelRatio, 5 * devicePixelRatio])
    ctx.beginPath()
    ctx.moveTo(left, y)
    ctx.lineTo(left + width, y)
    ctx.stroke()
    ctx.fillStyle = css('--quiet')
    ctx.textAlign = 'left'
    ctx.fillText(level.words, left + 4 * devicePixelRatio, y - 4 * devicePixelRatio)
  }
  ctx.setLineDash([])
  for (const { plateau } of props.examined.defrosts) {
    if (!plateau) continue
    const y = u.valToPos(plateau.temperature.value, 'y', true)
    ctx.strokeStyle = css('--focus')
    ctx.lineWidth = 7 * devicePixelRatio
    ctx.globalAlpha = 0.45
    ctx.beginPath()
    ctx.moveTo(x(plateau.from), y)
    ctx.lineTo(x(plateau.to), y)
    ctx.stroke()
    ctx.globalAlpha = 1
  }
  ctx.restore()
}

function draw() {
  plot.value?.destroy()
  plot.value = null
  const host = chart.value
  if (!host || !visible.value.length) return
  const axis = { stroke: css('--quiet'), grid: { stroke: css('--hair'), width: 1, dash: [1, 6] }, ticks: { show: false }, font: `14px ${css('--figure')}` }
  const line = (one: Line, over: boolean): uPlot.Series => ({
    stroke: css(one.stroke.color),
    width: over ? 1.2 : one.stroke.width,
    dash: over ? [2, 3] : one.stroke.dash,
    points: { show: false },
  })
  const options: uPlot.Options = {
    width: Math.max(host.clientWidth, 260),
    height: Math.max(host.clientHeight, 180),
    legend: { show: false },
    cursor: { show: false },
    scales: { x: { time: false, range: () => props.span } },
    axes: [
      { ...axis, values: (_, ticks) => ticks.map((tick) => clock(tick)), incrs: [30, 60, 120, 300, 600, 900, 1200, 1800, 3600, 7200], space: 70 },
      { ...axis, size: 84 },
    ],
    series: [{}, ...visible.value.map((one) => line(one, false)), ...overlaid.value.map((one) => line(one, true))],
    hooks: { drawAxes: [marks], ready: [settle], setSize: [settle] },
  }
  plot.value = new uPlot(options, aligned([...visible.value, ...overlaid.value]) as uPlot.AlignedData, host)
}

function settle(u: uPlot) {
  box.value = { left: u.bbox.left / devicePixelRatio, width: u.bbox.width / devicePixelRatio }
}

let sizes: ResizeObserver | null = null
onMounted(() => {
  draw()
  sizes = new ResizeObserver(() => {
    const host = chart.value
    if (host && plot.value) plot.value.setSize({ width: Math.max(host.clientWidth, 260), height: Math.max(host.clientHeight, 180) })
  })
  if (chart.value) sizes.observe(chart.value)
})
onBeforeUnmount(() => {
  sizes?.disconnect()
  plot.value?.destroy()
})
watch(() => [visible.value, overlaid.value, props.span, props.examined, props.theme, props.unit], draw)

const LANES = ['compressor', 'reversing_valve', 'outdoor_fan', 'backup_heat'] as const
const lanes = computed(() =>
  LANES.map((name) => ({ name, lane: props.examined.lanes.find((lane) => lane.name === name) })),
)
const WORDS: Record<string, string> = { reversing_valve: 'valve over to cooling', compressor: 'runs', outdoor_fan: 'turns', backup_heat: 'heats' }
const told = (name: string, lane: { on: [number, number][] } | undefined) =>
  lane ? `${catalogue.word('switched', name)} ${WORDS[name]}: ${lane.on.map(([a, b]) => `${clock(a)} to ${clock(b)}`).join(', ') || 'never'}` : `${catalogue.word('switched', name)}: not recorded`
const last = (line: Line) => `${figure(line.values.at(-1) ?? 0)} ${catalogue.symbol(props.unit)}`
</script>

<template>
  <div class="defrost">
    <div class="legend" role="group" aria-label="Lines">
      <button v-for="line in lines" :key="line.station" type="button" :aria-pressed="shown(line)" @click="press(line)">
        <svg viewBox="0 0 34 10" width="34" height="10" aria-hidden="true">
          <path d="M0 5H34" :style="{ stroke: `var(${line.stroke.color})`, strokeWidth: line.stroke.width, strokeDasharray: line.stroke.dash.join(' ') || 'none' }" />
        </svg>
        {{ catalogue.short(line.station) }} <span class="visually-hidden">, last {{ last(line) }}</span>
      </button>
    </div>
    <div v-show="visible.length" ref="chart" class="chart" role="img" :aria-label="`Temperatures from ${clock(span[0])} to ${clock(span[1])}, ${catalogue.symbol(unit)}`" />
    <ul class="lanes" aria-label="What switched">
      <li v-for="{ name, lane } in lanes" :key="name">
        <span class="visually-hidden">{{ told(name, lane) }}</span>
        <span class="name" aria-hidden="true" :style="{ width: `${box.left - 6}px` }">{{ catalogue.word('switched', name).split(' ').at(-1) }}</span>
        <svg class="lane" aria-hidden="true" height="16" :width="box.left + box.width + 2">
          <path class="rest" :d="`M${box.left} 8H${box.left + box.width}`" />
          <template v-if="lane">
            <path v-for="[from, to] in lane.on" :key="from" class="on" :d="`M${at(from)} 8H${at(to)}`" />
          </template>
          <text v-else :x="box.left + 6" y="13">not recorded</text>
        </svg>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.defrost {
  display: grid;
  grid-template-rows: auto minmax(9rem, 1fr) auto;
  height: calc(100cqh - 6.2rem);
  min-height: 21rem;
  min-width: 0;
}
@media (max-width: 64rem) {
  .defrost {
    height: 27rem;
  }
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.3rem;
}
.legend button {
  display: inline-flex;
  align-items: center;
  gap: 0.35rem;
  min-height: var(--target);
  padding: 0 0.4rem;
  background: none;
  border: 1px solid transparent;
  color: var(--quiet);
  font-size: 0.9rem;
}
.legend button[aria-pressed='true'] {
  color: var(--ink);
  border-color: var(--hair);
}
.legend button[aria-pressed='false'] svg {
  opacity: 0.3;
}
.legend path {
  fill: none;
}
.chart {
  position: relative;
  min-width: 0;
  overflow: hidden;
}
/* It takes the room there is, and must not make any. */
.chart > :deep(.uplot) {
  position: absolute;
  inset: 0;
}
.lanes {
  list-style: none;
  margin: 0.1rem 0 0;
  padding: 0;
}
.lanes li {
  position: relative;
  height: 1.35rem;
}
.name {
  position: absolute;
  left: 0;
  text-align: right;
  font-size: 0.85rem;
  color: var(--quiet);
}
.lane {
  position: absolute;
  left: 0;
  top: 2px;
}
.rest {
  stroke: var(--hair);
  stroke-width: 2;
}
.on {
  stroke: var(--ink);
  stroke-width: 12;
}
text {
  fill: var(--quiet);
  font-size: 12px;
}
</style>
