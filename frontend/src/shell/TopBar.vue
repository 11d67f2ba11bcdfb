<script setup lang="ts">
import { storeToRefs } from 'pinia'
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { useSession } from '../stores/session'
import { useSettings } from '../stores/settings'
import { silentSince } from '../api/line'
import { isRemembered } from '../stores/memory'
import { useVisit } from '../stores/visit'
import { addressOf } from '../api/early'
import OutboxNote from './OutboxNote.vue'

const { theme, units } = storeToRefs(useSettings())
const session = useSession()
const initials = computed(() => (session.here?.name ?? '').split(' ').map((word) => word[0]).join('').slice(0, 3))
const visit = useVisit()
const route = useRoute()
const onBench = computed(() => ['bench', 'benchcase', 'debrief'].includes(String(route.name)))
const onVisit = computed(() => (route.params.id && !onBench.value && !session.outside ? visit.view : null))

const refusal = ref('')
watch(silentSince, () => (refusal.value = ''))
/** Without a server a visit is shown in other units where it is known in them. */
async function switchUnits() {
  const other = units.value === 'field' ? 'metric' : 'field'
  const known = !silentSince.value || !onVisit.value || (await isRemembered(addressOf(onVisit.value.id, other)))
  refusal.value = known ? '' : 'Other units need the server, which does not answer.'
  if (known) units.value = other
}
</script>

<template>
  <header class="bar">
    <nav aria-label="Screens">
      <RouterLink class="name" to="/calls">Icepick</RouterLink>
      <template v-if="!session.outside">
        <RouterLink class="place" to="/calls">Calls</RouterLink>
        <RouterLink class="place" to="/units">Units</RouterLink>
        <RouterLink class="place" to="/handbook" :class="{ 'router-link-exact-active': route.name === 'handbook' }">Handbook</RouterLink>
        <RouterLink v-if="session.may('practice')" class="place bench" to="/bench" :class="{ 'router-link-exact-active': onBench }">Bench</RouterLink>
      </template>
      <template v-if="onVisit">
        <RouterLink class="place" :to="{ name: 'walk', params: { id: onVisit.id } }">Walk</RouterLink>
        <RouterLink class="place" :to="{ name: 'recorder', params: { id: onVisit.id } }">Recorder</RouterLink>
        <RouterLink class="place" :to="{ name: 'report', params: { id: onVisit.id } }">Report</RouterLink>
      </template>
    </nav>
    <p v-if="onVisit" class="where">
      {{ onVisit.visit.site.name }} <span class="quiet">· {{ onVisit.visit.unit.label }} ·
        {{ onVisit.visit.unit.refrigerant }} {{ onVisit.visit.unit.layout }}</span>
    </p>
    <OutboxNote />
    <p v-if="refusal" class="refusal" role="status">{{ refusal }}</p>
    <div class="switches">
      <RouterLink v-if="session.here && !session.outside" class="btn who" :class="{ nobody: !session.here.name }" to="/people" :aria-label="`People: ${session.here.name ?? 'nobody signs in'}`">
        <span class="long">{{ session.here.name ?? 'people' }}</span><span class="short">{{ initials }}</span>
      </RouterLink>
      <BButton @click="switchUnits">
        <span class="visually-hidden">Units: </span>{{ units === 'field' ? '°F psi' : '°C kPa' }}
      </BButton>
      <BButton @click="theme = theme === 'sun' ? 'shade' : 'sun'">
        <span class="visually-hidden">Theme: </span>{{ theme }}
      </BButton>
    </div>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 0 1.25rem;
  padding: 0 var(--gap);
  border-bottom: 1px solid var(--hair);
  background: var(--panel);
}
nav {
  display: flex;
  align-items: stretch;
}
.bar a {
  display: flex;
  align-items: center;
  min-height: var(--target);
  padding: 0 0.75rem;
  text-decoration: none;
  color: var(--quiet);
  border-bottom: 3px solid transparent;
}
.bar a.name {
  color: var(--ink);
  font-weight: 750;
  padding-left: 0;
}
.bar a.place.router-link-exact-active {
  color: var(--ink);
  border-bottom-color: var(--ink);
}
.where {
  margin: 0;
  flex: 1;
  min-width: 10rem;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.refusal {
  margin: 0;
}
.switches {
  display: flex;
  gap: 0.5rem;
  margin-left: auto;
  padding: 0.2rem 0;
}
.switches .btn {
  padding-block: 0.1rem;
}
.bar .switches a.who {
  display: block;
  align-content: center;
  max-width: 9rem;
  border: 1px solid var(--edge);
  color: var(--ink);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.who .short {
  display: none;
}
@media (max-width: 40rem) {
  .bar {
    gap: 0;
  }
  nav {
    flex-wrap: wrap;
  }
  .bar a {
    min-width: var(--target);
    justify-content: center;
    padding: 0 0.24rem;
    font-size: 0.94rem;
  }
  .switches .btn {
    padding-inline: 0.4rem;
  }
  .who .long,
  .bar .switches a.nobody {
    display: none;
  }
  .who .short {
    display: inline;
  }
  nav:has(a[href*='/visits/']) a.bench {
    display: none;
  }
  /* What it leads to, Calls does as well. */
  .bar:has(.who:not(.nobody)) a.name,
  nav:has(a.bench) a.name,
  nav:has(a[href*='/visits/']) a.name {
    display: none;
  }
  .where {
    order: 3;
    flex-basis: 100%;
    padding-bottom: 0.35rem;
  }
}
/* At the width of a phone magnified fourfold, Calls is where the name leads. */
@media (max-width: 23rem) {
  .bar a.name {
    display: none;
  }
}
@media print {
  .bar {
    display: none;
  }
}
</style>
