<script setup lang="ts">
// A file dropped anywhere: rows go into the call on screen, records into the book.
import { onScopeDispose, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useRecordingFile } from '../stores/recordingFile'
import { useRecords } from '../stores/records'
import { useSession } from '../stores/session'
import { kindOf } from './dropped'

const route = useRoute()
const router = useRouter()
const session = useSession()
const over = ref(false)
const said = ref('')
// Each element under the pointer says once that it came and once that it went.
let depth = 0

const brings = (event: DragEvent) => !session.outside && (event.dataTransfer?.types.includes('Files') ?? false)
function enter(event: DragEvent) {
  if (!brings(event)) return
  depth += 1
  over.value = true
  said.value = ''
}
function leave(event: DragEvent) {
  if (!brings(event)) return
  depth = Math.max(0, depth - 1)
  over.value = depth > 0
}
function hover(event: DragEvent) {
  if (brings(event)) event.preventDefault()
}
async function drop(event: DragEvent) {
  if (!brings(event)) return
  event.preventDefault()
  depth = 0
  over.value = false
  const [file, more] = Array.from(event.dataTransfer?.files ?? [])
  said.value = ''
  if (!file) return
  if (more) return void (said.value = 'One file at a time, please.')
  try {
    await take(file)
  } catch (error) {
    said.value = (error as Error).message
  }
}
async function take(file: File) {
  const kind = kindOf(file.name)
  const id = Number(route.params.id)
  if (kind === 'rows' && id) {
    await router.push({ name: 'file', params: { id } })
    return useRecordingFile().send(id, file)
  }
  if (kind === 'rows') return void (said.value = 'A recording belongs to a call: open the call, then drop the file there.')
  if (kind === 'records' && !session.may('records')) return void (said.value = session.refusal('records', 'a lead brings records in'))
  if (kind === 'records') {
    await router.push({ name: 'records' })
    return useRecords().send(file)
  }
  said.value = `${file.name} can’t be used here: a recording is a CSV file, records are JSON or ZIP.`
}
for (const [name, listener] of Object.entries({ dragenter: enter, dragleave: leave, dragover: hover, drop })) addEventListener(name, listener as EventListener)
onScopeDispose(() => {
  for (const [name, listener] of Object.entries({ dragenter: enter, dragleave: leave, dragover: hover, drop })) removeEventListener(name, listener as EventListener)
})
</script>

<template>
  <p v-if="over" class="over">Drop it: a CSV file goes into the call on screen, JSON or ZIP among the records. Nothing is entered before you say so.</p>
  <p v-else-if="said" class="alert-line m-2" role="alert">{{ said }} <button type="button" class="btn btn-sm" @click="said = ''">all right</button></p>
</template>

<style scoped>
.over {
  position: fixed;
  z-index: 2000;
  inset: 0.6rem;
  display: grid;
  place-content: center;
  margin: 0;
  padding: 2rem;
  border: 3px dashed var(--ink);
  background: color-mix(in srgb, var(--panel) 92%, transparent);
  font-size: 1.2rem;
  text-align: center;
  pointer-events: none;
}
</style>
