<script setup lang="ts">
// A visit as its report tells it: the customer's page, and what the next technician reads. On paper it is the server's PDF.
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { madeFile } from '../api/client'
import type { RankedFault } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import { useKeys } from '../composables/useKeys'
import { useCatalogue } from '../stores/catalogue'
import { useCustomer } from '../stores/customer'
import { useSettings } from '../stores/settings'
import { useVisit } from '../stores/visit'
import { plain } from '../walk/figures'
import CustomerPanel from './CustomerPanel.vue'
import ReportRecording from './ReportRecording.vue'
import ReportRun from './ReportRun.vue'

const props = defineProps<{ id: number }>()
const visit = useVisit()
const catalogue = useCatalogue()
const settings = useSettings()
const customer = useCustomer()
const { trouble, attempt } = useAttempt()

watch(
  () => [props.id, settings.units],
  () => attempt(() => visit.load(props.id)),
  { immediate: true },
)

const view = computed(() => visit.view)
// The limits of what failed or was near, and whatever the shop changed; the rest stands in the Handbook.
const limits = computed(() => {
  const examined = view.value?.examination
  const checks = [...(examined?.runs ?? []), ...(examined?.recordings ?? [])].flatMap((one) => one.checks)
  const telling = new Set(checks.filter((check) => check.status === 'fail' || check.status === 'watch').map((check) => check.practice))
  const used = new Set(checks.map((check) => check.practice))
  return (catalogue.catalogue?.limits ?? []).filter(
    (limit) => telling.has(limit.name) || (used.has(limit.name) && limit.value !== limit.default),
  )
})
// A run in which nothing was read, seen or written says nothing on paper.
const runs = computed(() =>
  (view.value?.examination.runs ?? []).flatMap((run, index) => {
    const { readings = [], observations = [], notes = null } = view.value?.visit.runs[index] ?? {}
    return readings.length || observations.length || notes?.trim() ? [{ run, number: index + 1, notes }] : []
  }),
)
const LIKELY = 0.1
const likely = computed(() => (view.value?.examination.ranking ?? []).filter((one) => one.probability >= LIKELY).slice(0, 3))
const percent = (share: number) => `${Math.min(Math.round(share * 100), 99)} %`
const ruled = (one: RankedFault) => one.rule_out.filter((out) => out.status === 'done').map((out) => out.text).join('; ')
const day = (at: string) => new Date(at).toLocaleDateString(undefined, { dateStyle: 'long' })
const language = ref('en')
const pdf = computed(() => {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
  return `/api/visits/${props.id}/report?${new URLSearchParams({ units: settings.units, language: language.value, ...(zone ? { zone } : {}) })}`
})
/** Made once before it is opened: what stands in its way is said here, and not as a page of code. */
const printing = ref(false)
const print = () =>
  attempt(async () => {
    printing.value = true
    try {
      await madeFile(pdf.value)
      // A browser that opens no window of its own accord shows it in this one.
      if (!window.open(pdf.value, '_blank')) location.assign(pdf.value)
    } finally {
      printing.value = false
    }
  })
useKeys({ p: () => void print() })
// What a customer is told follows from the visit as it stands.
watch(
  () => [visit.view, language.value],
  () => visit.view?.id === props.id && attempt(() => customer.load(props.id, language.value)),
  { immediate: true },
)
</script>

