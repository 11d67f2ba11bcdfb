<script setup lang="ts">
// The equipment book and the builder: choose parts, and the circuit redraws itself.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { silentSince } from '../api/line'
import type { Site, Unit, UnitView, VisitList } from '../api/types'
import CallList from '../calls/CallList.vue'
import { blankUnit, toUnit } from '../calls/unitDraft'
import { useAskAgain } from '../composables/useAskAgain'
import { useAttempt } from '../composables/useAttempt'
import { useBook } from '../stores/book'
import { useCalls } from '../stores/calls'
import { useCatalogue } from '../stores/catalogue'
import { useSession } from '../stores/session'
import { useSettings } from '../stores/settings'
import { forget, keep, kept as onShelf } from '../stores/shelf'
import SetAside from '../shell/SetAside.vue'
import AdviceList from '../units/AdviceList.vue'
import MachineTable from '../units/MachineTable.vue'
import MakerFields from '../units/MakerFields.vue'
import UnitForm from '../units/UnitForm.vue'
import UnitList from '../units/UnitList.vue'
import UnsavedUnit from '../units/UnsavedUnit.vue'
import { alongHead } from '../walk/heads'
import CircuitPicture from '../walk/CircuitPicture.vue'

const props = defineProps<{ which: number | 'new' | null }>()
const book = useBook()
const settings = useSettings()
const session = useSession()
const calls = useCalls()
const catalogue = useCatalogue()
const router = useRouter()
const { trouble, attempt } = useAttempt()
const SHELF = 'icepick.unit.3'

interface Draft {
  id: number | null
  revision: number
  site: Site
  unit: Unit
}
const blank = (): Draft => ({ id: null, revision: 0, site: { name: '' }, unit: toUnit(blankUnit(), catalogue.usualBypass) })
const said = ({ site, unit }: { site: unknown; unit: unknown }) => JSON.stringify({ site, unit })
/** What is in the form, and what it was before anybody changed it. */
const shelf = shelved()
const draft = ref<Draft>(shelf?.draft ?? blank())
const before = ref(shelf?.before ?? said(draft.value))
const unsaved = computed(() => said(draft.value) !== before.value)
const mode = ref<'cooling' | 'heating'>('cooling')
const stale = ref<UnitView | null>(null)
const kept = ref('')

/** What was being written when the lid closed. */
function shelved(): { draft: Draft; before: string } | null {
  try {
    return JSON.parse(onShelf(SHELF) ?? 'null') as { draft: Draft; before: string } | null
  } catch {
    return null
  }
}
watch([draft, unsaved], () => (unsaved.value ? keep(SHELF, JSON.stringify({ draft: draft.value, before: before.value })) : forget(SHELF)), { deep: true })

function put(now: Draft) {
  draft.value = now
  // The circuit of another unit is none of this one's.
  book.preview = null
  before.value = said(now)
  stale.value = null
  kept.value = ''
}
const choose = (entry: UnitView) => put({ id: entry.id, revision: entry.revision, site: entry.site as Site, unit: entry.unit as Unit })
const duplicate = () => {
  const { site, unit } = draft.value
  put(blank())
  draft.value = { id: null, revision: 0, site, unit: { ...unit, label: `${unit.label}, copy` } }
  void router.push('/units/new')
}

const address = (id: number | null) => `/units/${id ?? 'new'}`
const asking = ref(false)
const lost = ref(false)
/** Bring the unit of the address into the form; one that was changed and not saved is asked about first. */
function follow(dropped = false) {
  lost.value = false
  if (!book.units) return
  if (props.which === null) return void router.replace(address(draft.value.id ?? (session.may('units') ? null : (book.units[0]?.id ?? null))))
  const id = props.which === 'new' ? null : props.which
  if (id === draft.value.id && !dropped) return
  const entry = book.units.find((one) => one.id === id)
  if (id !== null && !entry) return (lost.value = true)
  if (unsaved.value && !dropped) return (asking.value = true)
  if (entry) choose(entry)
  else put(blank())
}
watch([() => props.which, () => book.units !== null], () => follow(), { immediate: true })
const saveFirst = () => attempt(async () => {
  if (await save()) follow()
  else await router.replace(address(draft.value.id))
})

/** Whether it is saved. */
async function save(): Promise<boolean> {
  const { id, site, unit, revision } = draft.value
  if (id === null) draft.value.id = await book.add(site, unit)
  else if (!(await book.revise(id, unit, revision))) {
    stale.value = book.units?.find((entry) => entry.id === id) ?? null
    return false
  }
  const now = book.units?.find((entry) => entry.id === draft.value.id)
  if (now) choose(now)
  kept.value = 'Saved.'
  return true
}
const saveHere = () => attempt(async () => {
  if (await save()) await router.replace(address(draft.value.id))
})
const keepMine = () => {
  draft.value.revision = stale.value?.revision ?? draft.value.revision
  stale.value = null
  return saveHere()
}

const elevation = computed({
  get: () => draft.value.site.elevation ?? null,
  set: (value) => (draft.value.site = { ...draft.value.site, elevation: value }),
})
const complete = computed(() => draft.value.site.name.trim() && draft.value.unit.label.trim())
const state = computed(() => {
  if (!unsaved.value) return kept.value
  if (!complete.value) return 'Not saved: it needs its site and a label.'
  return silentSince.value ? 'Not saved: the server does not answer. What you wrote is kept on this device.' : 'Not saved yet.'
})
const run = computed(() => book.preview?.runs.find((r) => r.commanded_mode === mode.value))
/** Of several heads the one whose line is drawn. */
const headNumber = ref(1)
const shownHead = computed(() => run.value?.heads?.find((one) => one.number === headNumber.value) ?? run.value?.heads?.[0])
const sites = computed(() => [...new Set(book.units?.map((entry) => entry.site.name))])

