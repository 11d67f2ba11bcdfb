<script setup lang="ts">
// The reversing valve cut open: four pipes, the two differences, where the slide stands.
import { computed } from 'vue'
import type { ApparentMode, Check, Mode, RunExamination } from '../api/types'
import StatusMark from '../shell/StatusMark.vue'
import { useCatalogue } from '../stores/catalogue'
import { spotKey, type Shown } from '../stores/visit'
import { signed } from './figures'
import StationTag from './StationTag.vue'
import { temperatureColour } from './temperatureScale'

const props = defineProps<{
  commanded: Mode
  apparent: ApparentMode
  indicators: RunExamination['indicators']
  checks: Check[]
  shown: Map<string, Shown>
  selected: string
}>()
defineEmits<{ press: [station: string] }>()
const catalogue = useCatalogue()

const WIDTH = 1000
const HEIGHT = 580
const PIPES = [
  { code: 'discharge_line', x: 500, y: 52 },
  { code: 'valve_to_indoor', x: 180, y: 528 },
  { code: 'common_suction', x: 500, y: 528 },
  { code: 'valve_to_outdoor', x: 820, y: 528 },
]
const TRAVEL = 160

const index = computed(() => props.indicators.valve_position_index?.value ?? null)
// Clamps err: a slide stands at its stop, and not beyond it.
const within = (position: number) => Math.max(-1, Math.min(1, position))
const slideAt = (position: number) => 500 - within(position) * TRAVEL
const told = computed(() => slideAt(props.commanded === 'heating' ? -1 : 1))
const found = computed(() => {
  if (index.value !== null) return slideAt(index.value)
  return props.apparent === 'neither' ? slideAt(0) : null
})
const cup = (x: number) => `M${x - 206} 318v-26q0 -58 58 -58h296q58 0 58 58v26Z`

// Which side suction gas comes back on, as the readings have it or, failing that, as commanded.
const runsAs = computed(() =>
  props.apparent === 'heating' || props.apparent === 'cooling'
    ? props.apparent
    : props.commanded === 'heating' ? 'heating' : 'cooling',
)
const differences = computed(() => {
  const returnLeft = runsAs.value === 'cooling'
  return [
    { check: props.checks.find((c) => c.code === 'valve.suction_rise'), x: returnLeft ? 340 : 660, y: 420 },
    { check: props.checks.find((c) => c.code === 'valve.discharge_drop'), x: returnLeft ? 740 : 260, y: 92 },
  ]
})
/** Where nothing is judged, as at the bench, the differences are left to whoever looks. */
const judged = computed(() => differences.value.filter((one) => one.check))
const bypass = computed(() => props.indicators.valve_bypass_fraction ?? null)
const round = computed(() => {
  if (!bypass.value) return ''
  const share = Math.max(0, bypass.value.value)
  return `about ${signed(share, 0)} % bypasses, give or take ${signed(bypass.value.uncertainty, 0)}`
})
// The gas that bypasses, drawn as wide as its share: from under the slide's edge into the centre port.
const THICK = 1.1
const leak = computed(() => {
  const width = Math.max(0, bypass.value?.value ?? 0) * THICK
  if (width < 1 || found.value === null) return null
  const from = found.value > 500 ? found.value - 212 : found.value + 212
  return { width, d: `M${from} 262C${from + (500 - from) * 0.2} 345 ${500 + (from - 500) * 0.35} 305 500 360V400` }
})
const standing = computed(() => {
  if (found.value === null) return 'slide position not known yet'
  const stands = index.value === null ? 'midway' : `at ${signed(within(index.value), 2)} (cooling 1, heating −1)`
  return `slide ${stands}, calling for ${catalogue.word('mode', props.commanded)}`
})
const tagAt = (station: string) => props.shown.get(spotKey({ station, quantity: 'temperature' }))
const colour = (code: string) => {
  const tag = tagAt(code)
  return temperatureColour(tag?.value, tag?.unit) ?? 'var(--raised)'
}
const place = (x: number, y: number) => ({ left: `${(x / WIDTH) * 100}%`, top: `${(y / HEIGHT) * 100}%` })
</script>

