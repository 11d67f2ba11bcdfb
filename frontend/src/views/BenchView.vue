<script setup lang="ts">
// The bench: lessons in the order of the trade, cases drawn at four levels, and how one gets on.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import type { BenchLevel } from '../api/types'
import PracticeMark from '../bench/PracticeMark.vue'
import ProgressPane from '../bench/ProgressPane.vue'
import SetCase from '../bench/SetCase.vue'
import { useAttempt } from '../composables/useAttempt'
import { MOVING } from '../handbook/entries'
import LazyDetails from '../shell/LazyDetails.vue'
import { useBench } from '../stores/bench'
import { dayOf } from '../walk/figures'

const bench = useBench()
const router = useRouter()
const route = useRoute()
const { trouble, busy, attempt, once } = useAttempt()
onMounted(() => attempt(bench.load))
const home = computed(() => bench.home)
const typed = ref(typeof route.query.case === 'string' ? route.query.case : '')
const next = computed(() => home.value?.groups.flatMap((group) => group.lessons).find((one) => one.code === home.value?.progress.next_lesson))
const open = computed(() => home.value?.attempts.filter((one) => one.score === null) ?? [])
const past = computed(() => home.value?.attempts.filter((one) => one.score !== null) ?? [])
const LETTER: Record<BenchLevel, string> = { one_fault: 'A', thin_kit: 'B', look_alikes: 'C', two_or_none: 'D' }
const levels = computed(() => Object.entries(home.value?.levels ?? {}) as [BenchLevel, string][])

const begin = (what: { code?: string; level?: BenchLevel }) =>
  once(async () => void (await router.push({ name: 'benchcase', params: { id: await bench.begin(what) } })))
const code = ref('')
const set = (body: Parameters<typeof bench.set>[0]) => once(async () => void (code.value = await bench.set(body)))
</script>

<template>
  <div class="page">
    <h1>Bench</h1>
    <PracticeMark />
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <template v-if="home">
      <section class="start">
        <div v-if="next" class="panel next">
          <h2>Next</h2>
          <p><strong>{{ next.title }}</strong><br /><span class="quiet">{{ next.site }} · {{ home.progress.why }}</span></p>
          <BButton variant="primary" :disabled="busy" @click="begin({ code: next.code })">begin</BButton>
        </div>
        <div class="panel">
          <h2>Draw a case</h2>
          <div class="levels">
            <BButton v-for="[level, words] in levels" :key="level" :disabled="busy" @click="begin({ level })"><strong>{{ LETTER[level] }}</strong> {{ words }}</BButton>
          </div>
          <form class="code" @submit.prevent="begin({ code: typed })">
            <label for="code">By its code</label><input id="code" v-model="typed" class="form-control figure" placeholder="B-4711" required maxlength="40" /><BButton type="submit" :disabled="busy">begin</BButton>
          </form>
        </div>
        <div v-if="open.length" class="panel">
          <h2>Not said yet</h2>
          <ul><li v-for="one in open.slice(0, 5)" :key="one.id"><RouterLink :to="{ name: 'benchcase', params: { id: one.id } }">{{ one.title }}</RouterLink> <span class="quiet">{{ one.code }} · {{ dayOf(one.started_at) }}</span></li></ul>
        </div>
      </section>
      <section v-for="group in home.groups" :key="group.code" class="group" :aria-labelledby="`group-${group.code}`">
        <h2 :id="`group-${group.code}`">{{ group.title }}</h2>
        <p class="quiet">{{ group.words }} <RouterLink :to="`/handbook/moving/${group.read}`">How it works: {{ MOVING[group.read as keyof typeof MOVING] }}</RouterLink></p>
        <ol>
          <li v-for="(one, n) in group.lessons" :key="one.code">
            <BButton :disabled="busy" @click="begin({ code: one.code })">
              <span class="number figure">{{ n + 1 }}</span>
              <span>{{ one.title }}<br /><span class="quiet">{{ one.site }}<template v-if="one.best !== null"> · best {{ Math.round(one.best) }}</template><template v-else-if="one.tried"> · begun</template></span></span>
              <span v-if="one.solved" class="done"><span aria-hidden="true">✓</span><span class="visually-hidden">solved</span></span>
            </BButton>
          </li>
        </ol>
      </section>
      <ProgressPane :progress="home.progress" :past="past" />
      <LazyDetails class="panel set">
        <template #summary><summary>Set a case by hand</summary></template>
        <SetCase :home="home" :busy="busy" :code="code" @set="set" />
        <div v-for="one in home.set_by_me" :key="one.code" class="mine">
          <strong class="figure">{{ one.code }}</strong> {{ one.title }}
          <ul v-if="one.attempts.length"><li v-for="(each, n) in one.attempts" :key="n">{{ each.by ?? 'somebody' }}, {{ dayOf(each.started_at) }}: {{ each.said ? `${each.right ? 'right' : 'not it'}, ${Math.round(each.score ?? 0)} points` : 'at work' }}</li></ul>
        </div>
      </LazyDetails>
    </template>
  </div>
</template>

<style scoped>
h2 {
  font-size: 1.1rem;
  margin: 0 0 0.3rem;
}
.start {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(18rem, 1fr));
  gap: 0.75rem;
  margin: 0.75rem 0 1.2rem;
}
.panel {
  padding: 0.7rem 0.9rem;
}
.levels {
  display: grid;
  gap: 0.3rem;
}
.levels .btn {
  justify-content: start;
  text-align: left;
}
.code {
  display: flex;
  gap: 0.4rem;
  align-items: center;
  margin-top: 0.5rem;
}
.code input {
  min-width: 5rem;
}
.code label {
  white-space: nowrap;
}
ul,
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
ul a {
  display: inline-block;
  min-height: var(--target);
  align-content: center;
}
.group {
  margin-bottom: 1.1rem;
}
.group > p a {
  display: inline-block;
  min-height: var(--target);
  align-content: center;
}
.group > p {
  margin: 0 0 0.4rem;
  max-width: 52rem;
}
.group ol {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(15.5rem, 1fr));
  gap: 0.4rem;
}
.group .btn {
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 0.6rem;
  width: 100%;
  text-align: left;
  line-height: 1.25;
  padding: 0.3rem 0.6rem;
}
.number {
  font-size: 1.2rem;
  align-self: center;
}
.done {
  color: var(--pass);
  font-size: 1.3rem;
  align-self: center;
}
.set {
  margin-top: 1rem;
}
summary {
  min-height: var(--target);
  align-content: center;
  cursor: pointer;
}
.mine {
  margin-top: 0.8rem;
}
</style>
