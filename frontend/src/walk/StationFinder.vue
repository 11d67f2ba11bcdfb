<script setup lang="ts">
// Jump to a station by a part of its name.
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { useDialogKeys } from '../composables/useKeys'
import { useCatalogue } from '../stores/catalogue'
import { spotKey, type Spot } from '../stores/visit'

const props = defineProps<{ spots: Spot[] }>()
const emit = defineEmits<{ go: [spot: Spot] }>()
const open = defineModel<boolean>({ required: true })
const catalogue = useCatalogue()
const wanted = ref('')
const MOST = 8

const name = (spot: Spot) =>
  catalogue.title(spot.station) +
  (spot.quantity === 'temperature' ? '' : `, ${catalogue.word('quantity', spot.quantity)}`)
const found = computed(() => {
  const parts = wanted.value.toLowerCase().split(/\s+/).filter(Boolean)
  return props.spots
    .filter((spot) => parts.every((part) => `${name(spot)} ${catalogue.short(spot.station)}`.toLowerCase().includes(part)))
    .slice(0, MOST)
})
// The dialog gives the cursor back to where it was; only then can it go on to the station.
let chosen: Spot | null = null
watch(open, () => (wanted.value = ''), { flush: 'sync' })
useDialogKeys(open)

// Quick fingers are ahead of the cursor: what they type belongs to the name.
function early(event: KeyboardEvent) {
  if (!open.value || event.defaultPrevented || (event.target as Element).closest('.modal')) return
  if (event.key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey) wanted.value += event.key
  else if (event.key === 'Enter') choose(found.value[0])
  else return
  event.preventDefault()
}
addEventListener('keydown', early)
onScopeDispose(() => removeEventListener('keydown', early))

function choose(spot: Spot | undefined) {
  if (!spot) return
  chosen = spot
  open.value = false
}
function gone() {
  if (chosen) emit('go', chosen)
  chosen = null
}
</script>

<template>
  <BModal v-model="open" title="Jump to a station" no-footer no-animation lazy unmount-lazy focus="station-name" @hidden="gone">
    <form @submit.prevent="choose(found[0])">
      <BFormInput id="station-name" v-model="wanted" autofocus autocomplete="off" placeholder="part of its name" aria-label="Station" />
    </form>
    <ul>
      <li v-for="spot in found" :key="spotKey(spot)">
        <button type="button" class="btn" @click="choose(spot)">{{ name(spot) }}</button>
      </li>
    </ul>
    <p v-if="!found.length" class="quiet">No station of this unit has that in its name.</p>
  </BModal>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 0.5rem 0 0;
}
.btn {
  width: 100%;
  text-align: left;
  border-color: transparent;
}
</style>
