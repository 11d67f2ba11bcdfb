<script setup lang="ts">
// Everything through time on two scales, temperatures and pressures; a cursor that tells every value, and a stretch to cut out.
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useCatalogue } from '../stores/catalogue'
import { clock } from '../walk/defrostLines'
import { figure } from '../walk/figures'
import { drawnAs, scaleOf, type ManySeries } from './manyLines'

const props = defineProps<{
  seconds: number[]
  series: ManySeries[]
  span: [number, number]
  marks: { seconds: number; words: string }[]
  theme: string
  /** Keys of those that are not drawn. */
  hidden: Set<string>
}>()
const emit = defineEmits<{ cut: [from: number, to: number]; toggle: [key: string] }>()
const catalogue = useCatalogue()
const host = useTemplateRef<HTMLElement>('host')
const plot = shallowRef<uPlot | null>(null)
const at = ref<number | null>(null)
const css = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()

const visible = computed(() => props.series.filter((one) => !props.hidden.has(one.key)))
const data = computed(() => [props.seconds, ...visible.value.map((one) => one.values)] as uPlot.AlignedData)
const told = computed(() => (at.value === null ? props.seconds.length - 1 : Math.min(at.value, props.seconds.length - 1)))
const value = (one: ManySeries) => {
  const found = one.values[told.value]
  return found === null || found === undefined ? '–' : figure(found)
}

function drawMarks(u: uPlot) {
  const { ctx } = u
  const { top, height } = u.bbox
  ctx.save()
  ctx.strokeStyle = css('--focus')
  ctx.fillStyle = css('--quiet')
  ctx.font = `${13 * devicePixelRatio}px ${css('--bs-font-sans-serif')}`
  for (const mark of props.marks) {
    const x = u.valToPos(mark.seconds, 'x', true)
    ctx.beginPath()
    ctx.moveTo(x, top)
    ctx.lineTo(x, top + height)
    ctx.stroke()
    ctx.fillText(mark.words, x + 4 * devicePixelRatio, top + 13 * devicePixelRatio)
  }
  ctx.restore()
}

function draw() {
  plot.value?.destroy()
  plot.value = null
  const place = host.value
  if (!place) return
  const axis = { stroke: css('--quiet'), grid: { stroke: css('--hair'), width: 1, dash: [1, 6] }, ticks: { show: false }, font: `13px ${css('--figure')}` }
  const [first, second] = new Set(visible.value.map(scaleOf))
  const options: uPlot.Options = {
    width: Math.max(place.clientWidth, 260),
    height: Math.max(place.clientHeight, 120),
    legend: { show: false },
    cursor: { y: false, points: { show: false }, drag: { x: true, y: false, setScale: false } },
    scales: { x: { time: false, range: () => props.span }, percent: { range: [0, 100] } },
    axes: [
      { ...axis, values: (_, ticks) => ticks.map((tick) => clock(tick)), incrs: [10, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200], space: 70 },
      ...(first ? [{ ...axis, scale: first, size: 56 }] : []),
      ...(second ? [{ ...axis, scale: second, side: 1 as const, size: 62, grid: { show: false } }] : []),
    ],
    series: [{}, ...visible.value.map((one) => ({ ...drawnAs(one, css), scale: scaleOf(one) }))],
    hooks: {
      drawAxes: [drawMarks],
      setCursor: [(u) => (at.value = u.cursor.idx ?? null)],
      setSelect: [
        (u) => {
          if (u.select.width < 8) return
          emit('cut', u.posToVal(u.select.left, 'x'), u.posToVal(u.select.left + u.select.width, 'x'))
        },
      ],
    },
  }
  plot.value = new uPlot(options, data.value, place)
}

let sizes: ResizeObserver | null = null
onMounted(() => {
  draw()
  sizes = new ResizeObserver(() => {
    const place = host.value
    if (place && plot.value) plot.value.setSize({ width: Math.max(place.clientWidth, 260), height: Math.max(place.clientHeight, 120) })
  })
  if (host.value) sizes.observe(host.value)
})
onBeforeUnmount(() => {
  sizes?.disconnect()
  plot.value?.destroy()
})
// New seconds only move the lines; another set of them is drawn anew.
watch(() => [visible.value.map((one) => `${one.key} ${one.unit}`).join(), props.theme], draw)
watch(data, (now) => plot.value?.setData(now, true))
watch(() => [props.span, props.marks], () => plot.value?.redraw(false, true))

/** By the keyboard: the cursor steps along. */
function step(by: number) {
  at.value = Math.max(0, Math.min(props.seconds.length - 1, told.value + by))
  const u = plot.value
  const moment = props.seconds[at.value]
  if (u && moment !== undefined) u.setCursor({ left: u.valToPos(moment, 'x'), top: 10 })
}
</script>

<template>
  <div class="many">
    <div ref="host" class="host" role="img" tabindex="0" :aria-label="`Every value from ${clock(span[0])} to ${clock(span[1])}; arrow keys move the cursor`" @keydown.left.prevent="step(-1)" @keydown.right.prevent="step(1)" />
    <div class="told" role="group" aria-label="Values at the cursor">
      <span class="moment figure">{{ seconds.length ? clock(seconds[told] ?? 0) : '' }}</span>
      <button v-for="one in series" :key="one.key" type="button" :aria-pressed="!hidden.has(one.key)" @click="$emit('toggle', one.key)">
        <svg viewBox="0 0 22 8" width="22" height="8" aria-hidden="true"><path d="M0 4H22" :style="{ stroke: `var(${one.color})`, strokeDasharray: one.dash.join(' ') || 'none' }" /></svg>
        {{ one.name }} <span class="figure">{{ value(one) }}</span><span class="visually-hidden"> {{ catalogue.symbol(one.unit) }}</span>
      </button>
    </div>
  </div>
</template>

<style scoped>
.many {
  display: grid;
  grid-template-rows: minmax(7rem, 1fr) auto;
  height: 100%;
  min-height: 0;
}
.host {
  min-height: 7rem;
  min-width: 0;
  overflow: hidden;
}
.host :deep(.u-select) {
  background: color-mix(in srgb, var(--focus) 22%, transparent);
}
.told {
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.35rem;
  max-height: 9rem;
  overflow: auto;
  font-size: 0.8rem;
}
.told button {
  display: inline-flex;
  align-items: center;
  gap: 0.3rem;
  min-height: 1.6rem;
  padding: 0 0.3rem;
  background: none;
  border: 0;
  color: var(--ink);
}
.told button[aria-pressed='false'] {
  color: var(--quiet);
  text-decoration: line-through;
}
.told path {
  stroke-width: 2.4;
}
.moment {
  align-self: center;
  min-width: 3.5rem;
  font-weight: 600;
}
@media (max-width: 60rem) {
  .many {
    grid-template-rows: 17rem auto;
    height: auto;
  }
  .told {
    max-height: none;
  }
}
@media (pointer: coarse) {
  .told button {
    min-height: var(--target);
  }
}
</style>
