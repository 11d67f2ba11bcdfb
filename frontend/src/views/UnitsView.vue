<script setup lang="ts">
// The equipment book and the builder: choose parts, and the circuit redraws itself.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import type { Site, Unit, UnitView } from '../api/types'
import CallList from '../calls/CallList.vue'
import { blankUnit, toUnit } from '../calls/unitDraft'
import { useAttempt } from '../composables/useAttempt'
import { useBook } from '../stores/book'
import { useCalls } from '../stores/calls'
import { useCatalogue } from '../stores/catalogue'
import { useSettings } from '../stores/settings'
import { forget, keep, kept as onShelf } from '../stores/shelf'
import SetAside from '../shell/SetAside.vue'
import AdviceList from '../units/AdviceList.vue'
import MachineTable from '../units/MachineTable.vue'
import MakerFields from '../units/MakerFields.vue'
import UnitForm from '../units/UnitForm.vue'
import CircuitPicture from '../walk/CircuitPicture.vue'

const book = useBook()
const settings = useSettings()
const calls = useCalls()
const catalogue = useCatalogue()
const { trouble, attempt } = useAttempt()
const SHELF = 'icepick.unit.2'

interface Draft {
  id: number | null
  revision: number
  site: Site
  unit: Unit
}
const blank = (): Draft => ({ id: null, revision: 0, site: { name: '' }, unit: toUnit(blankUnit(), catalogue.usualBypass) })
const draft = ref<Draft>(shelved() ?? blank())
const mode = ref<'cooling' | 'heating'>('cooling')
const stale = ref<UnitView | null>(null)
const kept = ref('')

/** What was being written when the lid closed. */
function shelved(): Draft | null {
  try {
    return JSON.parse(onShelf(SHELF) ?? 'null') as Draft | null
  } catch {
    return null
  }
}
watch(draft, (now) => keep(SHELF, JSON.stringify(now)), { deep: true })

const choose = (entry: UnitView) => {
  draft.value = { id: entry.id, revision: entry.revision, site: entry.site as Site, unit: entry.unit as Unit }
  stale.value = null
  kept.value = ''
}
const startNew = () => {
  draft.value = blank()
  kept.value = ''
}
const duplicate = () => {
  draft.value = { ...draft.value, id: null, revision: 0, unit: { ...draft.value.unit, label: `${draft.value.unit.label}, copy` } }
  kept.value = ''
}

async function save() {
  const { id, site, unit, revision } = draft.value
  if (id === null) draft.value.id = await book.add(site, unit)
  else if (!(await book.revise(id, unit, revision))) {
    stale.value = book.units?.find((entry) => entry.id === id) ?? null
    return
  }
  const now = book.units?.find((entry) => entry.id === draft.value.id)
  if (now) choose(now)
  forget(SHELF)
  kept.value = 'Saved.'
}
const keepMine = () => {
  draft.value.revision = stale.value?.revision ?? draft.value.revision
  stale.value = null
  return save()
}

const elevation = computed({
  get: () => draft.value.site.elevation ?? null,
  set: (value) => (draft.value.site = { ...draft.value.site, elevation: value }),
})
const complete = computed(() => draft.value.site.name.trim() && draft.value.unit.label.trim())
const run = computed(() => book.preview?.runs.find((r) => r.commanded_mode === mode.value))
const sites = computed(() => [...new Set(book.units?.map((entry) => entry.site.name))])

// The label plays no part in the circuit, and an empty one would be refused.
const parts = computed(() => ({ ...draft.value.unit, label: 'preview' }))
watch(parts, (unit) => attempt(() => book.look(unit)), { immediate: true, deep: true })
const machineOpen = ref(false)
const showMachine = (open: boolean) => (machineOpen.value = open)
watch([parts, machineOpen, () => settings.units], ([unit, open]) => open && attempt(() => book.size(unit)), { deep: true })
const setAside = computed(() => book.units?.find((entry) => entry.id === draft.value.id)?.set_aside ?? [])
const visits = computed(() => calls.visits?.filter((line) => line.unit_id === draft.value.id) ?? [])
watch(() => settings.units, () => attempt(calls.loadVisits))
onMounted(() => attempt(() => Promise.all([book.load(), calls.loadVisits()])))
</script>

