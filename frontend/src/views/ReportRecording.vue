<script setup lang="ts">
// One recording in the report: each defrost in a line, and its checks.
import { computed } from 'vue'
import type { RecordingExamination } from '../api/types'
import StatusMark from '../shell/StatusMark.vue'

const props = defineProps<{ recording: RecordingExamination; number: number }>()
const telling = computed(() => props.recording.checks.filter((check) => check.status === 'fail' || check.status === 'watch'))
const passed = computed(() => props.recording.checks.filter((check) => check.status === 'pass').map((check) => check.title).join('; '))
</script>

<template>
  <section>
    <h2>Recording {{ number }}: {{ recording.defrosts.length }} {{ recording.defrosts.length === 1 ? 'defrost' : 'defrosts' }}</h2>
    <ol v-if="recording.defrosts.length">
      <li v-for="(one, place) in recording.defrosts" :key="place">{{ one.words }}.</li>
    </ol>
    <p v-if="passed">Passed: {{ passed }}.</p>
    <ul v-if="telling.length" class="telling">
      <li v-for="check in telling" :key="check.code"><StatusMark :status="check.status" /> <b>{{ check.title }}</b>: {{ check.explain }}</li>
    </ul>
  </section>
</template>

<style scoped>
section {
  break-inside: avoid;
  margin-top: 0.6rem;
}
h2 {
  border-bottom: 1px solid var(--hair);
  font-size: 1.1rem;
}
p,
ol {
  margin: 0 0 0.3rem;
}
.telling {
  list-style: none;
  padding: 0;
}
</style>
