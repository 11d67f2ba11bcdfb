<script setup lang="ts">
// Another run: the other mode first, since that is what is wanted nearly always; on another circuit the same.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { computed, ref, watch } from 'vue'
import type { Mode } from '../api/types'
import { useDialogKeys, useEarlyKeys } from '../composables/useKeys'
import { useCatalogue } from '../stores/catalogue'
import HeadsCalling from './HeadsCalling.vue'

const props = withDefaults(defineProps<{ now: Mode; repaired: boolean; circuits?: string[]; heads?: string[]; same?: boolean }>(), { circuits: () => [], heads: () => [], same: false })
const emit = defineEmits<{ add: [mode: Mode, afterRepair: boolean] }>()
const open = defineModel<boolean>({ required: true })
const circuit = defineModel<string>('circuit', { default: '' })
const calling = defineModel<number[] | null>('calling', { default: null })
const catalogue = useCatalogue()
useDialogKeys(open)

const opposite = computed<Mode>(() => {
  if (props.same) return props.now
  return props.now === 'heating' ? 'cooling' : 'heating'
})
const others = computed(() => (Object.keys(catalogue.catalogue?.words.mode ?? {}) as Mode[]).filter((mode) => mode !== opposite.value && !(props.heads.length && mode === props.now)))

const afterRepair = ref(false)
watch(open, (now) => now && (afterRepair.value = props.repaired))

let chosen: Mode | null = null
function choose(mode: Mode) {
  chosen = mode
  open.value = false
}
useEarlyKeys(open, (event) => {
  if (event.key === 'Enter') choose(opposite.value)
  return event.key === 'Enter'
})
function gone() {
  if (chosen) emit('add', chosen, afterRepair.value)
  chosen = null
}
</script>

<template>
  <BModal v-model="open" :title="same ? 'Another circuit, on the same call' : 'Another run, from now on'" title-tag="h2" no-footer no-animation lazy unmount-lazy centered focus="another-run" @hidden="gone">
    <div class="modes">
      <div v-if="circuits.length" class="on" role="group" aria-label="On which circuit">
        <BButton v-for="id in circuits" :key="id" :aria-pressed="id === circuit" @click="circuit = id">circuit {{ id }}</BButton>
      </div>
      <HeadsCalling v-if="heads.length" v-model="calling" :labels="heads" />
      <BFormCheckbox id="after-repair" v-model="afterRepair" class="repaired">after the repair: it says how the unit was left, not what was wrong</BFormCheckbox>
      <BButton id="another-run" variant="primary" @click="choose(opposite)">{{ same ? '' : 'switch mode: ' }}{{ catalogue.word('mode', opposite) }}</BButton>
      <BButton v-if="heads.length" @click="choose(now)">other heads, same mode: {{ catalogue.word('mode', now) }}</BButton>
      <BButton v-for="mode in others" :key="mode" @click="choose(mode)">{{ catalogue.word('mode', mode) }}</BButton>
    </div>
  </BModal>
</template>

<style scoped>
.modes {
  display: grid;
  gap: 0.4rem;
}
.on {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
}
.on .btn[aria-pressed='true'] {
  border-color: var(--ink);
  border-bottom-width: 4px;
  font-weight: 600;
}
.repaired {
  display: flex;
  gap: 0.6rem;
  align-items: center;
  min-height: var(--target);
  margin: 0;
  padding: 0;
}
.repaired :deep(input) {
  flex: none;
  float: none;
  margin: 0;
}
</style>