<template>
  <div class="units">
    <aside aria-labelledby="units-title">
      <h1 id="units-title">Units</h1>
      <BButton class="new" @click="startNew">+ new unit</BButton>
      <ul>
        <li v-for="entry in book.units" :key="entry.id">
          <BButton class="entry" :aria-pressed="draft.id === entry.id" @click="choose(entry)">
            <strong>{{ entry.site.name }}</strong> {{ entry.unit.label }}
            <span class="quiet">{{ entry.unit.refrigerant }} {{ entry.unit.layout }}</span>
          </BButton>
        </li>
      </ul>
    </aside>
    <section class="builder panel" aria-label="Builder">
      <UnitForm v-model="draft.unit" v-model:site="draft.site.name" v-model:elevation="elevation" :site-fixed="draft.id !== null" :sites="sites" />
      <details>
        <summary>manufacturer's data and nameplate</summary>
        <MakerFields v-model="draft.unit" />
      </details>
      <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
      <div v-if="stale" class="alert-line" role="alert">
        <p>Somebody else changed this unit meanwhile. Your own changes are still in the form.</p>
        <div class="actions">
          <BButton @click="attempt(keepMine)">keep mine</BButton>
          <BButton @click="choose(stale)">take theirs</BButton>
        </div>
      </div>
      <div v-else class="actions">
        <BButton variant="primary" :disabled="!complete" @click="attempt(save)">Save</BButton>
        <BButton v-if="draft.id !== null" @click="duplicate">Duplicate</BButton>
        <span role="status">{{ kept }}</span>
      </div>
    </section>
    <section v-if="book.preview && run" class="preview panel" aria-label="Circuit">
      <div class="actions" role="group" aria-label="Mode">
        <BButton v-for="m in ['cooling', 'heating'] as const" :key="m" :aria-pressed="mode === m" @click="mode = m">{{ m }}</BButton>
      </div>
      <div class="frame" tabindex="0" role="region" aria-label="Circuit picture">
        <CircuitPicture :path="run.path" :taps="run.taps" :meters="run.meters" plain :commanded="mode" apparent="unknown" :shown="new Map()" selected="" />
      </div>
      <SetAside :words="setAside" />
      <AdviceList class="advice" :advice="book.preview.advice" />
      <details @toggle="showMachine(($event.target as HTMLDetailsElement).open)">
        <summary>the machine: what this unit should be</summary>
        <div v-if="book.machine" class="machine" tabindex="0" role="region" aria-label="The machine of this unit"><MachineTable :sheet="book.machine" /></div>
      </details>
      <p v-if="draft.id !== null"><RouterLink :to="`/handbook/weather/${draft.id}`">what it should do in any weather</RouterLink></p>
      <template v-if="visits.length">
        <h2>Visits</h2>
        <CallList :visits="visits" />
      </template>
    </section>
  </div>
</template>

<style scoped>
.units {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: 14rem 24rem minmax(0, 1fr);
  gap: 0.6rem;
  padding: 0.6rem 0.75rem;
}
.units > * {
  min-height: 0;
  overflow: auto;
}
h1 {
  font-size: 1.25rem;
  margin-bottom: 0.5rem;
}
ul {
  list-style: none;
  padding: 3px;
  margin: 0.4rem 0;
  display: grid;
  gap: 0.35rem;
}
.entry {
  width: 100%;
  text-align: left;
  display: grid;
  background: var(--panel);
}
.entry[aria-pressed='true'] {
  border: 2px solid var(--ink);
}
.new {
  width: 100%;
}
.builder,
.preview {
  padding: 0.7rem;
}
.preview {
  display: flex;
  flex-direction: column;
}
.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  align-items: center;
  margin-top: 0.6rem;
}
.actions .btn[aria-pressed='true'] {
  border: 2px solid var(--ink);
  font-weight: 600;
}
summary {
  min-height: var(--target);
  align-content: center;
  cursor: pointer;
  font-weight: 600;
}
.frame {
  flex: 1;
  min-height: 20rem;
  container-type: size;
  overflow: auto;
  display: grid;
  align-content: center;
}
.advice {
  max-height: 11rem;
  overflow: auto;
}
h2 {
  margin: 0.8rem 0 0.4rem;
  font-size: 1.1rem;
}
@media (max-width: 75rem) {
  .units {
    grid-template-columns: minmax(0, 1fr);
  }
  .advice {
    max-height: none;
  }
}
.machine {
  overflow: auto;
  padding-top: 0.4rem;
}
</style>