// The label plays no part in the circuit, and an empty one would be refused.
const parts = computed(() => ({ ...draft.value.unit, label: 'preview' }))
watch(parts, (unit) => attempt(() => book.look(unit)), { immediate: true, deep: true })
const machineOpen = ref(false)
const makerOpen = ref(false)
const isOpen = (event: Event) => (event.target as HTMLDetailsElement).open
watch([parts, () => machineOpen.value || makerOpen.value, () => settings.units], ([unit, open]) => open && attempt(() => book.size(unit)), { deep: true })
const setAside = computed(() => book.units?.find((entry) => entry.id === draft.value.id)?.set_aside ?? [])
const visits = shallowRef<VisitList | null>(null)
const lookUp = () => attempt(async () => {
  const { id } = draft.value
  if (id === null) return
  const found = await calls.visits({ unit: id })
  if (draft.value.id === id) visits.value = found
})
watch(() => draft.value.id, () => {
  visits.value = null
  void lookUp()
}, { immediate: true })
useAskAgain(() => visits.value, (list) => list.visits.every((line) => line.up_to_date), lookUp)
onMounted(() => attempt(book.load))
</script>

<template>
  <div class="units">
    <aside aria-labelledby="units-title">
      <h1 id="units-title">Units</h1>
      <UnitList v-if="book.units" :units="book.units" :current="draft.id" :unsaved="unsaved" :reader="!session.may('units')" />
    </aside>
    <section class="builder panel" aria-label="Builder">
      <p v-if="lost" class="alert-line" role="alert">There is no unit {{ which }}. <RouterLink class="btn btn-sm" :to="address(draft.id)">back to the form</RouterLink></p>
      <p v-if="!session.may('units')" class="quiet reads">{{ session.refusal('units', 'a lead changes the book, and a call on a unit it does not know brings that along') }}</p>
      <fieldset :disabled="!session.may('units')">
        <UnitForm v-model="draft.unit" v-model:site="draft.site.name" v-model:elevation="elevation" :site-fixed="draft.id !== null" :sites="sites" />
        <details @toggle="makerOpen = isOpen($event)">
          <summary>manufacturer's data and nameplate</summary>
          <MakerFields v-model="draft.unit" />
        </details>
      </fieldset>
      <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
      <div v-if="stale" class="alert-line" role="alert">
        <p>Somebody else changed this unit meanwhile. Your own changes are still in the form.</p>
        <div class="actions">
          <BButton @click="keepMine">keep mine</BButton>
          <BButton @click="choose(stale)">take theirs</BButton>
        </div>
      </div>
      <div v-else-if="session.may('units')" class="actions">
        <BButton variant="primary" :disabled="!complete || !unsaved || silentSince !== null" @click="saveHere">Save</BButton>
        <BButton v-if="draft.id !== null" @click="duplicate">Duplicate</BButton>
        <BButton v-if="unsaved && draft.id !== null" @click="follow(true)">Drop the changes</BButton>
        <span role="status">{{ state }}</span>
      </div>
    </section>
    <section v-if="book.preview && run" class="preview panel" aria-label="Circuit">
      <div class="actions" role="group" aria-label="Mode">
        <BButton v-for="m in ['cooling', 'heating'] as const" :key="m" :aria-pressed="mode === m" @click="mode = m">{{ m }}</BButton>
      </div>
      <div v-if="run.heads?.length" class="actions" role="group" aria-label="Heads">
        <BButton v-for="one in run.heads" :key="one.number" :aria-pressed="one.number === shownHead?.number" @click="headNumber = one.number">{{ one.number }} {{ one.label }}</BButton>
      </div>
      <div class="frame" tabindex="0" role="region" aria-label="Circuit picture">
        <CircuitPicture :path="alongHead(run, shownHead).path" :taps="run.taps" :meters="run.meters" plain :commanded="mode" apparent="unknown" :shown="new Map()" selected="" />
      </div>
      <SetAside :words="setAside" />
      <div class="advice" tabindex="0" role="region" aria-label="Advice"><AdviceList :advice="book.preview.advice" /></div>
      <details @toggle="machineOpen = isOpen($event)">
        <summary>the machine: what this unit is sized for</summary>
        <div v-if="book.machine" class="machine" tabindex="0" role="region" aria-label="The machine of this unit"><MachineTable :sheet="book.machine" /></div>
      </details>
      <p v-if="draft.id !== null" class="onward">
        <RouterLink class="btn" :to="{ name: 'calls', query: { unit: draft.id } }">start a call on it</RouterLink>
        <RouterLink class="btn" :to="`/handbook/weather/${draft.id}`">what it should do in any weather</RouterLink>
        <a class="btn" :href="`/api/units/${draft.id}/archive`" download>take its history out</a></p>
      <template v-if="visits?.found">
        <h2>Visits</h2>
        <CallList :visits="visits.visits" :all="false" />
        <p v-if="visits.found > visits.visits.length"><RouterLink :to="{ name: 'calls', query: { unit: draft.id } }">all {{ visits.found }} visits to this unit</RouterLink></p>
      </template>
    </section>
    <UnsavedUnit v-model="asking" :label="draft.unit.label" :complete="Boolean(complete)" @save="saveFirst" @discard="follow(true)" @stay="router.replace(address(draft.id))" />
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
  align-content: safe center;
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
fieldset {
  min-width: 0;
}
.onward {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  margin: 0.4rem 0;
}
.machine {
  overflow: auto;
  padding-top: 0.4rem;
}
</style>
