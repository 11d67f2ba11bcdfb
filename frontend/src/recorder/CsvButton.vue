<script setup lang="ts">
// A recording taken out as a CSV file.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { useAttempt } from '../composables/useAttempt'
import { useRecordings } from '../stores/recordings'

const props = defineProps<{ visit: number; recording: string }>()
const { trouble, attempt } = useAttempt()
const store = useRecordings()

const give = () =>
  attempt(async () => {
    const { csv } = await store.csv(props.visit, props.recording)
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([csv], { type: 'text/csv' }))
    link.download = `${props.recording}.csv`
    link.click()
    URL.revokeObjectURL(link.href)
  })
</script>

<template>
  <BButton @click="give">CSV</BButton>
  <span v-if="trouble" role="alert">{{ trouble }}</span>
</template>
