<script setup lang="ts">
// Every practice limit: its default, standing and reason; the shop may change one and restore it.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import type { LimitEffects, LimitView } from '../api/types'
import { inOneMessage, readNumber } from '../numbers/readNumber'
import { useAskAgain } from '../composables/useAskAgain'
import LazyDetails from '../shell/LazyDetails.vue'
import { useHandbook } from '../stores/handbook'
import { useSession } from '../stores/session'
import { useSettings } from '../stores/settings'
import { plain } from '../walk/figures'
import LimitEffectsList from './LimitEffectsList.vue'

const props = defineProps<{ limits: LimitView[]; code: string }>()
const book = useHandbook()
const settings = useSettings()
const session = useSession()
const drafts = ref<Record<string, string>>({})
const wrong = ref<{ name: string; words: string } | null>(null)
/** The limit changed last, and what that did. */
const changed = shallowRef<{ name: string; effects: LimitEffects | null } | null>(null)
const wanted = ref('')

const here = (limit: LimitView) => limit.shown[settings.units]!
const groups = computed(() => {
  const parts = wanted.value.toLowerCase().split(/\s+/).filter(Boolean)
  const found = props.limits.filter((limit) => {
    const text = `${limit.title} ${limit.group} ${limit.reason} ${limit.checks.join(' ')}`.toLowerCase()
    return parts.every((part) => text.includes(part))
  })
  return [...new Set(found.map((limit) => limit.group))].map((title) => {
    const limits = found.filter((limit) => limit.group === title)
    const changed = limits.filter((limit) => limit.value !== limit.default).length
    const words = `${limits.length}${changed ? `, ${changed} changed` : ''}`
    return { title, limits, words, open: parts.length > 0 || limits.some((limit) => limit.name === props.code) }
  })
})

/** What the change did; the visits are read anew one after the other. */
async function look() {
  const name = changed.value?.name
  const effects = await book.effects()
  if (name && changed.value?.name === name) changed.value = { name, effects }
}
useAskAgain(() => changed.value?.effects ?? null, (effects) => !effects.waiting, () => look().catch(() => undefined))

/** A refusal stands at its own field. */
async function put(limit: LimitView, value: number | null) {
  wrong.value = null
  try {
    await book.changeLimit(limit.name, value)
    delete drafts.value[limit.name]
    changed.value = { name: limit.name, effects: null }
    await look()
  } catch (error) {
    wrong.value = { name: limit.name, words: (error as Error).message }
  }
}
function change(limit: LimitView) {
  const found = readNumber(drafts.value[limit.name] ?? '', [here(limit).unit], {})
  if ('problem' in found) wrong.value = { name: limit.name, words: inOneMessage(found) }
  else void put(limit, found.value)
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
    <p class="quiet">What the checks are held to. A changed limit is printed in every report that used it, and judges every visit anew.</p>
    <p v-if="!session.may('limits')">{{ session.refusal('limits', 'a lead changes limits') }}</p>
    <p>
      <label for="limit-search">Find a limit</label>
      <input id="limit-search" v-model="wanted" class="form-control" type="search" autocomplete="off" placeholder="part of its name, reason or check" />
    </p>
    <p v-if="!groups.length" class="quiet">No limit has that in its name, reason or checks.</p>
    <LazyDetails v-for="group in groups" :key="group.title" class="group" :open="group.open">
      <template #summary><summary>{{ group.title }} <span class="quiet">{{ group.words }}</span></summary></template>
      <section v-for="limit in group.limits" :id="`limit-${limit.name}`" :key="limit.name" :class="{ named: limit.name === code }">
        <h3>{{ limit.title }}</h3>
        <p class="value">
          <b class="figure">{{ plain(here(limit).value) }} {{ here(limit).unit }}</b>
          <span v-if="limit.value !== limit.default" class="watch">changed; default {{ plain(here(limit).default) }} {{ here(limit).unit }}</span>
          <span class="quiet">{{ limit.standing }}</span>
        </p>
        <p>{{ limit.reason }}</p>
        <p v-if="limit.checks.length" class="quiet">Checks held to it: {{ limit.checks.join(', ') }}.</p>
        <form v-if="session.may('limits')" @submit.prevent="change(limit)">
          <label class="visually-hidden" :for="`new-${limit.name}`">New value of {{ limit.title }}</label>
          <input :id="`new-${limit.name}`" v-model="drafts[limit.name]" class="form-control figure" inputmode="decimal" autocomplete="off" :placeholder="here(limit).unit || 'value'" :aria-invalid="wrong?.name === limit.name" :aria-describedby="wrong?.name === limit.name ? `wrong-${limit.name}` : undefined" />
          <BButton type="submit">Change</BButton>
          <BButton v-if="limit.value !== limit.default" @click="put(limit, null)">Restore</BButton>
        </form>
        <p v-if="wrong?.name === limit.name" :id="`wrong-${limit.name}`" class="fail" role="alert">{{ wrong.words }}</p>
        <LimitEffectsList v-if="changed?.name === limit.name" :effects="changed.effects" />
      </section>
    </LazyDetails>
  </article>
</template>

<style scoped>
h2 {
  font-size: 1.25rem;
}
.page {
  max-width: 52rem;
}
.group > summary {
  min-height: var(--target);
  align-content: center;
  border-top: 1px solid var(--hair);
  font-weight: 600;
  cursor: pointer;
}
.group > summary .quiet {
  font-weight: 400;
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
