<script setup lang="ts">
// The small questions of a working day, offline, with the source of every figure.
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, onMounted, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { useAttempt } from '../composables/useAttempt'
import { useKeys } from '../composables/useKeys'
import CalculatorPage from '../handbook/CalculatorPage.vue'
import { entriesOf, KINDS, search, type Entry } from '../handbook/entries'
import FaultPage from '../handbook/FaultPage.vue'
import MovingPage from '../handbook/moving/MovingPage.vue'
import LimitsPage from '../handbook/LimitsPage.vue'
import SaturationPage from '../handbook/SaturationPage.vue'
import WeatherPage from '../handbook/WeatherPage.vue'
import { useHandbook } from '../stores/handbook'

const props = defineProps<{ kind: string; code: string }>()
const book = useHandbook()
const route = useRoute()
const router = useRouter()
const { trouble, attempt } = useAttempt()
const wanted = ref('')

onMounted(() => attempt(book.load))
useKeys({ '/': () => document.getElementById('handbook-search')?.focus() })

const entries = computed(() => (book.handbook ? entriesOf(book.handbook) : []))
const found = computed(() => search(entries.value, wanted.value))
const groups = computed(() =>
  (Object.keys(KINDS) as (keyof typeof KINDS)[])
    .map((kind) => ({ kind, entries: found.value.filter((entry) => entry.kind === kind) }))
    .filter((group) => group.entries.length),
)
const to = (entry: Entry) => `/handbook/${entry.kind}${entry.code && `/${entry.code}`}`
// Enter may come before the pages have.
const openFirst = () =>
  attempt(async () => {
    await book.load()
    if (found.value[0]) await router.push(to(found.value[0]))
  })

const calculator = computed(() => book.handbook?.calculators.find((c) => c.code === props.code))
const fault = computed(() => book.handbook?.faults.find((f) => f.code === props.code))
const titleOf = (code: string) => book.handbook?.faults.find((f) => f.code === code)?.title ?? code
const visit = computed(() =>
  route.query.visit && route.query.run ? { id: Number(route.query.visit), run: String(route.query.run) } : null,
)
</script>

<template>
  <div class="handbook">
    <h1 class="visually-hidden">Handbook</h1>
    <nav aria-label="Handbook" :class="{ folded: kind }">
      <p class="title" aria-hidden="true">Handbook</p>
      <form role="search" @submit.prevent="openFirst">
        <label for="handbook-search" class="visually-hidden">Search the Handbook</label>
        <BFormInput id="handbook-search" v-model="wanted" type="search" placeholder="Search  /" autocomplete="off" />
      </form>
      <section v-for="group in groups" :key="group.kind">
        <h2>{{ KINDS[group.kind] }}</h2>
        <ul>
          <li v-for="entry in group.entries" :key="entry.code">
            <RouterLink :to="to(entry)" active-class="open">{{ entry.title }}</RouterLink>
          </li>
        </ul>
      </section>
      <p v-if="book.handbook && !found.length">Nothing in the Handbook has these words.</p>
    </nav>
    <section class="content panel" tabindex="0" aria-label="Page">
      <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
      <template v-if="book.handbook">
        <RouterLink v-if="kind" class="back" to="/handbook">all pages</RouterLink>
        <WeatherPage v-if="kind === 'weather'" :unit="code" :title-of="titleOf" />
        <MovingPage v-else-if="kind === 'moving'" :key="code" :part="code" />
        <SaturationPage v-else-if="kind === 'saturation'" :key="code" :refrigerant="code" :calculators="book.handbook.calculators" />
        <CalculatorPage v-else-if="kind === 'calculators' && calculator" :calculator="calculator" :visit="visit" />
        <LimitsPage v-else-if="kind === 'limits'" :limits="book.handbook.limits" :code="code" />
        <FaultPage v-else-if="kind === 'faults' && fault" :fault="fault" :title-of="titleOf" />
        <p v-else class="quiet">Choose a page, or press / and type a word: a refrigerant, a calculator, a limit, a fault.</p>
      </template>
    </section>
  </div>
</template>

<style scoped>
.handbook {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: 17rem minmax(0, 1fr);
  gap: 0.6rem;
  padding: 0.6rem 0.75rem;
}
.handbook > * {
  min-height: 0;
  overflow: auto;
}
.title {
  font-size: 1.25rem;
  font-weight: 650;
  margin: 0 0 0.5rem;
}
nav {
  padding: 3px;
}
nav h2 {
  margin: 0.9rem 0 0.2rem;
  color: var(--quiet);
  font-size: 0.9rem;
}
nav ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
nav a {
  display: block;
  min-height: var(--target);
  align-content: center;
  padding: 0.35rem 0.5rem;
  color: var(--ink);
  text-decoration: none;
  border-left: 4px solid transparent;
}
nav a::first-letter {
  text-transform: uppercase;
}
nav a.open {
  border-left-color: var(--ink);
  background: var(--panel);
  font-weight: 600;
}
.content {
  padding: 0.9rem 1.1rem;
}
.back {
  display: none;
}
@media (max-width: 64rem) {
  .handbook {
    grid-template-columns: minmax(0, 1fr);
  }
  .folded {
    display: none;
  }
  .back {
    display: inline-block;
    min-height: var(--target);
    align-content: center;
  }
}
@media print {
  nav {
    display: none;
  }
  .handbook {
    display: block;
    padding: 0;
  }
  .content {
    border: 0;
    padding: 0;
  }
}
</style>
