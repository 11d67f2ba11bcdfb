<script setup lang="ts">
// What can be done besides reading: look, be careful, watch a defrost, repair, buy a hint; and what was done so far.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { AttemptView, BenchStep } from '../api/types'
import { signed } from '../walk/figures'
import { useCatalogue } from '../stores/catalogue'

const props = defineProps<{ view: AttemptView; indicators: AttemptView['examined'][number]['indicators']; busy: boolean; trouble: string }>()
const emit = defineEmits<{ do: [step: BenchStep] }>()
const catalogue = useCatalogue()
const defrosts = computed(() => props.view.unit.source === 'air' && props.view.unit.defrost?.method !== 'none')
const repairing = ref('')
const repairable = computed(() => props.view.choices.map((one) => ({ value: `${one.fault} ${one.where ?? ''}`, text: `${one.would_do} · ${one.minutes} min, $${one.dollars} · ${one.title}` })))
function repair() {
  const one = props.view.choices.find((each) => `${each.fault} ${each.where ?? ''}` === repairing.value)
  if (one) emit('do', { act: 'repair', fault: one.fault, where: one.where })
  repairing.value = ''
}
const figures = computed(() => Object.entries(props.indicators).map(([name, one]) => ({ name, title: catalogue.word('indicator', name), text: `${signed(one.value)} ${catalogue.symbolOf(name, one.unit)}` })))
const log = useTemplateRef<HTMLElement>('log')
watch(() => props.view.steps.length, async () => {
  await nextTick()
  if (log.value) log.value.scrollTop = log.value.scrollHeight
})
</script>

<template>
  <div class="pane panel">
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <h2>Done so far</h2>
    <ol ref="log" class="log" tabindex="0" aria-label="Done so far" aria-live="polite">
      <li v-for="one in view.steps" :key="one.number" :value="one.number">
        {{ one.words }}<template v-if="one.found">: <strong>{{ one.found }}</strong></template>
      </li>
      <li v-if="!view.steps.length" class="none quiet">Nothing yet. The four pipes at the valve come first.</li>
    </ol>
    <template v-if="!view.said">
      <h2>Look, listen, feel</h2>
      <div class="acts">
        <BButton v-for="look in view.looks" :key="look.code" :disabled="busy" @click="emit('do', { act: 'look', look: look.code })">
          {{ look.short }} <span class="quiet">{{ look.minutes }}′<span v-if="look.opens" aria-hidden="true"> ▢</span></span><span class="visually-hidden">, {{ look.words }}{{ look.opens ? ', a panel comes off' : '' }}</span>
        </BButton>
        <BButton v-if="defrosts && view.mode === 'heating'" :disabled="busy" @click="emit('do', { act: 'defrost' })">force a defrost <span class="quiet">28′</span></BButton>
        <BButton v-if="view.logger" :disabled="busy" @click="emit('do', { act: 'logger' })">read the logger <span class="quiet">4′</span></BButton>
      </div>
      <h2>Cautions, before what needs them</h2>
      <div class="acts">
        <BButton v-for="one in view.cares" :key="one.care" :disabled="busy" :aria-pressed="one.taken" @click="emit('do', { act: 'care', care: one.care })">
          <span aria-hidden="true">{{ one.taken ? '✓' : '○' }}</span> {{ one.short }}<span class="visually-hidden">: {{ one.words }}</span>
        </BButton>
      </div>
      <h2>Repair, or ask</h2>
      <div class="last">
        <BFormSelect v-model="repairing" aria-label="Repair" :options="[{ value: '', text: 'repair …' }, ...repairable]" />
        <BButton v-if="repairing" variant="primary" :disabled="busy" @click="repair">repair it</BButton>
        <BButton :disabled="busy" @click="emit('do', { act: 'hint' })">hint <span class="quiet">5′, 6 points</span></BButton>
      </div>
    </template>
    <h2>Figures</h2>
    <p v-if="!figures.length" class="quiet">None yet: they come with the readings they are made of.</p>
    <dl v-else class="figures">
      <template v-for="one in figures" :key="one.name"><dt>{{ one.title }}</dt><dd class="figure">{{ one.text }}</dd></template>
    </dl>
  </div>
</template>

<style scoped>
.pane {
  overflow: auto;
  padding: 0.5rem 0.75rem 0.75rem;
}
h2 {
  font-size: 0.95rem;
  margin: 0.5rem 0 0.25rem;
}
.acts {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.25rem;
}
.acts .btn {
  justify-content: start;
  text-align: left;
  padding: 0.1rem 0.4rem;
  line-height: 1.15;
}
.acts .btn[aria-pressed='true'] {
  font-weight: 600;
}
.last {
  display: flex;
  gap: 0.3rem;
}
.last > select {
  flex: 1;
  min-width: 5rem;
}
.last > .btn {
  flex: none;
}
.figures {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 0.6rem;
  margin: 0;
}
dd {
  margin: 0;
  text-align: right;
}
dt {
  font-weight: 400;
}
.log {
  margin: 0;
  padding-left: 1.8rem;
  max-height: 9.5rem;
  overflow: auto;
}
.none {
  list-style: none;
  margin-left: -1.8rem;
}
</style>
