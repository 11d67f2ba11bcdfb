<script setup lang="ts">
// A station as a tag to press: its name, its number, and what is to be known about that number.
import { computed } from 'vue'
import { useCatalogue } from '../stores/catalogue'
import type { Expected, QuantityName } from '../api/types'
import type { Shown } from '../stores/visit'
import { figure } from './figures'
import { temperatureColour } from './temperatureScale'

const props = withDefaults(
  defineProps<{ code: string; shown: Shown | undefined; selected: boolean; quantity?: QuantityName; expected?: Expected | null; called?: string }>(),
  { quantity: 'temperature', expected: null, called: '' },
)
defineEmits<{ press: [] }>()
const catalogue = useCatalogue()

const number = computed(() => props.shown && figure(props.shown.value))
// A station that takes several quantities says which one, but for its temperature.
const name = computed(() => {
  const short = props.called || catalogue.short(props.code)
  const plain = props.quantity === 'temperature' || catalogue.station(props.code)?.quantities.length === 1
  return plain ? short : `${short}, ${catalogue.word('quantity', props.quantity)}`
})
const note = computed(() => {
  if (!props.shown) return 'not read yet'
  if (props.shown.state === 'unsent') return 'not sent yet'
  if (props.shown.state === 'refused') return 'refused'
  if (props.shown.doubted) return 'doubted'
  if (props.shown.early) return 'read early'
  return props.shown.infrared ? 'infrared' : ''
})
const expectedText = computed(() => {
  if (!props.expected) return ''
  const { value, low, high } = props.expected
  return `${Math.round(value)}±${Math.round((high - low) / 2)}`
})
const colour = computed(() => temperatureColour(props.shown?.value, props.shown?.unit))
</script>

<template>
  <button
    type="button" class="tag" :class="[shown?.state, { selected, empty: !shown }]"
    :aria-pressed="selected" :data-station="code" :data-quantity="quantity" @click="$emit('press')"
  >
    <span class="stripe" :style="{ background: colour ?? 'transparent' }" />
    <span class="name">{{ name }}</span>
    <span class="figure value">{{ number ?? '' }}<span v-if="shown?.drifts" class="drifts"><span aria-hidden="true">∿</span><span class="visually-hidden"> not settled</span></span>
      <span v-if="expected" class="expected" :class="{ departs: expected.departs }">
        <span class="visually-hidden">expected </span>{{ expectedText }}</span>
    </span>
    <span class="visually-hidden">{{ shown ? catalogue.symbol(shown.unit) : note }}, {{ catalogue.title(code) }}</span>
    <span v-if="shown && note" class="note">{{ note }}</span>
  </button>
</template>

<style scoped>
.tag {
  position: relative;
  display: inline-grid;
  align-content: center;
  justify-items: start;
  min-width: 5.2rem;
  min-height: var(--target);
  padding: 0.1rem 0.45rem 0.1rem 0.75rem;
  background: var(--panel);
  color: var(--ink);
  border: 1px solid var(--edge);
  border-radius: 2px;
  line-height: 1.12;
  text-align: left;
}
.stripe {
  position: absolute;
  inset: 0 auto 0 0;
  width: 6px;
}
.name {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 0.78rem;
  color: var(--quiet);
  white-space: nowrap;
}
.value {
  font-size: 1.18rem;
  min-height: 1.1em;
}
.drifts {
  margin-left: 0.15rem;
  color: var(--watch);
}
.expected {
  font-size: 0.7rem;
  font-weight: 400;
  color: var(--quiet);
}
.expected.departs {
  color: var(--watch);
  font-weight: 600;
}
.empty .value {
  width: 3rem;
  border-bottom: 2px dotted var(--edge);
  min-height: 0.9em;
}
.note {
  font-size: 0.72rem;
  color: var(--watch);
  font-weight: 600;
}
/* The answer to an entry brings its examination with it: only what takes longer than that is called unsent. */
.unsent {
  border-style: dashed;
  border-width: 2px;
  animation: as-sent 0s 700ms backwards;
}
.unsent .note {
  animation: no-note 0s 700ms backwards;
}
@keyframes as-sent {
  from {
    border-style: solid;
    border-width: 1px;
  }
}
@keyframes no-note {
  from {
    font-size: 0;
  }
}
.refused .note {
  color: var(--fail);
}
.selected {
  outline: 3px solid var(--ink);
  outline-offset: 0;
}
.tag:focus-visible {
  outline: 3px solid var(--focus);
  outline-offset: 2px;
}
@media (max-width: 40rem) {
  .expected {
    display: block;
    font-size: 0.62rem;
    line-height: 1;
  }
  .tag {
    min-width: 4.4rem;
  }
}
</style>
