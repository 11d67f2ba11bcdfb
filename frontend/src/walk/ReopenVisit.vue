<script setup lang="ts">
// A closed visit is the record of its day: before anything is added, whoever adds it is asked.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { useDialogKeys } from '../composables/useKeys'

const props = defineProps<{ of: string; unit: number; silent: boolean; busy: boolean; may: boolean }>()
const emit = defineEmits<{ reopen: [] }>()
const ofToday = computed(() => new Date(props.of).toDateString() === new Date().toDateString())
const open = defineModel<boolean>({ required: true })
useDialogKeys(open)

function reopen() {
  open.value = false
  emit('reopen')
}
</script>

<template>
  <BModal v-model="open" title="This visit is closed" no-footer no-animation lazy unmount-lazy centered focus="start-another">
    <p v-if="ofToday">
      Opened again, it takes entries until the end of this day; that it was opened is kept in the record and printed on the
      report.
    </p>
    <p v-else>
      It is the record of {{ new Date(of).toLocaleDateString(undefined, { dateStyle: 'long' }) }}; what is read today belongs to
      a call of today. Opened again, it takes entries until the end of this day; that it was opened is kept in the record and
      printed on the report.
    </p>
    <div class="ways">
      <RouterLink id="start-another" class="btn btn-primary" :to="{ name: 'calls', query: { unit } }" @click="open = false">start a call on this unit</RouterLink>
      <BButton :disabled="silent || busy || !may" @click="reopen">open this visit again</BButton>
      <p v-if="!may" class="quiet">A lead opens it again; what you typed waits on this device until then.</p>
      <p v-else-if="silent" class="quiet">To be opened again it needs the server, which does not answer.</p>
    </div>
  </BModal>
</template>

<style scoped>
.ways {
  display: grid;
  gap: 0.4rem;
}
.ways .btn {
  justify-content: center;
}
</style>
