<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { VisitLine } from '../api/types'
import StatusMark from '../shell/StatusMark.vue'
import { useCatalogue } from '../stores/catalogue'
import { dayOf } from '../walk/figures'

// `all`: nothing was asked for in particular.
defineProps<{ visits: VisitLine[]; all: boolean }>()
const catalogue = useCatalogue()

const modes = (line: VisitLine) => [...new Set(line.modes)].map((mode) => catalogue.word('mode', mode)).join(', ')
</script>

<template>
  <p v-if="!visits.length" class="panel p-3">{{ all ? 'No calls yet. Start one, and it is listed here from then on.' : 'No visits match.' }}</p>
  <ul v-else class="list">
    <li v-for="line in visits" :key="line.id">
      <RouterLink class="panel line" :to="{ name: 'walk', params: { id: line.id } }">
        <span class="head">
          <strong>{{ line.site }}</strong>
          <span class="quiet">{{ line.unit }}</span>
          <span class="quiet when">{{ line.opened_at ? dayOf(line.opened_at) : '' }}<template v-if="line.open"> · open</template></span>
        </span>
        <span v-if="line.trouble" class="verdict fail">{{ line.trouble }}</span>
        <span v-else class="verdict" :class="{ quiet: !line.headline }">{{ line.headline ?? 'being examined …' }}</span>
        <span v-if="line.passage" class="quiet">“{{ line.passage }}”</span>
        <span class="foot">
          <StatusMark v-if="line.outcome" :status="line.outcome" />
          <span v-if="line.headline && !line.up_to_date" class="quiet">being examined again …</span>
          <span class="quiet">{{ modes(line) }}<template v-if="line.complaint">
            · {{ catalogue.word('complaint', line.complaint) }}</template></span>
        </span>
      </RouterLink>
    </li>
  </ul>
</template>

<style scoped>
.list {
  list-style: none;
  margin: 0;
  padding: 3px;
  display: grid;
  gap: 0.6rem;
}
.line {
  display: grid;
  gap: 0.3rem;
  padding: 0.7rem 0.9rem;
  color: var(--ink);
  text-decoration: none;
}
.line:hover {
  border-color: var(--edge);
}
.head,
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.75rem;
  align-items: baseline;
}
.foot {
  align-items: center;
}
.when {
  margin-left: auto;
}
</style>
