<script setup lang="ts">
// The notes of a run. Kept on this device while they are being written; where somebody else wrote meanwhile,
// both texts are shown and nothing is lost.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { leaveField } from '../composables/useKeys'
import { forget, keep, kept } from '../stores/shelf'

const props = defineProps<{
  shelf: string
  text: string
  revision: number
  /** Why nothing is written here. */
  shut: string
  write: (text: string, revision: number) => Promise<boolean>
}>()

/** What is being written, and the revision it began from: another's text of later on must not be taken for its ground. */
function shelved(): { text: string; base: number } | null {
  const before = kept(props.shelf)
  if (before === null) return null
  try {
    return JSON.parse(before) as { text: string; base: number }
  } catch {
    return { text: before, base: props.revision }
  }
}
const begun = shelved()
const draft = ref(begun?.text ?? props.text)
const base = ref(begun?.base ?? props.revision)
const field = useTemplateRef<HTMLTextAreaElement>('field')
onMounted(() => field.value?.focus())
const theirs = ref<string | null>(null)
const trouble = ref('')
const changed = computed(() => draft.value !== props.text)

watch(draft, (now) => {
  if (!keep(props.shelf, JSON.stringify({ text: now, base: base.value }))) trouble.value = 'This device has no room left to keep what you write: save it.'
})
watch(
  () => props.text,
  (now, before) => {
    if (theirs.value === null && draft.value === before) {
      base.value = props.revision
      draft.value = now
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
    <textarea
      :id="shelf" ref="field" v-model="draft" class="form-control" rows="5" maxlength="10000" :readonly="shut !== ''" aria-keyshortcuts="Control+Enter"
      @keydown.ctrl.enter.prevent="changed && theirs === null && save(draft, base)" @keydown.esc="leaveField()"
    />
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
    <p v-else-if="shut" class="quiet">{{ shut }}</p>
    <BButton v-else variant="primary" :disabled="!changed" @click="save(draft, base)">Save <span class="quiet">Ctrl ↵</span></BButton>
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
