<script setup lang="ts">
// Before another unit takes the place of one that was changed and not saved.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { useDialogKeys } from '../composables/useKeys'

defineProps<{ label: string; complete: boolean }>()
const emit = defineEmits<{ save: []; discard: []; stay: [] }>()
const open = defineModel<boolean>({ required: true })
useDialogKeys(open)

let said: 'save' | 'discard' | 'stay' = 'stay'
function say(what: typeof said) {
  said = what
  open.value = false
}
function gone() {
  if (said === 'save') emit('save')
  else if (said === 'discard') emit('discard')
  else emit('stay')
  said = 'stay'
}
</script>

<template>
  <BModal v-model="open" title="Not saved yet" no-footer no-animation lazy unmount-lazy centered focus="unsaved-save" @hidden="gone">
    <p>{{ label ? `“${label}” was changed` : 'A new unit was begun' }} and not saved.</p>
    <div class="ways">
      <BButton id="unsaved-save" variant="primary" :disabled="!complete" @click="say('save')">save it, then go on</BButton>
      <BButton @click="say('discard')">drop the changes</BButton>
      <BButton @click="say('stay')">stay here</BButton>
      <p v-if="!complete" class="quiet">To be saved it needs its site and a label.</p>
    </div>
  </BModal>
</template>

<style scoped>
.ways {
  display: grid;
  gap: 0.4rem;
}
</style>
