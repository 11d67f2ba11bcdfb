<script setup lang="ts">
// The visits to this unit, newest first: last winter's is two keys away.
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { VisitLine } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import { useDialogKeys, useEarlyKeys } from '../composables/useKeys'
import StatusMark from '../shell/StatusMark.vue'
import { useCalls } from '../stores/calls'
import { useCatalogue } from '../stores/catalogue'
import { dayOf } from './figures'

const props = defineProps<{ unit: number; visit: number }>()
const open = defineModel<boolean>({ required: true })
const catalogue = useCatalogue()
const calls = useCalls()
const router = useRouter()
const { trouble, attempt } = useAttempt()
useDialogKeys(open)

const MOST = 9
const visits = shallowRef<VisitLine[] | null>(null)
/** A number pressed before the visits were there. */
let ahead = ''
watch(open, (now) => {
  if (!now) return
  visits.value = null
  void attempt(async () => {
    visits.value = (await calls.visits({ unit: props.unit })).visits.filter((one) => one.id !== props.visit).slice(0, MOST)
    const wanted = ahead
    ahead = ''
    if (wanted) take(wanted)
  })
}, { immediate: true })

function take(key: string): boolean {
  if (!/^[1-9]$/.test(key)) return false
  if (!visits.value) ahead = key
  else go(visits.value[Number(key) - 1])
  return true
}
let chosen: VisitLine | null = null
function go(line: VisitLine | undefined) {
  if (!line) return
  chosen = line
  open.value = false
}
function gone() {
  if (chosen) void router.push({ name: 'walk', params: { id: chosen.id } })
  chosen = null
}
useEarlyKeys(open, (event) => take(event.key))
</script>

<template>
  <BModal v-model="open" title="Other visits to this unit" no-footer no-animation lazy unmount-lazy @hidden="gone" @keydown="take($event.key)">
    <p v-if="trouble" class="fail" role="alert">{{ trouble }}</p>
    <ol v-else-if="visits?.length">
      <li v-for="(line, index) in visits" :key="line.id">
        <button type="button" class="btn" @click="go(line)">
          <span class="figure">{{ index + 1 }}</span>
          <span>{{ line.opened_at ? dayOf(line.opened_at) : '' }} <span class="quiet">{{ line.modes.map((mode) => catalogue.word('mode', mode)).join(', ') }}</span></span>
          <StatusMark v-if="line.outcome" :status="line.outcome" />
          <span class="said quiet">{{ line.trouble ?? line.headline ?? 'being examined …' }}</span>
        </button>
      </li>
    </ol>
    <p v-else-if="visits" class="quiet">This is the only visit to this unit.</p>
  </BModal>
</template>

<style scoped>
ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
.btn {
  width: 100%;
  display: grid;
  grid-template-columns: 1.5rem 1fr auto;
  text-align: left;
  border-color: transparent;
}
.said {
  grid-column: 2 / -1;
}
</style>
