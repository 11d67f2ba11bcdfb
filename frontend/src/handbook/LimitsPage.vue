<script setup lang="ts">
// Every practice limit: its default, standing and reason; the shop may change one and restore it.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { nextTick, ref, watch } from 'vue'
import type { LimitView } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import { inOneMessage, readNumber } from '../numbers/readNumber'
import { useHandbook } from '../stores/handbook'
import { plain } from '../walk/figures'

const props = defineProps<{ limits: LimitView[]; code: string }>()
const book = useHandbook()
const { trouble, attempt } = useAttempt()
const drafts = ref<Record<string, string>>({})
const wrong = ref<{ name: string; words: string } | null>(null)

function change(limit: LimitView) {
  const found = readNumber(drafts.value[limit.name] ?? '', [limit.unit], {})
  wrong.value = 'problem' in found ? { name: limit.name, words: inOneMessage(found) } : null
  if ('problem' in found) return
  void attempt(async () => {
    await book.changeLimit(limit.name, found.value)
    delete drafts.value[limit.name]
  })
}
watch(
  () => props.code,
  async (code) => {
    await nextTick()
    if (code) document.getElementById(`limit-${code}`)?.scrollIntoView({ block: 'center' })
  },
  { immediate: true },
)
</script>

<template>
  <article class="page">
    <h2>Practice limits</h2>
    <p class="quiet">What the checks are held to. A changed limit is printed in every report that used it.</p>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <section v-for="limit in limits" :id="`limit-${limit.name}`" :key="limit.name" :class="{ named: limit.name === code }">
      <h3>{{ limit.title }}</h3>
      <p class="value">
        <b class="figure">{{ plain(limit.value) }} {{ limit.unit }}</b>
        <span v-if="limit.value !== limit.default" class="watch">changed; default {{ plain(limit.default) }} {{ limit.unit }}</span>
        <span class="quiet">{{ limit.standing }}</span>
      </p>
      <p>{{ limit.reason }}</p>
      <p v-if="limit.checks.length" class="quiet">Checks held to it: {{ limit.checks.join(', ') }}.</p>
      <form @submit.prevent="change(limit)">
        <label class="visually-hidden" :for="`new-${limit.name}`">New value of {{ limit.title }}</label>
        <input :id="`new-${limit.name}`" v-model="drafts[limit.name]" class="form-control figure" inputmode="decimal" autocomplete="off" :placeholder="limit.unit || 'value'" :aria-invalid="wrong?.name === limit.name" />
        <BButton type="submit">Change</BButton>
        <BButton v-if="limit.value !== limit.default" @click="attempt(() => book.changeLimit(limit.name, null))">Restore</BButton>
      </form>
      <p v-if="wrong?.name === limit.name" class="fail" role="alert">{{ wrong.words }}</p>
    </section>
  </article>
</template>

<style scoped>
h2 {
  font-size: 1.25rem;
}
.page {
  max-width: 52rem;
}
section {
  padding: 0.7rem 0;
  border-top: 1px solid var(--hair);
}
.named {
  border-left: 6px solid var(--edge);
  padding-left: 0.7rem;
}
h3::first-letter {
  text-transform: uppercase;
}
p {
  margin: 0.15rem 0;
}
.value {
  display: flex;
  flex-wrap: wrap;
  gap: 0 1rem;
  align-items: baseline;
}
.value .figure {
  font-size: 1.2rem;
}
form {
  display: flex;
  gap: 0.4rem;
  margin-top: 0.3rem;
}
form .form-control {
  width: 8rem;
}
</style>
