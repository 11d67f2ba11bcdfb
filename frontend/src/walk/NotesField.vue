<script setup lang="ts">
// The notes of a run. Kept on this device while they are being written; where somebody else wrote meanwhile,
// both texts are shown and nothing is lost.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { forget, keep, kept } from '../stores/shelf'

const props = defineProps<{
  shelf: string
  text: string
  revision: number
  write: (text: string, revision: number) => Promise<boolean>
}>()

const draft = ref(kept(props.shelf) ?? props.text)
const base = ref(props.revision)
const theirs = ref<string | null>(null)
const trouble = ref('')
const changed = computed(() => draft.value !== props.text)

watch(draft, (now) => {
  if (!keep(props.shelf, now)) trouble.value = 'This device has no room left to keep what you write: save it.'
})
watch(
  () => props.text,
  (now, before) => {
    if (theirs.value === null && draft.value === before) {
      draft.value = now
      base.value = props.revision
    }
  },
)

async function save(text: string, over: number) {
  trouble.value = ''
  try {
    if (await props.write(text, over)) {
      theirs.value = null
      draft.value = text
      base.value = props.revision
      forget(props.shelf)
    } else theirs.value = props.text
  } catch (error) {
    trouble.value = `${(error as Error).message} Your text is kept on this device.`
  }
}
const keepTheirs = () => {
  draft.value = props.text
  base.value = props.revision
  theirs.value = null
  forget(props.shelf)
}
</script>

<template>
  <div class="notes">
    <label :for="shelf">Notes on this run</label>
    <textarea :id="shelf" v-model="draft" class="form-control" rows="5" maxlength="10000" />
    <p v-if="trouble" class="fail" role="alert">{{ trouble }}</p>
    <div v-if="theirs !== null" class="alert-line" role="alert">
      <p>Somebody else changed these notes meanwhile. They wrote:</p>
      <blockquote>{{ theirs || '(nothing)' }}</blockquote>
      <div class="choice">
        <BButton @click="save(`${text}\n${draft}`.trim(), revision)">keep both</BButton>
        <BButton @click="save(draft, revision)">keep mine</BButton>
        <BButton @click="keepTheirs">take theirs</BButton>
      </div>
    </div>
    <BButton v-else variant="primary" :disabled="!changed" @click="save(draft, base)">Save</BButton>
  </div>
</template>

<style scoped>
.notes {
  display: grid;
  gap: 0.5rem;
  padding: 0.6rem;
  align-content: start;
}
blockquote {
  margin: 0 0 0.5rem;
  padding-left: 0.6rem;
  border-left: 3px solid var(--edge);
  white-space: pre-wrap;
}
.alert-line p {
  margin: 0;
}
.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
}
</style>
