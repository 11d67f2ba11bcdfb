<script setup lang="ts">
// Jump to a station by a part of its name.
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { computed, ref, watch } from 'vue'
import { useDialogKeys, useEarlyKeys } from '../composables/useKeys'
import { useCatalogue } from '../stores/catalogue'
import { spotKey, useVisit, type Spot, type Tray } from '../stores/visit'

const props = defineProps<{ spots: Spot[] }>()
const emit = defineEmits<{ go: [spot: Spot] }>()
const open = defineModel<boolean>({ required: true })
const catalogue = useCatalogue()
const wanted = ref('')
const { trayOf } = useVisit()
const MOST = 8
const WHERE: Record<Tray, string> = {
  pipes: 'pipe', gauges: 'gauge', air: 'air', water: 'water', electrical: 'electrical', circuits: 'coil circuit',
}

const name = (spot: Spot) =>
  catalogue.title(spot.station) +
  (spot.quantity === 'temperature' ? '' : `, ${catalogue.word('quantity', spot.quantity)}`)
/** The whole name first, then what begins like it, then what has every part of it anywhere. */
function rank(spot: Spot, typed: string): number {
  const names = [name(spot), catalogue.title(spot.station), catalogue.short(spot.station)].map((one) => one.toLowerCase())
  if (names.includes(typed)) return 0
  return names.some((one) => one.startsWith(typed)) ? 1 : 2
}
const found = computed(() => {
  const typed = wanted.value.trim().toLowerCase()
  const parts = typed.split(/\s+/).filter(Boolean)
  return props.spots
    .filter((spot) => parts.every((part) => `${name(spot)} ${catalogue.short(spot.station)} ${WHERE[trayOf(spot.station)]}`.toLowerCase().includes(part)))
    .sort((a, b) => rank(a, typed) - rank(b, typed))
    .slice(0, MOST)
})
// The dialog gives the cursor back to where it was; only then can it go on to the station.
let chosen: Spot | null = null
watch(open, () => (wanted.value = ''), { flush: 'sync' })
useDialogKeys(open)

useEarlyKeys(open, (event) => {
  if (event.key.length === 1) wanted.value += event.key
  else if (event.key === 'Enter') choose(found.value[0])
  else return false
  return true
})

/** What was typed ahead of the cursor stands before what follows. */
function toEnd(event: FocusEvent) {
  const field = event.target as HTMLInputElement
  field.value = wanted.value
  field.setSelectionRange(field.value.length, field.value.length)
}

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
      <input id="station-name" v-model="wanted" class="form-control" autofocus autocomplete="off" placeholder="part of its name" aria-label="Station" @focus="toEnd" />
    </form>
    <ul>
      <li v-for="spot in found" :key="spotKey(spot)">
        <button type="button" class="btn" @click="choose(spot)">{{ name(spot) }} <span class="quiet where">{{ WHERE[trayOf(spot.station)] }}</span></button>
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
  display: flex;
  justify-content: space-between;
  text-align: left;
  border-color: transparent;
}
</style>