<template>
  <div class="picture">
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="`Reversing valve: ${standing}.`">
      <rect
        v-for="pipe in PIPES" :key="pipe.code" class="pipe" :x="pipe.x - 32" width="64"
        :y="pipe.y < 200 ? 60 : 318" :height="pipe.y < 200 ? 140 : 190" :style="{ fill: colour(pipe.code) }"
      />
      <rect class="body" x="60" y="196" width="880" height="122" rx="14" :style="{ fill: colour('discharge_line') }" />
      <path class="told" :d="cup(told)" />
      <path v-if="found !== null" class="slide" :d="cup(found)" :style="{ fill: colour('common_suction') }" />
      <path class="seat" d="M60 318H940" />
      <path v-if="leak" class="leak" :d="leak.d" :style="{ strokeWidth: leak.width, stroke: colour('discharge_line') }" />
    </svg>
    <p class="caption heating" :style="place(820, 180)">←&nbsp;heating</p>
    <p class="caption" :style="place(180, 180)">cooling&nbsp;→</p>
    <p class="standing" :style="place(500, 345)">{{ standing }}</p>
    <p v-if="round" class="standing round" :style="place(differences[0]!.x === 340 ? 668 : 332, 405)">{{ round }}</p>
    <div v-for="d in judged" :key="d.check!.code" class="difference" :style="place(d.x, d.y)">
      <template v-if="d.check">
        <span class="quiet">{{ d.check.title }}</span>
        <span class="figure">{{ d.check.measured ? signed(d.check.measured.value) : '–' }}
          {{ catalogue.symbolOf(d.check.code, d.check.limit?.unit ?? '') }}</span>
        <StatusMark :status="d.check.status" />
      </template>
    </div>
    <StationTag
      v-for="pipe in PIPES" :key="pipe.code" class="placed" :style="place(pipe.x, pipe.y)" :code="pipe.code"
      :shown="tagAt(pipe.code)" :selected="selected === pipe.code" @press="$emit('press', pipe.code)"
    />
  </div>
</template>

<style scoped>
.picture {
  position: relative;
  width: min(100cqw, (100cqh - 6rem) * 1000 / 580);
  margin: 0 auto;
}
svg {
  display: block;
  width: 100%;
}
.placed,
.difference,
.caption,
.standing {
  position: absolute;
  transform: translate(-50%, -50%);
  margin: 0;
}
.pipe,
.body {
  stroke: var(--ink);
  stroke-width: 2;
}
.slide {
  stroke: var(--ink);
  stroke-width: 4;
}
.leak {
  fill: none;
  stroke-linecap: butt;
}
.standing.round {
  font-weight: 600;
  white-space: normal;
  width: 13rem;
  text-align: center;
}
.told {
  fill: none;
  stroke: var(--panel);
  stroke-width: 4;
  stroke-dasharray: 12 8;
}
.seat {
  stroke: var(--ink);
  stroke-width: 4;
}
.difference {
  display: grid;
  justify-items: center;
  padding: 0.3rem 0.6rem;
  background: var(--panel);
  border: 1px solid var(--hair);
  line-height: 1.25;
}
.difference .figure {
  font-size: 1.3rem;
}
.caption {
  color: var(--quiet);
  font-size: 0.9rem;
}
.standing {
  background: var(--panel);
  border: 1px solid var(--hair);
  padding: 0.1rem 0.5rem;
  white-space: nowrap;
  font-size: 0.9rem;
}
@media (max-width: 40rem) {
  .picture {
    width: 100%;
    min-height: 26rem;
  }
  .difference {
    font-size: 0.8rem;
    padding: 0.15rem 0.3rem;
  }
  .difference .figure {
    font-size: 1rem;
  }
}
</style>
