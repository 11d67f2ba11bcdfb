<script setup lang="ts">
// Every probe: what it shows, whether that has settled, and where it sits. Choose one, then press its station on the circuit.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import type { Live, LiveProbe, LiveValue } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { trackKey, type Track } from '../stores/live'
import { figure } from '../walk/figures'
import SparkLine from './SparkLine.vue'

export interface Chosen {
  address: string
  measures: string
}

const props = defineProps<{ live: Live; tracks: Map<string, Track>; stations: string[]; chosen: Chosen | null; shut: string }>()
defineEmits<{ choose: [value: Chosen | null]; put: [value: Chosen, station: string | null]; connect: [address: string, connected: boolean] }>()
const catalogue = useCatalogue()

const MARKS: Record<LiveValue['state'], string> = { settled: '✓', drifting: '∿', lost: '✗', waiting: '…' }
const isChosen = (probe: LiveProbe, value: LiveValue) => props.chosen?.address === probe.address && props.chosen.measures === value.measures
const track = (value: LiveValue) => props.tracks.get(trackKey(value))
const measured = (value: LiveValue) => value.measures.split(':')[0]!
/** The stations that take what a probe measures. */
const fitting = computed(() => {
  const of = (quantity: string) => props.stations.filter((code) => catalogue.station(code)?.quantities.some((one) => one.quantity === quantity))
  return { temperature: of('temperature'), pressure: of('pressure'), relative_humidity: of('relative_humidity') } as Record<string, string[]>
})
const placed = (value: LiveValue) => (value.station ? catalogue.short(value.station) : 'no place yet')
const battery = (probe: LiveProbe) => (probe.battery === null ? '' : `${Math.round(probe.battery * 100)} %`)
const state = (value: LiveValue) => catalogue.word('probe_state', value.state)
const connected = computed(() => props.live.probes.filter((probe) => probe.connected))
const others = computed(() => props.live.probes.filter((probe) => !probe.connected))
const chooses = (probe: LiveProbe, value: LiveValue) => (isChosen(probe, value) ? null : { address: probe.address, measures: value.measures })
</script>

<template>
  <section class="probes" aria-label="Probes">
    <ul>
      <li v-for="probe in connected" :key="probe.address" :class="{ away: !probe.within_reach }">
        <p class="head">
          <strong>{{ probe.name }}</strong>
          <span class="quiet">
            <span v-if="battery(probe)" :class="{ low: probe.battery_low }">battery {{ battery(probe) }}{{ probe.battery_low ? ', low' : '' }}</span>
            <template v-if="!probe.within_reach"> · out of reach</template>
          </span>
          <BButton v-if="!shut" class="off" @click="$emit('connect', probe.address, false)">let go<span class="visually-hidden"> of {{ probe.name }}</span></BButton>
        </p>
        <div v-for="value in probe.values" :key="value.measures" class="value" :class="[value.state, { chosen: isChosen(probe, value) }]">
          <button
            type="button" class="where" :aria-pressed="isChosen(probe, value)" :disabled="shut !== ''"
            :aria-label="`${placed(value)}, ${catalogue.word('quantity', measured(value))}: choose, then press its station`"
            @click="$emit('choose', chooses(probe, value))"
          >{{ placed(value) }}</button>
          <span class="figure">{{ value.value === null ? '–' : figure(value.value) }}<span class="unit"> {{ catalogue.symbol(value.unit) }}</span></span>
          <SparkLine v-if="track(value)" :seconds="track(value)!.seconds" :values="track(value)!.values" :now="live.second" />
          <span v-else />
          <span class="state"><span aria-hidden="true">{{ MARKS[value.state] }}</span> {{ state(value) }}</span>
          <label v-if="isChosen(probe, value)" class="pick">
            sits on
            <select :value="value.station ?? ''" @change="$emit('put', chosen!, ($event.target as HTMLSelectElement).value || null)">
              <option value="">nothing</option>
              <option v-for="code in fitting[measured(value)]" :key="code" :value="code">{{ catalogue.title(code) }}</option>
            </select>
          </label>
          <p v-if="value.wrong" class="wrong">{{ value.wrong }}</p>
        </div>
        <p v-if="!probe.values.length" class="quiet">not heard yet</p>
      </li>
    </ul>
    <ul v-if="others.length" class="others" aria-label="Probes within reach">
      <li v-for="probe in others" :key="probe.address">
        <span>{{ probe.name }} <span class="quiet">{{ probe.signal === null ? '' : `${probe.signal} dBm` }}</span></span>
        <BButton size="sm" :disabled="shut !== ''" @click="$emit('connect', probe.address, true)">connect<span class="visually-hidden"> {{ probe.name }}</span></BButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 0.3rem 0.75rem;
  border-bottom: 1px solid var(--hair);
}
.head {
  display: flex;
  align-items: center;
  gap: 0.5rem;
  margin: 0;
  font-size: 0.85rem;
}
.head .off {
  margin-left: auto;
  padding: 0 0.4rem;
  border-color: transparent;
  font-size: 0.85rem;
}
.low {
  color: var(--watch);
  font-weight: 600;
}
.value {
  display: grid;
  grid-template-columns: minmax(6.5rem, 1fr) auto 90px 6.2rem;
  align-items: center;
  gap: 0 0.5rem;
}
.where {
  min-height: var(--target);
  padding: 0 0.5rem;
  background: var(--panel);
  color: var(--ink);
  border: 1px solid var(--hair);
  border-radius: 2px;
  text-align: left;
  line-height: 1.1;
}
.where[aria-pressed='true'] {
  outline: 3px solid var(--ink);
}
.where:focus-visible {
  outline: 3px solid var(--focus);
}
.figure {
  font-family: var(--figure);
  font-size: 1.1rem;
  text-align: right;
  white-space: nowrap;
}
.unit {
  font-size: 0.75rem;
  color: var(--quiet);
}
.state {
  font-size: 0.85rem;
  line-height: 1.05;
}
.settled .state {
  color: var(--pass);
}
.drifting .state {
  color: var(--watch);
}
.lost .state {
  color: var(--fail);
  font-weight: 600;
}
.lost .figure {
  color: var(--quiet);
  text-decoration: line-through;
}
.pick {
  grid-column: 1 / -1;
  display: flex;
  align-items: center;
  gap: 0.5rem;
  padding: 0.3rem 0;
}
.pick select {
  min-height: var(--target);
  flex: 1;
  min-width: 0;
}
.wrong {
  grid-column: 1 / -1;
  margin: 0;
  color: var(--fail);
  font-size: 0.85rem;
}
.others li {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
</style>
