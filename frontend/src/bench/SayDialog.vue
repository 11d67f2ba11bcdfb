<script setup lang="ts">
// Say what it is: the fault and how bad, what speaks for it, what was ruled out, what would be done, and how sure one is.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { computed, reactive, watch } from 'vue'
import type { AttemptView, Sayable, Saying } from '../api/types'
import { useDialogKeys } from '../composables/useKeys'
import { useAttemptAtBench } from '../stores/attempt'

const props = defineProps<{ view: AttemptView; busy: boolean; trouble: string }>()
const emit = defineEmits<{ say: [saying: Saying] }>()
const open = defineModel<boolean>({ required: true })
useDialogKeys(open)
const attempt = useAttemptAtBench()

const NOTHING = 'nothing'
const keyOf = (one: Pick<Sayable, 'fault' | 'where'>) => `${one.fault} ${one.where ?? ''}`
const said = reactive({ first: '', second: '', bands: {} as Record<string, string>, sure: 70, speaks: [] as number[], out: [] as string[], would: [] as string[] })
const options = computed(() => [{ value: '', text: 'choose …' }, { value: NOTHING, text: 'nothing wrong' }, ...props.view.choices.map((one) => ({ value: keyOf(one), text: one.title }))])
const seconds = computed(() => [{ value: '', text: 'nothing besides' }, ...options.value.slice(2).filter((one) => one.value !== said.first)])
const named = computed(() => [said.first, said.second].flatMap((key) => props.view.choices.filter((one) => keyOf(one) === key)))
const gave = computed(() => props.view.steps.filter((one) => one.found && one.act !== 'hint'))

watch(open, (now) => {
  if (now) Object.assign(said, attempt.draft(props.view.id))
})
watch(said, () => attempt.keepDraft(props.view.id, { ...said }), { deep: true })

function say() {
  emit('say', {
    faults: named.value.map((one) => ({ fault: one.fault, where: one.where, band: (said.bands[keyOf(one)] || null) as 'slight' | null })),
    confidence: said.sure / 100,
    speaks_for: said.speaks,
    ruled_out: said.out.filter((text) => named.value.some((one) => one.rule_out.includes(text))),
    would_do: named.value.filter((one) => said.would.includes(keyOf(one))).map((one) => one.fault),
  })
}
</script>

<template>
  <BModal v-model="open" title="What is it?" title-tag="h2" no-footer no-animation lazy unmount-lazy centered scrollable size="lg">
    <form class="form" @submit.prevent="say">
      <div class="pair">
        <label for="first">It is</label><BFormSelect id="first" v-model="said.first" :options="options" required />
        <template v-if="said.first && said.first !== NOTHING">
          <label for="second">and besides</label><BFormSelect id="second" v-model="said.second" :options="seconds" />
        </template>
      </div>
      <fieldset v-for="one in named" :key="keyOf(one)">
        <legend>{{ one.title }}</legend>
        <div v-if="Object.keys(one.bands).length" class="radios" role="radiogroup" :aria-label="`How bad: ${one.title}`">
          <label v-for="(words, band) in one.bands" :key="band"><input v-model="said.bands[keyOf(one)]" type="radio" :name="keyOf(one)" :value="band" /> {{ band }} <span class="quiet">{{ words }}</span></label>
        </div>
        <template v-if="one.rule_out.length">
          <p class="quiet">Before {{ one.replaces ?? 'it' }} goes, this is settled. Tick what you have settled:</p>
          <BFormCheckbox v-for="text in one.rule_out" :key="text" v-model="said.out" :value="text">{{ text }}</BFormCheckbox>
        </template>
        <BFormCheckbox v-model="said.would" :value="keyOf(one)"><strong>I would {{ one.would_do }}</strong> <span class="quiet">{{ one.minutes }} min, ${{ one.dollars }}</span></BFormCheckbox>
      </fieldset>
      <fieldset v-if="gave.length">
        <legend>What speaks for it</legend>
        <div class="speaks"><BFormCheckbox v-for="one in gave" :key="one.number" v-model="said.speaks" :value="one.number">{{ one.words }}: {{ one.found }}</BFormCheckbox></div>
      </fieldset>
      <div class="sure">
        <label for="sure">How sure are you? <strong>{{ said.sure }} %</strong></label>
        <input id="sure" v-model.number="said.sure" type="range" class="form-range" min="50" max="99" step="1" />
        <p class="quiet">Being sure pays when you are right, and costs when you are not; saying what you think pays best.</p>
      </div>
      <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
      <div class="ways"><BButton type="submit" variant="primary" :disabled="busy || !said.first">{{ busy ? 'working it out …' : 'say it, and see' }}</BButton><BButton @click="open = false">read on</BButton></div>
    </form>
  </BModal>
</template>

<style scoped>
.form {
  display: grid;
  gap: 0.8rem;
}
.pair {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 0.4rem 0.8rem;
  align-items: center;
}
fieldset {
  border: 1px solid var(--hair);
  padding: 0.4rem 0.7rem 0.6rem;
  min-width: 0;
}
legend {
  float: none;
  width: auto;
  font-size: 1rem;
  font-weight: 650;
  margin: 0;
  padding: 0 0.3rem;
}
.radios label {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  min-height: 2.2rem;
  align-items: center;
}
.speaks {
  max-height: 11rem;
  overflow: auto;
}
.ways {
  display: flex;
  gap: 0.5rem;
}
p {
  margin: 0.2rem 0;
}
</style>
