<script setup lang="ts">
// A recording taken out as a CSV file.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { useAttempt } from '../composables/useAttempt'
import { saveAs } from '../shell/saveAs'
import { useRecordings } from '../stores/recordings'

const props = defineProps<{ visit: number; recording: string }>()
const { trouble, attempt } = useAttempt()
const store = useRecordings()

const give = () =>
  attempt(async () => {
    const { csv } = await store.csv(props.visit, props.recording)
    saveAs(`${props.recording}.csv`, 'text/csv', csv)
  })
</script>

<template>
  <BButton @click="give">CSV</BButton>
  <span v-if="trouble" role="alert">{{ trouble }}</span>
</template>
