<script setup lang="ts">
// Who wrote what, newest first: everything, of one person, or of one visit.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, shallowRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import type { AuditPage } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import { usePeople } from '../stores/people'
import { dayOf } from '../walk/figures'

const props = defineProps<{ visit: number | null; account: number | null }>()
const people = usePeople()
const router = useRouter()
const { trouble, attempt } = useAttempt()
const lines = shallowRef<AuditPage['lines'] | null>(null)
const more = shallowRef<number | null>(null)

let turn = 0
/** The first page, or the one that follows; an answer that comes behind that of a later question is old. */
async function look(before?: number) {
  const mine = ++turn
  const page = await people.audit({ visit: props.visit ?? undefined, account: props.account ?? undefined, before })
  if (mine !== turn) return
  lines.value = [...(before ? (lines.value ?? []) : []), ...page.lines]
  more.value = page.more
}
watch(() => [props.visit, props.account], () => attempt(() => look()), { immediate: true })
onMounted(() => attempt(people.load))

const days = computed(() => {
  const found = new Map<string, AuditPage['lines']>()
  for (const line of lines.value ?? []) {
    const day = dayOf(line.at)
    found.set(day, [...(found.get(day) ?? []), line])
  }
  return [...found]
})
const time = (at: string) => new Date(at).toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit', second: '2-digit' })
const narrow = (now: { visit?: number | null; account?: number | null }) => {
  const asked = { visit: props.visit, account: props.account, ...now }
  const query = { ...(asked.visit ? { visit: String(asked.visit) } : {}), ...(asked.account ? { account: String(asked.account) } : {}) }
  return router.push({ name: 'audit', query })
}
</script>

<template>
  <div class="page">
    <h1>Audit</h1>
    <div class="asked">
      <label for="audit-account">By</label>
      <select id="audit-account" class="form-select" :value="account ?? ''" @change="narrow({ account: Number(($event.target as HTMLSelectElement).value) || null })">
        <option value="">anybody</option>
        <option v-for="one in people.accounts ?? []" :key="one.id" :value="one.id">{{ one.name }}</option>
      </select>
      <span v-if="visit">of visit {{ visit }} <BButton @click="narrow({ visit: null })">of all visits</BButton></span>
      <span class="quiet">Appended with every entry; never changed or removed. Numbers as they were typed.</span>
    </div>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <p v-if="lines && !lines.length" class="quiet">Nothing was written.</p>
    <section v-for="[day, ofDay] in days" :key="day" :aria-label="day">
      <h2>{{ day }}</h2>
      <ul>
        <li v-for="(line, index) in ofDay" :key="line.id">
          <span class="at quiet">{{ time(line.at) }}</span>
          <strong class="by" :class="{ quiet: !line.by }">{{ line.by ?? 'not signed in' }}</strong>
          <span class="did">{{ line.did }}<span v-if="line.elsewhere" class="quiet"> · brought in<template v-if="line.elsewhere.at">, written {{ dayOf(line.elsewhere.at) }} by {{ line.elsewhere.by ?? 'nobody signed in' }}</template></span></span>
          <!-- Said once where many follow each other. -->
          <span v-if="line.visit_id && line.visit_id !== ofDay[index - 1]?.visit_id" class="where">
            <RouterLink :to="{ name: 'walk', params: { id: line.visit_id } }">{{ line.site ? `${line.site}, ${line.unit}` : `visit ${line.visit_id}` }}</RouterLink>
            <BButton v-if="!visit" size="sm" @click="narrow({ visit: line.visit_id })">only this visit<span class="visually-hidden"> ({{ line.visit_id }})</span></BButton>
          </span>
        </li>
      </ul>
    </section>
    <BButton v-if="more" class="more" @click="attempt(() => look(more!))">older</BButton>
  </div>
</template>

<style scoped>
h2 {
  margin: 0.9rem 0 0.2rem;
}
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 0.8rem;
  align-items: center;
}
.asked .form-select {
  width: 14rem;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 6rem 10rem minmax(0, 1fr) minmax(0, 22rem);
  gap: 0 0.75rem;
  align-items: center;
  min-height: var(--target);
  border-bottom: 1px solid var(--hair);
}
.by,
.did {
  overflow-wrap: anywhere;
}
.where {
  display: flex;
  gap: 0.5rem;
  justify-content: space-between;
  align-items: center;
}
.where a {
  min-height: var(--target);
  align-content: center;
}
.where .btn {
  flex: none;
}
.more {
  margin-top: 0.8rem;
}
@media (max-width: 64rem) {
  li {
    grid-template-columns: max-content minmax(0, 1fr);
    padding: 0.3rem 0;
  }
  .did,
  .where {
    grid-column: 1 / -1;
  }
}
</style>
