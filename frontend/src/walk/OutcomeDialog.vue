<script setup lang="ts">
// What it was in the end, and what the repair did. What is typed here stays on this device, under the visit's own key, until the
// server has it.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { BFormTextarea } from 'bootstrap-vue-next/components/BFormTextarea'
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { computed, ref, watch } from 'vue'
import type { Outcome, OutcomeView, RankedFault } from '../api/types'
import { useDialogKeys } from '../composables/useKeys'
import { useCatalogue } from '../stores/catalogue'
import { useHandbook } from '../stores/handbook'
import { forget, keep, kept } from '../stores/shelf'

const props = defineProps<{ visit: string; told: OutcomeView | null; ranking: RankedFault[]; silent: boolean; busy: boolean; trouble: string }>()
const emit = defineEmits<{ tell: [outcome: Outcome] }>()
const open = defineModel<boolean>({ required: true })
useDialogKeys(open)
const catalogue = useCatalogue()
const handbook = useHandbook()

const NOBODY = ''
type Draft = { fault: string; certainty: NonNullable<Outcome['certainty']>; repair: Outcome['repair']; work: string; plainly: string }
const shelf = computed(() => `icepick.outcome.${props.visit}`)
const draft = ref<Draft>({ fault: NOBODY, certainty: 'seen', repair: 'none', work: '', plainly: '' })

function begin() {
  const told = props.told?.outcome
  const last: Draft = { fault: told?.fault ?? NOBODY, certainty: told?.certainty ?? 'seen', repair: told?.repair ?? 'none', work: told?.work ?? '', plainly: told?.for_customer ?? '' }
  try {
    draft.value = { ...last, ...(JSON.parse(kept(shelf.value) ?? '{}') as Partial<Draft>) }
  } catch {
    draft.value = last
  }
  // The server that does not answer now has been asked before, or the ranking has what is likely.
  void handbook.load().catch(() => undefined)
}
watch(open, (now) => now && begin(), { immediate: true })
watch(draft, (now) => open.value && keep(shelf.value, JSON.stringify(now)), { deep: true })
watch(() => props.told, () => {
  if (!open.value || !props.told) return
  forget(shelf.value)
  open.value = false
})

const LIKELY = 0.02
const faults = computed(() => {
  // In whichever of its circuits: the likelier of them.
  const likely = props.ranking.filter((one, at) => one.probability >= LIKELY && props.ranking.findIndex(({ fault }) => fault === one.fault) === at)
  const first = likely.map((one) => ({ value: one.fault as string, text: `${one.title} · said ${Math.min(99, Math.round(one.probability * 100))} %` }))
  const named = new Set(first.map(({ value }) => value))
  const others = [...(handbook.handbook?.faults.map(({ code, title }) => ({ value: code as string, text: title })) ?? []), { value: 'none', text: 'nothing was wrong' }]
  return [{ value: NOBODY, text: 'nobody knows yet' }, ...first, ...others.filter(({ value }) => !named.has(value))]
})
const options = (vocabulary: string) => Object.entries(catalogue.catalogue?.words[vocabulary] ?? {}).map(([value, text]) => ({ value, text }))
const certainties = computed(() => options('certainty').filter(({ value }) => value !== 'cured' || ['cured', 'better'].includes(draft.value.repair)))
watch(certainties, (now) => {
  if (!now.some(({ value }) => value === draft.value.certainty)) draft.value.certainty = 'seen'
})

function tell() {
  const { fault, certainty, repair, work, plainly } = draft.value
  emit('tell', { fault: (fault || null) as Outcome['fault'], certainty: fault ? certainty : null, repair, work: work.trim() || null, for_customer: plainly.trim() || null })
}
</script>

<template>
  <BModal v-model="open" title="What it was in the end" title-tag="h2" no-footer no-animation lazy unmount-lazy centered focus="outcome-fault">
    <form class="fields" @submit.prevent="tell">
      <div><label for="outcome-fault">It was</label><BFormSelect id="outcome-fault" v-model="draft.fault" :options="faults" /></div>
      <div><label for="outcome-repair">The repair</label><BFormSelect id="outcome-repair" v-model="draft.repair" :options="options('repair')" /></div>
      <div v-if="draft.fault"><label for="outcome-certainty">How that is known</label><BFormSelect id="outcome-certainty" v-model="draft.certainty" :options="certainties" /></div>
      <div><label for="outcome-work">Work done, for the report</label><BFormTextarea id="outcome-work" v-model="draft.work" rows="3" maxlength="10000" /></div>
      <div><label for="outcome-plainly">The same in plain words, for the customer’s page</label><BFormTextarea id="outcome-plainly" v-model="draft.plainly" rows="2" maxlength="10000" /></div>
      <p class="quiet">What Icepick said before stays beside it: so a shop sees how often that was right. It can be told again when more is known, also of a closed visit.</p>
      <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
      <div class="actions">
        <BButton type="submit" variant="primary" :disabled="silent || busy">Tell it</BButton>
        <BButton @click="open = false">not now</BButton>
        <span v-if="silent" class="quiet">It needs the server, which does not answer; what you typed stays here.</span>
      </div>
    </form>
  </BModal>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 0.7rem;
}
.fields p {
  margin: 0;
}
.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  align-items: center;
}
</style>
