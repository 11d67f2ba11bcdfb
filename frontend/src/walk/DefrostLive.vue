<script setup lang="ts">
// A defrost watched without probes: one large button a moment, each stamped, and the ten-minute limit counting.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import type { MarkCode, RecordingLine } from '../api/types'
import { useNow } from '../composables/useNow'
import { useCatalogue } from '../stores/catalogue'
import { clock } from './defrostLines'

const props = defineProps<{ line: RecordingLine; limit: number; closed: boolean }>()
const emit = defineEmits<{ mark: [code: MarkCode, seconds: number] }>()
const catalogue = useCatalogue()
const now = useNow()

const BUTTONS: { code: MarkCode; words: string }[] = [
  { code: 'defrost_forced', words: 'forced' },
  { code: 'valve_shift_heard', words: 'rush heard' },
  { code: 'outdoor_fan_stopped', words: 'fan stopped' },
  { code: 'backup_heat_on', words: 'heat on' },
  { code: 'steam_seen', words: 'steam' },
  { code: 'outdoor_coil_clear', words: 'clear' },
  { code: 'back_in_heating', words: 'back in heating' },
]
const start = computed(() => Date.parse(props.line.started_at))
const since = computed(() => Math.max(0, (now.value - start.value) / 1000))
const stamp = () => Math.max(0, (Date.now() - start.value) / 1000)
const marks = computed(() => [...props.line.marks].sort((a, b) => a.seconds - b.seconds))
const last = (code: MarkCode) => marks.value.findLast((mark) => mark.code === code)
const began = computed(() => last('defrost_forced') ?? last('valve_shift_heard'))
const over = computed(() => {
  const back = last('back_in_heating')
  return !!back && !!began.value && back.seconds > began.value.seconds
})
const running = computed(() => (began.value && !over.value && !props.closed ? since.value - began.value.seconds : null))
const press = (code: MarkCode) => emit('mark', code, Math.round(stamp() * 10) / 10)
</script>

<template>
  <section class="live" aria-label="By hand">
    <p v-if="running !== null" class="count figure" :class="{ late: running > limit }" role="timer">
      {{ clock(running) }} <span class="quiet">of {{ clock(limit) }}</span>
      <span v-if="running > limit" class="past">past the limit</span>
    </p>
    <p v-else-if="!closed" class="quiet">Press a button at its moment; the first is “forced”. Each is stamped and kept.</p>
    <div v-if="!closed" class="buttons" role="group" aria-label="Moments">
      <BButton v-for="b in BUTTONS" :key="b.code" class="big" @click="press(b.code)">
        {{ b.words }}<span v-if="last(b.code)" class="figure quiet">{{ clock(last(b.code)!.seconds) }}</span>
      </BButton>
    </div>
    <ol v-if="marks.length" class="made">
      <li v-for="mark in marks" :key="`${mark.code} ${mark.seconds}`"><span class="figure">{{ clock(mark.seconds) }}</span> {{ catalogue.word('mark', mark.code) }}</li>
    </ol>
    <p class="caution">Fans start without warning, and ice is slippery. Never chip ice: melt it. Never defeat a safety to force a defrost; the board is live.</p>
  </section>
</template>

<style scoped>
.live {
  display: grid;
  gap: 0.5rem;
}
p {
  margin: 0;
}
.count {
  font-size: 1.9rem;
  line-height: 1.1;
}
.late,
.past {
  color: var(--fail);
  font-weight: 700;
}
.past {
  font-size: 1rem;
}
.buttons {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(8.5rem, 1fr));
  gap: 0.5rem;
}
.big {
  min-height: 4.2rem;
  font-size: 1.15rem;
  display: grid;
  justify-items: center;
  align-content: center;
}
.made {
  list-style: none;
  padding: 0;
  margin: 0;
  columns: 2 12rem;
}
.caution {
  border: 1px solid var(--watch);
  border-left-width: 6px;
  padding: 0.4rem 0.7rem;
}
</style>
