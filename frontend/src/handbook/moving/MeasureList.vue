<script setup lang="ts">
// What to measure where, with the limit it is held to.
import { RouterLink } from 'vue-router'
import type { Measure } from '../../api/types'
import { useCatalogue } from '../../stores/catalogue'

defineProps<{ measures: Measure[] }>()
const catalogue = useCatalogue()
const limitOf = (check: string) => catalogue.catalogue?.check_limits[check]
const titleOf = (name: string) => catalogue.catalogue?.limits.find((one) => one.name === name)?.title ?? name
</script>

<template>
  <ul class="measures" aria-label="What to measure">
    <li v-for="one in measures" :key="one.words">
      {{ one.words }}
      <RouterLink v-if="limitOf(one.check)" :to="`/handbook/limits/${limitOf(one.check)}`">limit: {{ titleOf(limitOf(one.check)!) }}</RouterLink>
    </li>
  </ul>
</template>

<style scoped>
.measures {
  margin: 0.4rem 0 0;
  padding-left: 1.2rem;
}
a {
  display: inline-block;
  min-height: var(--target);
  align-content: center;
}
</style>
