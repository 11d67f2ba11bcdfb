<script setup lang="ts">
// One fault: what it is, what it does in each mode, what mimics it, what tells them apart, what to do.
import { RouterLink } from 'vue-router'
import type { FaultView } from '../api/types'
import FaultPicture from './FaultPicture.vue'

defineProps<{ fault: FaultView; titleOf: (code: string) => string }>()
</script>

<template>
  <article class="page">
    <h2>{{ fault.title }}</h2>
    <p class="what">{{ fault.what }}</p>
    <FaultPicture :key="fault.code" :fault="fault.code" />
    <table v-if="fault.effects.length">
      <thead><tr><th scope="col">what it does to</th><th scope="col">in cooling</th><th scope="col">in heating</th></tr></thead>
      <tbody>
        <tr v-for="effect in fault.effects" :key="effect.indicator">
          <th scope="row">{{ effect.indicator.replaceAll('_', ' ') }}</th>
          <td>{{ effect.cooling }}</td>
          <td>{{ effect.heating }}</td>
        </tr>
      </tbody>
    </table>
    <dl>
      <template v-if="fault.mimics.length">
        <dt>looks like</dt>
        <dd><RouterLink v-for="code in fault.mimics" :key="code" :to="`/handbook/faults/${code}`">{{ titleOf(code) }}</RouterLink></dd>
      </template>
      <dt>told apart</dt><dd>{{ fault.apart }}</dd>
      <dt>to do</dt><dd>{{ fault.do }}</dd>
    </dl>
    <p class="caution">{{ fault.caution }}</p>
    <p class="quiet">Qualified, licensed people only; local codes and the manufacturer's instructions win.</p>
  </article>
</template>

<style scoped>
.page {
  max-width: 46rem;
}
h2 {
  font-size: 1.25rem;
}
h2::first-letter {
  text-transform: uppercase;
}
.what {
  font-size: 1.1rem;
}
table {
  width: 100%;
  margin-bottom: 0.8rem;
}
th,
td {
  padding: 0.2rem 0.8rem 0.2rem 0;
  border-bottom: 1px solid var(--hair);
  text-align: left;
}
tbody th {
  font-weight: 400;
}
dl {
  display: grid;
  grid-template-columns: 7rem 1fr;
  gap: 0.4rem 0.8rem;
}
dt {
  font-weight: 400;
  color: var(--quiet);
}
dd {
  margin: 0;
}
dd a {
  display: inline-block;
  min-height: var(--target);
  align-content: center;
  margin-right: 1rem;
}
.caution {
  border: 1px solid var(--watch);
  border-left-width: 6px;
  padding: 0.5rem 0.8rem;
}
@media (max-width: 40rem) {
  dl {
    grid-template-columns: 1fr;
  }
}
</style>
