<script setup lang="ts">
// The keys of this screen, on request.
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { useDialogKeys } from '../composables/useKeys'

defineProps<{ keys: { key: string; does: string }[] }>()
const open = defineModel<boolean>({ required: true })
useDialogKeys(open)
</script>

<template>
  <BModal v-model="open" title="Keys" ok-only ok-title="Close" no-animation lazy unmount-lazy centered>
    <dl>
      <template v-for="one in keys" :key="one.key">
        <dt><kbd>{{ one.key }}</kbd></dt>
        <dd>{{ one.does }}</dd>
      </template>
    </dl>
  </BModal>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0.35rem 1rem;
  margin: 0;
}
dd {
  margin: 0;
}
kbd {
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--edge);
  border-radius: 2px;
}
</style>
