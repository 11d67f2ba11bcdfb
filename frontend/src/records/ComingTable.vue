<script setup lang="ts">
// What comes in, counted by what bringing it in does, and the visits one by one.
import { computed } from 'vue'
import type { ImportView, Means } from '../api/types'
import { dayOf } from '../walk/figures'

const props = defineProps<{ coming: NonNullable<ImportView['coming']>; done: boolean }>()

const VISITS: Record<Means, string> = {
  new: 'new here',
  more: 'go on from what stands here',
  same: 'stand here already',
  behind: 'stand here with more',
  parted: 'went on in both books: left as they are here',
}
const ONE: Record<Means, string> = { new: 'new', more: 'goes on', same: 'here already', behind: 'more here', parted: 'went on in both' }
const order: Means[] = ['new', 'more', 'parted', 'same', 'behind']
const counts = (of: Partial<Record<Means, number>>) => order.flatMap((means) => (of[means] ? [{ means, count: of[means] }] : []))
const visits = computed(() => counts(props.coming.visits))
const all = computed(() => visits.value.reduce((sum, { count }) => sum + count, 0))
const units = computed(() => {
  const { new: fresh = 0, more = 0, parted = 0, same = 0, behind = 0 } = props.coming.units
  return [
    fresh && `${fresh.toLocaleString()} new in the book`,
    more && `${more.toLocaleString()} described anew`,
    parted && `${parted.toLocaleString()} described otherwise in both books: here they stay as this one describes them`,
    same + behind && `${(same + behind).toLocaleString()} in the book already`,
  ].filter(Boolean)
})
</script>

<template>
  <dl class="counts">
    <dt>Visits</dt>
    <dd><span v-for="{ means, count } in visits" :key="means" class="count"><strong>{{ count.toLocaleString() }}</strong> {{ VISITS[means] }}</span></dd>
    <dt>Units</dt>
    <dd><span v-for="line in units" :key="String(line)" class="count">{{ line }}</span></dd>
    <template v-if="coming.entries">
      <dt>Entries</dt>
      <dd>{{ coming.entries.toLocaleString() }} readings, looks, recordings and marks come in, those taken back included</dd>
    </template>
    <template v-if="coming.limits === 'new' || coming.limits === 'parted'">
      <dt>Limits</dt>
      <dd>{{ coming.limits === 'new' ? 'taken over: none was changed here' : 'those of this shop stay; the other shop’s are not taken over' }}</dd>
    </template>
    <template v-if="coming.shop === 'new' || coming.shop === 'parted'">
      <dt>Reports</dt>
      <dd>{{ coming.shop === 'new' ? 'name and license of the other shop are taken over: none stand here' : 'name and license of this shop stay' }}</dd>
    </template>
    <template v-if="coming.unusable">
      <dt>Not usable</dt>
      <dd>{{ coming.unusable.toLocaleString() }} things this Icepick can’t use; they are kept as they were written, and set aside</dd>
    </template>
  </dl>
  <div class="frame" tabindex="0" role="region" aria-label="Visits that come in">
    <table class="table">
      <thead>
        <tr><th scope="col">Opened</th><th scope="col">Site</th><th scope="col">Unit</th><th scope="col" class="number">Entries</th><th scope="col">{{ done ? 'It was' : 'It is' }}</th></tr>
      </thead>
      <tbody>
        <tr v-for="(line, index) in coming.lines" :key="index" :class="{ quiet: line.means === 'same' || line.means === 'behind' }">
          <td>{{ dayOf(line.opened_at) }}</td><td>{{ line.site }}</td><td>{{ line.unit }}</td><td class="number">{{ line.entries }}</td><td>{{ ONE[line.means] }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="all > coming.lines.length" class="quiet">and {{ (all - coming.lines.length).toLocaleString() }} more</p>
  </div>
</template>

<style scoped>
.counts {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0.2rem 1rem;
  margin: 0.6rem 0;
}
dd {
  margin: 0;
}
.count {
  display: block;
}
.frame {
  max-height: 24rem;
  overflow: auto;
  border: 1px solid var(--hair);
}
.table {
  --bs-table-bg: transparent;
  margin: 0;
}
th {
  position: sticky;
  top: 0;
  background: var(--panel);
}
td,
th {
  padding: 0.3rem 0.6rem;
  text-align: left;
  overflow-wrap: anywhere;
}
.number {
  text-align: right;
}
@media (max-width: 40rem) {
  thead {
    display: none;
  }
  tr {
    display: grid;
    grid-template-columns: minmax(0, 1fr) max-content;
    padding: 0.3rem 0;
    border-bottom: 1px solid var(--hair);
  }
  td {
    border: 0;
    padding: 0 0.6rem;
  }
  td:nth-child(2),
  td:nth-child(3) {
    grid-column: 1 / -1;
  }
  td:last-child {
    grid-area: 1 / 2;
  }
  td.number {
    display: none;
  }
}
.frame p {
  margin: 0;
  padding: 0.3rem 0.6rem;
}
</style>
