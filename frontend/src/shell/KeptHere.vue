<script setup lang="ts">
// What was entered for a visit that is not in the records any more, as after a copy was put back: it stays on this device
// until somebody has saved or discarded it.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { computed } from 'vue'
import { useDialogKeys } from '../composables/useKeys'
import { useCatalogue } from '../stores/catalogue'
import { useOutbox, type Entry } from '../stores/outbox'
import { saveAs } from './saveAs'

const open = defineModel<boolean>({ required: true })
useDialogKeys(open)
const catalogue = useCatalogue()
const outbox = useOutbox()
const groups = computed(() => {
  const found = new Map<string, Entry[]>()
  for (const entry of outbox.gone) {
    const of = `${entry.visitId} ${entry.visitKey}`
    found.set(of, [...(found.get(of) ?? []), entry])
  }
  return [...found.values()]
})

function inWords(entry: Entry): string {
  switch (entry.what) {
    case 'readings': {
      const { station, quantity, value, unit } = entry.body.reading
      return `${catalogue.titleOf(station, quantity)}: ${value} ${catalogue.symbol(unit)}`
    }
    case 'observations':
      return catalogue.word('observation', entry.body.observation.code)
    case 'marks':
      return `mark on a recording: ${catalogue.word('mark', entry.body.mark.code)}`
    case 'withdrawals':
      return 'an entry taken back'
  }
}
const typedAt = (entry: Entry) => (entry.what === 'readings' && entry.body.reading.at ? new Date(entry.body.reading.at).toLocaleString() : '')

const save = () => {
  const kept = outbox.gone.map(({ visitId, visitKey, what, body, by }) => ({ visit: visitId, visit_key: visitKey, by: by?.name ?? null, what, body }))
  saveAs('icepick-kept-entries.json', 'application/json', `${JSON.stringify({ format: 'icepick-kept-entries', version: 1, entries: kept }, null, 2)}\n`)
}
</script>

<template>
  <BModal v-model="open" title="Kept on this device" title-tag="h2" title-class="h5" size="lg" no-footer>
    <p>
      These were entered for a visit that is not in the records any more: most likely a copy of the records was put back. Nothing
      of it was written anywhere else. Save them as a file, or enter them again where they belong.
    </p>
    <section v-for="group in groups" :key="group[0]!.shelf">
      <h3>Visit {{ group[0]!.visitId }}, as it was</h3>
      <ul>
        <li v-for="entry in group" :key="entry.shelf">
          <span>{{ inWords(entry) }} <small class="quiet">{{ [entry.by?.name, typedAt(entry)].filter(Boolean).join(', ') }}</small></span>
          <BButton size="sm" :aria-label="`Discard ${inWords(entry)}`" @click="outbox.drop(entry)">Discard</BButton>
        </li>
      </ul>
    </section>
    <p v-if="!groups.length">Nothing is left.</p>
    <BButton v-else variant="primary" @click="save">Save as a file</BButton>
  </BModal>
</template>

<style scoped>
h3 {
  font-size: 1rem;
}
ul {
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--gap);
}
li span {
  min-width: 0;
  overflow-wrap: anywhere;
}
li .btn {
  flex: none;
}
</style>
