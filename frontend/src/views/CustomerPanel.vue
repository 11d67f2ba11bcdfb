<script setup lang="ts">
// The customer's page as it will be printed: how the unit stands, and five plain sentences.
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed } from 'vue'
import type { CustomerView, Status } from '../api/types'
import StatusMark from '../shell/StatusMark.vue'

const props = defineProps<{ page: CustomerView }>()
const language = defineModel<string>('language', { required: true })
const SHAPES: Record<CustomerView['code'], Status> = {
  works: 'pass', better: 'watch', watch: 'watch', not_clear: 'needs_readings', may_need: 'watch', unsure: 'watch', needs_repair: 'fail', off: 'fail',
}
const options = computed(() => Object.entries(props.page.languages).map(([value, text]) => ({ value, text })))
</script>

<template>
  <section class="customer" aria-labelledby="customer-title">
    <header>
      <h2 id="customer-title">For the customer: {{ page.title }}</h2>
      <BFormSelect v-if="options.length > 1" v-model="language" :options="options" aria-label="Language of the customer’s page" />
    </header>
    <p class="stands"><StatusMark :status="SHAPES[page.code]" :word="false" /> <strong>{{ page.stands }}</strong></p>
    <dl>
      <template v-for="line in page.lines" :key="line.heading">
        <dt>{{ line.heading }}</dt>
        <dd>{{ line.sentence }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.customer {
  border: 1px solid var(--hair);
  padding: 0.7rem 0.9rem;
  margin: 0.8rem 0;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  justify-content: space-between;
}
h2 {
  font-size: 1.1rem;
}
.stands {
  margin: 0 0 0.4rem;
}
dl {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0.15rem 0.9rem;
  margin: 0;
}
dd {
  margin: 0;
}
@media (max-width: 40rem) {
  dl {
    grid-template-columns: minmax(0, 1fr);
  }
  dt {
    margin-top: 0.4rem;
  }
}
</style>
