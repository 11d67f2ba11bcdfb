<script setup lang="ts">
// The equipment book, searched as it is typed.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import type { UnitView } from '../api/types'
import { useNarrow } from '../composables/useMedia'

const props = defineProps<{ units: UnitView[]; current: number | null; unsaved: boolean; reader: boolean }>()
const wanted = ref('')
// On a phone the form is not pushed out of sight.
const narrow = useNarrow()
const page = computed(() => (narrow.value ? 4 : 40))
const many = ref(page.value)
watch([wanted, page], () => (many.value = page.value))

const found = computed(() => {
  const parts = wanted.value.toLowerCase().split(/\s+/).filter(Boolean)
  const text = ({ site, unit }: UnitView) => [site.name, unit.label, unit.refrigerant, unit.layout, unit.model ?? '', unit.serial ?? ''].join(' ').toLowerCase()
  return props.units.filter((entry) => parts.every((part) => text(entry).includes(part)))
})
</script>

<template>
  <RouterLink v-if="!reader" class="btn new" to="/units/new" :aria-current="current === null ? 'page' : undefined">+ new unit<span v-if="current === null && unsaved" class="quiet"> · not saved</span></RouterLink>
  <label class="visually-hidden" for="units-find">Find a unit</label>
  <input id="units-find" v-model="wanted" type="search" class="form-control" autocomplete="off" placeholder="find: site, unit, model …" />
  <ul>
    <li v-for="entry in found.slice(0, many)" :key="entry.id">
      <RouterLink class="btn entry" :to="`/units/${entry.id}`" :aria-current="current === entry.id ? 'page' : undefined">
        <strong>{{ entry.site.name }}</strong> {{ entry.unit.label }}
        <span class="quiet">{{ entry.unit.refrigerant }} {{ entry.unit.layout }}<template v-if="current === entry.id && unsaved"> · not saved</template></span>
      </RouterLink>
    </li>
  </ul>
  <BButton v-if="found.length > many" @click="many += page">show {{ Math.min(page, found.length - many) }} more of {{ found.length }}</BButton>
  <p v-if="!found.length" class="quiet">No unit has that in its name.</p>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 3px;
  margin: 0.4rem 0;
  display: grid;
  gap: 0.35rem;
}
.new {
  width: 100%;
  justify-content: center;
  margin-bottom: 0.4rem;
}
.entry {
  width: 100%;
  text-align: left;
  display: grid;
  background: var(--panel);
}
[aria-current='page'] {
  border: 2px solid var(--ink);
}
</style>
