<script setup lang="ts">
// Set a case by hand: for a class, or for a colleague. Its code says nothing of it.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed, reactive, ref } from 'vue'
import type { BenchHome, Complaint, Method, NewCase } from '../api/types'
import { useCatalogue } from '../stores/catalogue'
import { useSettings } from '../stores/settings'

const props = defineProps<{ home: BenchHome; busy: boolean; code: string }>()
const emit = defineEmits<{ set: [body: Omit<NewCase, 'entry_key'>] }>()
const catalogue = useCatalogue()
const settings = useSettings()
type Trouble = NonNullable<NewCase['troubles']>[number]
const unit = computed(() => (settings.units === 'field' ? 'degF' : 'degC'))
const made = reactive({
  title: '', stock: props.home.stock[0]!.name, told: '', complaint: 'weak' as Complaint, arrives: 'cooling' as 'heating' | 'cooling',
  outdoor: settings.units === 'field' ? 86 : 30, indoor: settings.units === 'field' ? 76 : 24, humidity: 70,
  kit: ['clamp', 'probe', 'infrared', 'gauge', 'meter'] as Method[],
})
const troubles = ref<{ fault: Trouble['fault']; severity: number; where: string; cause: string }[]>([])
const KIT: Method[] = ['clamp', 'probe', 'infrared', 'gauge', 'meter']
const faults = computed(() => props.home.settable.map((one) => ({ value: one.fault, text: one.unit ? `${one.title}: ${one.unit} ${one.words}` : one.title })))
const known = (fault: string) => props.home.settable.find((one) => one.fault === fault)
const add = () => troubles.value.push({ fault: props.home.settable[0]!.fault, severity: 30, where: '', cause: '' })
function set() {
  emit('set', {
    ...made, humidity: made.humidity / 100,
    outdoor: { value: made.outdoor, unit: unit.value }, indoor: { value: made.indoor, unit: unit.value },
    troubles: troubles.value.map((one) => ({
      fault: one.fault, severity: known(one.fault)?.unit ? one.severity : 0,
      where: (known(one.fault)?.of_one_mode ? one.where || made.arrives : null) as 'heating' | null, cause: one.cause as NonNullable<Trouble['cause']>,
    })),
  })
}
</script>

<template>
  <form class="form" @submit.prevent="set">
    <label>Title, as the class sees it <input v-model="made.title" class="form-control" required maxlength="200" /></label>
    <label>Unit <BFormSelect v-model="made.stock" :options="home.stock.map((one) => ({ value: one.name, text: one.label }))" /></label>
    <label>What the customer says <input v-model="made.told" class="form-control" maxlength="500" /></label>
    <label>Complaint <BFormSelect v-model="made.complaint" :options="Object.entries(catalogue.catalogue?.words.complaint ?? {}).map(([value, text]) => ({ value, text }))" /></label>
    <label>It runs in <BFormSelect v-model="made.arrives" :options="['heating', 'cooling']" /></label>
    <label>Outdoors, or source water [{{ catalogue.symbol(unit) }}] <input v-model.number="made.outdoor" type="number" step="any" class="form-control" required /></label>
    <label>Indoors, or load water [{{ catalogue.symbol(unit) }}] <input v-model.number="made.indoor" type="number" step="any" class="form-control" required /></label>
    <label>Humidity outdoors [%] <input v-model.number="made.humidity" type="number" min="10" max="100" class="form-control" required /></label>
    <fieldset class="wide">
      <legend>At hand</legend>
      <BFormCheckbox v-for="one in KIT" :key="one" v-model="made.kit" :value="one" inline>{{ catalogue.word('method', one) }}</BFormCheckbox>
    </fieldset>
    <fieldset class="wide">
      <legend>Wrong with it</legend>
      <p v-if="!troubles.length" class="quiet">Nothing: a sound unit, which is a case too.</p>
      <div v-for="(one, n) in troubles" :key="n" class="trouble">
        <BFormSelect v-model="one.fault" :options="faults" aria-label="Fault" />
        <input v-if="known(one.fault)?.unit" v-model.number="one.severity" type="number" min="1" :max="known(one.fault)?.most" class="form-control" :aria-label="`How bad, in ${known(one.fault)?.unit}`" />
        <BFormSelect v-if="known(one.fault)?.of_one_mode" v-model="one.where" :options="[{ value: '', text: 'in the mode it runs in' }, 'heating', 'cooling']" aria-label="In which mode" />
        <BFormSelect v-if="known(one.fault)?.causes.length" v-model="one.cause" :options="[{ value: '', text: 'no cause in sight' }, ...known(one.fault)!.causes.map((cause) => ({ value: cause, text: cause.replace('_', ' ') }))]" aria-label="Cause" />
        <BButton :aria-label="`Take fault ${n + 1} out`" @click="troubles.splice(n, 1)">×</BButton>
      </div>
      <BButton v-if="troubles.length < 2" @click="add">+ fault</BButton>
    </fieldset>
    <div class="wide ways">
      <BButton type="submit" variant="primary" :disabled="busy">set it</BButton>
      <p v-if="code" role="status">Hand on the code <strong class="figure">{{ code }}</strong>, or the address ending in <code>/bench?case={{ code }}</code>.</p>
    </div>
  </form>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(14rem, 1fr));
  gap: 0.6rem 1rem;
}
.wide {
  grid-column: 1 / -1;
}
legend {
  font-size: 1rem;
  margin: 0;
}
.trouble {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
  margin-bottom: 0.4rem;
}
.trouble > * {
  flex: 1 1 9rem;
  width: auto;
}
.trouble > .btn {
  flex: none;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 0.8rem;
  align-items: center;
}
.ways p {
  margin: 0;
}
</style>