<template>
  <p v-if="trouble" class="alert-line m-3" role="alert">{{ trouble }} <RouterLink class="btn btn-sm" to="/calls">back to Calls</RouterLink></p>
  <article v-if="view" class="report panel">
    <div class="tools">
      <a class="btn btn-primary" :href="pdf" target="_blank" aria-keyshortcuts="p" :aria-busy="printing" @click.prevent="print">Report as PDF</a>
      <a class="btn btn-secondary" :href="`/api/visits/${id}/document`" :download="`visit-${id}.json`">Visit as a file</a>
      <a class="btn btn-secondary" :href="`/api/visits/${id}/archive`" download>Its whole record</a>
    </div>
    <header>
      <h1>{{ view.visit.site.name }}</h1>
      <p>
        {{ view.visit.unit.label }} · {{ view.visit.unit.refrigerant }} {{ view.visit.unit.layout }} · indoor
        {{ catalogue.word('meter', view.visit.unit.indoor_meter.kind) }}, outdoor
        {{ catalogue.word('meter', view.visit.unit.outdoor_meter.kind) }} · valve energized in
        {{ view.visit.unit.reversing_valve.energized_in }}<template v-if="view.visit.unit.model"> · model {{ view.visit.unit.model }}</template><template v-if="view.visit.unit.serial"> · serial {{ view.visit.unit.serial }}</template>
      </p>
      <p>
        {{ day(view.opened_at) }}<template v-if="view.visit.complaint"> · complaint:
          {{ catalogue.word('complaint', view.visit.complaint) }}</template>
        <template v-for="at in view.reopened" :key="at"> · opened again {{ day(at) }}</template>
      </p>
    </header>
    <CustomerPanel v-if="customer.page" v-model:language="language" :page="customer.page" />
    <p class="verdict">{{ view.examination.verdict }}</p>
    <dl v-if="view.outcome" class="outcome">
      <dt>What it was</dt><dd>{{ view.outcome.title ?? 'not known' }}<template v-if="view.outcome.outcome.certainty">; {{ catalogue.word('certainty', view.outcome.outcome.certainty) }}</template></dd>
      <dt>The repair</dt><dd>{{ catalogue.word('repair', view.outcome.outcome.repair) }}</dd>
      <template v-if="view.outcome.outcome.work"><dt>Work done</dt><dd>{{ view.outcome.outcome.work }}</dd></template>
      <template v-if="view.examination.after_repair"><dt>After it</dt><dd>{{ view.examination.after_repair.verdict }}</dd></template>
    </dl>
    <ul v-if="likely.length" class="likely">
      <li v-for="one in likely" :key="one.title">
        <b>{{ one.title }} {{ percent(one.probability) }}</b><template v-if="one.for.length"> for: {{ one.for.join('; ') }}.</template>
        <template v-if="one.against.length"> against: {{ one.against.join('; ') }}.</template>
        <template v-if="ruled(one)"> ruled out: {{ ruled(one) }}.</template>
      </li>
    </ul>
    <ReportRun
      v-for="{ run, number, notes } in runs" :key="run.id" :run="run" :number="number" :notes="notes"
    />
    <ReportRecording
      v-for="(recording, index) in view.examination.recordings" :key="recording.id" :recording="recording" :number="index + 1"
    />
    <section v-if="view.photos.length">
      <h2>Photos</h2>
      <ul class="photos">
        <li v-for="one in view.photos" :key="one.entry_key">
          <img :src="`/api/visits/${id}/photos/${one.entry_key}`" :alt="`${catalogue.word('photo', one.photo.about)} ${one.photo.caption ?? ''}`" :width="one.photo.width" :height="one.photo.height" loading="lazy" />
          <span>{{ catalogue.word('photo', one.photo.about) }}<template v-if="one.photo.caption">: {{ one.photo.caption }}</template></span>
        </li>
      </ul>
    </section>
    <footer>
      <p v-if="limits.length">
        Limits used:
        <template v-for="(limit, index) in limits" :key="limit.name">{{ index ? '; ' : '' }}{{ limit.name.replaceAll('_', ' ') }}
          {{ plain(limit.shown[settings.units]!.value) }} {{ limit.shown[settings.units]!.unit }} ({{ limit.value === limit.default ? limit.standing : `changed by the shop from ${plain(limit.shown[settings.units]!.default)}` }})</template>.
      </p>
      <p>
        Work on the refrigerant circuit and on wiring is for qualified, licensed people; local codes and the manufacturer's
        instructions win. Refrigerant is recovered, never vented.
      </p>
    </footer>
  </article>
</template>

<style scoped>
.report {
  width: min(100% - 1.5rem, 54rem);
  margin: 0.75rem auto;
  padding: 1.25rem 1.5rem;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  justify-content: flex-end;
}
h1 {
  font-size: 1.5rem;
}
header p {
  margin: 0;
}
.verdict {
  margin: 0.8rem 0;
  padding: 0.6rem 0.8rem;
  border: 1px solid var(--edge);
  border-left-width: 6px;
  font-size: 1.1rem;
  font-weight: 600;
}
.outcome {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0 0.8rem;
  margin: 0 0 0.6rem;
}
.outcome dd {
  margin: 0;
}
.likely {
  margin: 0 0 0.6rem;
  padding-left: 1.1rem;
}
footer {
  margin-top: 0.8rem;
  border-top: 1px solid var(--hair);
  padding-top: 0.5rem;
  font-size: 0.85rem;
  color: var(--quiet);
}
footer p {
  margin: 0 0 0.25rem;
}
.photos {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(14rem, 1fr));
  gap: 0.8rem;
  list-style: none;
  padding: 0;
}
.photos img {
  width: 100%;
  height: auto;
  border: 1px solid var(--hair);
}
</style>
