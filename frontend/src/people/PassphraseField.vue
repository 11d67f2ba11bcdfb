<script setup lang="ts">
// A passphrase, hidden unless it is asked to show; what makes a good one is said before it is refused.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { ref } from 'vue'

defineProps<{ id: string; label: string; name?: string; autocomplete: string; fresh?: boolean }>()
const text = defineModel<string>({ required: true })
const shown = ref(false)
</script>

<template>
  <div>
    <label :for="id">{{ label }}</label>
    <div class="line">
      <input
        :id="id" v-model="text" class="form-control" :name="name" :type="shown ? 'text' : 'password'" :autocomplete="autocomplete" maxlength="128"
        spellcheck="false" autocapitalize="none" required :aria-describedby="fresh ? `${id}-help` : undefined"
      />
      <BButton :aria-pressed="shown" :aria-label="`Show the ${label.toLowerCase()}`" @click="shown = !shown">{{ shown ? 'hide' : 'show' }}</BButton>
    </div>
    <p v-if="fresh" :id="`${id}-help`" class="quiet">At least 12 characters; four words in a row that nobody would put together are easy to keep.</p>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  gap: 0.4rem;
}
.line .btn {
  flex: none;
  width: 4rem;
}
p {
  margin: 0.25rem 0 0;
  font-size: 0.9rem;
}
</style>
