<script setup lang="ts">
// All heads in parallel, from their rooms to the outdoor unit's ports: one line each, what is read at either end, and what runs there.
import { computed } from 'vue'
import type { HeadExamination, RunExamination } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { spotKey, type Shown } from '../stores/visit'
import { isOdd, stateOf } from './heads'
import { signed } from './figures'
import StationTag from './StationTag.vue'
import { temperatureColour } from './temperatureScale'

const props = defineProps<{ heads: HeadExamination[]; mode: RunExamination['running_mode']; shown: Map<string, Shown>; selected: string; current: number }>()
defineEmits<{ press: [station: string]; choose: [head: number] }>()
const catalogue = useCatalogue()

const ROOMS = ['return_air', 'supply_air', 'indoor_coil'] as const
const PORTS = ['vapor_line_outdoor', 'liquid_line_outdoor'] as const
const tagAt = (station: string) => props.shown.get(spotKey({ station, quantity: 'temperature' }))
const colour = (station: string) => temperatureColour(tagAt(station)?.value, tagAt(station)?.unit) ?? 'var(--edge)'
const figures = (head: HeadExamination) =>
  (['superheat', 'subcooling', 'air'] as const).flatMap((name) => {
    const found = head[name]
    return found ? [`${name} ${signed(found.value)} ${catalogue.symbol(found.unit)}`] : []
  })
const each = computed(() => props.heads.map((head) => ({ head, words: stateOf(head), odd: isOdd(head), figures: figures(head).join(' · ') })))
</script>

<template>
  <div class="heads" tabindex="0" role="region" aria-label="Heads, from their rooms to their ports">
    <p class="ends quiet"><span>rooms</span><span>{{ mode === 'heating' ? 'hot gas comes, liquid goes back to its EEV' : 'an EEV feeds each; gas goes back' }}</span><span>ports of the outdoor unit</span></p>
    <section v-for="{ head, words, odd, figures: told } in each" :key="head.number" class="head" :class="{ current: head.number === current, odd }">
      <h2><button type="button" :aria-pressed="head.number === current" @click="$emit('choose', head.number)">{{ head.number }} {{ head.label }}</button>
        <span class="state"><span v-if="odd" aria-hidden="true">✗ </span>{{ words }}</span>
        <span v-if="told" class="told quiet">{{ told }}</span></h2>
      <div class="places">
        <StationTag v-for="base in ROOMS" :key="base" :code="`${base}:${head.number}`" :called="catalogue.short(base)" :shown="tagAt(`${base}:${head.number}`)" :selected="selected === `${base}:${head.number}`" @press="$emit('press', `${base}:${head.number}`)" />
        <svg class="lines" viewBox="0 0 100 40" preserveAspectRatio="none" aria-hidden="true">
          <path class="vapor" :class="head.outdoors ?? 'unread'" d="M0 12H100" :style="{ stroke: colour(`vapor_line_outdoor:${head.number}`) }" />
          <path :class="head.outdoors ?? 'unread'" d="M0 28H100" :style="{ stroke: colour(`liquid_line_outdoor:${head.number}`) }" />
        </svg>
        <StationTag v-for="base in PORTS" :key="base" :code="`${base}:${head.number}`" :called="catalogue.short(base).split(',')[0]!" :shown="tagAt(`${base}:${head.number}`)" :selected="selected === `${base}:${head.number}`" @press="$emit('press', `${base}:${head.number}`)" />
      </div>
    </section>
  </div>
</template>

<style scoped>
.heads {
  align-self: start;
  width: 100cqw;
  max-height: 100cqh;
  overflow: auto;
  padding: 0.2rem 0.6rem;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.5rem;
}
.ends {
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  margin: 0;
  padding-left: 11.5rem;
  font-size: 0.88rem;
}
.head {
  display: grid;
  grid-template-columns: 10.5rem minmax(0, 1fr);
  gap: 0.5rem;
  align-items: center;
  border-left: 4px solid var(--hair);
  padding-left: 0.5rem;
}
.head.current {
  border-left-color: var(--ink);
}
.head.odd {
  border-left-color: var(--fail);
}
h2 {
  display: grid;
  margin: 0;
  font-size: 1rem;
  line-height: 1.25;
}
h2 button {
  min-height: var(--target);
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  font-weight: 600;
  text-align: left;
}
.state,
.told {
  font-weight: 400;
  font-size: 0.88rem;
}
.odd .state {
  color: var(--fail);
  font-weight: 600;
}
.places {
  display: grid;
  grid-template-columns: auto auto auto minmax(2rem, 1fr) auto auto;
  gap: 0.4rem;
  align-items: center;
}
.lines {
  width: 100%;
  min-width: 0;
  height: 2.5rem;
}
.places > * {
  min-width: 0;
}
.lines path {
  fill: none;
  stroke-width: 6;
  vector-effect: non-scaling-stroke;
}
.lines .vapor {
  stroke-dasharray: 3 6;
}
.lines .still,
.lines .unread {
  stroke-width: 2;
}
.lines .bleeding {
  stroke-width: 4;
}
@media (max-width: 64rem) {
  .head {
    grid-template-columns: minmax(0, 1fr);
    gap: 0.2rem;
  }
  .ends {
    padding-left: 0;
  }
  .places {
    grid-template-columns: repeat(auto-fit, minmax(4.8rem, 1fr));
  }
  .lines,
  .ends span:nth-child(2) {
    display: none;
  }
}
</style>
