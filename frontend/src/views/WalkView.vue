<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { NextReading } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import { useKeys } from '../composables/useKeys'
import { useOutbox } from '../stores/outbox'
import { useVisit } from '../stores/visit'
import CircuitPicture from '../walk/CircuitPicture.vue'
import FindingsPane from '../walk/FindingsPane.vue'
import ReadingStrip from '../walk/ReadingStrip.vue'
import RunBar from '../walk/RunBar.vue'
import ValvePicture from '../walk/ValvePicture.vue'

const props = defineProps<{ id: number }>()
const visit = useVisit()
const outbox = useOutbox()
const strip = useTemplateRef<InstanceType<typeof ReadingStrip>>('strip')
const picture = ref<'circuit' | 'valve'>('circuit')
const { trouble, attempt } = useAttempt()

watch(
  () => props.id,
  (id) => attempt(async () => {
    await visit.load(id)
    await nextTick()
    strip.value?.focus()
  }),
  { immediate: true },
)

function press(station: string) {
  visit.station = station
  strip.value?.focus()
}

function go(next: NextReading) {
  if (next.run !== visit.runId) visit.chooseRun(next.run)
  press(next.station)
}

const next = computed(() => {
  const all = visit.view?.examination.next_readings ?? []
  return [...all.filter((n) => n.run === visit.runId), ...all.filter((n) => n.run !== visit.runId)]
})
const refused = computed(() => outbox.entries.filter((entry) => entry.visitId === props.id && entry.refused))

useKeys(
  {
    '1': () => (picture.value = 'circuit'),
    '2': () => (picture.value = 'valve'),
    '[': () => visit.stepRun(-1),
    ']': () => visit.stepRun(1),
    Enter: () => strip.value?.focus(),
  },
)
</script>

<template>
  <p v-if="trouble" class="alert-line m-3" role="alert">
    {{ trouble }} <BButton size="sm" @click="attempt(() => visit.load(id))">Try again</BButton>
  </p>
  <div v-if="visit.view && visit.run && visit.examined" class="walk">
    <h1 class="visually-hidden">Walk: {{ visit.view.visit.site.name }}, {{ visit.view.visit.unit.label }}</h1>
    <RunBar
      class="bar" :runs="visit.view.visit.runs" :examined="visit.view.examination.runs" :current="visit.runId"
      @choose="visit.chooseRun" @add="(run) => attempt(() => visit.addRun(run))"
      @clock="(clock) => attempt(() => visit.setClock(clock))"
    />
    <div class="stage panel">
      <div class="pictures" role="group" aria-label="Pictures">
        <BButton :aria-pressed="picture === 'circuit'" @click="picture = 'circuit'">1 circuit</BButton>
        <BButton :aria-pressed="picture === 'valve'" @click="picture = 'valve'">2 valve</BButton>
        <span v-if="picture === 'circuit'" class="legend quiet">heavy: high pressure · plain: liquid · dotted: vapor · broken: both</span>
        <span v-if="outbox.offline" class="offline fail" role="status">
          no answer from the server; {{ outbox.entries.length }} kept here</span>
      </div>
      <div class="frame">
        <CircuitPicture
          v-if="picture === 'circuit'" :path="visit.examined.path" :meters="visit.examined.meters"
          :commanded="visit.examined.commanded_mode" :apparent="visit.examined.apparent_mode"
          :shown="visit.shown" :selected="visit.station" @press="press"
        />
        <ValvePicture
          v-else :commanded="visit.examined.commanded_mode" :apparent="visit.examined.apparent_mode"
          :indicators="visit.examined.indicators" :checks="visit.examined.checks" :shown="visit.shown"
          :selected="visit.station" @press="press"
        />
      </div>
    </div>
    <ReadingStrip ref="strip" class="strip" />
    <div class="side">
      <p v-for="entry in refused" :key="entry.body.entry_key" class="alert-line" role="alert">
        {{ entry.body.reading.value }} at {{ entry.body.reading.station }} was refused: {{ entry.refused }}
        <BButton size="sm" @click="outbox.drop(entry.body.entry_key)">Discard</BButton>
      </p>
      <FindingsPane class="pane" :verdict="visit.view.examination.verdict" :run="visit.examined" :next="next" @go="go" />
    </div>
  </div>
</template>

<style scoped>
.walk {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template: auto minmax(0, 1fr) auto / minmax(0, 1fr) 23.5rem;
  grid-template-areas: 'bar bar' 'stage side' 'strip side';
  gap: 0.5rem;
  padding: 0 0.75rem 0.6rem;
}
.bar {
  grid-area: bar;
}
.stage {
  grid-area: stage;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.strip {
  grid-area: strip;
}
.side {
  grid-area: side;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.pane {
  flex: 1;
  min-height: 0;
}
.pictures {
  display: flex;
  gap: 0.4rem;
  align-items: center;
  padding: 0.3rem 0.4rem 0;
}
.pictures .btn {
  white-space: nowrap;
  padding-block: 0.1rem;
  border-color: transparent;
}
.pictures .btn[aria-pressed='true'] {
  border-color: var(--ink);
  font-weight: 600;
}
.legend {
  margin-left: auto;
  padding-right: 0.5rem;
  font-size: 0.9rem;
}
.offline {
  padding-right: 0.5rem;
  font-weight: 600;
}
.frame {
  flex: 1;
  min-height: 0;
  margin: 0.3rem;
  container-type: size;
  overflow: auto;
  display: grid;
  align-content: center;
}
@media (max-width: 64rem) {
  .walk {
    grid-template: auto / minmax(0, 1fr);
    grid-template-areas: 'bar' 'strip' 'side' 'stage';
  }
  .strip {
    position: sticky;
    top: 0;
    z-index: 2;
  }
  .frame {
    container-type: inline-size;
    min-height: 28rem;
  }
  .pictures {
    flex-wrap: wrap;
  }
}
</style>
